import { allOf, type Filter, type Pick } from '../model/index.ts';
import type { AxisNode, AxisTree } from './axis.ts';
import type { Cube } from './cube.ts';
import { OTHERS, type CrosstabPlan, type OthersPlace, type OthersQuestion, type SelectedMembers } from './plan.ts';

/** More parents than this are not given an "all others" each. */
const MOST_OTHERS = 300;

type Which = 'side' | 'top';

/** Too many groups of others to work out one by one. */
export class TooManyOthersError extends Error {
  constructor(readonly groups: number) {
    super(`This would put others together in ${groups} places.`);
    this.name = 'TooManyOthersError';
  }
}

const nodesAt = (tree: AxisTree, depth: number): AxisNode[] => tree.nodes.filter((node) => node.depth === depth);

/** Picks the largest or smallest members of each level that asks for it, among those with a value. */
export function selectTopMembers(
  cube: Cube,
  which: Which,
  fields: string[],
  picks: Record<string, { pick?: Pick } | undefined>,
): SelectedMembers[] {
  const tree = which === 'side' ? cube.side : cube.top;
  const other = which === 'side' ? cube.top : cube.side;
  const found: SelectedMembers[] = [];
  fields.forEach((field, level) => {
    const pick = picks[field]?.pick;
    if (!pick) return;
    const at = other.find(pick.at)?.id ?? 0;
    const value = ({ id }: AxisNode): number => (which === 'side' ? cube.value(pick.measure, id, at) : cube.value(pick.measure, at, id));
    const sign = pick.from === 'top' ? -1 : 1;
    const largest = (nodes: AxisNode[]): AxisNode[] =>
      nodes
        .map((node) => ({ node, value: value(node) }))
        .filter((one) => !Number.isNaN(one.value))
        // Equal values keep the order of their members, so that the choice does not change by chance.
        .sort((a, b) => sign * (a.value - b.value) || (String(a.node.member) < String(b.node.member) ? -1 : 1))
        .slice(0, pick.count)
        .map(({ node }) => node);
    const ofAll = pick.per === 'all' ? new Set(largest(nodesAt(tree, level + 1))) : null;
    for (const parent of nodesAt(tree, level)) {
      if (parent.children.length === 0) continue;
      const children = parent.children.map((id) => tree.nodes[id]);
      const selected = ofAll ? children.filter((child) => ofAll.has(child)) : largest(children);
      found.push({
        ...{ which, field, level, parent: tree.path(parent.id), members: selected.map(({ member }) => member) },
        others: pick.others && selected.length < children.length,
      });
    }
  });
  return found;
}

/** The condition that a path along an axis stands for; OTHERS is everything but the members selected there. */
export function pathCondition(fields: string[], path: readonly (string | null)[], selected: SelectedMembers[]): Filter | null {
  return allOf(
    ...path.map((member, level): Filter | null => {
      const field = fields[level];
      if (member === null) return { op: 'empty', field };
      if (member !== OTHERS) return { op: 'in', field, values: [member] };
      const parent = JSON.stringify(path.slice(0, level));
      const chosen = selected.find((one) => one.field === field && JSON.stringify(one.parent) === parent)?.members ?? [];
      const named = chosen.filter((one): one is string => one !== null);
      // A condition on members never holds where the member is missing, so that is said apart.
      const rest: Filter = {
        op: 'or',
        items: [
          { op: 'notIn', field, values: named },
          { op: 'empty', field },
        ],
      };
      return chosen.includes(null) ? allOf({ op: 'notIn', field, values: named }, { op: 'notEmpty', field }) : rest;
    }),
  );
}

/** The questions whose answers are the cells of all others, on one axis or on both. Throws TooManyOthersError. */
export function planOthers(plan: CrosstabPlan, selected: SelectedMembers[]): OthersQuestion[] {
  const paths = (which: Which): (string | null)[][] =>
    selected.filter((one) => one.which === which && one.others).map(({ parent }) => [...parent, OTHERS]);
  const [side, top] = [paths('side'), paths('top')];
  const places: OthersPlace[] = [
    ...side.map((path) => ({ side: path, top: null })),
    ...top.map((path) => ({ side: null, top: path })),
    ...side.flatMap((one) => top.map((other) => ({ side: one, top: other }))),
  ];
  if (places.length > MOST_OTHERS) throw new TooManyOthersError(places.length);
  return places.map((place) => ({ ...place, plan: narrowed(plan, place, selected) }));
}

/** The plan for one place of others: that axis is one member, the other axis keeps its levels. */
function narrowed(plan: CrosstabPlan, { side, top }: OthersPlace, selected: SelectedMembers[]): CrosstabPlan {
  const condition = allOf(
    side &&
      pathCondition(
        plan.side,
        side,
        selected.filter(({ which }) => which === 'side'),
      ),
    top &&
      pathCondition(
        plan.top,
        top,
        selected.filter(({ which }) => which === 'top'),
      ),
  );
  const parts = plan.parts.map((part) => {
    // A fact that does not know the level has no others there.
    const unknown = (side && side.length > part.known.side) || (top && top.length > part.known.top);
    if (!part.query || unknown) return { ...part, query: null };
    const kept = (level: number): boolean => (level < part.known.side ? side === null : top === null);
    const levels = part.query.levels.map((_, level) => level).filter(kept);
    const sets = [...new Set(part.query.sets.map((set) => JSON.stringify(set.filter(kept).map((level) => levels.indexOf(level)))))];
    return {
      ...part,
      known: { side: side ? 0 : part.known.side, top: top ? 0 : part.known.top },
      query: {
        ...part.query,
        levels: levels.map((level) => part.query!.levels[level]),
        sets: sets.map((set) => JSON.parse(set) as number[]),
        // The bounds speak of the table's own sets; the others are one line each.
        bounds: undefined,
        filter: allOf(part.query.filter, condition),
      },
    };
  });
  return { ...plan, side: side ? [] : plan.side, top: top ? [] : plan.top, parts };
}
