import type { QueryResult } from '../engine/index.ts';
import { AxisTree, nodesOfGroups } from './axis.ts';
import type { Along } from './contexts.ts';

type GroupingSet = QueryResult['sets'][number];

/** The members that values of a context stand under along one axis, numbered from 0. */
export interface ContextAxis {
  readonly size: number;
  along(index: number): Along;
  /** -1 where there is none. */
  find(along: Along): number;
  /** The member of each group of a set; -1 where it is none of the axis. `positions` are the set's keys of these fields. */
  ofGroups(fields: readonly string[], result: QueryResult, set: GroupingSet, positions: number[]): Int32Array;
  /** Members of the same fields under the same parent, in the order they were found in. */
  siblings(index: number): readonly number[];
  /** Tells siblings apart from others. */
  family(index: number): string;
}

/** The axis of the cross-tab itself: its tree. */
export class TreeAxis implements ContextAxis {
  constructor(
    readonly tree: AxisTree,
    private readonly fields: readonly string[],
  ) {}

  get size(): number {
    return this.tree.nodes.length;
  }

  along(index: number): Along {
    return { fields: this.fields.slice(0, this.tree.nodes[index].depth), path: this.tree.path(index) };
  }

  find({ path }: Along): number {
    return this.tree.find(path)?.id ?? -1;
  }

  ofGroups(_fields: readonly string[], result: QueryResult, set: GroupingSet, positions: number[]): Int32Array {
    return nodesOfGroups(this.tree, result, set, positions);
  }

  siblings(index: number): readonly number[] {
    const { parent } = this.tree.nodes[index];
    return parent < 0 ? [index] : this.tree.nodes[parent].children;
  }

  family(index: number): string {
    return String(this.tree.nodes[index].parent);
  }
}

interface FieldsTree {
  fields: readonly string[];
  tree: AxisTree;
  /** The number of each node of the tree; -1 where it is no member of the axis. */
  numbers: number[];
}

/** An axis on which members stand under other fields than along the cross-tab's own. */
export class ProjectedAxis implements ContextAxis {
  private readonly trees = new Map<string, FieldsTree>();
  private readonly members: { of: FieldsTree; node: number }[] = [];

  /** A growing axis takes in every member that groups have. */
  constructor(private readonly grows = false) {}

  get size(): number {
    return this.members.length;
  }

  private treeOf(fields: readonly string[]): FieldsTree {
    const key = fields.join('\u0000');
    let own = this.trees.get(key);
    if (!own) this.trees.set(key, (own = { fields, tree: new AxisTree(), numbers: [] }));
    return own;
  }

  private numberOf(of: FieldsTree, node: number): number {
    return (of.numbers[node] ??= this.members.push({ of, node }) - 1);
  }

  /** The number of a member, which is taken in where it is new. */
  add({ fields, path }: Along): number {
    const own = this.treeOf(fields);
    return this.numberOf(
      own,
      path.reduce((node, member) => own.tree.child(node, member), 0),
    );
  }

  along(index: number): Along {
    const { of, node } = this.members[index];
    return { fields: of.fields, path: of.tree.path(node) };
  }

  find({ fields, path }: Along): number {
    const own = this.treeOf(fields);
    const node = own.tree.find(path);
    return node ? (own.numbers[node.id] ?? -1) : -1;
  }

  ofGroups(fields: readonly string[], result: QueryResult, set: GroupingSet, positions: number[]): Int32Array {
    const own = this.treeOf(fields);
    const nodes = nodesOfGroups(own.tree, result, set, positions);
    return nodes.map((node) => (this.grows ? this.numberOf(own, node) : (own.numbers[node] ?? -1)));
  }

  siblings(index: number): readonly number[] {
    const { of, node } = this.members[index];
    const { parent } = of.tree.nodes[node];
    if (parent < 0) return [index];
    return of.tree.nodes[parent].children.flatMap((child) => (of.numbers[child] === undefined ? [] : [of.numbers[child]]));
  }

  family(index: number): string {
    const { of, node } = this.members[index];
    return JSON.stringify([of.fields, of.tree.nodes[node].parent]);
  }
}
