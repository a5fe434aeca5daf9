import type { CrosstabResponse } from '../../api/index.ts';
import type { VisibleNode } from '../../crosstab/index.ts';
import type { CellMeasure } from '../../model/index.ts';
import { judgedBy, type Judged } from './indicator.ts';
import { canMark, markedBy, type MarkValue } from './kinds.ts';
import type { ShownTable } from './shown-table.ts';
import type { SparklineTables } from './sparklines.ts';

export { judged, spreadLimits } from './indicator.ts';

/** A window of a table, with the cells as they are in each of its rows. */
interface MarkedWindow {
  rows: readonly VisibleNode[];
  columns: readonly VisibleNode[];
  inRow(row: VisibleNode): readonly (CellMeasure | null)[];
}

/** What is drawn with the figures of a window: for each mark of each measure, row by row, what it comes to in each column. */
export async function marksIn(
  table: ShownTable,
  measures: readonly CellMeasure[],
  { rows, columns, inRow }: MarkedWindow,
  tables: SparklineTables,
): Promise<CrosstabResponse['marks']> {
  const marked = measures.flatMap((cell, measure) => (cell.marks ?? []).map((mark, index) => ({ cell, measure, mark, index })));
  return Promise.all(
    marked.map(async ({ cell, measure, mark, index }) => {
      const of = markedBy(mark, { table, cell, tables });
      const values: MarkValue[][] = [];
      for (const row of rows) {
        // Rows of some levels may show another measure, which these marks are not about.
        const isOwn = canMark(row) && inRow(row)[measure] === cell;
        const line: MarkValue[] = [];
        for (const column of columns) line.push(isOwn && canMark(column) ? await of(row, column) : null);
        values.push(line);
      }
      return { measure, index, values };
    }),
  );
}

/** How the figures of a window are judged: row by row, column after column, each with its measures. */
export async function statesIn(
  table: ShownTable,
  { rows, columns, inRow }: MarkedWindow,
): Promise<Required<Pick<CrosstabResponse, 'states' | 'bearings'>>> {
  const judges = new Map<CellMeasure, ReturnType<typeof judgedBy>>();
  const states: NonNullable<CrosstabResponse['states']> = [];
  const bearings: NonNullable<CrosstabResponse['bearings']> = [];
  for (const row of rows) {
    const found: (Judged | null)[] = [];
    for (const column of columns)
      for (const cell of inRow(row)) {
        if (cell && !judges.has(cell)) judges.set(cell, judgedBy(table, cell));
        found.push(cell ? await judges.get(cell)!(row, column) : null);
      }
    states.push(found.map((one) => one?.state ?? null));
    bearings.push(found.map((one) => one?.bearing ?? null));
  }
  return { states, bearings };
}
