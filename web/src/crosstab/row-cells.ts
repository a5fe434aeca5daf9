import type { CrosstabTable, TableCell } from '@bold-compass/core/table';

/** The columns in view, and where measures stand in each, in pixels. */
export interface ShownColumns {
  columns: readonly { index: number }[];
  columnWidth: number;
  /** The place of each measure within a column. */
  offsets: readonly { left: number; width: number }[];
}

/** A cell where it stands. */
interface PlacedCell {
  cell: TableCell;
  /** Its column, counted over all measures. */
  flat: number;
  /** The position of its measure, and its place among the measures of the column. */
  position: number;
  place: number;
  /** From where the labels end, in pixels. */
  left: number;
  width: number;
}

/** The cells of a line that are in view, from left to right. */
export function rowCells(table: CrosstabTable, index: number, { columns, columnWidth, offsets }: ShownColumns): PlacedCell[] {
  const { row, measure } = table.line(index);
  const positions = measure === null ? table.measures.map((_, position) => position) : [measure];
  return columns.flatMap(({ index: column }) =>
    positions.map((position, place) => {
      const { left, width } = offsets[place];
      const cell = table.cell(row, column, position);
      return { cell, flat: column * positions.length + place, position, place, left: column * columnWidth + left, width };
    }),
  );
}
