import { compareText, CrosstabTooLargeError } from '../../engine/index.ts';
import { isCombined, type Cube, type VisibleNode } from '../../crosstab/index.ts';
import type { CellMeasure, MarkOf } from '../../model/index.ts';
import { extentOfValues, placeOn, withZero, type Extent } from './scales.ts';
import { isMember, once, valuesOfMembers, type ShownTable } from './shown-table.ts';

/** Puts the table together that has periods below the first levels across the top, for a measure. Throws CrosstabTooLargeError. */
export type SparklineTables = (topDepth: number, field: string, measure: string) => Promise<Cube>;

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
    once(table, JSON.stringify(['sparklines on one scale', field, cell.measure, periods, column.node]), async () => {
      // All of them together, whatever they stand under.
      const values = await valuesOfMembers(
        table,
        column,
        (row, at) => seriesIn(row, at) ?? [],
        () => 0,
      );
      return extentOfValues(values.get(0) ?? []);
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
    const extent = scale === 'own' || !isMember(row) ? extentOfValues(series) : await common(column, read);
    const whole = holdsZero ? withZero(extent) : extent;
    return [holdsZero ? placeOn(whole, 0) : 0, ...series.map((value) => (Number.isNaN(value) ? -1 : placeOn(whole, value)))];
  };
}
