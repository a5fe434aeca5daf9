import { LRUCache } from 'lru-cache';

/**
 * Answers that are remembered up to a number of bytes, the least recently used forgotten first. An answer that is still on
 * its way counts little; what failed is not kept.
 */
export class ByteCache<Answer> {
  private readonly answers: LRUCache<string, { answer: Promise<Answer>; bytes: number }>;

  constructor(
    most: number,
    private readonly bytesOf: (answer: Answer) => number,
  ) {
    this.answers = new LRUCache({ maxSize: most, sizeCalculation: ({ bytes }, key) => bytes + key.length * 2 });
  }

  get(key: string): Promise<Answer> | undefined {
    return this.answers.get(key)?.answer;
  }

  set(key: string, answer: Promise<Answer>): void {
    this.answers.set(key, { answer, bytes: 1_000 });
    answer.then(
      (found) => {
        if (this.answers.peek(key)?.answer === answer) this.answers.set(key, { answer, bytes: this.bytesOf(found) });
      },
      () => this.answers.peek(key)?.answer === answer && this.answers.delete(key),
    );
  }

  delete(key: string): void {
    this.answers.delete(key);
  }

  /** Bytes of what is remembered now. */
  get bytes(): number {
    return this.answers.calculatedSize;
  }
}
