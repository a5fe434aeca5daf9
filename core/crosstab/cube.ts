import { CrosstabTooLargeError, type QueryResult } from '../engine/index.ts';
import { AGGREGATES } from '../model/index.ts';
import { evaluateCell } from '../formula/index.ts';
import { AxisTree, nodesOfGroups } from './axis.ts';
import { MOST_VALUES, type CrosstabPlan, type FactPart, type OthersAnswer, type PlannedMeasure } from './plan.ts';

/** All cells of a cross-tab, with every total, down to the depths it was planned for. */
export class Cube {
  readonly side = new AxisTree();
  readonly top = new AxisTree();
  private readonly values: Float64Array[][] = [];
  private readonly records: Float64Array[] = [];
  private readonly measures: Map<string, PlannedMeasure>;
  private columns = 1;

  /**
   * Puts the answers of the planned queries together (null where a part has no query). `members` are the members of
   * each axis that exist with or without records, where they are known; `others` are the answers of all that was not
   * selected. Throws CrosstabTooLargeError.
   */
  constructor(
    readonly plan: CrosstabPlan,
    results: (QueryResult | null)[],
    members: { side: (string | null)[][] | null; top: (string | null)[][] | null },
    others: OthersAnswer[] = [],
  ) {
    this.measures = new Map(plan.measures.map((measure) => [measure.name, measure]));
    for (const [tree, paths] of [
      [this.side, members.side],
      [this.top, members.top],
    ] as const) {
      for (const path of paths ?? []) path.reduce((node, member) => tree.child(node, member), 0);
    }
    const placed = plan.parts.map((_, part) => [
      ...this.place(results[part], plan.parts[part].known.side, null, null),
      ...others.flatMap((answer) => this.place(answer.results[part], answer.plan.parts[part].known.side, answer.side, answer.top)),
    ]);
    this.columns = this.top.nodes.length;
    const cells = this.side.nodes.length * this.columns;
    const aggregates = plan.parts.reduce((sum, part) => sum + 1 + (part.query?.aggregates.length ?? 0), 0);
    if (cells * aggregates > MOST_VALUES) throw new CrosstabTooLargeError(this.side.nodes.length - 1, this.columns - 1);
    plan.parts.forEach((part, index) => {
      const values = (part.query?.aggregates ?? []).map(({ fn }) =>
        AGGREGATES[fn].counts ? this.nothingCounted(part) : new Float64Array(cells).fill(Number.NaN),
      );
      const records = new Float64Array(cells);
      for (const { set, side, top } of placed[index]) {
        for (let group = 0; group < set.size; group++) {
          const cell = side[group] * this.columns + top[group];
          records[cell] = set.records[group];
          values.forEach((array, aggregate) => (array[cell] = set.values[aggregate].values[group]));
        }
      }
      this.values.push(values);
      this.records.push(records);
    });
  }

  /** A count of no records is 0 wherever the fact could have some, and no value below its grain. */
  private nothingCounted({ query, known }: FactPart): Float64Array {
    const counts = new Float64Array(this.side.nodes.length * this.columns).fill(query ? 0 : Number.NaN);
    for (const { id, depth } of this.side.nodes)
      if (depth > known.side) counts.fill(Number.NaN, id * this.columns, (id + 1) * this.columns);
    for (const { id, depth } of this.top.nodes)
      if (depth > known.top) for (let row = 0; row < this.side.nodes.length; row++) counts[row * this.columns + id] = Number.NaN;
    return counts;
  }

  /** The nodes of each group of an answer: below its own levels, or at the one path that stands for an axis. */
  private place(
    result: QueryResult | null,
    knownSide: number,
    side: (string | null)[] | null,
    top: (string | null)[] | null,
  ): { set: QueryResult['sets'][number]; side: Int32Array; top: Int32Array }[] {
    const at = (tree: AxisTree, path: (string | null)[]): number => path.reduce((node, member) => tree.child(node, member), 0);
    return (result?.sets ?? []).map((set) => {
      const along = (onSide: boolean): number[] =>
        set.levels
          .map((level, position) => ({ level, position }))
          .filter(({ level }) => level < knownSide === onSide)
          .map(({ position }) => position);
      return {
        set,
        side: side ? new Int32Array(set.size).fill(at(this.side, side)) : nodesOfGroups(this.side, result!, set, along(true)),
        top: top ? new Int32Array(set.size).fill(at(this.top, top)) : nodesOfGroups(this.top, result!, set, along(false)),
      };
    });
  }

  /** The value of a measure in a cell; NaN is "no value". */
  value(measure: string, side: number, top: number): number {
    const planned = this.measures.get(measure);
    if (!planned) return Number.NaN;
    const cell = side * this.columns + top;
    return evaluateCell(planned.plan.expression, (index) => {
      const { part, aggregate } = planned.slots[index];
      return this.values[part][aggregate]?.[cell] ?? Number.NaN;
    });
  }

  /** About how many bytes its numbers and members take. */
  get bytes(): number {
    const arrays = this.records.length + this.values.reduce((sum, own) => sum + own.length, 0);
    const lines = this.side.nodes.length + this.top.nodes.length;
    return arrays * this.side.nodes.length * this.columns * 8 + lines * 250;
  }

  /** How many records of one fact part stand behind a cell. */
  partRecords(part: number, side: number, top: number): number {
    return this.records[part][side * this.columns + top];
  }

  /** How many records of any fact stand behind a cell. */
  recordsAt(side: number, top: number): number {
    const cell = side * this.columns + top;
    return this.records.reduce((sum, records) => sum + records[cell], 0);
  }
}
