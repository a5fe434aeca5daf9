import { isTableWorth, type QueryResult } from '../engine/index.ts';

/** A member on an axis; node 0 is the total of the whole axis. */
export interface AxisNode {
  id: number;
  /** Node one level up; -1 for the total. */
  parent: number;
  /** 0 for the total, 1 for the first level, … */
  depth: number;
  /** Null is a missing member; also null for the total. */
  member: string | null;
  children: readonly number[];
}

/** The children of members that have none: most of a long axis. */
const NONE: readonly number[] = [];

/** The members of one axis as a tree, level by level. */
export class AxisTree {
  readonly nodes: AxisNode[] = [{ id: 0, parent: -1, depth: 0, member: null, children: NONE }];
  /** The children of each node by their member. */
  private readonly ids: (Map<string | null, number> | undefined)[] = [];

  /** Finds or adds a child. */
  child(parent: number, member: string | null): number {
    const ids = (this.ids[parent] ??= new Map<string | null, number>());
    const known = ids.get(member);
    if (known !== undefined) return known;
    const id = this.nodes.length;
    const above = this.nodes[parent];
    this.nodes.push({ id, parent, depth: above.depth + 1, member, children: NONE });
    if (above.children === NONE) above.children = [id];
    else (above.children as number[]).push(id);
    ids.set(member, id);
    return id;
  }

  /** The members from the first level down to a node. */
  path(id: number): (string | null)[] {
    const path: (string | null)[] = [];
    for (let node = this.nodes[id]; node.parent >= 0; node = this.nodes[node.parent]) path.unshift(node.member);
    return path;
  }

  /** The node at a path; undefined when there is none. */
  find(path: readonly (string | null)[]): AxisNode | undefined {
    let node = 0;
    for (const member of path) {
      const next = this.ids[node]?.get(member);
      if (next === undefined) return undefined;
      node = next;
    }
    return this.nodes[node];
  }
}

/** Nodes by a number below `keys`, of which some occur. No child is the total, whose node is 0. */
function nodeTable(keys: number, occurring: number): { get(key: number): number | undefined; set(key: number, node: number): unknown } {
  if (!isTableWorth(keys, occurring)) return new Map<number, number>();
  const nodes = new Int32Array(keys);
  return { get: (key) => nodes[key] || undefined, set: (key, node) => (nodes[key] = node) };
}

/**
 * The node of each group of a set along one axis. `positions` are the set's key columns of that axis, coarse to fine.
 * Codes are followed by number, so each member's text is looked up once per parent only.
 */
export function nodesOfGroups(tree: AxisTree, result: QueryResult, set: QueryResult['sets'][number], positions: number[]): Int32Array {
  const nodes = new Int32Array(set.size);
  for (const position of positions) {
    const members = result.members[set.levels[position]];
    const codes = set.keys[position];
    const width = members.length + 1;
    const known = nodeTable(tree.nodes.length * width, set.size);
    for (let group = 0; group < set.size; group++) {
      const code = codes[group];
      const key = nodes[group] * width + code;
      let node = known.get(key);
      if (node === undefined) {
        node = tree.child(nodes[group], code === 0 ? null : members[code - 1]);
        known.set(key, node);
      }
      nodes[group] = node;
    }
  }
  return nodes;
}
