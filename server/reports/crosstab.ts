import type { CrosstabRequest, CrosstabResponse, Header } from '@bold-compass/core/api';
import { periodLabel } from '@bold-compass/core/calendar';
import {
  conditionsPlan,
  Cube,
  depthNeeded,
  membersThatHold,
  OTHERS,
  pickMembers,
  planCrosstab,
  planOthers,
  reasonBelow,
  shownValue,
  visibleNodes,
  type AxisTree,
  type CrosstabPlan,
  type Depths,
  type Picked,
  type VisibleNode,
} from '@bold-compass/core/crosstab';
import { stateOf, type State } from '@bold-compass/core/indicators';
import { allOf, fieldPlace, fieldPlural, type CellMeasure, type Crosstab, type Filter, type Order } from '@bold-compass/core/model';
import { LRUCache } from 'lru-cache';
import type { Desk } from '../data/index.ts';
import { askCube, askParts } from './cubes.ts';

export type CubeCache = LRUCache<string, Promise<Omit<WorkedCrosstab, 'scope'>>>;
export const createCubeCache = (): CubeCache => new LRUCache({ max: 40 });

const clampNumber = (value: number): number | null => (Number.isNaN(value) ? null : value);

/** A cross-tab worked out: every cell, what was picked, and the conditions under which. */
export interface WorkedCrosstab {
  cube: Cube;
  picked: Picked[];
  /** The scope, and the members that conditions on measures keep. */
  scope: Filter | null;
}

const orderMeasure = (order: Order | null | undefined): string[] => (order?.by === 'measure' ? [order.measure] : []);

/** Measures that are needed beside those in the cells. */
function measuresBeside({ cells, side, top }: Crosstab): string[] {
  return [
    ...cells.flatMap(({ indicator }) => (indicator?.against.kind === 'measure' ? [indicator.against.measure] : [])),
    ...[side, top].flatMap(({ fields, levels, order }) => [
      ...orderMeasure(order),
      ...fields.flatMap((field) => [...orderMeasure(levels[field]?.order), ...(levels[field]?.pick ? [levels[field].pick.measure] : [])]),
    ]),
  ];
}

const depthOf = (order: Order | null | undefined): number => (order?.by === 'measure' ? order.at.length : 0);

/** The depths at which orders and picks can be told too: they may go by members deeper than those that are shown. */
function depthsToTell(exhibit: Crosstab, depths: Depths): Depths {
  const goneBy = (which: 'side' | 'top'): number => {
    const { fields, levels, order } = exhibit[which];
    return Math.max(depthOf(order), ...fields.map((field) => Math.max(depthOf(levels[field]?.order), levels[field]?.pick?.at.length ?? 0)));
  };
  return {
    side: Math.min(exhibit.side.fields.length, Math.max(depths.side, goneBy('top'))),
    top: Math.min(exhibit.top.fields.length, Math.max(depths.top, goneBy('side'))),
  };
}

/** The conditions on measures, as conditions on members: each is told from all records of the scope. */
async function heldScope(desk: Desk, exhibit: Crosstab, scope: Filter | null): Promise<Filter | null> {
  const held = exhibit.conditions.map(async (condition) =>
    membersThatHold(await askCube(desk, conditionsPlan(desk.dataset, condition, allOf(scope, exhibit.filter))), condition),
  );
  return allOf(scope, ...(await Promise.all(held)));
}

/** Works a cross-tab out down to some depths, with all others where members are picked. Throws CrosstabTooLargeError. */
export async function workOut(
  desk: Desk,
  cubes: CubeCache,
  exhibit: Crosstab,
  scope: Filter | null,
  depths: Depths,
  hideEmpty: { side: boolean; top: boolean } = { side: true, top: true },
): Promise<WorkedCrosstab> {
  const held = await heldScope(desk, exhibit, scope);
  const plan = planCrosstab(desk.dataset, exhibit, held, depthsToTell(exhibit, depths), measuresBeside(exhibit));
  const key = JSON.stringify([
    desk.viewKey,
    plan.parts.map((part) => part.query),
    // Different measures may be worked out of the same aggregates.
    plan.measures.map(({ name }) => name),
    plan.side,
    plan.top,
    hideEmpty,
    exhibit.side.levels,
    exhibit.top.levels,
  ]);
  let asked = cubes.get(key);
  if (!asked) {
    asked = askPicked(desk, plan, exhibit, held, hideEmpty);
    cubes.set(key, asked);
    asked.catch(() => cubes.delete(key));
  }
  return { ...(await asked), scope: held };
}

async function askPicked(
  desk: Desk,
  plan: CrosstabPlan,
  exhibit: Crosstab,
  scope: Filter | null,
  hideEmpty: { side: boolean; top: boolean },
): Promise<Omit<WorkedCrosstab, 'scope'>> {
  // Members without records are only asked for where they are to be shown.
  const conditions = allOf(scope, exhibit.filter);
  const all = (fields: string[], hidden: boolean): (string | null)[][] | null => (hidden ? null : membersOf(desk, fields, conditions));
  const members = { side: all(plan.side, hideEmpty.side), top: all(plan.top, hideEmpty.top) };
  const results = await askParts(desk, plan);
  const cube = new Cube(plan, results, members);
  const picked = (['side', 'top'] as const).flatMap((which) => pickMembers(cube, which, plan[which], exhibit[which].levels));
  const questions = planOthers(plan, picked);
  if (questions.length === 0) return { cube, picked };
  const others = await Promise.all(questions.map(async (question) => ({ ...question, results: await askParts(desk, question.plan) })));
  return { cube: new Cube(plan, results, members, others), picked };
}

/** The members of an axis with or without records, as deep as its levels are of one dimension. */
function membersOf(desk: Desk, fields: string[], conditions: Filter | null): (string | null)[][] | null {
  for (let depth = fields.length; depth > 0; depth--) {
    const members = desk.members(fields.slice(0, depth), conditions);
    if (members) return members;
  }
  return null;
}

/** Answers a window of cells of a cross-tab, as opened and ordered. Throws CrosstabTooLargeError. */
export async function crosstabWindow(
  desk: Desk,
  cubes: CubeCache,
  exhibit: Crosstab,
  scope: Filter | null,
  request: CrosstabRequest,
): Promise<CrosstabResponse> {
  const started = performance.now();
  const depthIn = (which: 'side' | 'top', across: 'side' | 'top'): number => {
    const levels = exhibit[which].fields.length;
    return Math.min(levels, Math.max(depthNeeded(levels, request[which].open), depthOf(request[across].order)));
  };
  const depths = { side: depthIn('side', 'top'), top: depthIn('top', 'side') };
  const hideEmpty = { side: request.side.hideEmpty, top: request.top.hideEmpty };
  const { cube, picked } = await workOut(desk, cubes, exhibit, scope, depths, hideEmpty);
  const axisOf = (which: 'side' | 'top'): VisibleNode[] => {
    const { fields } = exhibit[which];
    const { open, order } = request[which];
    const own = picked.filter((one) => one.which === which);
    const view = { ...exhibit[which], open, order, usual: exhibit[which].order, hideEmpty: hideEmpty[which], picked: own };
    return visibleNodes(cube, which, view, {
      natural: (level, a, b) => desk.compareMembers(fields[level], a, b),
      byField: (level, field, a, b) => desk.compareMembersBy(fields[level], field, a, b),
    });
  };
  const [rows, columns] = [axisOf('side'), axisOf('top')];
  const shownRows = rows.slice(request.rows.from, request.rows.from + request.rows.count);
  const shownColumns = columns.slice(request.columns.from, request.columns.from + request.columns.count);
  const each = <Value>(of: (row: VisibleNode, column: VisibleNode, cell: CellMeasure) => Value): Value[][] =>
    shownRows.map((row) => shownColumns.flatMap((column) => exhibit.cells.map((cell) => of(row, column, cell))));
  const indicated = exhibit.cells.some((cell) => cell.indicator);
  return {
    rows: { total: rows.length, from: request.rows.from, items: headers(desk, cube.side, exhibit.side.fields, shownRows, picked, 'side') },
    columns: {
      total: columns.length,
      from: request.columns.from,
      items: headers(desk, cube.top, exhibit.top.fields, shownColumns, picked, 'top'),
    },
    measures: exhibit.cells.map((cell) => measureLimits(cube, cell.measure, exhibit)),
    cells: each((row, column, cell) => clampNumber(shownValue(cube, cell, row, column))),
    ...(indicated ? { states: each((row, column, cell) => stateIn(cube, row, column, cell)) } : {}),
    milliseconds: Math.round((performance.now() - started) * 10) / 10,
  };
}

/** Where a value stands; a line that is worked out of others stands nowhere. */
function stateIn(cube: Cube, row: VisibleNode, column: VisibleNode, cell: CellMeasure): State | null {
  const { indicator } = cell;
  if (!indicator || row.bare || row.role === 'summary' || column.role === 'summary') return null;
  const { against } = indicator;
  // What is judged is the number that is shown, against its target worked out in the same way.
  const target =
    against.kind === 'value' ? against.value : shownValue(cube, { measure: against.measure, totals: cell.totals }, row, column);
  return stateOf(shownValue(cube, cell, row, column), target, indicator);
}

function headers(desk: Desk, tree: AxisTree, fields: string[], nodes: VisibleNode[], picked: Picked[], which: 'side' | 'top'): Header[] {
  return nodes.map(({ node, role, depth, open, canOpen, summary, bare }) => {
    const path = tree.path(node);
    const labels = path.map((member, level) =>
      member === OTHERS ? `All other ${fieldPlural(desk.dataset, fields[level])}` : headerLabel(desk, fields, path, level),
    );
    const header: Header = { path, role, depth, open, canOpen, labels, ...(summary ? { summary } : {}), ...(bare ? { bare } : {}) };
    if (path.at(-1) !== OTHERS) return header;
    const parent = tree.nodes[tree.nodes[node].parent];
    const shown = picked.find((one) => one.which === which && JSON.stringify(one.parent) === JSON.stringify(path.slice(0, -1)));
    return { ...header, others: parent.children.length - 1 - (shown?.members.length ?? 0) };
  });
}

/** The year that a period belongs to, as its key begins: "2026" of "2026-03", "FY2026" of "FY2026-Q1". */
const yearOf = (key: string): string => key.split('-')[0];

/** A period under the heading of its very year leaves the year out; under any other member it says it. */
function headerLabel(desk: Desk, fields: string[], path: readonly (string | null)[], level: number): string {
  const member = path[level];
  const place = fieldPlace(desk.dataset, fields[level]);
  if (place.kind !== 'period' || member === null) return desk.label(fields[level], member);
  const isUnderItsYear = path.slice(0, level).some((above, depth) => {
    const other = fieldPlace(desk.dataset, fields[depth]);
    return above !== null && other.kind === 'period' && other.dimension.name === place.dimension.name && yearOf(above) === yearOf(member);
  });
  return periodLabel(place.level.period, member, 'en-GB', isUnderItsYear);
}

function measureLimits(cube: Cube, name: string, exhibit: Crosstab): CrosstabResponse['measures'][number] {
  const planned = cube.plan.measures.find((measure) => measure.name === name)!;
  const parts = [...new Set(planned.slots.map((slot) => slot.part))].map((index) => cube.plan.parts[index]);
  const unanswered = parts.find((part) => part.query === null);
  const side = Math.min(
    exhibit.side.fields.length,
    ...parts.map((part) => (part.known.side < cube.plan.side.length ? part.known.side : Infinity)),
  );
  const top = Math.min(
    exhibit.top.fields.length,
    ...parts.map((part) => (part.known.top < cube.plan.top.length ? part.known.top : Infinity)),
  );
  const coarse = parts.find((part) => part.known.side < cube.plan.side.length || part.known.top < cube.plan.top.length);
  return {
    measure: name,
    side,
    top,
    available: !unanswered,
    reason:
      unanswered?.reason ??
      (coarse ? reasonBelow(cube.plan.dataset, coarse.fact, cube.plan.side[coarse.known.side] ?? cube.plan.top[coarse.known.top]) : ''),
  };
}
