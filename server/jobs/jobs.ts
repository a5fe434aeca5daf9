import { randomUUID } from 'node:crypto';
import { and, desc, eq, inArray, lt, notInArray, sql } from 'drizzle-orm';
import type { Logger } from 'pino';
import { tables, type Connection } from '../database/index.ts';
import { ApiError, asApiError } from '../problems/index.ts';

/** A file that a job made. */
export interface JobFile {
  name: string;
  /** Media type. */
  type: string;
  bytes: Uint8Array;
}

/** What a job came to. */
export interface JobDone {
  file: JobFile;
  /** In words: "12 pages". */
  outcome: string;
}

/** What work is done with. */
export interface JobTools {
  owner: string;
  /** Aborted when the job is cancelled, or another server has taken it up. */
  signal: AbortSignal;
  /** From 0 to 1. */
  progress(share: number): void;
}

/** How jobs of a kind are done. */
export type JobWork = (input: unknown, tools: JobTools) => Promise<JobDone>;

export type Job = Omit<typeof tables.jobs.$inferSelect, 'leaseUntil' | 'owner'> & {
  /** In bytes; null while there is none. */
  size: number | null;
  file: string | null;
};

/** How often a job is looked for, and how often whoever works on one is heard of; in milliseconds as all of these. */
const [LOOK, RENEW] = [400, 1_000];
/** A server that was not heard of for so long has lost its job. */
const LEASE = 8_000;
/** A job that ended its server so often is not tried again. */
const MOST_ATTEMPTS = 3;
const SWEEP = 60_000;
/** What a person may have waiting or under way, and how many that are over are kept: the oldest go first. */
const [MOST_OPEN, MOST_KEPT] = [5, 20];
const HOUR = 3_600_000;

type Taken = Pick<typeof tables.jobs.$inferSelect, 'id' | 'kind' | 'owner' | 'input' | 'attempts'>;

/**
 * Work that takes long, in one queue for all servers that share a database. Each takes up one job at a time, by a row lock that
 * others skip, and renews its lease while it works; a job whose server was killed is taken up by another one. What a job made
 * is written together with its end: nothing is ever half there.
 */
export class Jobs {
  private timer: NodeJS.Timeout | undefined;
  private sweeper: NodeJS.Timeout | undefined;
  private closed = false;
  private working: Promise<void> | null = null;
  private readonly ending = new Map<string, AbortController>();

  constructor(
    private readonly connection: Connection,
    private readonly works: Record<string, JobWork>,
    private readonly logger: Logger,
  ) {}

  /** Begins to take up jobs. */
  begin(): void {
    this.sweeper = setInterval(() => void this.sweep().catch(() => undefined), SWEEP).unref();
    void this.sweep().catch(() => undefined);
    this.look(0);
  }

  async close(): Promise<void> {
    this.closed = true;
    clearTimeout(this.timer);
    clearInterval(this.sweeper);
    for (const ending of this.ending.values()) ending.abort();
    await this.working;
  }

  /** Adds a job. Throws ApiError `too-many-tries` where the person has enough of them open. */
  async add(kind: string, owner: string, input: object | string | number, keptFor: number = 24 * HOUR): Promise<string> {
    const id = randomUUID();
    const { db } = this.connection;
    await db.transaction(async (own) => {
      // One person's requests come one after the other, so that they are counted.
      await own.execute(sql`SELECT pg_advisory_xact_lock(hashtextextended(${`jobs of ${owner}`}, 0))`);
      const open = await own.$count(tables.jobs, and(eq(tables.jobs.owner, owner), inArray(tables.jobs.state, ['queued', 'active'])));
      if (open >= MOST_OPEN)
        throw new ApiError('too-many-tries', `${MOST_OPEN} of yours are waiting or under way. Wait for one of them, or cancel it.`);
      const over = own
        .select({ id: tables.jobs.id })
        .from(tables.jobs)
        .where(and(eq(tables.jobs.owner, owner), notInArray(tables.jobs.state, ['queued', 'active'])))
        .orderBy(desc(tables.jobs.createdAt), tables.jobs.id)
        .offset(MOST_KEPT - 1);
      await own.delete(tables.jobs).where(inArray(tables.jobs.id, over));
      await own.insert(tables.jobs).values({ id, kind, owner, input, keptUntil: new Date(Date.now() + keptFor) });
    });
    this.look(0);
    return id;
  }

  /** The jobs of a person, the newest first. */
  async of(owner: string, kind: string): Promise<Job[]> {
    const rows = await this.connection.db
      .select({ job: tables.jobs, size: tables.jobFiles.size, file: tables.jobFiles.name })
      .from(tables.jobs)
      .leftJoin(tables.jobFiles, eq(tables.jobFiles.job, tables.jobs.id))
      .where(and(eq(tables.jobs.owner, owner), eq(tables.jobs.kind, kind), sql`${tables.jobs.keptUntil} > now()`))
      .orderBy(desc(tables.jobs.createdAt), tables.jobs.id)
      .limit(100);
    return rows.map(({ job: { leaseUntil: _, owner: __, ...job }, size, file }) => ({ ...job, size, file }));
  }

  /** What a job of a person made, and what it was asked. Throws ApiError `not-found`. */
  async file(owner: string, id: string): Promise<{ input: unknown; file: JobFile }> {
    const [found] = await this.connection.db
      .select({ input: tables.jobs.input, name: tables.jobFiles.name, type: tables.jobFiles.type, bytes: tables.jobFiles.bytes })
      .from(tables.jobFiles)
      .innerJoin(tables.jobs, eq(tables.jobs.id, tables.jobFiles.job))
      .where(and(eq(tables.jobs.id, id), eq(tables.jobs.owner, owner), sql`${tables.jobs.keptUntil} > now()`));
    if (!found) throw new ApiError('not-found', 'This file is not here any more. Export it again.');
    const { input, ...file } = found;
    return { input, file };
  }

  /** Ends a job of a person that waits or is under way; one that is over stays as it is. Throws ApiError `not-found`. */
  async cancel(owner: string, id: string): Promise<void> {
    await this.known(owner, id);
    await this.connection.db
      .update(tables.jobs)
      .set({ state: 'cancelled', leaseUntil: null })
      .where(and(eq(tables.jobs.id, id), inArray(tables.jobs.state, ['queued', 'active'])));
    this.ending.get(id)?.abort();
  }

  /** Removes a job of a person with its file. Throws ApiError `not-found`. */
  async remove(owner: string, id: string): Promise<void> {
    await this.known(owner, id);
    await this.connection.db.delete(tables.jobs).where(eq(tables.jobs.id, id));
    this.ending.get(id)?.abort();
  }

  private async known(owner: string, id: string): Promise<void> {
    const count = await this.connection.db.$count(tables.jobs, and(eq(tables.jobs.id, id), eq(tables.jobs.owner, owner)));
    if (count === 0) throw new ApiError('not-found', 'This is not here any more. Reload the list.');
  }

  /** Removes what is kept no longer, and ends what was given up too often. */
  private async sweep(): Promise<void> {
    await this.connection.db.delete(tables.jobs).where(lt(tables.jobs.keptUntil, sql`now()`));
    await this.connection.db
      .update(tables.jobs)
      .set({
        state: 'failed',
        leaseUntil: null,
        problem: 'This was interrupted again and again, and was given up. Try a smaller part of it.',
      })
      .where(
        and(eq(tables.jobs.state, 'active'), lt(tables.jobs.leaseUntil, sql`now()`), sql`${tables.jobs.attempts} >= ${MOST_ATTEMPTS}`),
      );
  }

  private look(after: number): void {
    if (this.closed || this.working) return;
    clearTimeout(this.timer);
    this.timer = setTimeout(() => {
      this.working = this.takeUp()
        // The database is away for a while: it is looked for again.
        .catch(() => false)
        .then((found) => {
          this.working = null;
          this.look(found ? 0 : LOOK);
        });
    }, after);
    this.timer.unref();
  }

  /** Takes up the job that waits for longest, and does it; whether there was one. */
  private async takeUp(): Promise<boolean> {
    const { rows } = await this.connection.pool.query<Taken & { owner_id: string }>(
      `UPDATE app.jobs SET state = 'active', progress = 0, attempts = attempts + 1, lease_until = now() + $1 * interval '1 millisecond'
       WHERE id = (
         SELECT id FROM app.jobs
         WHERE kind = ANY($2) AND kept_until > now()
           AND (state = 'queued' OR (state = 'active' AND lease_until < now() AND attempts < $3))
         ORDER BY created_at, id FOR UPDATE SKIP LOCKED LIMIT 1)
       RETURNING id, kind, owner_id, input, attempts`,
      [LEASE, Object.keys(this.works), MOST_ATTEMPTS],
    );
    const [row] = rows;
    if (!row) return false;
    await this.work({ ...row, owner: row.owner_id });
    return true;
  }

  private async work({ id, kind, owner, input, attempts }: Taken): Promise<void> {
    const ending = new AbortController();
    this.ending.set(id, ending);
    let share = 0;
    const own = and(eq(tables.jobs.id, id), eq(tables.jobs.state, 'active'), eq(tables.jobs.attempts, attempts));
    const renew = async (): Promise<void> => {
      const leaseUntil = sql`now() + ${LEASE} * interval '1 millisecond'`;
      const held = await this.connection.db
        .update(tables.jobs)
        .set({ progress: share, leaseUntil })
        .where(own)
        .returning({ id: tables.jobs.id });
      if (held.length === 0) ending.abort();
    };
    // While the database is away the work goes on; whoever has the lease when it is back ends it.
    const timer = setInterval(() => void renew().catch(() => undefined), RENEW);
    try {
      const done = await this.works[kind](input, {
        owner,
        signal: ending.signal,
        progress: (now) => (share = Math.min(1, Math.max(share, now))),
      });
      ending.signal.throwIfAborted();
      await this.connection.db.transaction(async (transaction) => {
        const ended = await transaction
          .update(tables.jobs)
          .set({ state: 'done', progress: 1, leaseUntil: null, outcome: done.outcome })
          .where(own)
          .returning({ id: tables.jobs.id });
        if (ended.length === 0) return;
        const { name, type, bytes } = done.file;
        await transaction.insert(tables.jobFiles).values({ job: id, name, type, size: bytes.byteLength, bytes: Buffer.from(bytes) });
      });
    } catch (error) {
      if (ending.signal.aborted) {
        // A server that is closed leaves its job to another one.
        if (this.closed) await this.connection.db.update(tables.jobs).set({ state: 'queued', leaseUntil: null }).where(own);
        return;
      }
      const problem = asApiError(error);
      if (problem.code === 'internal') this.logger.error({ err: error, job: id, kind }, 'a job failed');
      await this.connection.db.update(tables.jobs).set({ state: 'failed', leaseUntil: null, problem: problem.message }).where(own);
    } finally {
      clearInterval(timer);
      this.ending.delete(id);
    }
  }
}
