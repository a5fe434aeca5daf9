/**
 * An answer as the JSON that goes out, UTF-8: it is written in the thread that worked it out and handed over without a copy,
 * so that long answers cost the thread that serves everyone nothing.
 */
export class JsonAnswer {
  constructor(readonly bytes: Uint8Array<ArrayBuffer>) {}

  /** The answer as an object, for who works on with it. */
  read(): unknown {
    return JSON.parse(new TextDecoder().decode(this.bytes));
  }
}

/** Writes a value as `JsonAnswer` holds it. */
export const jsonBytes = (value: unknown): Uint8Array<ArrayBuffer> => new TextEncoder().encode(JSON.stringify(value));
