/** Reads the fields of PostgreSQL's binary COPY format as they arrive (PostgreSQL documentation, COPY, "Binary Format"). */
interface RowReader {
  /** Called once a row, with the number of its fields, before the fields. */
  onField(index: number, buffer: Buffer, start: number, length: number): void;
  onRow(): void;
}

const SIGNATURE = Buffer.from('PGCOPY\n\xff\r\n\0', 'latin1');

export class BinaryCopyParser {
  private rest: Buffer = Buffer.alloc(0);
  private started = false;
  private done = false;

  constructor(private readonly reader: RowReader) {}

  /** Takes the next piece of the stream. Throws on a stream that is not binary COPY. */
  write(chunk: Buffer): void {
    const buffer = this.rest.length > 0 ? Buffer.concat([this.rest, chunk]) : chunk;
    let at = 0;
    if (!this.started) {
      if (buffer.length < 19) {
        this.rest = buffer;
        return;
      }
      if (!buffer.subarray(0, 11).equals(SIGNATURE)) throw new Error('The database did not answer in the binary COPY format.');
      at = 19 + buffer.readInt32BE(15);
      this.started = true;
    }
    while (!this.done) {
      const end = rowEnd(buffer, at);
      if (end === NOT_WHOLE) break;
      if (end === END_OF_DATA) {
        this.done = true;
        break;
      }
      const fields = buffer.readInt16BE(at);
      let position = at + 2;
      for (let index = 0; index < fields; index++) {
        const length = buffer.readInt32BE(position);
        position += 4;
        this.reader.onField(index, buffer, position, length);
        if (length > 0) position += length;
      }
      this.reader.onRow();
      at = end;
    }
    this.rest = buffer.subarray(at);
  }
}

const NOT_WHOLE = -1;
const END_OF_DATA = -2;

/** Where the row at a position ends, if all of it is there. */
function rowEnd(buffer: Buffer, start: number): number {
  if (start + 2 > buffer.length) return NOT_WHOLE;
  const fields = buffer.readInt16BE(start);
  if (fields < 0) return END_OF_DATA;
  let at = start + 2;
  for (let index = 0; index < fields; index++) {
    if (at + 4 > buffer.length) return NOT_WHOLE;
    const length = buffer.readInt32BE(at);
    at += 4 + Math.max(length, 0);
  }
  return at > buffer.length ? NOT_WHOLE : at;
}

/** An int8 field as a number; exact within the safe integers. */
export function readInt8(buffer: Buffer, start: number): number {
  return buffer.readInt32BE(start) * 4_294_967_296 + buffer.readUInt32BE(start + 4);
}

/** Days between 1970-01-01 and 2000-01-01, PostgreSQL's first day. */
const EPOCH_2000 = 10_957;

/** A date field as days since 1970-01-01. */
export function readDate(buffer: Buffer, start: number): number {
  return buffer.readInt32BE(start) + EPOCH_2000;
}
