import { randomUUID } from 'node:crypto';
import type { Mail, Signals, Watch, WatchRequest } from '@bold-compass/core/api';
import { AnswerError, type Reading } from '@bold-compass/core/answers';
import { STATE_WORDS, type State } from '@bold-compass/core/indicators';
import { isDataExhibit, type Report } from '@bold-compass/core/model';
import { and, asc, count, desc, eq, isNull, sql } from 'drizzle-orm';
import { drizzle } from 'drizzle-orm/node-postgres';
import { inTransaction, tables, type Connection, type Database } from '../database/index.ts';
import { privateOf, type Caller, type Sessions } from '../people/index.ts';
import { covers, type AccessRule } from '../access/index.ts';
import { ApiError } from '../problems/index.ts';
import type { ReportReader } from '../reports/index.ts';

const { watches, signals, mails } = tables;
/** The title of the newest edition of the report that a row is about. */
const titleIn = (table: 'watches' | 'signals') =>
  sql<string>`coalesce((SELECT e.document ->> 'title' FROM app.editions e WHERE e.report_id = ${sql.raw(`"app"."${table}"."report_id"`)} ORDER BY e.number DESC LIMIT 1), '')`;
type WatchRow = typeof watches.$inferSelect;

/** How often figures of live sources are looked at: nothing says when their records change. In milliseconds. */
const LIVE_EVERY = 60_000;

/** As many figures one person may watch, and as many signals are shown. */
const MOST_WATCHES = 200;
const MOST_SHOWN = 200;

const stateWords = (state: State): string => STATE_WORDS[state].toLowerCase();

/**
 * Figures that people watch, and the signals that these raise. Each is looked at as its person sees it; a change of state is
 * told once, in the application and by a letter to the simulated mail box.
 */
export class SignalBox {
  /** What all data and reports were made of when watches were last looked at. */
  private lookedAt = '';
  private looking: Promise<unknown> = Promise.resolve();
  private next: Promise<number> | null = null;
  /** Watches of figures that stand on live sources, and when they were last looked at. */
  private readonly live = new Set<string>();
  private lookedAtLive = 0;

  constructor(
    private readonly connection: Connection,
    private readonly reports: ReportReader,
    private readonly sessions: Sessions,
    private readonly liveEvery = LIVE_EVERY,
  ) {}

  private get db(): Database {
    return this.connection.db;
  }

  /** The caller's signals, the newest first, and what they watch. */
  async of(caller: Caller): Promise<Signals> {
    const own = privateOf(caller);
    if (own === null) return { signals: [], watches: [], unseen: 0 };
    const [found, watched, [{ unseen }]] = await Promise.all([
      this.db
        .select({ signal: signals, title: titleIn('signals') })
        .from(signals)
        .where(eq(signals.person, own))
        .orderBy(desc(signals.id))
        .limit(MOST_SHOWN),
      this.watchesOf(own),
      this.db
        .select({ unseen: count() })
        .from(signals)
        .where(and(eq(signals.person, own), isNull(signals.seenAt))),
    ]);
    const visible = found.filter(({ signal }) => maySeeFigures(caller, signal));
    return {
      signals: visible.map(({ signal: { id, report, label, query, before, after, valueBefore, valueAfter, at, seenAt }, title }) => ({
        ...{ id, report, title, label, query, before, after, valueBefore, valueAfter, at: at.toISOString(), isNew: seenAt === null },
      })),
      watches: watched,
      unseen: visible.length === found.length ? unseen : visible.filter(({ signal }) => signal.seenAt === null).length,
    };
  }

  private async watchesOf(person: string): Promise<Watch[]> {
    const rows = await this.db
      .select({ watch: watches, title: titleIn('watches') })
      .from(watches)
      .where(eq(watches.person, person))
      .orderBy(asc(watches.createdAt), asc(watches.id));
    return rows.map(({ watch: { id, report, exhibit, watched, label, query, state, problem }, title }) => ({
      ...{ id, report, title, exhibit, watched, label, query, state, problem },
    }));
  }

  /** Begins to watch a figure; one that is watched already stays as it is. Throws ApiError where there is no such figure. */
  async watch(caller: Caller, request: WatchRequest): Promise<Watch[]> {
    const { report, exhibit, watched, label, query, ...asked } = request;
    const person = caller.person.id;
    const reading = await this.read(caller, { report, exhibit, watched, asked });
    await inTransaction(this.connection.pool, async (client) => {
      const db = drizzle(client);
      await client.query('SELECT pg_advisory_xact_lock(hashtextextended($1, 0))', [`watches ${person}`]);
      const own = await db.select().from(watches).where(eq(watches.person, person));
      const sameWatch = (row: WatchRow): string => JSON.stringify([row.report, row.exhibit, row.watched, row.asked]);
      const added: WatchRow = {
        ...{ id: randomUUID(), person, report, exhibit, watched, asked, label, query },
        ...{ state: reading.state, value: reading.value, rules: caller.rules, problem: '', looks: 0, createdAt: new Date() },
      };
      if (own.some((row) => sorted(JSON.parse(sameWatch(row))) === sorted(JSON.parse(sameWatch(added))))) return;
      if (own.length >= MOST_WATCHES)
        throw new ApiError('bad-request', `You watch ${MOST_WATCHES} figures already. Stop watching one that you do not need.`);
      await db.insert(watches).values(added);
      if (reading.isLive) this.live.add(added.id);
    });
    return this.watchesOf(person);
  }

  /** Throws ApiError `not-found` where the caller watches no such figure. */
  async unwatch(caller: Caller, id: string): Promise<Watch[]> {
    const gone = await this.db
      .delete(watches)
      .where(and(eq(watches.person, caller.person.id), eq(watches.id, id)))
      .returning({ id: watches.id });
    if (gone.length === 0) throw new ApiError('not-found', 'This figure is not watched any more. Reload the page to see those that are.');
    return this.watchesOf(caller.person.id);
  }

  /** Marks all of the caller's signals as seen. */
  async see(caller: Caller): Promise<void> {
    await this.db
      .update(signals)
      .set({ seenAt: new Date() })
      .where(and(eq(signals.person, caller.person.id), isNull(signals.seenAt)));
  }

  /** The letters that were sent to the caller. */
  async letters(caller: Caller): Promise<Mail[]> {
    if (privateOf(caller) === null) return [];
    const found = await this.db.select().from(mails).where(eq(mails.person, caller.person.id)).orderBy(desc(mails.id)).limit(MOST_SHOWN);
    return found
      .filter((mail) => maySeeFigures(caller, mail))
      .map(({ id, address, subject, body, at }) => ({ id, to: address, subject, text: body, at: at.toISOString() }));
  }

  /**
   * Looks at every watched figure, if data or reports changed since the last look. Returns how many signals were raised. A
   * look that is under way may have missed what just changed, so another one follows it; who waits for that shares it.
   */
  look(): Promise<number> {
    this.next ??= this.looking.then(() => {
      this.next = null;
      const look = this.lookOnce();
      this.looking = look.catch(() => undefined);
      return look;
    });
    return this.next;
  }

  private async lookOnce(): Promise<number> {
    const now = await this.fingerprint();
    const isLiveDue = this.live.size > 0 && performance.now() - this.lookedAtLive >= this.liveEvery;
    if (now === this.lookedAt && !isLiveDue) return 0;
    // What was remembered before may be older than what the fingerprint is of, and would then be taken for it for good.
    this.reports.forgetHeads();
    let raised = 0;
    const failures: unknown[] = [];
    this.lookedAtLive = performance.now();
    for (const row of await this.db.select().from(watches).orderBy(asc(watches.person), asc(watches.id))) {
      if (now === this.lookedAt && !this.live.has(row.id)) continue;
      try {
        if (await this.lookAt(row)) raised++;
      } catch (error) {
        // One that cannot be looked at now keeps nobody else from theirs; all are looked at again next time.
        failures.push(error);
      }
    }
    if (failures.length > 0) throw new AggregateError(failures, 'Some watched figures could not be looked at');
    this.lookedAt = now;
    return raised;
  }

  /** What changes with every load of records, every change of what data means, every edition, and every rule. */
  private async fingerprint(): Promise<string> {
    const { rows } = await this.connection.pool.query<{ state: string }>(
      `SELECT concat_ws(' ',
         (SELECT max(finished_at) FROM app.loads),
         (SELECT sum(version) FROM app.datasets),
         (SELECT count(*) || '/' || coalesce(max(published_at)::text, '') FROM app.editions),
         (SELECT md5(coalesce(string_agg(r::text, '' ORDER BY r::text), '')) FROM app.access_rules r)) AS state`,
    );
    return rows[0].state;
  }

  /** Looks at one figure; true where a signal was raised. */
  private async lookAt(row: WatchRow): Promise<boolean> {
    const caller = await this.sessions.callerOf(row.person);
    if (!caller) return false;
    let reading: Reading & { isLive: boolean };
    try {
      reading = await this.read(caller, row);
    } catch (error) {
      // A report that is gone, or not theirs any more, says so where watches are listed, and stays silent.
      if (!(error instanceof ApiError || error instanceof AnswerError)) throw error;
      await this.db.update(watches).set({ problem: error.message }).where(eq(watches.id, row.id));
      return false;
    }
    const { state, value } = reading;
    const { rules } = caller;
    // A figure that is another one since its person sees another part of the data has not changed.
    const isChanged = state !== row.state && isSame(rules, row.rules);
    if (reading.isLive) this.live.add(row.id);
    else this.live.delete(row.id);
    return inTransaction(this.connection.pool, async (client) => {
      const db = drizzle(client);
      // Whoever looked at the same time told it: one of them only finds the look that it began with.
      const looked = await db
        .update(watches)
        .set({ state, value, rules, problem: '', looks: row.looks + 1 })
        .where(and(eq(watches.id, row.id), eq(watches.looks, row.looks)))
        .returning({ id: watches.id });
      if (looked.length === 0 || !isChanged) return false;
      const { person, report, label, query, state: before, value: valueBefore } = row;
      const { state: after, value: valueAfter } = reading;
      await db.insert(signals).values({ person, report, label, query, before, after, valueBefore, valueAfter, rules });
      const [{ title }] = await db
        .select({ title: titleIn('watches') })
        .from(watches)
        .where(eq(watches.id, row.id));
      await db.insert(mails).values({ person, address: caller.person.email, rules, ...letter(title, row, reading) });
      return true;
    });
  }

  /** Where a figure stands as its person sees it. Throws ApiError, AnswerError. */
  private async read(
    caller: Caller,
    { report: id, exhibit: exhibitId, watched, asked }: Pick<WatchRow, 'report' | 'exhibit' | 'watched' | 'asked'>,
  ): Promise<Reading & { isLive: boolean }> {
    const { report, reader } = await this.reports.asked(caller, id, { ...asked, draft: false });
    const exhibit = exhibitIn(report, exhibitId);
    const opened = await this.reports.opened(caller, report, reader, exhibit, asked);
    const reading = await this.reports.reading(caller, opened, watched);
    return { ...reading, isLive: opened.reader.dataset.facts.some(({ live }) => live) };
  }
}

/** Whether figures that were seen under some rules may be shown under those of today; unknown rules may have been wider. */
const maySeeFigures = ({ rules: now }: Caller, { rules }: { rules: AccessRule[] | null }): boolean =>
  now.length === 0 || (rules !== null && covers(now, rules));

/** Whether two sets of rules say the same; those that were not kept may have said anything. */
const isSame = (now: AccessRule[], then: AccessRule[] | null): boolean => then !== null && covers(now, then) && covers(then, now);

/** A text on one line: what stands in the head of a letter ends with the line. */
const oneLine = (text: string): string => text.replaceAll(/[\p{Cc}\p{Zl}\p{Zp}]+/gu, ' ').trim();

/** A value with the keys of its objects in order: the database keeps them in another one. */
const sorted = (value: unknown): string =>
  JSON.stringify(value, (_key, part: unknown) =>
    typeof part === 'object' && part !== null && !Array.isArray(part)
      ? Object.fromEntries(Object.entries(part).sort(([a], [b]) => (a < b ? -1 : 1)))
      : part,
  );

function exhibitIn(report: Report, id: string) {
  const found = report.exhibits.filter(isDataExhibit).find((exhibit) => exhibit.id === id);
  if (!found || (found.kind !== 'kpis' && found.kind !== 'crosstab'))
    throw new ApiError('exhibit-not-found', 'This report has no such exhibit any more. Reload the page to see the newest edition.');
  return found;
}

function letter(title: string, { label, value, state }: WatchRow, after: Reading): { subject: string; body: string } {
  return {
    subject: oneLine(`${label}: ${stateWords(after.state)}`),
    body: `${oneLine(label)} in “${oneLine(title)}” was ${stateWords(state)} (${value}) and is ${stateWords(after.state)} now (${after.value}).`,
  };
}
