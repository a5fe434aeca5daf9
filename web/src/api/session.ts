import { demoPeopleSchema, sessionSchema, type Person } from '@bold-compass/core/api';
import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';
import { ask } from './client.ts';

/** Who is signed in. */
export const useSession = defineStore('session', () => {
  const person = shallowRef<Person | null>(null);
  const demo = ref(false);
  const known = ref(false);

  async function refresh(): Promise<void> {
    const session = await ask(sessionSchema, 'GET', '/session');
    person.value = session.person;
    demo.value = session.demo;
    known.value = true;
  }

  async function signIn(email: string, password: string): Promise<void> {
    person.value = (await ask(sessionSchema, 'POST', '/session', { email, password })).person;
  }

  async function enterDemo(id: string): Promise<void> {
    person.value = (await ask(sessionSchema, 'POST', '/demo-session', { person: id })).person;
  }

  async function signOut(): Promise<void> {
    await ask(sessionSchema, 'DELETE', '/session');
    person.value = null;
  }

  /** Ends the session on every device. */
  async function signOutEverywhere(): Promise<void> {
    await ask(sessionSchema, 'DELETE', '/sessions');
    person.value = null;
  }

  const demoPeople = (): Promise<Person[]> => ask(demoPeopleSchema, 'GET', '/demo-people');

  return { person, demo, known, refresh, signIn, enterDemo, signOut, signOutEverywhere, demoPeople };
});
