import { createHash, randomBytes } from 'node:crypto';
import type { Person } from '@bold-compass/core/api';
import { eq, inArray, lt, or, sql } from 'drizzle-orm';
import { LRUCache } from 'lru-cache';
import { tables, type Database } from '../database/index.ts';
import { bothRules, type AccessRule } from '../access/index.ts';
import { passwordMatches } from './passwords.ts';

/** Who is asking, and what they may see. */
export interface Caller {
  person: Person;
  rules: AccessRule[];
  /** Who looks through their eyes, where someone does: nothing is changed then. */
  seenBy?: string;
}

/** Whose signals, views, favourites and mail a call reads: the caller's own, and nobody's where someone looks through their eyes. */
export const privateOf = ({ person, seenBy }: Caller): string | null => (seenBy === undefined ? person.id : null);

const SESSION_MILLISECONDS = 12 * 60 * 60 * 1000;
/** How long a looked-up session is trusted: a changed rule holds at the latest after this. */
const REMEMBERED_MILLISECONDS = 2_000;

const digest = (token: string): string => createHash('sha256').update(token).digest('hex');

/** Sign-in and sessions. */
export class Sessions {
  private readonly remembered = new LRUCache<string, Caller>({ max: 1_000, ttl: REMEMBERED_MILLISECONDS });

  constructor(private readonly db: Database) {}

  /** Starts a session for the right email and password; null for a wrong one. Returns the cookie's token. */
  async signIn(email: string, password: string): Promise<string | null> {
    const [person] = await this.db
      .select()
      .from(tables.people)
      .where(eq(sql`lower(${tables.people.email})`, email.toLowerCase()));
    return (await passwordMatches(person?.passwordHash, password)) ? this.start(person.id) : null;
  }

  /** Starts a session for one of the people offered on the demo's sign-in page; null for anyone else. */
  async signInDemo(id: string): Promise<string | null> {
    const [person] = await this.db.select().from(tables.people).where(eq(tables.people.id, id));
    return person && person.demoPosition !== null ? this.start(person.id) : null;
  }

  private async start(person: string): Promise<string> {
    const token = randomBytes(32).toString('base64url');
    await this.db.delete(tables.sessions).where(lt(tables.sessions.expiresAt, new Date()));
    await this.db
      .insert(tables.sessions)
      .values({ tokenHash: digest(token), person, expiresAt: new Date(Date.now() + SESSION_MILLISECONDS) });
    return token;
  }

  async end(token: string): Promise<void> {
    this.remembered.delete(digest(token));
    await this.db.delete(tables.sessions).where(eq(tables.sessions.tokenHash, digest(token)));
  }

  /** Ends every session of a person, on all their devices. */
  async endAll(person: string): Promise<void> {
    await this.db.delete(tables.sessions).where(eq(tables.sessions.person, person));
    this.remembered.clear();
  }

  /** Who a token belongs to; null when it is unknown or has expired. */
  async caller(token: string): Promise<Caller | null> {
    const tokenHash = digest(token);
    const known = this.remembered.get(tokenHash);
    if (known) return known;
    const [found] = await this.db
      .select({ person: tables.people, expiresAt: tables.sessions.expiresAt })
      .from(tables.sessions)
      .innerJoin(tables.people, eq(tables.sessions.person, tables.people.id))
      .where(eq(tables.sessions.tokenHash, tokenHash));
    if (!found || found.expiresAt < new Date()) return null;
    const caller = await this.callerFor(found.person);
    this.remembered.set(tokenHash, caller);
    return caller;
  }

  private async callerFor({ id, name, email, role, title }: typeof tables.people.$inferSelect): Promise<Caller> {
    const groups = await this.db
      .select({ id: tables.groups.id, name: tables.groups.name })
      .from(tables.groupMembers)
      .innerJoin(tables.groups, eq(tables.groupMembers.group, tables.groups.id))
      .where(eq(tables.groupMembers.person, id));
    const groupIds = groups.map((group) => group.id);
    const rules = await this.db
      .select({ dataset: tables.accessRules.dataset, field: tables.accessRules.field, members: tables.accessRules.members })
      .from(tables.accessRules)
      .where(or(eq(tables.accessRules.person, id), groupIds.length ? inArray(tables.accessRules.group, groupIds) : undefined));
    return { person: { id, name, email, role, title, groups: groups.map((group) => group.name) }, rules };
  }

  /** A person as they would call, for what is done for them while they are away. Null where there is nobody of this id. */
  async callerOf(id: string): Promise<Caller | null> {
    const [person] = await this.db.select().from(tables.people).where(eq(tables.people.id, id));
    return person ? this.callerFor(person) : null;
  }

  /**
   * A person as they would call, for someone else to see what they see: nobody sees more through another's eyes than with
   * their own, so the rules of both hold. Null where there is nobody of this id.
   */
  async callerAs(id: string, seenBy: Caller): Promise<Caller | null> {
    const caller = await this.callerOf(id);
    return caller && { ...caller, rules: bothRules(caller.rules, seenBy.rules), seenBy: seenBy.person.id };
  }

  /** Forgets who was looked up, so that changed rules hold at once. */
  forget(): void {
    this.remembered.clear();
  }

  /** The people offered on the demo's sign-in page, in order. */
  async demoPeople(): Promise<Person[]> {
    const found = await this.db
      .select()
      .from(tables.people)
      .where(sql`${tables.people.demoPosition} is not null`)
      .orderBy(tables.people.demoPosition);
    return found.map(({ id, name, email, role, title }) => ({ id, name, email, role, title, groups: [] }));
  }
}
