import type { AggregateCall, ScalarName, ScalarType, ScalarValue } from '../engine/index.ts';
import type { ShiftUnit } from '../calendar/index.ts';
import type { AggregateName, CountedAggregate, Period } from '../model/index.ts';

/** What a cell holds. */
export type CellValue = ScalarValue;
export type CellType = ScalarType;

/** Which members of its axes a cell stands under after `at`. */
export type Place =
  | { to: 'level'; field: string }
  /** One level up on an axis. */
  | { to: 'parent'; axis: 'side' | 'top' }
  /** Without any member of these axes. */
  | { to: 'total'; axes: ('side' | 'top')[] };

/** How the dates of a cell become other dates. */
export type DateMove =
  | { kind: 'back'; amount: number; unit: ShiftUnit }
  /** From the start of the period that the last date lies in. */
  | { kind: 'to_date'; period: Period }
  /** The window of this length that ends with the last date. */
  | { kind: 'rolling'; amount: number; unit: ShiftUnit }
  /** The first or the last date that the fact has records of. */
  | { kind: 'edge'; edge: 'first' | 'last' }
  /** The whole period that the last date lies in. */
  | { kind: 'whole'; period: Period };

export type PositionName = 'rank' | 'running' | 'moving_avg' | 'previous' | 'next';

/** Where a cell stands among others. */
export interface Position {
  kind: 'position';
  fn: PositionName;
  operand: Cell;
  axis: 'side' | 'top';
  /** Of `rank`: among the members under the same parent, or all of the level. */
  within: 'parent' | 'column';
  /** Of `rank`. */
  order: 'asc' | 'desc';
  /** Of `moving_avg`: how many neighbours, the cell itself among them; of `next` how many steps on. */
  count: number;
}

/** A measure formula, checked: one value per cell. */
export type Cell =
  | { kind: 'constant'; value: CellValue }
  | { kind: 'aggregate'; fact: string; call: AggregateCall }
  /** Worked out of values of the same cell, by a function of `SCALARS`. */
  | { kind: 'apply'; fn: ScalarName; args: Cell[] }
  | { kind: 'choose'; branches: { when: Cell; then: Cell }[]; otherwise: Cell | null }
  /** A measure that the formula names. */
  | { kind: 'measure'; name: string; cell: Cell }
  | { kind: 'at'; operand: Cell; place: Place }
  | { kind: 'unfiltered'; operand: Cell }
  | { kind: 'moved'; operand: Cell; move: DateMove }
  /** An aggregate over the members of levels; no operand counts them. */
  | { kind: 'per'; fn: AggregateName; fraction: number; operand: Cell | null; fields: string[]; where: Cell | null; facts: string[] }
  /** An aggregate over the records of a cell, by the values of a field and how many records have each: `counted`. */
  | { kind: 'ofCounts'; fn: CountedAggregate; fraction: number; field: string; counted: Cell; facts: string[] }
  /** How many periods of a level the dates of the cell touch. */
  | { kind: 'periods'; fact: string; period: Period }
  | Position
  | { kind: 'levelIs'; field: string }
  | { kind: 'isTotal'; axes: ('side' | 'top')[] };

/** The parts of a formula that are calculated first. */
export function partsOfCell(cell: Cell): Cell[] {
  switch (cell.kind) {
    case 'apply':
      return cell.args;
    case 'choose':
      return [...cell.branches.flatMap(({ when, then }) => [when, then]), ...(cell.otherwise ? [cell.otherwise] : [])];
    case 'measure':
      return [cell.cell];
    case 'at':
    case 'unfiltered':
    case 'moved':
    case 'position':
      return [cell.operand];
    case 'per':
      return [...(cell.operand ? [cell.operand] : []), ...(cell.where ? [cell.where] : [])];
    case 'ofCounts':
      return [cell.counted];
    default:
      return [];
  }
}

/** Whether a formula goes by where its cell stands on the axes, and not by the conditions of the cell alone. */
export function goesByPlace(cell: Cell): boolean {
  const kinds: Cell['kind'][] = ['at', 'unfiltered', 'position', 'levelIs', 'isTotal'];
  // A balance is that of one date for all rows of a column.
  return [...everyPart(cell)].some((part) => kinds.includes(part.kind) || (part.kind === 'moved' && part.move.kind === 'edge'));
}

/** Every part of a formula, itself among them, each once: parts may be used in several places. */
export function everyPart(cell: Cell): Set<Cell> {
  const parts = new Set<Cell>();
  const visit = (part: Cell): void => {
    if (parts.has(part)) return;
    parts.add(part);
    partsOfCell(part).forEach(visit);
  };
  visit(cell);
  return parts;
}

/** A window of dates takes in records of many others, and an aggregate over members is calculated for each of them. */
const WORK_OF_WINDOW = 10;
const WORK_OF_MEMBERS = 20;

/** About how much is calculated for a cell: its parts, where those inside windows and over members count many times. */
export function workOf(cell: Cell): number {
  let work = works.get(cell);
  if (work === undefined) {
    const inner = partsOfCell(cell).reduce((sum, part) => sum + workOf(part), 1);
    const isWindow = cell.kind === 'moved' && (cell.move.kind === 'rolling' || cell.move.kind === 'to_date');
    work = inner * (isWindow ? WORK_OF_WINDOW : cell.kind === 'per' ? WORK_OF_MEMBERS : 1);
    works.set(cell, work);
  }
  return work;
}
const works = new WeakMap<Cell, number>();

const sizes = new WeakMap<Cell, number>();

/** How many parts are calculated for a cell, where those that are used in several places count each time. */
export function sizeOf(cell: Cell): number {
  let size = sizes.get(cell);
  if (size === undefined) sizes.set(cell, (size = partsOfCell(cell).reduce((sum, part) => sum + sizeOf(part), 1)));
  return size;
}
