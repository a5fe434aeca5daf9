import type { Logger } from 'pino';
import type { SignalBox } from './signals.ts';

/** Milliseconds between two looks. */
const EVERY = 10_000;

/** Looks at watched figures again and again, as long as the server runs. What fails is tried again with the next look. */
export class Watching {
  private timer: NodeJS.Timeout | null = null;
  private look: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly box: SignalBox,
    private readonly logger: Logger,
  ) {}

  begin(): void {
    this.timer = setInterval(() => {
      this.look = this.box.look().catch((error: unknown) => this.logger.warn({ error }, 'watched figures could not be looked at'));
    }, EVERY);
    this.timer.unref();
  }

  async close(): Promise<void> {
    if (this.timer) clearInterval(this.timer);
    await this.look;
  }
}
