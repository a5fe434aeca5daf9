import { BLOCK } from './compiled.ts';
import type { BlockSelector } from './grouping.ts';
import { take, tallyOne, tallyThree, tallyTwo } from './kernels.ts';

/** Values of a column, record by record. */
export type ColumnValues = Int32Array | Float64Array;

/** Sums of as many columns stand beside each other at most: with the count they fill half a cache line. */
const MOST = 3;

/**
 * Counts records and adds columns up, with all figures of a group beside each other: a record then touches one place in memory
 * and not one for each figure.
 */
class Lanes {
  private readonly width: number;
  private readonly figures: Float64Array;
  private readonly taken: Float64Array[];

  constructor(
    private readonly columns: readonly ColumnValues[],
    private readonly groups: number,
  ) {
    this.width = columns.length + 1;
    this.figures = new Float64Array((groups + 1) * this.width);
    this.taken = columns.map(() => new Float64Array(BLOCK));
  }

  add({ groups, rows, start }: Pick<BlockSelector, 'groups' | 'rows' | 'start'>, count: number): void {
    if (start >= 0) return this.tally(groups, this.columns, start, count);
    this.columns.forEach((column, index) => take(this.taken[index], column, rows, count));
    this.tally(groups, this.taken, 0, count);
  }

  private tally(groups: Int32Array, [first, second, third]: readonly ColumnValues[], start: number, count: number): void {
    if (third) tallyThree(this.figures, groups, first, second, third, start, count);
    else if (second) tallyTwo(this.figures, groups, first, second, start, count);
    else tallyOne(this.figures, groups, first, start, count);
  }

  /** Writes one figure of every group: the count is the first, then the sums of the columns follow. */
  write(lane: number, to: Float64Array): void {
    for (let group = 0, at = lane + this.width; group < this.groups; group++, at += this.width) to[group] = this.figures[at];
  }
}

/** Records and sums of columns by group, counted together. */
export class SumLanes {
  private readonly lanes: Lanes[] = [];

  constructor(columns: readonly ColumnValues[], groups: number) {
    for (let at = 0; at < columns.length; at += MOST) this.lanes.push(new Lanes(columns.slice(at, at + MOST), groups));
  }

  /** Whether records are counted here: they are where there is a column. */
  get counts(): boolean {
    return this.lanes.length > 0;
  }

  add(block: Pick<BlockSelector, 'groups' | 'rows' | 'start'>, count: number): void {
    for (const one of this.lanes) one.add(block, count);
  }

  /** Writes what was counted where it is read from: the records, and the sums in the order of the columns. */
  write(records: Float64Array, sums: readonly Float64Array[]): void {
    this.lanes[0]?.write(0, records);
    sums.forEach((sum, index) => this.lanes[Math.floor(index / MOST)].write((index % MOST) + 1, sum));
  }
}
