import type { VisibleNode } from '../../crosstab/index.ts';
import type { MarkScale } from '../../model/index.ts';
import { isMember, once, onceInColumn, parentOf, Pauses, valuesOfMembers, type ReadValues, type ShownTable } from './shown-table.ts';

/** The smallest and the largest value that share a scale. */
export interface Extent {
  low: number;
  high: number;
}

/** As many digits as can be seen in a cell. */
const rounded = (value: number): number => Math.round(value * 10_000) / 10_000;

/** A place on a scale, 0 to 1; in its middle where all its values are one. */
export const placeOn = ({ low, high }: Extent, value: number): number => (high > low ? rounded((value - low) / (high - low)) : 0.5);

/** A place about the middle of a scale, −1 to 1. */
export function placeAbout({ low, high }: Extent, middle: number, value: number): number {
  const reach = Math.max(high - middle, middle - low);
  return reach > 0 ? rounded((value - middle) / reach) : 0;
}

/** The smallest scale that holds values; those that are missing are none. */
export function extentOfValues(values: Iterable<number>): Extent {
  let [low, high] = [Infinity, -Infinity];
  for (const value of values) {
    if (value < low) low = value;
    if (value > high) high = value;
  }
  return { low, high };
}

/** A scale that holds another one and zero. */
export const withZero = ({ low, high }: Extent): Extent => ({ low: Math.min(0, low), high: Math.max(0, high) });

async function extentOf(lines: Iterable<readonly [VisibleNode, VisibleNode]>, read: ReadValues): Promise<Extent | null> {
  const pauses = new Pauses();
  let extent = extentOfValues([]);
  let count = 0;
  for (const [row, column] of lines) {
    const own = extentOfValues(read(row, column));
    extent = { low: Math.min(extent.low, own.low), high: Math.max(extent.high, own.high) };
    if (++count % 500 === 0) await pauses.next();
  }
  return extent.low <= extent.high ? extent : null;
}

function* pairs(rows: readonly VisibleNode[], columns: readonly VisibleNode[]): Generator<readonly [VisibleNode, VisibleNode]> {
  for (const row of rows) for (const column of columns) yield [row, column];
}

/** The scale of a cell; null where it has none: totals stand on no scale that their own members share. */
type ScaleOf = (row: VisibleNode, column: VisibleNode) => Promise<Extent | null>;

/** How a scale is found for a cell, by what shares it. `key` names what is read, and the scale. */
export function scaleOf(table: ShownTable, scale: MarkScale, key: string, read: ReadValues): ScaleOf {
  const { rows, columns } = table;
  const members = (lines: VisibleNode[]): VisibleNode[] => lines.filter(isMember);
  switch (scale) {
    case 'table':
      return async (row, column) =>
        isMember(row) && (isMember(column) || columns.length === 1)
          ? once(table, key, () => extentOf(pairs(members(rows), columns.length === 1 ? columns : members(columns)), read))
          : null;
    case 'column':
      return async (row, column) =>
        isMember(row) ? onceInColumn(table, column, key, () => extentOf(pairs(members(rows), [column]), read)) : null;
    case 'row':
      // Of one row only, which is little: nothing is kept.
      return async (row, column) => (isMember(column) ? extentOf(pairs([row], members(columns)), read) : null);
    case 'siblings':
      return async (row, column) => {
        if (!isMember(row)) return null;
        const extents = await onceInColumn(table, column, key, async () => {
          const values = await valuesOfMembers(table, column, read, (one) => parentOf(table, one));
          return new Map([...values].map(([parent, own]) => [parent, extentOfValues(own)]));
        });
        const extent = extents.get(parentOf(table, row));
        return extent && extent.low <= extent.high ? extent : null;
      };
  }
}
