import type { Query } from '../engine/index.ts';
import { allOf, factKnows, type Filter, type LevelSettings, type MemberClasses, type MemberGroup, type Pick } from '../model/index.ts';
import type { AxisNode, AxisTree } from './axis.ts';
import { alongIn, type Along } from './contexts.ts';
import type { CellReader } from './cell-reader.ts';
import {
  classKey,
  groupKey,
  isCombined,
  isExtra,
  lessKey,
  OTHERS,
  levelsOf,
  positionsOf,
  soundGroups,
  type CrosstabPlan,
  type FactPart,
  type OthersPlace,
  type OthersQuestion,
  type SelectedMembers,
} from './plan.ts';
import type { PlanData } from './plan-data.ts';
import { liftIn, resolveDates } from './resolve.ts';

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

/**
 * Picks the largest or smallest members of each level that asks for it, among those with a value, and finds the groups of
 * members that stand under each parent.
 */
export function selectTopMembers(
  cube: CellReader,
  which: Which,
  fields: string[],
  levels: Record<string, Partial<LevelSettings> | undefined>,
): SelectedMembers[] {
  const tree = which === 'side' ? cube.side : cube.top;
  const found: SelectedMembers[] = [];
  fields.forEach((field, level) => {
    const { pick, classes } = levels[field] ?? {};
    if (classes) return void found.push(...classesAt(cube, which, field, level, classes));
    const groups = soundGroups(levels[field]?.groups);
    if (!pick && groups.length === 0) return;
    // Members of a group that stands in their place are neither shown nor picked nor among all others.
    const replaced = new Set<string | null>(groups.flatMap(({ instead, members }) => (instead ? members : [])));
    const isOwn = ({ member }: AxisNode): boolean => !replaced.has(member);
    const choose = pick && pickIn(cube, which, pick);
    const ofAll = choose && pick?.per === 'all' ? new Set(choose(nodesAt(tree, level + 1).filter(isOwn))) : null;
    for (const parent of nodesAt(tree, level)) {
      if (parent.children.length === 0) continue;
      const children = parent.children.map((id) => tree.nodes[id]);
      const own = children.filter(isOwn);
      const selected = ofAll ? own.filter((child) => ofAll.has(child)) : choose ? choose(own) : own;
      const under = groupsUnder(children, groups);
      found.push({
        ...{ which, field, level, parent: tree.path(parent.id), members: selected.map(({ member }) => member) },
        others: pick !== undefined && pick.others && selected.length < own.length,
        ...(under.length > 0 ? { groups: under } : {}),
      });
    }
  });
  return found;
}

/** The members of each parent at a level in their classes, in the place of all of them. */
function classesAt(cube: CellReader, which: Which, field: string, level: number, classes: MemberClasses): SelectedMembers[] {
  const tree = which === 'side' ? cube.side : cube.top;
  const value = valueAt(cube, which, classes);
  const classOfAll = classes.per === 'all' ? classesOf(nodesAt(tree, level + 1), value, classes.upTo) : null;
  return nodesAt(tree, level)
    .filter(({ children }) => children.length > 0)
    .map((parent) => {
      const children = parent.children.map((id) => tree.nodes[id]);
      const classOf = classOfAll ?? classesOf(children, value, classes.upTo);
      const groups = [...classes.upTo, 100].map((_, index) => ({
        key: classKey(index),
        members: children.filter(({ id }) => classOf.get(id) === index).map(({ member }) => member),
      }));
      return {
        which,
        field,
        level,
        parent: tree.path(parent.id),
        members: [],
        others: false,
        groups: groups.filter(({ members }) => members.length > 0),
      };
    });
}

/**
 * The class of each member, by its id: the first of those whose end is not reached yet by the members larger than it, the one
 * that crosses an end included (common practice, no source). Those without a value come last.
 */
function classesOf(nodes: readonly AxisNode[], value: (node: AxisNode) => number, upTo: readonly number[]): Map<number, number> {
  const known = nodes.map((node) => ({ node, value: value(node) }));
  const sized = known.filter((one) => !Number.isNaN(one.value)).sort((a, b) => b.value - a.value || inOrder(a.node, b.node));
  const whole = sized.reduce((sum, one) => sum + one.value, 0);
  const found = new Map(known.map(({ node }) => [node.id, upTo.length]));
  let before = 0;
  for (const { node, value: own } of sized) {
    const share = whole > 0 ? (100 * before) / whole : Infinity;
    const at = upTo.findIndex((end) => share < end);
    found.set(node.id, at < 0 ? upTo.length : at);
    before += own;
  }
  return found;
}

/** Equal values keep the order of their members, so that what is selected does not change by chance. */
const inOrder = (a: AxisNode, b: AxisNode): number => (String(a.member) < String(b.member) ? -1 : 1);

/** The value that members are selected by, at a place of the other axis. */
function valueAt(
  cube: CellReader,
  which: Which,
  { measure, at: path }: { measure: string; at: readonly string[] },
): (node: AxisNode) => number {
  const at = (which === 'side' ? cube.top : cube.side).find([...path])?.id ?? 0;
  return ({ id }) => (which === 'side' ? cube.value(measure, id, at) : cube.value(measure, at, id));
}

/** What picks the largest or smallest of some members, as many as asked for. */
function pickIn(cube: CellReader, which: Which, pick: Pick): (nodes: AxisNode[]) => AxisNode[] {
  const value = valueAt(cube, which, pick);
  const sign = pick.from === 'top' ? -1 : 1;
  return (nodes) =>
    nodes
      .map((node) => ({ node, value: value(node) }))
      .filter((one) => !Number.isNaN(one.value))
      .sort((a, b) => sign * (a.value - b.value) || inOrder(a.node, b.node))
      .slice(0, pick.count)
      .map(({ node }) => node);
}

/** The groups that have a member among some, and what each takes off. */
function groupsUnder(nodes: readonly AxisNode[], groups: readonly MemberGroup[]): NonNullable<SelectedMembers['groups']> {
  const under = new Set(nodes.map(({ member }) => member));
  return groups
    .filter(({ members, less = [] }) => [...members, ...less].some((member) => under.has(member)))
    .flatMap((group) => [
      { key: groupKey(group), members: group.members },
      ...(group.less?.length ? [{ key: lessKey(group), members: group.less }] : []),
    ]);
}

/** The condition that a path along an axis stands for; OTHERS is everything but the members selected there. */
export function pathCondition(fields: string[], path: readonly (string | null)[], selected: SelectedMembers[]): Filter | null {
  return allOf(...path.map((_, level) => conditionAt(fields, path, level, selected)));
}

/** That a member is one of some, which may be the missing one. */
function isAmong(field: string, members: readonly (string | null)[]): Filter {
  const named: Filter = { op: 'in', field, values: members.filter((one) => one !== null) };
  return members.includes(null) ? { op: 'or', items: [named, { op: 'empty', field }] } : named;
}

function conditionAt(fields: string[], path: readonly (string | null)[], level: number, selected: SelectedMembers[]): Filter | null {
  const [field, member] = [fields[level], path[level]];
  if (member === null) return { op: 'empty', field };
  if (!isCombined(member)) return { op: 'in', field, values: [member] };
  const parent = JSON.stringify(path.slice(0, level));
  const own = selected.find((one) => one.field === field && JSON.stringify(one.parent) === parent);
  // A group that is not there has no members.
  if (member !== OTHERS) return isAmong(field, own?.groups?.find(({ key }) => key === member)?.members ?? []);
  const replaced = (own?.groups ?? []).filter(({ key }) => !isExtra(key)).flatMap(({ members }) => members);
  const chosen = [...(own?.members ?? []), ...replaced];
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
}

/**
 * The questions whose answers are the cells of all others and of groups, on one axis or on both, ready to be asked. Throws
 * TooManyOthersError.
 */
export async function planOthers(data: PlanData, plan: CrosstabPlan, selected: SelectedMembers[]): Promise<OthersQuestion[]> {
  const paths = (which: Which): (string | null)[][] =>
    selected
      .filter((one) => one.which === which)
      .flatMap(({ parent, others, groups = [] }) => [
        ...(others ? [[...parent, OTHERS]] : []),
        ...groups.map(({ key }) => [...parent, key]),
      ]);
  const [side, top] = [paths('side'), paths('top')];
  const places: OthersPlace[] = [
    ...side.map((path) => ({ side: path, top: null })),
    ...top.map((path) => ({ side: null, top: path })),
    ...side.flatMap((one) => top.map((other) => ({ side: one, top: other }))),
  ];
  if (places.length > MOST_OTHERS) throw new TooManyOthersError(places.length);
  return Promise.all(
    places.map(async (place) => {
      const own = narrowed(plan, place, selected);
      await resolveDates(data, own);
      return { ...place, plan: own };
    }),
  );
}

/** The plan for one place of others: that axis is one member, the other axis keeps its levels. */
function narrowed(plan: CrosstabPlan, place: OthersPlace, selected: SelectedMembers[]): CrosstabPlan {
  return { ...plan, parts: plan.parts.map((part) => narrowedPart(plan, part, place, selected)) };
}

function narrowedPart(plan: CrosstabPlan, part: FactPart, place: OthersPlace, selected: SelectedMembers[]): FactPart {
  const nothing: FactPart = { ...part, query: null, unmoved: null, sets: [] };
  const { query, unmoved } = part;
  if (!query || !unmoved) return nothing;
  const { dataset } = plan;
  const conditions: Record<Which, (Filter | null)[]> = { side: [], top: [] };
  const members = new Map<string, string | null>();
  const fixed = new Map<Which, Along>();
  for (const which of ['side', 'top'] as const) {
    const path = place[which];
    if (path === null) continue;
    const along = alongIn(dataset, part.context, which, { fields: plan[which].slice(0, path.length), path }, liftIn(plan.resolved));
    // Where the others are put together with all else, the cell is one of the table's own.
    if (!along?.path.some(isCombined) || along.fields.some((field) => !factKnows(dataset, part.fact, field))) return nothing;
    fixed.set(which, along);
    const own = selected.filter((one) => one.which === which);
    for (const [level, field] of along.fields.entries()) {
      const member = along.path[level];
      members.set(field, member);
      conditions[which].push(memberCondition(plan[which], path, field, member, own));
    }
  }
  const alike = (own: readonly string[], which: Which): boolean => {
    const along = fixed.get(which);
    return !along || JSON.stringify(own) === JSON.stringify(along.fields);
  };
  const left = (own: readonly string[], which: Which): readonly string[] => (fixed.has(which) ? [] : own);
  const sets = part.sets
    .filter((set) => alike(set.side, 'side') && alike(set.top, 'top'))
    .map((set) => ({ side: left(set.side, 'side'), top: left(set.top, 'top'), per: set.per }));
  const levels = levelsOf(dataset, part.context, sets);
  const narrow: Query = {
    ...{ fact: unmoved.fact, aggregates: unmoved.aggregates, levels },
    sets: sets.map((set) => positionsOf(levels, set)),
    // The table's bounds speak of its own sets; the others are one line each.
    filter: allOf(unmoved.filter, ...conditions.side, ...conditions.top),
  };
  return { ...part, sets, fixed: members, query: narrow, unmoved: narrow, column: allOf(part.column, ...conditions.top) };
}

/** The condition of one member on a path of the cross-tab; of one that a formula goes up to. */
function memberCondition(
  fields: string[],
  path: readonly (string | null)[],
  field: string,
  member: string | null,
  selected: SelectedMembers[],
): Filter | null {
  const level = fields.indexOf(field);
  if (level >= 0 && level < path.length) return conditionAt(fields, path, level, selected);
  return member === null ? { op: 'empty', field } : { op: 'in', field, values: [member] };
}
