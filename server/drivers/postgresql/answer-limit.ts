import { Socket } from 'node:net';
import { AnswerTooLarge } from '../driver.ts';

const HEADER_BYTES = 5;

/**
 * Watches what a PostgreSQL server sends, message by message (a type byte and a length of four, protocol 3.0), and cuts
 * the connection at a message or an answer that is too large, before it is held in memory: a row limit alone lets one
 * value of a gigabyte through.
 */
export class AnswerLimit {
  private readonly header = Buffer.alloc(HEADER_BYTES);
  private headerLength = 0;
  private left = 0;
  private bytes = 0;
  readonly socket = new Socket();

  /** `message` and `answer` are the most bytes of a single message, and of all of them until `reset`. */
  constructor(
    private readonly message: number,
    private readonly answer: number,
  ) {
    this.socket.on('data', (chunk: Buffer) => this.watch(chunk));
  }

  /** Begins to count anew. */
  reset(): void {
    this.bytes = 0;
  }

  private watch(chunk: Buffer): void {
    for (let at = 0; at < chunk.length;) {
      if (this.left > 0) {
        const taken = Math.min(this.left, chunk.length - at);
        this.left -= taken;
        at += taken;
        continue;
      }
      const taken = Math.min(HEADER_BYTES - this.headerLength, chunk.length - at);
      chunk.copy(this.header, this.headerLength, at, at + taken);
      this.headerLength += taken;
      at += taken;
      if (this.headerLength < HEADER_BYTES) continue;
      this.headerLength = 0;
      this.left = Math.max(0, this.header.readInt32BE(1) - 4);
      this.bytes += this.left;
      const over = this.left > this.message ? this.message : this.bytes > this.answer ? this.answer : null;
      if (over === null) continue;
      this.socket.destroy(new AnswerTooLarge(over));
      return;
    }
  }
}
