<script setup lang="ts">
import type { Person } from '@bold-compass/core/api';
import { mdiChevronRight } from '@mdi/js';
import { onMounted, ref } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { ApiProblem } from '../api/client.ts';
import { useSession } from '../api/session.ts';
import CompassRose from '../shell/CompassRose.vue';

const session = useSession();
const route = useRoute();
const router = useRouter();

const email = ref('');
const password = ref('');
const message = ref(route.query.ended ? 'Your session has ended. Sign in again; the page comes back as it was.' : '');
const failed = ref(false);
const busy = ref(false);
const people = ref<Person[]>([]);

onMounted(async () => {
  if (!session.known) await session.refresh().catch(() => undefined);
  if (session.demo) people.value = await session.demoPeople().catch(() => []);
});

async function enter(how: () => Promise<void>): Promise<void> {
  if (busy.value) return;
  busy.value = true;
  message.value = '';
  failed.value = false;
  try {
    await how();
    const to =
      typeof route.query.to === 'string' && route.query.to.startsWith('/') && !route.query.to.startsWith('//')
        ? route.query.to
        : '/reports';
    await router.push(to);
  } catch (error) {
    failed.value = true;
    message.value = error instanceof ApiProblem ? error.message : 'Signing in did not work. Try again.';
  } finally {
    busy.value = false;
  }
}

function submit(): void {
  if (!email.value.trim() || !password.value) {
    failed.value = true;
    message.value = 'Fill in both your email and your password.';
    return;
  }
  void enter(() => session.signIn(email.value, password.value));
}
</script>

<template>
  <div class="page">
    <section class="cover" aria-hidden="true">
      <CompassRose :size="104" />
      <p class="name serif">Bold Compass</p>
      <p class="line serif">Reports that open, close and explain themselves.</p>
    </section>
    <section class="entry">
      <h1>Sign in</h1>
      <form novalidate @submit.prevent="submit">
        <v-text-field v-model="email" label="Email" type="email" autocomplete="username" name="email" />
        <v-text-field v-model="password" label="Password" type="password" autocomplete="current-password" name="password" />
        <p class="message" :class="{ failed }" role="status">{{ message }}</p>
        <v-btn color="primary" variant="flat" type="submit" :disabled="busy">Sign in</v-btn>
      </form>
      <section v-if="people.length" class="demo" aria-labelledby="demo-heading">
        <h2 id="demo-heading">Or enter the demo as</h2>
        <p class="muted">Hollin &amp; Marsh and everyone in it are made up. Each person sees what is theirs.</p>
        <v-list role="group" aria-labelledby="demo-heading">
          <v-list-item
            v-for="person in people"
            :key="person.id"
            role="button"
            class="person"
            :disabled="busy"
            :append-icon="mdiChevronRight"
            @click="enter(() => session.enterDemo(person.id))"
          >
            <v-list-item-title
              ><strong>{{ person.name }}</strong> <span class="muted">{{ person.title }}</span></v-list-item-title
            >
          </v-list-item>
        </v-list>
      </section>
    </section>
  </div>
</template>

<style scoped>
.page {
  min-height: 100vh;
  display: grid;
  grid-template-columns: minmax(280px, 5fr) 7fr;
}
.cover {
  background: var(--rail);
  color: var(--on-rail);
  display: flex;
  flex-direction: column;
  justify-content: center;
  padding: 0 12%;
}
.cover .name {
  font-size: 38px;
  margin-top: 22px;
}
.cover .line {
  font-size: 18px;
  font-weight: 400;
  color: var(--on-rail-2);
  max-width: 18em;
}
.entry {
  padding: 40px clamp(20px, 7vw, 96px);
  max-width: 640px;
  align-self: center;
}
form {
  display: grid;
  gap: 12px;
  margin-top: 16px;
  max-width: 360px;
}
form .button {
  justify-self: start;
  padding: 6px 22px;
}
.message {
  min-height: 20px;
  margin: -4px 0;
  color: var(--ink-2);
}
.message.failed {
  color: var(--off-text);
}
.demo {
  margin-top: 28px;
  border-top: 2px solid var(--ink);
  padding-top: 12px;
}
@media (max-width: 700px) {
  .page {
    grid-template-columns: 1fr;
    grid-template-rows: auto 1fr;
  }
  .cover {
    padding: 24px 20px 16px;
    flex-direction: row;
    justify-content: flex-start;
    align-items: center;
    gap: 14px;
  }
  .cover svg {
    width: 48px;
    height: 48px;
  }
  .cover .name {
    font-size: 24px;
    margin: 0;
  }
  .cover .line {
    display: none;
  }
  .entry {
    padding: 20px;
  }
}
.demo .v-list {
  background: none;
  padding: 8px 0 0;
}
.person {
  border-bottom: 1px solid var(--rule-2);
  border-radius: 0 !important;
  padding-left: 0 !important;
}
</style>
