import { shownValue, type VisibleNode } from '../../crosstab/index.ts';
import { attainment, backMeasure, bearingOf, quantileOf, stateAt, type Limits, type State } from '../../indicators/index.ts';
import type { CellMeasure, Indicator, Target } from '../../model/index.ts';
import { isMember, once, reading, Turns, type ShownTable } from './scales.ts';

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

/** The average of each parent's members in a column, by the parent's node. */
function averages(table: ShownTable, cell: CellMeasure, column: VisibleNode): Promise<Map<number, number>> {
  const key = JSON.stringify(['averages', cell.measure, cell.totals, table.columns.indexOf(column)]);
  return once(table, key, async () => {
    const turns = new Turns();
    const read = reading(table, cell);
    const sums = new Map<number, { sum: number; count: number }>();
    for (const [index, row] of table.rows.entries()) {
      if (!isMember(row)) continue;
      const [value] = read(row, column);
      if (!Number.isNaN(value)) {
        const { parent } = table.cells.side.nodes[row.node];
        const { sum, count } = sums.get(parent) ?? { sum: 0, count: 0 };
        sums.set(parent, { sum: sum + value, count: count + 1 });
      }
      if (index % 500 === 499) await turns.next();
    }
    return new Map([...sums].map(([parent, { sum, count }]) => [parent, sum / count]));
  });
}

/** How the target of an indicator is found in a cell; NaN where there is none. */
const TARGETS: {
  [Kind in Target['kind']]: (table: ShownTable, cell: CellMeasure, against: Extract<Target, { kind: Kind }>) => TargetOf;
} = {
  // What is judged is the number that is shown, against its target worked out in the same way.
  measure:
    ({ cells }, { totals }, { measure }) =>
    (row, column) =>
      Promise.resolve(shownValue(cells, { measure, totals }, row, column)),
  back({ cells }, { measure: own, totals }, against) {
    const { name: measure } = backMeasure(cells.plan.dataset, own, against);
    return (row, column) => Promise.resolve(shownValue(cells, { measure, totals }, row, column));
  },
  value:
    (_table, _cell, { value }) =>
    () =>
      Promise.resolve(value),
  average: (table, cell) => async (row, column) =>
    isMember(row) ? ((await averages(table, cell, column)).get(table.cells.side.nodes[row.node].parent) ?? Number.NaN) : Number.NaN,
  none: () => () => Promise.resolve(Number.NaN),
};

/** The values of the members of each level in a column, sorted, by the level's depth. */
function spreads(table: ShownTable, cell: CellMeasure, column: VisibleNode): Promise<Map<number, Float64Array>> {
  const key = JSON.stringify(['spreads', cell.measure, cell.totals, table.columns.indexOf(column)]);
  return once(table, key, async () => {
    const turns = new Turns();
    const read = reading(table, cell);
    const values = new Map<number, number[]>();
    for (const [index, row] of table.rows.entries()) {
      if (!isMember(row)) continue;
      const [value] = read(row, column);
      const own = values.get(row.depth);
      if (!Number.isNaN(value)) {
        if (own) own.push(value);
        else values.set(row.depth, [value]);
      }
      if (index % 500 === 499) await turns.next();
    }
    return new Map([...values].map(([depth, own]) => [depth, Float64Array.from(own).sort()]));
  });
}

/** Limits that are shares of members, as the values that these shares lie below: the best share comes first. */
export function spreadLimits(indicator: Indicator, sorted: ArrayLike<number>): Limits {
  const limit = (share: number | undefined): number | undefined =>
    share === undefined ? undefined : quantileOf(sorted, indicator.direction === 'lower' ? 1 - share : share);
  const { ahead, onCourse, drifting, far, direction } = indicator;
  return { by: 'value', direction, ahead: limit(ahead), onCourse: limit(onCourse)!, drifting: limit(drifting), far: limit(far) };
}

/** How the cells of a measure are judged. A line that is worked out of others stands nowhere. */
export function judgedBy(table: ShownTable, cell: CellMeasure): (row: VisibleNode, column: VisibleNode) => Promise<Judged | null> {
  const { indicator } = cell;
  if (!indicator) return () => Promise.resolve(null);
  const targetOf = TARGETS[indicator.against.kind](table, cell, indicator.against as never);
  return async (row, column) => {
    if (row.bare || row.role === 'summary' || column.role === 'summary') return null;
    const value = shownValue(table.cells, cell, row, column);
    if (indicator.by !== 'spread') return judged(attainment(value, await targetOf(row, column), indicator.by), indicator);
    const sorted = isMember(row) ? (await spreads(table, cell, column)).get(row.depth) : undefined;
    return sorted ? judged(value, spreadLimits(indicator, sorted)) : NOT_JUDGED;
  };
}
