import { shownValue, type CellReader, type VisibleNode } from '../../crosstab/index.ts';
import type { CellMeasure, MarkScale } from '../../model/index.ts';

/** The smallest and the largest value that share a scale. */
export interface Extent {
  low: number;
  high: number;
}

/** A table as it is shown, for what goes by all of its lines. */
export interface ShownTable {
  cells: CellReader;
  rows: VisibleNode[];
  columns: VisibleNode[];
}

/** Milliseconds of work after which others get their turn. */
const TURN = 8;

/** Lets others work where a turn has been taken. */
export class Turns {
  private started = performance.now();

  async next(): Promise<void> {
    if (performance.now() - this.started < TURN) return;
    await new Promise((resolve) => setTimeout(resolve, 0));
    this.started = performance.now();
  }
}

/** Whether a line is one of the members, no total or summary of them, which would outgrow every scale. */
export const isMember = ({ role, bare }: VisibleNode): boolean => role === 'member' && !bare;

/** Scales by the lines they are of: what has been worked out for a table is kept as long as the table is. */
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

async function extentOf(lines: Iterable<readonly [VisibleNode, VisibleNode]>, read: ReadValues): Promise<Extent | null> {
  const turns = new Turns();
  let [low, high] = [Infinity, -Infinity];
  let count = 0;
  for (const [row, column] of lines) {
    for (const value of read(row, column)) {
      if (value < low) low = value;
      if (value > high) high = value;
    }
    if (++count % 500 === 0) await turns.next();
  }
  return low <= high ? { low, high } : null;
}

function* pairs(rows: readonly VisibleNode[], columns: readonly VisibleNode[]): Generator<readonly [VisibleNode, VisibleNode]> {
  for (const row of rows) for (const column of columns) yield [row, column];
}

/** Extents of the members of each parent, by the parent's node. */
async function extentsBySiblings({ cells, rows }: ShownTable, column: VisibleNode, read: ReadValues): Promise<Map<number, Extent>> {
  const turns = new Turns();
  const found = new Map<number, Extent>();
  for (const [index, row] of rows.entries()) {
    if (!isMember(row)) continue;
    const { parent } = cells.side.nodes[row.node];
    for (const value of read(row, column)) {
      if (Number.isNaN(value)) continue;
      const own = found.get(parent);
      if (!own) found.set(parent, { low: value, high: value });
      else {
        own.low = Math.min(own.low, value);
        own.high = Math.max(own.high, value);
      }
    }
    if (index % 500 === 499) await turns.next();
  }
  return found;
}

/** The scale of a cell; null where it has none: totals stand on no scale that their own members share. */
type ScaleOf = (row: VisibleNode, column: VisibleNode) => Promise<Extent | null>;

/** How a scale is found for a cell, by what shares it. `key` names what is read. */
export function scaleOf(table: ShownTable, scale: MarkScale, key: string, read: ReadValues): ScaleOf {
  const { rows, columns } = table;
  const members = (lines: VisibleNode[]): VisibleNode[] => lines.filter(isMember);
  const extent = (name: string, over: () => Generator<readonly [VisibleNode, VisibleNode]>): Promise<Extent | null> =>
    once(table, `${key} ${name}`, () => extentOf(over(), read));
  const places = new Map(columns.map((column, index) => [column, index]));
  switch (scale) {
    case 'table':
      return async (row, column) =>
        isMember(row) && (isMember(column) || columns.length === 1)
          ? extent('table', () => pairs(members(rows), columns.length === 1 ? columns : members(columns)))
          : null;
    case 'column':
      return async (row, column) => (isMember(row) ? extent(`column ${places.get(column)}`, () => pairs(members(rows), [column])) : null);
    case 'row':
      // Of one row only, which is little: nothing is kept.
      return async (row, column) => (isMember(column) ? extentOf(pairs([row], members(columns)), read) : null);
    case 'siblings':
      return async (row, column) => {
        if (!isMember(row)) return null;
        const extents = await once(table, `${key} siblings ${places.get(column)}`, () => extentsBySiblings(table, column, read));
        return extents.get(table.cells.side.nodes[row.node].parent) ?? null;
      };
  }
}

/** The value of a cell's measure, and of others in its place. */
export const reading =
  ({ cells }: ShownTable, cell: CellMeasure, ...others: string[]): ReadValues =>
  (row, column) => [
    shownValue(cells, cell, row, column),
    ...others.map((measure) => shownValue(cells, { measure, totals: cell.totals }, row, column)),
  ];
