import { ruleMeasure } from '../../marks/index.ts';
import { shownValue, type VisibleNode } from '../../crosstab/index.ts';
import { measureNamed, type CellMeasure, type Mark, type MarkKindName, type MarkOf } from '../../model/index.ts';
import { placeAbout, placeOn, scaleOf, withZero } from './scales.ts';
import { reading, type ShownTable } from './shown-table.ts';
import { sparklines, type SparklineTables } from './sparklines.ts';

/** What a mark comes to in a cell, as numbers that its kind knows; null where there is none. */
export type MarkValue = number[] | null;
type MarkOfCell = (row: VisibleNode, column: VisibleNode) => Promise<MarkValue>;

/** What marks are calculated with. */
interface Marking {
  table: ShownTable;
  cell: CellMeasure;
  /** Tables with periods across the top, for sparklines. */
  tables: SparklineTables;
}

/** The line before each among those beside it, as shown. */
function linesBefore(lines: readonly VisibleNode[], parentOf: (node: number) => number): Map<VisibleNode, VisibleNode> {
  const before = new Map<VisibleNode, VisibleNode>();
  const last = new Map<number, VisibleNode>();
  for (const line of lines) {
    // A member that stands open across the top is its subtotal there.
    if (line.role === 'summary' || line.role === 'total' || line.bare) continue;
    const parent = parentOf(line.node);
    const previous = last.get(parent);
    if (previous) before.set(line, previous);
    last.set(parent, line);
  }
  return before;
}

/** How each kind of mark is calculated for the cells of a measure. */
const MARKED: { [Kind in MarkKindName]: (own: MarkOf<Kind>, marking: Marking) => MarkOfCell } = {
  /** Where the bar begins and ends, and where its target is, on a scale that holds zero. */
  bar({ scale, target }, { table, cell }) {
    const read = reading(table, cell, ...(target ? [target] : []));
    const scales = scaleOf(table, scale, JSON.stringify(['bar', cell, target, scale]), read);
    return async (row, column) => {
      const [value, goal] = read(row, column);
      const extent = Number.isNaN(value) ? null : await scales(row, column);
      if (!extent) return null;
      const whole = withZero(extent);
      if (whole.low === whole.high) return [0, 0];
      const ends = [placeOn(whole, Math.min(0, value)), placeOn(whole, Math.max(0, value))];
      return goal === undefined || Number.isNaN(goal) ? ends : [...ends, placeOn(whole, goal)];
    };
  },
  /** From 0 to 1; about a middle from −1 to 1. */
  shade({ scale, colours, middle }, { table, cell }) {
    const read = reading(table, cell);
    const scales = scaleOf(table, scale, JSON.stringify(['shade', cell, scale]), read);
    return async (row, column) => {
      const [value] = read(row, column);
      const extent = Number.isNaN(value) ? null : await scales(row, column);
      if (!extent) return null;
      return [colours === 'one' ? placeOn(extent, value) : placeAbout(extent, middle, value)];
    };
  },
  /** 1 up, 0 level, −1 down; and the change. */
  arrow({ along, threshold }, { table, cell }) {
    const { cells, rows, columns } = table;
    const isPoints = measureNamed(cells.plan.dataset, cell.measure).format.kind === 'percent';
    const before =
      along === 'columns'
        ? linesBefore(columns, (node) => cells.top.nodes[node].parent)
        : linesBefore(rows, (node) => cells.side.nodes[node].parent);
    return (row, column) => {
      const previous = before.get(along === 'columns' ? column : row);
      if (!previous) return Promise.resolve(null);
      const value = shownValue(cells, cell, row, column);
      const earlier = along === 'columns' ? shownValue(cells, cell, row, previous) : shownValue(cells, cell, previous, column);
      // What it was below zero tells no direction as a share of it.
      const change = isPoints ? value - earlier : earlier > 0 ? value / earlier - 1 : Number.NaN;
      if (Number.isNaN(change)) return Promise.resolve(null);
      return Promise.resolve([Math.abs(change) < threshold || change === 0 ? 0 : Math.sign(change), change]);
    };
  },
  sparkline: (own, marking) => sparklines(own, marking.cell, marking.table, marking.tables),
  /** 1 where the formula holds. */
  rule({ formula }, { table: { cells }, cell }) {
    const { name } = ruleMeasure(formula);
    return (row, column) => {
      const holds = row.summary || column.summary ? Number.NaN : shownValue(cells, { measure: name, totals: cell.totals }, row, column);
      return Promise.resolve(holds === 1 ? [1] : null);
    };
  },
};

/** How a mark is calculated. */
export const markedBy = (mark: Mark, marking: Marking): MarkOfCell => MARKED[mark.kind](mark as never, marking);

/** Whether a line can be marked at all. */
export const canMark = ({ bare, role }: VisibleNode): boolean => !bare && role !== 'summary';
