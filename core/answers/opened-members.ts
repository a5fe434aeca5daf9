import { isExtra, parsePathKey, pathCondition, type CrosstabPlan } from '../crosstab/index.ts';
import { everyPart } from '../formula/index.ts';
import type { ViewState } from '../api/index.ts';
import type { Crosstab, Filter } from '../model/index.ts';

/** Under so many open members their level is asked for as a whole. */
const MOST_OPENED = 40;

/** The levels of the side that are shown of every member, and the condition that the members are under that stand open below. */
interface OpenedMembers {
  levels: number;
  condition: Filter;
}

/**
 * What is to be asked for below single members that stand open; null where whole levels are needed: all members are shown, or what is
 * shown of some goes by others that are not, as ranks in a column, neighbours across parents, and members that are selected do.
 */
export function openedMembers(exhibit: Crosstab, plan: CrosstabPlan, { open, hideEmpty }: ViewState['side']): OpenedMembers | null {
  const levels = open.depth + 1;
  if (!hideEmpty || plan.side.length <= levels) return null;
  const isSelected = [exhibit.side, exhibit.top].some((axis) =>
    Object.values(axis.levels).some((own) => own.pick || own.classes || (own.groups?.length ?? 0) > 0),
  );
  const goesByOthers = plan.measures.some(({ plan: { cell } }) =>
    [...everyPart(cell)].some((part) => part.kind === 'position' && part.axis === 'side'),
  );
  if (isSelected || goesByOthers) return null;
  const paths = open.exceptions.map(parsePathKey).filter(({ length }) => length === levels);
  if (paths.length === 0 || paths.length > MOST_OPENED || paths.some((path) => path.some(isExtra))) return null;
  const items = paths.map((path) => pathCondition(plan.side, path, [])).filter((one) => one !== null);
  return { levels, condition: items.length === 1 ? items[0] : { op: 'or', items } };
}
