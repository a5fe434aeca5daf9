import { shownValue, type CellReader, type VisibleNode } from '../../crosstab/index.ts';
import type { CellMeasure } from '../../model/index.ts';

/** A table as it is shown, for what goes by all of its lines. */
export interface ShownTable {
  cells: CellReader;
  rows: VisibleNode[];
  columns: VisibleNode[];
}

/** Milliseconds of work after which others may work. */
const WORK = 8;

/** Pauses long work now and then, so that others may work meanwhile. */
export class Pauses {
  private started = performance.now();

  async next(): Promise<void> {
    if (performance.now() - this.started < WORK) return;
    await new Promise((resolve) => setTimeout(resolve, 0));
    this.started = performance.now();
  }
}

/** Whether a line is one of the members, no total or summary of them, which would outgrow every scale. */
export const isMember = ({ role, bare }: VisibleNode): boolean => role === 'member' && !bare;

/** What was calculated for a table, by its lines: kept as long as these are. */
const known = new WeakMap<VisibleNode[], WeakMap<VisibleNode[], Map<string, Promise<unknown>>>>();

/** Works something out once for a table as it is shown. */
export function once<Value>({ rows, columns }: ShownTable, key: string, work: () => Promise<Value>): Promise<Value> {
  let byColumns = known.get(rows);
  if (!byColumns) known.set(rows, (byColumns = new WeakMap<VisibleNode[], Map<string, Promise<unknown>>>()));
  let values = byColumns.get(columns);
  if (!values) byColumns.set(columns, (values = new Map<string, Promise<unknown>>()));
  let value = values.get(key) as Promise<Value> | undefined;
  if (!value) {
    values.set(key, (value = work()));
    value.catch(() => values.delete(key));
  }
  return value;
}

/** Values as a mark reads them. */
export type ReadValues = (row: VisibleNode, column: VisibleNode) => readonly number[];

/** The value of a cell's measure, and of others in its place. */
export const reading =
  ({ cells }: ShownTable, cell: CellMeasure, ...others: string[]): ReadValues =>
  (row, column) => [
    shownValue(cells, cell, row, column),
    ...others.map((measure) => shownValue(cells, { measure, totals: cell.totals }, row, column)),
  ];

/** Works something out once for a column of a table. */
export const onceInColumn = <Value>(table: ShownTable, column: VisibleNode, key: string, work: () => Promise<Value>): Promise<Value> =>
  once(table, `${key} ${table.columns.indexOf(column)}`, work);

/** The node that a row stands under. */
export const parentOf = ({ cells }: ShownTable, { node }: VisibleNode): number => cells.side.nodes[node].parent;

/** The values of all members in a column, put together by a key of their rows; what is missing is left out. */
export async function valuesOfMembers(
  { rows }: ShownTable,
  column: VisibleNode,
  read: ReadValues,
  keyOf: (row: VisibleNode) => number,
): Promise<Map<number, number[]>> {
  const pauses = new Pauses();
  const found = new Map<number, number[]>();
  for (const [index, row] of rows.entries()) {
    if (isMember(row)) {
      const values = read(row, column).filter((value) => !Number.isNaN(value));
      const own = found.get(keyOf(row));
      if (own) own.push(...values);
      else found.set(keyOf(row), values);
    }
    if (index % 500 === 499) await pauses.next();
  }
  return found;
}
