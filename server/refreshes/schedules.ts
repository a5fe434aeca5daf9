import { Cron } from 'croner';
import { isNotNull } from 'drizzle-orm';
import { tables, type Database } from '../database/index.ts';
import { ApiError } from '../problems/index.ts';

/** When sources are refreshed by themselves: cron expressions in UTC. */
export class Schedules {
  private readonly crons = new Map<string, Cron>();

  constructor(
    private readonly db: Database,
    private readonly run: (source: string) => Promise<void>,
  ) {}

  /** Throws ApiError for an expression that is none. */
  static check(schedule: string | null): void {
    if (schedule === null) return;
    try {
      new Cron(schedule, { paused: true, timezone: 'UTC' }).stop();
    } catch {
      throw new ApiError(
        'bad-request',
        'This is no schedule. Write it as minute, hour, day, month, weekday: “0 5 * * *” is each day at 5.',
      );
    }
  }

  /** Sets all schedules going. */
  async begin(): Promise<void> {
    const rows = await this.db.select().from(tables.sources).where(isNotNull(tables.sources.schedule));
    for (const { id, schedule } of rows) this.set(id, schedule);
  }

  /** Sets the schedule of a source, or ends it with null. */
  set(id: string, schedule: string | null): void {
    this.crons.get(id)?.stop();
    this.crons.delete(id);
    if (schedule !== null) this.crons.set(id, new Cron(schedule, { timezone: 'UTC' }, () => void this.run(id).catch(() => undefined)));
  }

  close(): void {
    for (const cron of this.crons.values()) cron.stop();
  }
}
