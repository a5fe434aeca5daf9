import type { Axis, Order } from '../model/index.ts';
import type { AxisNode, AxisTree } from './axis.ts';
import type { Cube } from './cube.ts';

/** Which members stand open: all above `depth` levels, except those flipped; and flipped ones below it. */
export interface OpenState {
  depth: number;
  /** Paths, written by `pathKey`. */
  flipped: string[];
}

/** A member's path as one text: members joined by "/", with "/", "%" and the missing member escaped. */
export function pathKey(path: readonly (string | null)[]): string {
  return path.map((member) => (member === null ? '%0' : member.replaceAll('%', '%25').replaceAll('/', '%2F'))).join('/');
}

/** The inverse of `pathKey`. */
export function parsePathKey(key: string): (string | null)[] {
  if (key === '') return [];
  return key.split('/').map((part) => (part === '%0' ? null : part.replaceAll('%2F', '/').replaceAll('%25', '%')));
}

/** Number of levels that must be worked out to draw an axis in a state of opening. */
export function depthNeeded(levels: number, open: OpenState): number {
  const opened = open.flipped.map((key) => parsePathKey(key).length).filter((length) => length > open.depth);
  return Math.min(levels, Math.max(open.depth, ...opened, 0) + 1);
}

export type VisibleRole = 'member' | 'subtotal' | 'total';

/** A row, or a column, that is shown. */
export interface VisibleNode {
  node: number;
  role: VisibleRole;
  depth: number;
  open: boolean;
  canOpen: boolean;
}

export interface AxisView {
  levels: number;
  open: OpenState;
  order: Order;
  total: Axis['total'];
  hideEmpty: boolean;
}

/** Compares two members of a level in their natural order. */
export type MemberOrder = (level: number, a: string | null, b: string | null) => number;

type Which = 'side' | 'top';

function comparison(cube: Cube, which: Which, view: AxisView, natural: MemberOrder): (a: AxisNode, b: AxisNode) => number {
  const { order } = view;
  const byLabel = (a: AxisNode, b: AxisNode): number => natural(a.depth - 1, a.member, b.member);
  if (order.by === 'label') return order.direction === 'asc' ? byLabel : (a, b) => byLabel(b, a);
  const other = which === 'side' ? cube.top : cube.side;
  const across = other.find(order.at)?.id ?? 0;
  const value = (node: AxisNode): number =>
    which === 'side' ? cube.value(order.measure, node.id, across) : cube.value(order.measure, across, node.id);
  const sign = order.direction === 'asc' ? 1 : -1;
  return (a, b) => {
    const [x, y] = [value(a), value(b)];
    if (Number.isNaN(x) || Number.isNaN(y)) return Number(Number.isNaN(x)) - Number(Number.isNaN(y)) || byLabel(a, b);
    return sign * (x - y) || byLabel(a, b);
  };
}

/**
 * The rows, or columns, that are shown, in order. Down the side a parent stands above its members; across the top it
 * stands after them, as their subtotal. The axis total comes last.
 */
export function visibleNodes(cube: Cube, which: Which, view: AxisView, natural: MemberOrder): VisibleNode[] {
  const tree: AxisTree = which === 'side' ? cube.side : cube.top;
  const compare = comparison(cube, which, view, natural);
  const flipped = new Set(view.open.flipped);
  const empty = (id: number): boolean => (which === 'side' ? cube.recordsAt(id, 0) : cube.recordsAt(0, id)) === 0;
  const shown: VisibleNode[] = [];
  const children = (id: number): AxisNode[] =>
    tree.nodes[id].children
      .filter((child) => !view.hideEmpty || !empty(child))
      .map((child) => tree.nodes[child])
      .sort(compare);
  const visit = (node: AxisNode, key: string): void => {
    const canOpen = node.depth < view.levels;
    const open = canOpen && node.depth <= view.open.depth !== flipped.has(key);
    const own = { node: node.id, depth: node.depth, open, canOpen };
    if (which === 'side') shown.push({ ...own, role: 'member' });
    if (open) for (const child of children(node.id)) visit(child, `${key}/${pathKey([child.member])}`);
    if (which === 'top') shown.push({ ...own, role: open ? 'subtotal' : 'member' });
  };
  const roots = children(0);
  for (const root of roots) visit(root, pathKey([root.member]));
  const wantsTotal = view.total === 'always' || (view.total === 'auto' && roots.length !== 1);
  if (wantsTotal || view.levels === 0) shown.push({ node: 0, depth: 0, role: 'total', open: false, canOpen: false });
  return shown;
}
