import { createHash } from 'node:crypto';
import { mkdir, open, readdir, rename, rm, type FileHandle } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import type { Store } from '@bold-compass/core/engine';

/**
 * Columns on disk: a header of JSON that tells the shape, then the arrays as they lie in memory, each at a multiple of
 * eight bytes. A file belongs to one state of the data; what does not read as written is left aside.
 */
const MAGIC = 'bold-compass columns 1\n';
type Columns = Int32Array | Float64Array | Uint8Array;
const KINDS: Record<string, (shared: SharedArrayBuffer, offset: number, length: number) => Columns> = {
  Int32Array: (shared, offset, length) => new Int32Array(shared, offset, length),
  Float64Array: (shared, offset, length) => new Float64Array(shared, offset, length),
  Uint8Array: (shared, offset, length) => new Uint8Array(shared, offset, length),
};

interface Placed {
  $array: string;
  offset: number;
  length: number;
}

const isPlaced = (value: unknown): value is Placed => typeof value === 'object' && value !== null && '$array' in value;
const isColumns = (value: unknown): value is Columns =>
  value instanceof Int32Array || value instanceof Float64Array || value instanceof Uint8Array;
const aligned = (bytes: number): number => Math.ceil(bytes / 8) * 8;

const short = (text: string): string => createHash('sha256').update(text).digest('hex').slice(0, 32);

/** Names of files are made of names of datasets, told apart by a digest where letters are replaced. */
const fileStem = (name: string): string => `${name.replaceAll(/[^\w-]/g, '_').slice(0, 60)}-${short(name).slice(0, 8)}`;

/** The file of one state of a dataset: told by everything that its columns follow from. */
export function snapshotFile(folder: string, name: string, state: unknown[]): string {
  return join(folder, `${fileStem(name)}.${short(JSON.stringify(state))}.columns`);
}

/** Removes the snapshots of one dataset, or of all but some. */
export async function removeSnapshots(folder: string, names: { gone?: string; kept?: readonly string[] }): Promise<void> {
  const kept = names.kept && new Set(names.kept.map(fileStem));
  const gone = names.gone === undefined ? undefined : fileStem(names.gone);
  const files = await readdir(folder).catch(() => []);
  for (const file of files) {
    const stem = file.split('.')[0];
    if (file.includes('.columns') && (stem === gone || (kept && !kept.has(stem)))) await rm(join(folder, file), { force: true });
  }
}

/** Writes a store; a half-written file never gets the name. Older states of the same dataset are removed. */
export async function writeSnapshot(path: string, store: Store): Promise<void> {
  const arrays: Columns[] = [];
  let offset = 0;
  const header = JSON.stringify(store, (_key, value: unknown) => {
    if (!isColumns(value)) return value;
    const placed: Placed = { $array: value.constructor.name, offset, length: value.length };
    arrays.push(value);
    offset += aligned(value.byteLength);
    return placed;
  });
  await mkdir(dirname(path), { recursive: true, mode: 0o700 });
  const half = `${path}.${process.pid}`;
  const file = await open(half, 'w', 0o600);
  try {
    const text = Buffer.from(header);
    const start = Buffer.from(`${MAGIC}${String(text.length).padStart(12)}${String(offset).padStart(16)}\n`);
    await file.write(start);
    await file.write(text);
    for (const array of arrays) {
      await file.write(new Uint8Array(array.buffer, array.byteOffset, array.byteLength));
      const gap = aligned(array.byteLength) - array.byteLength;
      if (gap > 0) await file.write(new Uint8Array(gap));
    }
  } finally {
    await file.close();
  }
  await rename(half, path);
  const own = basename(path).split('.')[0];
  for (const other of await readdir(dirname(path))) {
    if (other.startsWith(`${own}.`) && other !== basename(path)) await rm(join(dirname(path), other), { force: true });
  }
}

/** Reads a store back, its arrays over one shared buffer; null where there is no whole file. */
export async function readSnapshot(path: string): Promise<Store | null> {
  let file: FileHandle;
  try {
    file = await open(path);
  } catch {
    return null;
  }
  try {
    const startLength = MAGIC.length + 12 + 16 + 1;
    const start = Buffer.alloc(startLength);
    await file.read(start, 0, startLength, 0);
    const text = start.toString();
    if (!text.startsWith(MAGIC)) return null;
    const headerLength = Number(text.slice(MAGIC.length, MAGIC.length + 12));
    const dataLength = Number(text.slice(MAGIC.length + 12, -1));
    const { size } = await file.stat();
    if (size !== startLength + headerLength + dataLength) return null;
    const header = Buffer.alloc(headerLength);
    await file.read(header, 0, headerLength, startLength);
    const shared = new SharedArrayBuffer(dataLength);
    const bytes = new Uint8Array(shared);
    for (let at = 0; at < dataLength;) {
      const { bytesRead } = await file.read(bytes, at, Math.min(dataLength - at, 1 << 30), startLength + headerLength + at);
      if (bytesRead === 0) return null;
      at += bytesRead;
    }
    return JSON.parse(header.toString(), (_key, value: unknown) =>
      isPlaced(value) ? KINDS[value.$array](shared, value.offset, value.length) : value,
    ) as Store;
  } finally {
    await file.close();
  }
}
