import { randomUUID } from 'node:crypto';
import type { ConnectionForm, ConnectionView } from '@bold-compass/core/api';
import { and, eq, sql } from 'drizzle-orm';
import pLimit from 'p-limit';
import { tables, type Connection, type Database } from '../database/index.ts';
import { AnswerTooLarge, driverOf, type ConnectionSettings, type Driver, type Session } from '../drivers/index.ts';
import { ApiError, staleRevision } from '../problems/index.ts';
import type { SecretBox } from './secrets.ts';

type Row = typeof tables.connections.$inferSelect;

/** The longest that a question may take, and the most bytes of a single row, and of a whole answer, that are taken. */
const LIMITS = { milliseconds: 20_000, rowBytes: 8_000_000, answerBytes: 64_000_000 };
/** Questions that other servers are asked at once: each is a connection there. */
const ASKED_AT_ONCE = 6;

const viewOf = ({ id, label, host, port, database, user, revision }: Row): ConnectionView => ({
  ...{ id, label, host, port, database, user, revision },
});

/** Servers that sources are read from. Passwords go in, and never out. */
export class Connections {
  private readonly db: Database;
  private readonly queue = pLimit(ASKED_AT_ONCE);

  constructor(
    private readonly own: Connection,
    private readonly secrets: SecretBox,
  ) {
    this.db = own.db;
  }

  async list(): Promise<ConnectionView[]> {
    return (await this.db.select().from(tables.connections).orderBy(tables.connections.label)).map(viewOf);
  }

  /**
   * Saves a connection after it has been tried, from the revision it started from. Without a password a known one keeps
   * its own. Throws ApiError `connection-failed`, `stale-revision`.
   */
  async save(id: string | null, { password, revision, ...form }: ConnectionForm): Promise<ConnectionView> {
    const known = id === null ? null : await this.find(id);
    // A kept password goes only where it went before: elsewhere it would be handed to someone else.
    const moved = known && (['host', 'port', 'database', 'user'] as const).some((part) => known[part] !== form[part]);
    if (moved && password === undefined) {
      throw new ApiError('connection-failed', 'The server, the database or the user is another one now: type the password again.');
    }
    const secret = password ?? (known ? this.passwordOf(known) : '');
    await this.use({ ...form, password: secret }, (session) => session.query('SELECT 1'));
    const values = { ...form, secret: this.secrets.seal(secret) };
    if (known) {
      const [saved] = await this.db
        .update(tables.connections)
        .set({ ...values, revision: sql`${tables.connections.revision} + 1` })
        .where(and(eq(tables.connections.id, known.id), eq(tables.connections.revision, revision ?? -1)))
        .returning();
      if (!saved) throw staleRevision('this connection', known.revision);
      return viewOf(saved);
    }
    const [made] = await this.db
      .insert(tables.connections)
      .values({ id: randomUUID(), ...values })
      .returning();
    return viewOf(made);
  }

  /** Removes a connection. Sources that are read through it keep their records, but can be refreshed no more. */
  async remove(id: string): Promise<void> {
    await this.find(id);
    await this.db.delete(tables.connections).where(eq(tables.connections.id, id));
  }

  /** What a thread needs to connect by itself. Not for answers. */
  async credentials(id: string): Promise<ConnectionSettings> {
    const row = await this.find(id);
    return { host: row.host, port: row.port, database: row.database, user: row.user, password: this.passwordOf(row) };
  }

  /**
   * Asks something in a read-only transaction that is rolled back, with a time limit. Failures of the server become
   * ApiError `connection-failed`; refusals of a statement are passed on.
   */
  async ask<Result>(id: string, question: (session: Session, driver: Driver) => Promise<Result>): Promise<Result> {
    return this.use(await this.credentials(id), question);
  }

  /** A kept password. Throws ApiError where it was sealed with another key than this installation's. */
  private passwordOf({ secret, label }: Row): string {
    try {
      return this.secrets.open(secret);
    } catch {
      throw new ApiError(
        'connection-failed',
        `The password of ${label} was kept with another key. Change the connection and type it again.`,
      );
    }
  }

  private async find(id: string): Promise<Row> {
    const [row] = await this.db.select().from(tables.connections).where(eq(tables.connections.id, id));
    if (!row) throw new ApiError('not-found', 'This connection is not here any more. Choose another one.');
    return row;
  }

  private use<Result>(settings: ConnectionSettings, question: (session: Session, driver: Driver) => Promise<Result>): Promise<Result> {
    const driver = driverOf('postgresql');
    return this.queue(async () => {
      const session = await driver.open(settings, LIMITS);
      try {
        await driver.refuseOwn(session, this.own.pool);
        return await question(session, driver);
      } catch (error) {
        throw error instanceof AnswerTooLarge ? tooLarge(error) : error;
      } finally {
        await session.end().catch(() => undefined);
      }
    });
  }
}

const tooLarge = ({ message }: AnswerTooLarge): ApiError =>
  new ApiError('too-large', `${message} Ask for fewer columns, fewer records or shorter values.`);
