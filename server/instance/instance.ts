import { randomInt } from 'node:crypto';
import { openClient, type Connection, type Client } from '../database/index.ts';

/** First key of the advisory locks that running servers hold; the second is the server's number. */
const LOCK_CLASS = 0x62630001;
const RETRY_MILLISECONDS = 1_000;

/**
 * This server among those that share a database. It holds an advisory lock for as long as it runs, so that others can
 * tell what it left half done from what it is doing.
 */
export class Instance {
  readonly number = randomInt(1, 0x7fffffff);
  private client: Client | null = null;
  private retry: NodeJS.Timeout | undefined;
  private closed = false;

  constructor(private readonly connection: Connection) {}

  /** Takes the lock. It is taken again by itself when the database comes back. */
  async begin(): Promise<void> {
    if (this.client) return;
    const client = await openClient({ connectionString: this.connection.url, application_name: 'Bold Compass, instance' }, () =>
      this.comeBack(),
    );
    this.client = client;
    await client.query('SELECT pg_advisory_lock($1, $2)', [LOCK_CLASS, this.number]);
  }

  private comeBack(): void {
    if (this.closed) return;
    this.client = null;
    clearTimeout(this.retry);
    this.retry = setTimeout(() => void this.begin().catch(() => this.comeBack()), RETRY_MILLISECONDS).unref();
  }

  /** The numbers of all servers that run now, this one among them. */
  async running(): Promise<Set<number>> {
    const { rows } = await this.connection.pool.query<{ number: string }>(
      `SELECT objid::text AS number FROM pg_locks
       WHERE locktype = 'advisory' AND classid::bigint = $1 AND granted AND database = (SELECT oid FROM pg_database WHERE datname = current_database())`,
      [LOCK_CLASS],
    );
    return new Set([this.number, ...rows.map(({ number }) => Number(number))]);
  }

  async close(): Promise<void> {
    this.closed = true;
    clearTimeout(this.retry);
    await this.client?.end().catch(() => undefined);
  }
}
