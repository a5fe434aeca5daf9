import { randomUUID } from 'node:crypto';
import type { SavedView, SaveView } from '@bold-compass/core/api';
import { and, asc, count, eq, ne } from 'drizzle-orm';
import { drizzle } from 'drizzle-orm/node-postgres';
import { inTransaction, tables, type Connection } from '../database/index.ts';
import { privateOf, type Caller } from '../people/index.ts';
import { ApiError } from '../problems/index.ts';
import type { Library } from './library.ts';

const { savedViews } = tables;

/** As many views a person may keep of a report. */
const MOST = 100;

/** Choices in reports that people keep under names; everybody has their own. */
export class SavedViews {
  constructor(
    private readonly connection: Connection,
    private readonly library: Library,
  ) {}

  /** The views that the caller keeps of a report, by name. */
  async of(caller: Caller, report: string): Promise<SavedView[]> {
    if (privateOf(caller) === null) return [];
    return this.connection.db
      .select({ id: savedViews.id, name: savedViews.name, query: savedViews.query, isStart: savedViews.isStart })
      .from(savedViews)
      .where(own(caller, report))
      .orderBy(asc(savedViews.name));
  }

  /** Keeps a view, in the place of the one of the same name where there is one. Throws ApiError `report-not-found`, `bad-request`. */
  async save(caller: Caller, report: string, { name, query, isStart }: SaveView): Promise<SavedView[]> {
    await this.library.open(caller, report, false);
    await inTransaction(this.connection.pool, async (client) => {
      const db = drizzle(client);
      // One report of one person at a time: two pages of theirs may save at once.
      await client.query('SELECT pg_advisory_xact_lock(hashtextextended($1, 0))', [`views ${report} ${caller.person.id}`]);
      const [{ kept }] = await db
        .select({ kept: count() })
        .from(savedViews)
        .where(and(own(caller, report), ne(savedViews.name, name)));
      if (kept >= MOST)
        throw new ApiError('bad-request', `You keep ${MOST} views of this report already. Delete one that you do not need.`);
      if (isStart) await db.update(savedViews).set({ isStart: false }).where(own(caller, report));
      await db
        .insert(savedViews)
        .values({ id: randomUUID(), report, person: caller.person.id, name, query, isStart })
        .onConflictDoUpdate({ target: [savedViews.report, savedViews.person, savedViews.name], set: { query, isStart } });
    });
    return this.of(caller, report);
  }

  /** Throws ApiError `not-found` where the caller keeps no such view. */
  async remove(caller: Caller, report: string, id: string): Promise<SavedView[]> {
    const gone = await this.connection.db
      .delete(savedViews)
      .where(and(own(caller, report), eq(savedViews.id, id)))
      .returning({ id: savedViews.id });
    if (gone.length === 0) throw new ApiError('not-found', 'This view is not there any more. Reload the page to see those there are.');
    return this.of(caller, report);
  }
}

const own = (caller: Caller, report: string) => and(eq(savedViews.report, report), eq(savedViews.person, caller.person.id));
