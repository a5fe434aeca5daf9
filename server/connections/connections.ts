import { randomUUID } from 'node:crypto';
import type { ConnectionForm, ConnectionView } from '@bold-compass/core/api';
import { eq } from 'drizzle-orm';
import pg from 'pg';
import { tables, type Database } from '../database/index.ts';
import { ApiError } from '../http/problems.ts';
import type { SecretBox } from './secrets.ts';

type Row = typeof tables.connections.$inferSelect;

/** Longest that a question may take, in milliseconds. */
export const QUESTION_MILLISECONDS = 20_000;

const viewOf = ({ id, label, host, port, database, user }: Row): ConnectionView => ({ id, label, host, port, database, user });

/** Servers that sources are read from. Passwords go in, and never out. */
export class Connections {
  constructor(
    private readonly db: Database,
    private readonly secrets: SecretBox,
  ) {}

  async list(): Promise<ConnectionView[]> {
    return (await this.db.select().from(tables.connections).orderBy(tables.connections.label)).map(viewOf);
  }

  /** Saves a connection after it has been tried. Without a password a known one keeps its own. */
  async save(id: string | null, { password, ...form }: ConnectionForm): Promise<ConnectionView> {
    const known = id === null ? null : await this.find(id);
    // A kept password goes only where it went before: elsewhere it would be handed to someone else.
    if (known && password === undefined && (known.host !== form.host || known.port !== form.port || known.user !== form.user)) {
      throw new ApiError('connection-failed', 'The server or the user is another one now: type the password again.');
    }
    const secret = password ?? (known ? this.passwordOf(known) : '');
    await this.use({ ...form, password: secret }, (client) => client.query('SELECT 1'));
    const values = { ...form, secret: this.secrets.seal(secret) };
    if (known) {
      await this.db.update(tables.connections).set(values).where(eq(tables.connections.id, known.id));
      return { id: known.id, ...form };
    }
    const made = randomUUID();
    await this.db.insert(tables.connections).values({ id: made, ...values });
    return { id: made, ...form };
  }

  /** Removes a connection. Sources that are read through it keep their records, but can be refreshed no more. */
  async remove(id: string): Promise<void> {
    await this.find(id);
    await this.db.delete(tables.connections).where(eq(tables.connections.id, id));
  }

  /** What a thread needs to connect by itself. Not for answers. */
  async credentials(id: string): Promise<pg.ClientConfig> {
    const row = await this.find(id);
    return { host: row.host, port: row.port, database: row.database, user: row.user, password: this.passwordOf(row) };
  }

  /**
   * Asks something in a read-only transaction that is rolled back, with a time limit. Failures of the server become
   * ApiError `connection-failed`; refusals of a statement are passed on.
   */
  async ask<Result>(id: string, question: (client: pg.Client) => Promise<Result>): Promise<Result> {
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

  private async use<Result>(config: pg.ClientConfig, question: (client: pg.Client) => Promise<Result>): Promise<Result> {
    const client = await openReadOnly(config);
    try {
      return await question(client);
    } finally {
      await client.end().catch(() => undefined);
    }
  }
}

/** Connects and begins a read-only transaction. Throws ApiError `connection-failed` in words for people. */
export async function openReadOnly(config: pg.ClientConfig, milliseconds = QUESTION_MILLISECONDS): Promise<pg.Client> {
  const client = new pg.Client({ ...config, connectionTimeoutMillis: 5_000, application_name: 'Bold Compass' });
  client.on('error', () => undefined);
  try {
    await client.connect();
    await client.query(`SET statement_timeout = ${milliseconds}`);
    await client.query(`SET datestyle = 'ISO, YMD'`);
    await client.query('BEGIN READ ONLY');
    return client;
  } catch (error) {
    await client.end().catch(() => undefined);
    throw connectionFailure(error);
  }
}

function connectionFailure(error: unknown): ApiError {
  const { code, message } = error as { code?: string; message?: string };
  const words: Record<string, string> = {
    ECONNREFUSED: 'Nothing answers at this host and port. Are they right, and is the server running?',
    ENOTFOUND: 'There is no host of this name. Is it spelled right?',
    ETIMEDOUT: 'The server does not answer. Is it behind a firewall?',
    '28P01': 'The server refused the user or the password.',
    '28000': 'The server refused this user.',
    '3D000': 'The server has no database of this name.',
  };
  const timedOut = /timeout/i.test(message ?? '');
  return new ApiError(
    'connection-failed',
    words[timedOut ? 'ETIMEDOUT' : (code ?? '')] ?? `The server could not be used: ${message ?? 'it gave no reason'}.`,
  );
}
