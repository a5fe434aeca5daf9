/** A row of a file: its number there, counted from 1, and its cells as texts. */
export interface Row {
  row: number;
  cells: string[];
}

/** Rows in the order of the file, many at a time. */
export type RowBatches = AsyncGenerator<Row[]>;
/** Hears how much of a file has been read, as a share of 1. */
export type OnProgress = (share: number) => void;
