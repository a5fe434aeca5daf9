import { CrosstabTooLargeError, type QueryResult } from '../engine/index.ts';
import type { CellValue } from '../formula/index.ts';
import { AxisTree } from './axis.ts';
import { ProjectedAxis, TreeAxis, type ContextAxis } from './context-axis.ts';
import { ContextCells, placeAnswer } from './context-cells.ts';
import type { CellReader, CubeCells } from './cell-reader.ts';
import { alongIn, fieldsIn, isOfCell, type Context } from './contexts.ts';
import { CellEvaluation, type ShownOrder } from './evaluation.ts';
import { MOST_VALUES, type CrosstabPlan, type FactPart, type OthersAnswer, type PlannedContext } from './plan.ts';
import { liftIn } from './resolve.ts';

/** All cells of a cross-tab, with every total, down to the depths it was planned for. */
export class Cube implements CellReader, CubeCells {
  readonly side = new AxisTree();
  readonly top = new AxisTree();
  readonly contexts = new Map<string, ContextCells>();
  private readonly own: CellEvaluation;

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
    for (const [tree, paths] of [
      [this.side, [...(members.side ?? []), ...others.flatMap(({ side }) => (side ? [side] : []))]],
      [this.top, [...(members.top ?? []), ...others.flatMap(({ top }) => (top ? [top] : []))]],
    ] as const) {
      for (const path of paths) path.reduce((node, member) => tree.child(node, member), 0);
    }
    // What stands on the axes is found first, by the cell's own records and by those of moved dates.
    const placedIn = new Map<string, ReturnType<Cube['placed']>>();
    const all = [...plan.contexts.values()];
    for (const planned of [
      ...all.filter((one) => this.findsMembers(one.context)),
      ...all.filter((one) => !this.findsMembers(one.context)),
    ]) {
      this.contexts.set(planned.context.key, this.cellsOf(planned));
      placedIn.set(planned.context.key, this.placed(planned.context.key, results, others));
    }
    let values = 0;
    for (const [key, cells] of this.contexts) {
      const parts = placedIn.get(key)!;
      // Every axis is known now, so that its cells can be numbered.
      for (const { index, part, groups } of parts) {
        values += cells.cells() * (1 + (part.query?.aggregates.length ?? 0));
        if (values > MOST_VALUES) throw new CrosstabTooLargeError(this.side.nodes.length - 1, this.top.nodes.length - 1);
        cells.fill(index, part, groups);
      }
    }
    this.own = new CellEvaluation(this, null);
  }

  /** Whether the records of a context say which members there are: they stand under the cell's own fields and conditions. */
  private findsMembers({ steps, unfiltered }: Context): boolean {
    return !unfiltered && steps.every(({ kind }) => kind === 'per');
  }

  private cellsOf(planned: PlannedContext): ContextCells {
    const { dataset } = this.plan;
    const { context } = planned;
    const per = fieldsIn(dataset, context, 'per', []);
    const hasMembers = context.steps.some(({ kind }) => kind === 'per');
    const members = new ProjectedAxis(true);
    if (per.length === 0) members.add({ fields: [], path: [] });
    return new ContextCells(planned, this.axisOf(context, 'side'), this.axisOf(context, 'top'), members, hasMembers);
  }

  private axisOf(context: Context, which: 'side' | 'top'): ContextAxis {
    const { dataset, resolved } = this.plan;
    const fields = this.plan[which];
    const own = new TreeAxis(this[which], fields);
    if (this.findsMembers(context)) return own;
    const axis = new ProjectedAxis();
    const lift = liftIn(resolved);
    for (let node = 0; node < own.size; node++) {
      const along = alongIn(dataset, context, which, own.along(node), lift);
      if (along) axis.add(along);
    }
    return axis;
  }

  /** The answers of a context's parts at their places, those of all others among them. */
  private placed(
    key: string,
    results: (QueryResult | null)[],
    others: OthersAnswer[],
  ): { index: number; part: FactPart; groups: ReturnType<typeof placeAnswer> }[] {
    const cells = this.contexts.get(key)!;
    const { dataset, resolved } = this.plan;
    return this.plan.parts.flatMap((part, index) => {
      if (part.context.key !== key) return [];
      const groups = [
        ...placeAnswer(part, results[index], cells),
        ...others.flatMap((answer) => {
          const fixed = (which: 'side' | 'top'): number | null => {
            const path = answer[which];
            if (!path) return null;
            const along = alongIn(dataset, part.context, which, { fields: this.plan[which].slice(0, path.length), path }, liftIn(resolved));
            return along ? cells[which].find(along) : -1;
          };
          return placeAnswer(answer.plan.parts[index], answer.results[index], cells, { side: fixed('side'), top: fixed('top') });
        }),
      ];
      return [{ index, part, groups }];
    });
  }

  value(measure: string, side: number, top: number): number {
    return this.own.value(measure, side, top);
  }

  cell(measure: string, side: number, top: number): CellValue {
    return this.own.cell(measure, side, top);
  }

  reason(measure: string, side: number, top: number): string {
    return this.own.reason(measure, side, top);
  }

  /** The same cells for formulas that go by the order of members: as these are shown. */
  inOrder(order: ShownOrder): CellReader {
    return new CellEvaluation(this, order);
  }

  /** About how many bytes its numbers and members take. */
  get bytes(): number {
    const lines = this.side.nodes.length + this.top.nodes.length;
    return [...this.contexts.values()].reduce((sum, cells) => sum + cells.bytes, lines * 250);
  }

  /** How many records of one fact part stand behind a cell, on its own dates or on those that the part goes to; 0 for a part of other cells. */
  partRecords(part: number, side: number, top: number): number {
    const { context } = this.plan.parts[part];
    return isOfCell(context) ? this.contexts.get(context.key)!.records(part, side, top) : 0;
  }

  recordsAlong(which: 'side' | 'top'): Float64Array {
    const records = new Float64Array(this[which].nodes.length);
    this.plan.parts.forEach(({ context }, part) => {
      if (!isOfCell(context)) return;
      const cells = this.contexts.get(context.key)!;
      for (let node = 0; node < records.length; node++)
        records[node] += which === 'side' ? cells.records(part, node, 0) : cells.records(part, 0, node);
    });
    return records;
  }
}
