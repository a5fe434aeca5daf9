import { AGGREGATES, type Dataset, type Fact } from '../model/index.ts';
import { aggregates, type Tally } from './aggregates.ts';
import type { Store } from './columns.ts';
import { BLOCK } from './compiled.ts';
import type { BlockSelector } from './grouping.ts';
import { countGroups, sumBlock, sumChosen } from './kernels.ts';
import type { ColumnValues } from './lanes.ts';
import { compileOperand, type Operand } from './operand.ts';
import { recordTest } from './expression.ts';
import type { AggregateCall } from './query.ts';

/** Values that several aggregates of a query share: one argument under one condition, read once a record. */
export interface Stream {
  /** Null where only records are counted. */
  operand: Operand | null;
  where: ((row: number) => boolean) | null;
  tallies: Set<keyof Tally>;
  /** Whether all values must be kept, for the aggregates that see whole groups. */
  keep: boolean;
}

export interface PlannedAggregate {
  call: AggregateCall;
  stream: number;
}

/** Finds the streams that the aggregates of a query read. */
export function planStreams(
  dataset: Dataset,
  store: Store,
  fact: Fact,
  calls: AggregateCall[],
): { streams: Stream[]; planned: PlannedAggregate[] } {
  const streams: Stream[] = [];
  const known = new Map<string, number>();
  const planned = calls.map((call): PlannedAggregate => {
    const aggregate = aggregates[call.fn];
    const arithmetic = AGGREGATES[call.fn].readsNumbers;
    const id = JSON.stringify([call.argument, call.where, arithmetic]);
    let index = known.get(id);
    if (index === undefined) {
      index = streams.length;
      known.set(id, index);
      streams.push({
        operand: call.argument ? compileOperand(dataset, store, fact, call.argument, arithmetic) : null,
        where: call.where ? recordTest(dataset, store, fact, call.where) : null,
        tallies: new Set(),
        keep: false,
      });
    }
    const stream = streams[index];
    if (aggregate.kind === 'holistic') stream.keep = true;
    else aggregate.needs.forEach((need) => stream.tallies.add(need));
    return { call, stream: index };
  });
  return { streams, planned };
}

/** All values of a stream with the group of each, for the aggregates that see whole groups. */
export class KeptValues {
  values = new Float64Array(BLOCK);
  groups = new Int32Array(BLOCK);
  length = 0;

  push(values: Float64Array, groups: Int32Array, count: number): void {
    if (this.length + count > this.values.length) {
      const size = Math.max(this.values.length * 2, this.length + count);
      const [values2, groups2] = [new Float64Array(size), new Int32Array(size)];
      values2.set(this.values);
      groups2.set(this.groups);
      this.values = values2;
      this.groups = groups2;
    }
    for (let k = 0; k < count; k++) {
      if (Number.isNaN(values[k])) continue;
      this.values[this.length] = values[k];
      this.groups[this.length++] = groups[k];
    }
  }
}

/** Takes the blocks of one stream and adds them to its tallies. */
export interface Accumulator {
  tally: Tally;
  /** The column that is summed, where that is all there is to it. */
  summed: ColumnValues | null;
  kept: KeptValues | null;
  /** True when every counted record has a value, so that the tally's count is the group's record count. */
  countsRecords: boolean;
  add(block: Pick<BlockSelector, 'rows' | 'groups'>, count: number): void;
  /** Makes room for groups that are numbered as they come. */
  grow(groups: number): void;
}

const none = new Float64Array(0);

function grown(array: Float64Array, size: number, fill: number): Float64Array {
  const larger = new Float64Array(size).fill(fill);
  larger.set(array);
  return larger;
}

export function accumulatorFor(stream: Stream, groups: number): Accumulator {
  const { operand, where, tallies } = stream;
  const wants = { sum: tallies.has('sum'), min: tallies.has('min'), max: tallies.has('max') };
  const countsRecords = where === null && (operand === null || !operand.compiled.mayMiss);
  const tally: Tally = {
    count: countsRecords ? none : new Float64Array(groups),
    sum: wants.sum ? new Float64Array(groups) : none,
    min: wants.min ? new Float64Array(groups).fill(Infinity) : none,
    max: wants.max ? new Float64Array(groups).fill(-Infinity) : none,
  };
  const kept = stream.keep ? new KeptValues() : null;
  const values = new Float64Array(BLOCK);
  const someRows = new Int32Array(BLOCK);
  const someGroups = new Int32Array(BLOCK);
  const isSum = countsRecords && wants.sum && !wants.min && !wants.max && !kept;
  const summed = (isSum && operand?.compiled.column?.values) || null;
  return {
    tally,
    summed,
    kept,
    countsRecords,
    grow(size) {
      if (!countsRecords) tally.count = grown(tally.count, size, 0);
      if (wants.sum) tally.sum = grown(tally.sum, size, 0);
      if (wants.min) tally.min = grown(tally.min, size, Infinity);
      if (wants.max) tally.max = grown(tally.max, size, -Infinity);
    },
    add({ rows: allRows, groups: allGroups }, allCount) {
      if (summed) {
        sumChosen(tally.sum, allGroups, summed, allRows, allCount);
        return;
      }
      let [rows, groups, count] = [allRows, allGroups, allCount];
      if (where) {
        count = 0;
        for (let k = 0; k < allCount; k++) {
          if (!where(allRows[k])) continue;
          someRows[count] = allRows[k];
          someGroups[count++] = allGroups[k];
        }
        [rows, groups] = [someRows, someGroups];
      }
      if (!operand) {
        if (!countsRecords) countGroups(tally.count, groups, count);
        return;
      }
      operand.compiled.evaluate(rows, count, values);
      kept?.push(values, groups, count);
      const { sum, min, max } = tally;
      if (countsRecords) {
        if (wants.sum) sumBlock(sum, groups, values, count);
      } else {
        for (let k = 0; k < count; k++) {
          const value = values[k];
          if (value !== value) continue;
          tally.count[groups[k]]++;
          if (wants.sum) sum[groups[k]] += value;
        }
      }
      if (wants.min) for (let k = 0; k < count; k++) if (values[k] < min[groups[k]]) min[groups[k]] = values[k];
      if (wants.max) for (let k = 0; k < count; k++) if (values[k] > max[groups[k]]) max[groups[k]] = values[k];
    },
  };
}
