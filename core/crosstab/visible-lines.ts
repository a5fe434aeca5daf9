import type { Axis, CellMeasure, Order, Summary } from '../model/index.ts';
import type { AxisNode, AxisTree } from './axis.ts';
import type { CellValue } from '../formula/index.ts';
import type { CellReader } from './cell-reader.ts';
import { isCombined, isExtra, isTakenOff, lessOf, OTHERS, type SelectedMembers } from './plan.ts';
import { measureInRow } from './row-measures.ts';
import { sortedPositions } from './sort-keys.ts';

/** Which members stand open: all above `depth` levels but for the exceptions, and the exceptions below it. */
export interface OpenState {
  depth: number;
  /** Paths, written by `pathKey`. */
  exceptions: string[];
}

/** A member's path as one text: members joined by "/", with "/", "%" and the missing member escaped. */
export function pathKey(path: readonly (string | null)[]): string {
  return path.map(partKey).join('/');
}
function partKey(member: string | null): string {
  if (member === null) return '%0';
  // Groups and all others begin with a sign that no database takes in a text.
  return member === '' ? '%-' : member.replaceAll('%', '%25').replaceAll('/', '%2F').replaceAll('\u0000', '%00');
}

/** The inverse of `pathKey`. */
export function parsePathKey(key: string): (string | null)[] {
  if (key === '') return [];
  return key.split('/').map((part) => {
    if (part === '%0') return null;
    return part === '%-' ? '' : part.replaceAll('%00', '\u0000').replaceAll('%2F', '/').replaceAll('%25', '%');
  });
}

/** Number of levels that must be calculated to draw an axis in a state of opening. */
export function depthNeeded(levels: number, open: OpenState): number {
  const opened = open.exceptions.map((key) => parsePathKey(key).length).filter((length) => length > open.depth);
  return Math.min(levels, Math.max(open.depth, ...opened, 0) + 1);
}

export type VisibleRole = 'member' | 'subtotal' | 'total' | 'summary';

/** A row, or a column, that is shown. */
export interface VisibleNode {
  node: number;
  role: VisibleRole;
  depth: number;
  open: boolean;
  canOpen: boolean;
  /** What a summary line works out. */
  summary?: Summary;
  /** Lines whose figures it stands for, each once, where it stands open or is a total or summary. */
  parts: VisibleNode[];
  /** Shows no values of its own. */
  bare?: boolean;
  /** The node whose values are taken off. */
  less?: number;
  /** Its figures are those of another table's line: below a member that was opened by a level of its own. */
  elsewhere?: { cells: CellReader; line: VisibleNode; columnLike(column: VisibleNode): VisibleNode };
}

export type AxisView = Pick<Axis, 'fields' | 'levels' | 'total' | 'totalPlace' | 'summaries' | 'layout' | 'hideEmpty'> & {
  open: OpenState;
  /** The order a reader chose, for all levels; null leaves it to the levels. */
  order: Order | null;
  /** The order of levels that say none. */
  usual: Order;
  selected: SelectedMembers[];
};

/** How members of a level compare: in their natural order, or by another field. */
export interface MemberOrder {
  natural(level: number, a: string | null, b: string | null): number;
  /** A text that orders a member as `natural` does where two of them differ; null where only `natural` can tell. */
  naturalKey(level: number, member: string | null): string | null;
  byField(level: number, field: string, a: string | null, b: string | null): number;
}

/** The parts of a member that is closed. */
const NOTHING: VisibleNode[] = [];

type Which = 'side' | 'top';
type Sort = (nodes: AxisNode[]) => AxisNode[];

/** Sorts by what is found for each node once, instead of with every comparison. */
function sortBy<Found>(find: (node: AxisNode) => Found, compare: (a: Found, b: Found) => number, tie: Tie): Sort {
  return (nodes) => {
    const found = nodes.map(find);
    const places = nodes.map((_, place) => place);
    places.sort((i, j) => compare(found[i], found[j]) || tie(nodes[i], nodes[j]));
    return places.map((place) => nodes[place]);
  };
}

type Tie = (a: AxisNode, b: AxisNode) => number;

/** Missing values come last, whichever way the others go. */
const numbers =
  (sign: number) =>
  (x: number, y: number): number => {
    const [noX, noY] = [x !== x, y !== y];
    return noX || noY ? Number(noX) - Number(noY) : sign * (x - y);
  };

/** Fewer members are sorted by comparing them. */
const WORTH_KEYS = 2_000;

/** Sorts by keys alone, ties by comparing; null where some member has none. */
function sortedByKeys(nodes: AxisNode[], keyOf: (node: AxisNode) => string | null, natural: Tie, sign: number): AxisNode[] | null {
  const keys: string[] = [];
  for (const node of nodes) {
    const key = keyOf(node);
    if (key === null) return null;
    keys.push(key);
  }
  const positions = sortedPositions(keys, (run) => run.sort((i, j) => natural(nodes[i], nodes[j])));
  if (sign < 0) positions.reverse();
  const sorted: AxisNode[] = [];
  for (let place = 0; place < positions.length; place++) sorted.push(nodes[positions[place]]);
  return sorted;
}

function sortOf(cube: CellReader, which: Which, order: Order, members: MemberOrder): Sort {
  const natural: Tie = (a, b) => members.natural(a.depth - 1, a.member, b.member);
  const keyOf = ({ depth, member }: AxisNode): string | null => members.naturalKey(depth - 1, member);
  const byKey = (x: string | null, y: string | null): number => (x === null || y === null || x === y ? 0 : x < y ? -1 : 1);
  switch (order.by) {
    case 'label': {
      const sign = order.direction === 'asc' ? 1 : -1;
      const byComparing = sortBy(
        keyOf,
        (x, y) => sign * byKey(x, y),
        (a, b) => sign * natural(a, b),
      );
      return (nodes) => (nodes.length < WORTH_KEYS ? null : sortedByKeys(nodes, keyOf, natural, sign)) ?? byComparing(nodes);
    }
    case 'field': {
      const sign = order.direction === 'asc' ? 1 : -1;
      return sortBy(
        (node) => node,
        (a, b) => sign * members.byField(a.depth - 1, order.field, a.member, b.member),
        natural,
      );
    }
    case 'hand': {
      const places = new Map(order.members.map((member, index) => [member, index]));
      return sortBy(
        ({ member }) => (member === null ? undefined : places.get(member)) ?? places.size,
        (x, y) => x - y,
        natural,
      );
    }
    case 'measure': {
      const across = (which === 'side' ? cube.top : cube.side).find(order.at)?.id;
      // A column that is not here orders nothing, rather than its parent doing so in its name.
      if (across === undefined) return sortBy(keyOf, byKey, natural);
      return sortBy(
        ({ id }) => (which === 'side' ? cube.value(order.measure, id, across) : cube.value(order.measure, across, id)),
        numbers(order.direction === 'asc' ? 1 : -1),
        natural,
      );
    }
  }
}

/**
 * The rows, or columns, that are shown, in order. In a tree down the side a parent stands above its members and shows
 * their subtotal, unless that follows them; across the top, and where levels are columns, the parent is only there as the
 * subtotal. Summaries and the axis total end the axis, or begin it. All others come after the members that were selected.
 */
export function visibleNodes(cube: CellReader, which: Which, view: AxisView, members: MemberOrder): VisibleNode[] {
  const tree: AxisTree = which === 'side' ? cube.side : cube.top;
  const sorts = view.fields.map((field) => sortOf(cube, which, view.order ?? view.levels[field]?.order ?? view.usual, members));
  const selected = new Map(view.selected.map((one) => [JSON.stringify(one.parent), new Set(one.members)]));
  const exceptions = new Set(view.open.exceptions);
  const records = view.hideEmpty ? cube.recordsAlong(which) : null;
  const asTree = which === 'side' && view.layout === 'tree';
  const shown: VisibleNode[] = [];
  const children = (id: number): AxisNode[] => {
    const chosen = selected.size > 0 ? selected.get(JSON.stringify(tree.path(id))) : undefined;
    const [combined, named]: [AxisNode[], AxisNode[]] = [[], []];
    // Gone through once: an axis may have hundreds of thousands.
    for (const child of tree.nodes[id].children) {
      const node = tree.nodes[child];
      if (records && records[child] === 0) continue;
      if (!isCombined(node.member)) {
        if (!chosen || chosen.has(node.member)) named.push(node);
      } else if (!isTakenOff(node.member)) combined.push(node);
    }
    // Groups in the order in which they were made, then what is left.
    const others = [...combined.filter(({ member }) => member !== OTHERS), ...combined.filter(({ member }) => member === OTHERS)];
    if (named.length === 0) return others;
    return [...sorts[tree.nodes[id].depth](named), ...others];
  };
  // Paths are only written where some member is an exception: an axis may have hundreds of thousands.
  const keyOf = (above: string | null, { member }: AxisNode): string =>
    exceptions.size === 0 ? '' : above === null ? pathKey([member]) : `${above}/${pathKey([member])}`;
  /** The line that a difference takes off. */
  const takenOff = ({ member, parent }: AxisNode): number | undefined => {
    const key = lessOf(member);
    return key === null ? undefined : tree.nodes[parent].children.find((id) => tree.nodes[id].member === key);
  };
  /** Shows a member, and what stands below it where it is open; answers with the lines that show its figures. */
  const visit = (node: AxisNode, key: string): VisibleNode[] => {
    const canOpen = node.depth < view.fields.length && !isCombined(node.member);
    const open = canOpen && node.depth <= view.open.depth !== exceptions.has(key);
    if (!open) {
      const line: VisibleNode = { node: node.id, depth: node.depth, open, canOpen, parts: NOTHING, role: 'member' };
      const less = takenOff(node);
      if (less !== undefined) line.less = less;
      shown.push(line);
      return [line];
    }
    const parts: VisibleNode[] = [];
    const own = { node: node.id, depth: node.depth, open, canOpen, parts };
    const level = view.levels[view.fields[node.depth - 1]];
    const subtotal = (level?.subtotal ?? true) ? (level?.subtotalPlace ?? (asTree ? 'before' : view.totalPlace)) : 'none';
    const line: VisibleNode = { ...own, role: asTree && subtotal === 'before' ? 'member' : 'subtotal' };
    if (subtotal === 'before') shown.push(line);
    else if (asTree) shown.push({ ...own, role: 'member', bare: true });
    visitAll(children(node.id), key, parts);
    if (subtotal === 'after') shown.push(line);
    return subtotal === 'none' ? parts : [line];
  };
  /** Shows members, and adds the lines that show their figures to `parts`: but for those that are counted in others too. */
  const visitAll = (nodes: readonly AxisNode[], above: string | null, parts: VisibleNode[]): void => {
    for (const node of nodes) {
      const lines = visit(node, keyOf(above, node));
      if (!isExtra(node.member)) for (const line of lines) parts.push(line);
    }
  };
  const roots = children(0);
  const parts: VisibleNode[] = [];
  visitAll(roots, null, parts);
  const end = { node: 0, depth: 0, open: false, canOpen: false, parts };
  const lines: VisibleNode[] = roots.length > 0 ? view.summaries.map((summary) => ({ ...end, role: 'summary', summary })) : [];
  const wantsTotal = view.total === 'always' || (view.total === 'auto' && roots.length !== 1);
  if (wantsTotal || view.fields.length === 0) lines.push({ ...end, role: 'total' });
  return view.totalPlace === 'before' ? [...lines.reverse(), ...shown] : [...shown, ...lines];
}

/** Works a summary out of the values there are; NaN where there are none. The deviation is that of a sample: NaN of one value. */
export function summarise(summary: Summary, values: number[]): number {
  const known = values.filter((value) => !Number.isNaN(value));
  if (known.length === 0) return Number.NaN;
  const sum = known.reduce((total, value) => total + value, 0);
  switch (summary) {
    case 'sum':
      return sum;
    case 'count':
      return known.length;
    case 'deviation': {
      const mean = sum / known.length;
      return Math.sqrt(known.reduce((total, value) => total + (value - mean) ** 2, 0) / (known.length - 1));
    }
    case 'average':
      return sum / known.length;
    case 'smallest':
      return known.reduce((least, value) => Math.min(least, value));
    case 'largest':
      return known.reduce((most, value) => Math.max(most, value));
    case 'median': {
      known.sort((a, b) => a - b);
      const middle = (known.length - 1) / 2;
      return (known[Math.floor(middle)] + known[Math.ceil(middle)]) / 2;
    }
  }
}

type ShownMeasure = Pick<CellMeasure, 'measure' | 'totals' | 'levels' | 'total'>;

/** The measure of a cell in a row: its own, another one, or none (null). */
function inRow(cell: ShownMeasure, { plan }: CellReader, { depth, elsewhere }: VisibleNode): ShownMeasure | null {
  const measure = measureInRow(cell, elsewhere?.cells.plan.side ?? plan.side, depth);
  if (measure === cell.measure) return cell;
  return measure === null ? null : { measure };
}

/**
 * The value shown where a row and a column meet. Summaries, and measures whose totals are not calculated from the records,
 * are calculated of the figures that stand there: those of the lines that a line stands for, however these came about.
 */
export function shownValue(cube: CellReader, cell: ShownMeasure, row: VisibleNode, column: VisibleNode): number {
  if (row.bare || column.bare) return Number.NaN;
  const { elsewhere } = row;
  if (elsewhere) return shownValue(elsewhere.cells, cell, elsewhere.line, elsewhere.columnLike(column));
  if (cell.totals || row.summary || column.summary) {
    const way = (line: VisibleNode): Summary | 'none' | undefined =>
      line.role === 'summary' ? line.summary : line.parts.length > 0 ? cell.totals : undefined;
    const [down, across] = [way(row), way(column)];
    if (down === 'none' || (!down && across === 'none')) return Number.NaN;
    if (down) {
      const figures = row.parts.map((part) => {
        const own = inRow(cell, cube, part);
        return own ? shownValue(cube, own, part, column) : Number.NaN;
      });
      return summarise(down, figures);
    }
    if (across && across !== 'none')
      return summarise(
        across,
        column.parts.map((part) => shownValue(cube, cell, row, part)),
      );
  }
  // A difference is one of the values themselves, on either axis.
  const at = (line: VisibleNode, node: number): VisibleNode => ({ ...line, node, less: undefined });
  if (row.less !== undefined) return shownValue(cube, cell, at(row, row.node), column) - shownValue(cube, cell, at(row, row.less), column);
  if (column.less !== undefined)
    return shownValue(cube, cell, row, at(column, column.node)) - shownValue(cube, cell, row, at(column, column.less));
  return cube.value(cell.measure, row.node, column.node);
}

/** What is shown where a row and a column meet: texts and dates too, which nothing is summarised of. */
export function shownCell(cube: CellReader, cell: ShownMeasure, row: VisibleNode, column: VisibleNode): CellValue {
  const number = shownValue(cube, cell, row, column);
  if (!Number.isNaN(number)) return number;
  if (row.bare || column.bare || row.summary || column.summary || row.less !== undefined || column.less !== undefined) return null;
  const value = cube.cell(cell.measure, row.node, column.node);
  return typeof value === 'string' ? value : null;
}
