import type { Dataset, Filter, MeasureCondition } from '../model/index.ts';
import { axisOver } from '../model/index.ts';
import type { Cube } from './cube.ts';
import { planCrosstab, type CrosstabPlan } from './plan.ts';

/** The question whose answer tells which members of a level a condition on a measure keeps. */
export function conditionsPlan(dataset: Dataset, { field, measure }: MeasureCondition, filter: Filter | null): CrosstabPlan {
  const spec = { side: axisOver([field]), top: axisOver([]), cells: [{ measure }], filter: null };
  return planCrosstab(dataset, spec, filter, { side: 1, top: 0 });
}

const HOLDS: Record<MeasureCondition['op'], (value: number, limit: number) => boolean> = {
  gt: (value, limit) => value > limit,
  ge: (value, limit) => value >= limit,
  lt: (value, limit) => value < limit,
  le: (value, limit) => value <= limit,
};

/** The members whose value holds, as a condition on their field. The average is that of the members' values. */
export function membersThatHold(cube: Cube, { field, measure, op, value: limit }: MeasureCondition): Filter {
  const members = cube.side.nodes.slice(1).map(({ id, member }) => ({ member, value: cube.value(measure, id, 0) }));
  const known = members.filter(({ value }) => !Number.isNaN(value));
  const least = limit === 'average' ? known.reduce((sum, { value }) => sum + value, 0) / known.length : limit;
  const kept = known.filter(({ value }) => HOLDS[op](value, least)).map(({ member }) => member);
  const named: Filter = { op: 'in', field, values: kept.filter((member): member is string => member !== null).sort() };
  return kept.includes(null) ? { op: 'or', items: [named, { op: 'empty', field }] } : named;
}
