import type { QueryResult } from '../engine/index.ts';

/** A member on an axis; node 0 is the total of the whole axis. */
export interface AxisNode {
  id: number;
  /** Node one level up; -1 for the total. */
  parent: number;
  /** 0 for the total, 1 for the first level, … */
  depth: number;
  /** Null is a missing member; also null for the total. */
  member: string | null;
  children: number[];
}

/** The members of one axis as a tree, level by level. */
export class AxisTree {
  readonly nodes: AxisNode[] = [{ id: 0, parent: -1, depth: 0, member: null, children: [] }];
  private readonly ids = new Map<string, number>();

  /** Finds or adds a child. */
  child(parent: number, member: string | null): number {
    const key = `${parent} ${member === null ? '-' : `=${member}`}`;
    const known = this.ids.get(key);
    if (known !== undefined) return known;
    const id = this.nodes.length;
    this.nodes.push({ id, parent, depth: this.nodes[parent].depth + 1, member, children: [] });
    this.nodes[parent].children.push(id);
    this.ids.set(key, id);
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
    let node: AxisNode | undefined = this.nodes[0];
    for (const member of path) {
      const children: number[] = node.children;
      const next: number | undefined = children.find((id) => this.nodes[id].member === member);
      if (next === undefined) return undefined;
      node = this.nodes[next];
    }
    return node;
  }
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
    const known = new Map<number, number>();
    for (let group = 0; group < set.size; group++) {
      const key = nodes[group] * width + codes[group];
      let node = known.get(key);
      if (node === undefined) {
        const code = codes[group];
        node = tree.child(nodes[group], code === 0 ? null : members[code - 1]);
        known.set(key, node);
      }
      nodes[group] = node;
    }
  }
  return nodes;
}
