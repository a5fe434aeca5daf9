import { compareText, CrosstabTooLargeError } from '../../engine/index.ts';
import { isCombined, type Cube, type VisibleNode } from '../../crosstab/index.ts';
import type { CellMeasure, MarkOf } from '../../model/index.ts';
import { once, Turns, type Extent, type ShownTable } from './scales.ts';

/** Puts the table together that has periods below the first levels across the top, for a measure. Throws CrosstabTooLargeError. */
export type SparklineTables = (topDepth: number, field: string, measure: string) => Promise<Cube>;

const rounded = (value: number): number => Math.round(value * 10_000) / 10_000;

/** The values of a cell through the last periods; null where a column is no single member, or is such a period itself. */
function seriesOf(
  cube: Cube,
  { cells }: ShownTable,
  measure: string,
  periods: number,
): (row: VisibleNode, column: VisibleNode) => number[] | null {
  const ofColumn = new Map<VisibleNode, number[] | null>();
  const periodsOf = (column: VisibleNode): number[] | null => {
    let own = ofColumn.get(column);
    if (own === undefined) {
      const node = cube.top.find(cells.top.path(column.node));
      const below = node?.children.map((id) => cube.top.nodes[id]).filter(({ member }) => member !== null && !isCombined(member));
      own =
        below
          ?.sort((a, b) => compareText(a.member!, b.member!))
          .slice(-periods)
          .map(({ id }) => id) ?? null;
      ofColumn.set(column, own);
    }
    return own;
  };
  return (row, column) => {
    const node = cube.side.find(cells.side.path(row.node));
    const own = periodsOf(column);
    return node && own && own.length > 1 ? own.map((period) => cube.value(measure, node.id, period)) : null;
  };
}

const extentOf = (values: readonly number[], holdsZero: boolean): Extent => {
  const own = values.filter((value) => !Number.isNaN(value));
  const all = holdsZero ? [...own, 0] : own;
  return { low: Math.min(...all), high: Math.max(...all) };
};

/** Where zero is on the scale, then the values on it; −1 stands for none. */
export function sparklines(
  { draw, field, periods, scale }: MarkOf<'sparkline'>,
  cell: CellMeasure,
  table: ShownTable,
  tables: SparklineTables,
): (row: VisibleNode, column: VisibleNode) => Promise<number[] | null> {
  const holdsZero = draw === 'columns';
  /** Nothing is drawn where the periods of so many rows are more than a table can be. */
  const cubeFor = (depth: number): Promise<Cube | null> =>
    tables(depth, field, cell.measure).catch((error: unknown) => {
      if (error instanceof CrosstabTooLargeError) return null;
      throw error;
    });
  const common = (column: VisibleNode, seriesIn: (row: VisibleNode, column: VisibleNode) => number[] | null): Promise<Extent> =>
    once(table, JSON.stringify(['sparklines on one scale', field, cell.measure, draw, periods, column.node]), async () => {
      const turns = new Turns();
      const all: Extent = { low: Infinity, high: -Infinity };
      for (const [index, row] of table.rows.entries()) {
        const series = row.role === 'member' ? seriesIn(row, column)?.filter((value) => !Number.isNaN(value)) : undefined;
        if (series && series.length > 0) {
          const { low, high } = extentOf(series, holdsZero);
          all.low = Math.min(all.low, low);
          all.high = Math.max(all.high, high);
        }
        if (index % 200 === 199) await turns.next();
      }
      return all;
    });
  const readers = new Map<number, Promise<ReturnType<typeof seriesOf> | null>>();
  const readerFor = (depth: number): Promise<ReturnType<typeof seriesOf> | null> => {
    let reader = readers.get(depth);
    if (!reader) readers.set(depth, (reader = cubeFor(depth).then((cube) => cube && seriesOf(cube, table, cell.measure, periods))));
    return reader;
  };
  return async (row, column) => {
    if (row.summary || column.summary || row.less !== undefined || column.less !== undefined) return null;
    const path = table.cells.top.path(column.node);
    if (path.some((member) => member !== null && isCombined(member))) return null;
    const read = await readerFor(path.length);
    const series = read?.(row, column);
    if (!read || !series || series.filter((value) => !Number.isNaN(value)).length < 2) return null;
    const { low, high } = scale === 'own' || row.role !== 'member' ? extentOf(series, holdsZero) : await common(column, read);
    const at = (value: number): number => (high > low ? rounded((value - low) / (high - low)) : 0.5);
    return [holdsZero ? at(0) : 0, ...series.map((value) => (Number.isNaN(value) ? -1 : at(value)))];
  };
}
