import { allOf, type Filter } from '../model/index.ts';
import { OWN_CONTEXT } from './contexts.ts';
import { boundsOf, levelsOf, positionsOf, type CrosstabPlan, type FactPart, type SetFields } from './plan.ts';

/** A plan in two: what all members are shown at, and what is below those of them that stand open. */
export interface PlanTakenApart {
  shown: CrosstabPlan;
  below: CrosstabPlan;
}

/**
 * Takes a plan apart at a level of the side: what is deeper is asked for under a condition alone, so that opening a member asks for
 * its children and not for those of all. Parts of formulas that look elsewhere than their cell are asked for as they were. Both
 * together answer the plan, the second as others of the first do (`Cube`).
 */
export function takenApart(plan: CrosstabPlan, levels: number, opened: Filter): PlanTakenApart {
  const isBelow = ({ side }: SetFields): boolean => side.length > levels;
  const apart = plan.parts.map((part) => {
    const isOwn = part.context.key === OWN_CONTEXT.key && part.query !== null && !part.query.frame;
    if (!isOwn) return { shown: part, below: { ...part, query: null, unmoved: null, sets: [] } };
    return {
      shown: withSets(
        plan,
        part,
        part.sets.filter((set) => !isBelow(set)),
        null,
      ),
      below: withSets(plan, part, part.sets.filter(isBelow), opened),
    };
  });
  return {
    shown: { ...plan, parts: apart.map(({ shown }) => shown) },
    below: { ...plan, parts: apart.map(({ below }) => below) },
  };
}

/** A part with some of its sets, and no levels but theirs. */
function withSets({ dataset }: CrosstabPlan, part: FactPart, sets: SetFields[], condition: Filter | null): FactPart {
  const { query } = part;
  if (!query || sets.length === 0) return { ...part, query: null, unmoved: null, sets: [] };
  const levels = levelsOf(dataset, part.context, sets);
  const own = {
    ...query,
    ...{ levels, sets: sets.map((set) => positionsOf(levels, set)), filter: allOf(query.filter, condition) },
    bounds: boundsOf(sets, query.aggregates.length),
  };
  return { ...part, query: own, unmoved: own, sets };
}
