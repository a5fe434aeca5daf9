import type { QueryResult } from '../engine/index.ts';
import type { Cube, SelectedMembers, VisibleNode } from '../crosstab/index.ts';

/** A cross-tab put together: every cell down to some depths, and the members that were selected as its top or bottom. */
export interface PreparedTable {
  cube: Cube;
  selected: SelectedMembers[];
  /** What its parts were asked, and the answers. */
  asked: { queries: string; results: (QueryResult | null)[] };
  /** The lines of its axes, by the way that these stand open and ordered. */
  lines: Map<string, Promise<VisibleNode[]>>;
}

/** Remembers tables by what they were asked for. A cache may forget whatever it likes. */
export interface TableCache {
  get(key: string): Promise<PreparedTable> | undefined;
  set(key: string, table: Promise<PreparedTable>): void;
  delete(key: string): void;
}

/** Remembers nothing: for answers that are asked once. */
export const noTableCache: TableCache = { get: () => undefined, set: () => undefined, delete: () => undefined };

/** About how many bytes a table takes, with the answers that it is made of. */
export const bytesOfTable = ({ cube, asked }: PreparedTable): number =>
  asked.results
    .flatMap((result) => result?.sets ?? [])
    .reduce((sum, { size, keys, values }) => sum + size * (8 + 4 * keys.length + 8 * values.length), cube.bytes);
