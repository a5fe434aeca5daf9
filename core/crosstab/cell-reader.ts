import type { CellValue } from '../formula/index.ts';
import type { AxisTree } from './axis.ts';
import type { ContextCells } from './context-cells.ts';
import type { CrosstabPlan } from './plan.ts';

/** What reads the values of a cross-tab, in the order in which its members are shown. */
export interface CellReader {
  readonly plan: CrosstabPlan;
  readonly side: AxisTree;
  readonly top: AxisTree;
  /** The number in a cell; NaN is "no value", or a text. */
  value(measure: string, side: number, top: number): number;
  /** What a cell holds, texts too. */
  cell(measure: string, side: number, top: number): CellValue;
  /** Why a cell holds nothing; empty where it holds something. */
  reason(measure: string, side: number, top: number): string;
  /** How many records of any fact stand behind each member of an axis, on its own dates or on those that its formulas go to. */
  recordsAlong(which: 'side' | 'top'): Float64Array;
  /** How many records of one fact part stand behind a cell, on its own dates. */
  partRecords(part: number, side: number, top: number): number;
}

/** The figures that formulas are calculated of. */
export interface CubeCells {
  readonly plan: CrosstabPlan;
  readonly side: AxisTree;
  readonly top: AxisTree;
  /** By the key of the context; the cell's own comes first. */
  readonly contexts: ReadonlyMap<string, ContextCells>;
  recordsAlong(which: 'side' | 'top'): Float64Array;
  partRecords(part: number, side: number, top: number): number;
}
