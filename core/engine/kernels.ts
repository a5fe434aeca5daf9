/**
 * The loops that every record passes through. They are plain functions of typed arrays at the top of a module, so that
 * the engine compiles each of them once and keeps it; loops inside closures are compiled anew with every query.
 */

/** One more record in each group: `records[g]++`. */
export function countGroups(records: Float64Array, groups: Int32Array, count: number): void {
  for (let k = 0; k < count; k++) records[groups[k]] += 1;
}

/** Adds the records from `start` on, one after another: `sum[g] += values[record]`. */
export function sumStraight(sum: Float64Array, groups: Int32Array, values: Int32Array | Float64Array, start: number, count: number): void {
  for (let k = 0; k < count; k++) sum[groups[k]] += values[start + k];
}

/** Adds chosen records: `sum[g] += values[record]`. */
export function sumChosen(sum: Float64Array, groups: Int32Array, values: Int32Array | Float64Array, rows: Int32Array, count: number): void {
  for (let k = 0; k < count; k++) sum[groups[k]] += values[rows[k]];
}

/** Adds values that were worked out for a block. */
export function sumBlock(sum: Float64Array, groups: Int32Array, values: Float64Array, count: number): void {
  for (let k = 0; k < count; k++) sum[groups[k]] += values[k];
}

/** The share of the first part in the group numbers of a block. */
export function lookUp(groups: Int32Array, local: Int32Array, reference: Int32Array, from: number, count: number): void {
  for (let k = 0; k < count; k++) groups[k] = local[reference[from + k]];
}

/** The share of a further part. */
export function lookUpMore(groups: Int32Array, local: Int32Array, reference: Int32Array, from: number, count: number): void {
  for (let k = 0; k < count; k++) groups[k] += local[reference[from + k]];
}

/** Numbers from `from` on. */
export function countUp(rows: Int32Array, from: number, count: number): void {
  for (let k = 0; k < count; k++) rows[k] = from + k;
}
