import { shownValue, summarise, type VisibleNode } from '../../crosstab/index.ts';
import { attainment, bearingOf, quantileOf, stateAt, targetName, type Limits, type State } from '../../indicators/index.ts';
import type { CellMeasure, Indicator } from '../../model/index.ts';
import { isMember, onceInColumn, parentOf, reading, valuesOfMembers, type ShownTable } from './shown-table.ts';

/** Where a value stands against its indicator. */
export interface Judged {
  state: State;
  /** Where the needle points, in degrees from straight up. */
  bearing: number | null;
}

const NOT_JUDGED: Judged = { state: 'none', bearing: null };

/** Judges what was reached; without anything reached there is no reading. */
export function judged(reached: number, limits: Limits): Judged {
  return { state: stateAt(reached, limits), bearing: bearingOf(reached, limits) };
}

type TargetOf = (row: VisibleNode, column: VisibleNode) => Promise<number>;

/** The average of the members of each parent in a column, by the parent's node. */
const averages = (table: ShownTable, cell: CellMeasure, column: VisibleNode): Promise<Map<number, number>> =>
  onceInColumn(table, column, JSON.stringify(['averages', cell.measure, cell.totals]), async () => {
    const values = await valuesOfMembers(table, column, reading(table, cell), (row) => parentOf(table, row));
    return new Map([...values].map(([parent, own]) => [parent, summarise('average', own)]));
  });

/** How the target of an indicator is found in a cell; NaN where there is none. */
function targetsOf(table: ShownTable, cell: CellMeasure & { indicator: Indicator }): TargetOf {
  const { cells } = table;
  const { against } = cell.indicator;
  const measure = targetName(cells.plan.dataset, cell);
  // What is judged is the number that is shown, against its target calculated in the same way.
  if (measure) return (row, column) => Promise.resolve(shownValue(cells, { measure, totals: cell.totals }, row, column));
  if (against.kind !== 'average') return () => Promise.resolve(against.kind === 'value' ? against.value : Number.NaN);
  return async (row, column) =>
    isMember(row) ? ((await averages(table, cell, column)).get(parentOf(table, row)) ?? Number.NaN) : Number.NaN;
}

/** The values of the members of each level in a column, sorted, by the level's depth. */
const spreads = (table: ShownTable, cell: CellMeasure, column: VisibleNode): Promise<Map<number, Float64Array>> =>
  onceInColumn(table, column, JSON.stringify(['spreads', cell.measure, cell.totals]), async () => {
    const values = await valuesOfMembers(table, column, reading(table, cell), ({ depth }) => depth);
    return new Map([...values].map(([depth, own]) => [depth, Float64Array.from(own).sort()]));
  });

/** Limits that are shares of members, as the values that these shares lie below: the best share comes first. */
export function spreadLimits(indicator: Indicator, sorted: ArrayLike<number>): Limits {
  const limit = (share: number | undefined): number | undefined =>
    share === undefined ? undefined : quantileOf(sorted, indicator.direction === 'lower' ? 1 - share : share);
  const { ahead, onCourse, drifting, far, direction } = indicator;
  return { by: 'value', direction, ahead: limit(ahead), onCourse: limit(onCourse)!, drifting: limit(drifting), far: limit(far) };
}

/** How the cells of a measure are judged. A line that is calculated of others stands nowhere. */
export function judgedBy(table: ShownTable, cell: CellMeasure): (row: VisibleNode, column: VisibleNode) => Promise<Judged | null> {
  const { indicator } = cell;
  if (!indicator) return () => Promise.resolve(null);
  const targetOf = targetsOf(table, { ...cell, indicator });
  return async (row, column) => {
    if (row.bare || row.role === 'summary' || column.role === 'summary') return null;
    const value = shownValue(table.cells, cell, row, column);
    if (indicator.by !== 'spread') return judged(attainment(value, await targetOf(row, column), indicator.by), indicator);
    const sorted = isMember(row) ? (await spreads(table, cell, column)).get(row.depth) : undefined;
    return sorted ? judged(value, spreadLimits(indicator, sorted)) : NOT_JUDGED;
  };
}
