/** A row of a file: its number there, counted from 1, and its cells as texts. */
export interface Row {
  row: number;
  cells: string[];
}

/** Rows in the order of the file, many at a time. `onBytes` hears how much of `totalBytes` has been read. */
export type RowBatches = AsyncGenerator<Row[]>;
export type OnProgress = (share: number) => void;
