import { aggregateOfCounts, aggregateOfValues, compareText, mergeOf, scalarNamed, type CountedValue } from '../engine/index.ts';
import { periodKey, periodRange } from '../calendar/index.ts';
import { type Cell, type CellValue, type Position } from '../formula/index.ts';
import { factKnows, fieldPlace, type Period } from '../model/index.ts';
import type { ContextAxis } from './context-axis.ts';
import type { ContextCells } from './context-cells.ts';
import { stepAlong, type AxisName } from './contexts.ts';
import type { CellReader, CubeCells } from './cell-reader.ts';
import { periodOf } from './date-frames.ts';
import { datesKey, isCombined, isExtra, reasonBelow } from './plan.ts';
import { liftIn } from './resolve.ts';

/** The members under each node in the order in which they are shown; nodes that are not told keep the order they were found in. */
export interface ShownOrder {
  side: ReadonlyMap<number, readonly number[]>;
  top: ReadonlyMap<number, readonly number[]>;
}

/** Members so far along an axis, for `running`. */
interface Run {
  axis: 'side' | 'top';
  line: readonly number[];
  /** What aggregates come to up to each member, by what they are. */
  prefixes: Map<string, Float64Array>;
  /** The same of what goes through members: by the part of the formula, and then by the other axis and the member around it. */
  over: Map<Cell, Map<string, Float64Array>>;
  /** The same members in other contexts. */
  within: Map<string, Run>;
}

/** Members in an order, with the place of each. */
interface Line {
  line: readonly number[];
  places: ReadonlyMap<number, number>;
}

/** Where a part of a formula is calculated. */
interface CellPoint {
  cells: ContextCells;
  side: number;
  top: number;
  per: number;
  run?: { of: Run; upTo: number };
}

const orNull = (value: number): number | null => (Number.isNaN(value) ? null : value);

/** Works out formulas in the cells of a cube. */
export class CellEvaluation implements CellReader {
  readonly plan: CubeCells['plan'];
  readonly side: CubeCells['side'];
  readonly top: CubeCells['top'];
  private readonly remembered = new Map<Cell, Map<string, Map<number, CellValue>>>();
  private readonly edges = new Map<string, Record<AxisName, Int32Array | null>>();
  private readonly runs = new Map<string, Run>();

  constructor(
    private readonly cube: CubeCells,
    private readonly order: ShownOrder | null,
  ) {
    this.plan = cube.plan;
    this.side = cube.side;
    this.top = cube.top;
  }

  recordsAlong(which: 'side' | 'top'): Float64Array {
    return this.cube.recordsAlong(which);
  }

  partRecords(part: number, side: number, top: number): number {
    return this.cube.partRecords(part, side, top);
  }

  value(measure: string, side: number, top: number): number {
    const value = this.cell(measure, side, top);
    return typeof value === 'number' ? value : Number.NaN;
  }

  cell(measure: string, side: number, top: number): CellValue {
    const planned = this.plan.measures.find(({ name }) => name === measure);
    if (!planned) return null;
    const [cells] = this.cube.contexts.values();
    return this.evaluate(planned.plan.cell, { cells, side, top, per: 0 });
  }

  reason(measure: string, side: number, top: number): string {
    const planned = this.plan.measures.find(({ name }) => name === measure);
    if (!planned) return 'This measure is not in the table.';
    const [cells] = this.cube.contexts.values();
    return this.whyNothing(planned.plan.cell, { cells, side, top, per: 0 });
  }

  /** Why a part of a formula has no value, reported at the first part without one; empty where it has one. */
  private whyNothing(cell: Cell, point: CellPoint): string {
    if (this.evaluate(cell, point) !== null) return '';
    if (isNowhere(point)) return 'There is no such member here.';
    switch (cell.kind) {
      case 'measure':
        return this.whyNothing(cell.cell, point);
      case 'aggregate':
        return this.whyNothingCounted(cell, point);
      case 'apply': {
        const missing = cell.args.find((arg) => this.evaluate(arg, point) === null);
        if (missing) return this.whyNothing(missing, point);
        return cell.fn === '/' || cell.fn === '%' ? 'It is divided by zero.' : 'The formula has no result for these values.';
      }
      case 'choose': {
        const taken = cell.branches.find(({ when }) => this.evaluate(when, point) === 1);
        if (taken) return this.whyNothing(taken.then, point);
        const unknown = cell.branches.find(({ when }) => this.evaluate(when, point) === null);
        if (cell.branches.every(({ when }) => this.evaluate(when, point) === null) && unknown) return this.whyNothing(unknown.when, point);
        return cell.otherwise ? this.whyNothing(cell.otherwise, point) : 'None of the conditions of the formula holds here.';
      }
      case 'at':
      case 'moved':
      case 'unfiltered':
        return this.whyNothing(cell.operand, this.enter(cell, point));
      case 'per':
      case 'ofCounts':
        return this.membersWithin(cell, point).length > 0 ? 'No member has a value here.' : this.whyNoMembers(cell, point);
      case 'position':
        return this.whyNoPlace(cell, point);
      case 'periods':
        return 'There are no dates to count here.';
      default:
        return 'The formula gives no value here.';
    }
  }

  private whyNoMembers(cell: Extract<Cell, { kind: 'per' | 'ofCounts' }>, point: CellPoint): string {
    const { planned } = this.cube.contexts.get(point.cells.planned.within.get(cell)!)!;
    const reasons = planned.perParts.map((part) => this.plan.parts[part].reason);
    return reasons.find((reason) => reason !== '') ?? 'No member has records here.';
  }

  private whyNothingCounted(cell: Extract<Cell, { kind: 'aggregate' }>, point: CellPoint): string {
    const slot = point.cells.planned.slots.get(cell);
    const part = slot && this.plan.parts[slot.part];
    if (!part) return 'The formula gives no value here.';
    if (!part.query) return part.reason;
    const { cells, side, top, per } = point;
    const fields = [cells.side.along(side), cells.top.along(top), cells.per.along(per)].flatMap((along) => along.fields);
    const unknown = fields.find((field) => !factKnows(this.plan.dataset, part.fact, field));
    if (unknown !== undefined) return reasonBelow(this.plan.dataset, part.fact, unknown);
    if (point.cells.records(slot.part, point.side, point.top, point.per) > 0) return 'None of the records behind this has a value for it.';
    return part.reason || 'No records stand behind this.';
  }

  private whyNoPlace(cell: Position, point: CellPoint): string {
    const { path } = point.cells[cell.axis].along(point[cell.axis]);
    const line = cell.axis === 'side' ? 'row' : 'column';
    if (path.length === 0) return `This is the total of all ${line}s, which has no place among them.`;
    if (isCombined(path.at(-1)!)) return `This ${line} stands for several members, which have no one place among the others.`;
    if (cell.fn === 'previous') return `There is no ${line} before this one, or it has no value.`;
    if (cell.fn === 'next') return `There is no such ${line} after this one, or it has no value.`;
    return this.whyNothing(cell.operand, point) || 'The formula gives no value here.';
  }

  private evaluate(cell: Cell, point: CellPoint): CellValue {
    switch (cell.kind) {
      case 'constant':
        return cell.value;
      case 'measure':
        return this.evaluate(cell.cell, point);
      case 'aggregate':
        return this.aggregate(cell, point);
      case 'apply':
        return scalarNamed(cell.fn).work(cell.args.map((arg) => this.evaluate(arg, point)));
      case 'choose':
        return this.choose(cell, point);
      case 'at':
      case 'moved':
      case 'unfiltered':
        return this.evaluate(cell.operand, this.enter(cell, point));
      case 'per':
        return this.memoized(cell, point, () => this.overMembers(cell, point));
      case 'ofCounts':
        return this.memoized(cell, point, () => this.ofCounts(cell, point));
      case 'periods':
        return isNowhere(point) ? null : this.countPeriods(cell.fact, cell.period, point);
      case 'position':
        return isNowhere(point) ? null : this.memoized(cell, point, () => this.position(cell, point));
      case 'levelIs':
        if (isNowhere(point)) return null;
        return Number(
          [point.cells.side.along(point.side), point.cells.top.along(point.top)].some(({ fields }) => fields.at(-1) === cell.field),
        );
      case 'isTotal':
        if (isNowhere(point)) return null;
        return Number(cell.axes.some((axis) => this.plan[axis].length > 0 && point.cells[axis].along(point[axis]).path.length === 0));
    }
  }

  /** Where every condition is unknown there is no value, whatever "else" says: below the grain of a target nothing is missed. */
  private choose({ branches, otherwise }: Extract<Cell, { kind: 'choose' }>, point: CellPoint): CellValue {
    let known = false;
    for (const { when, then } of branches) {
      const truth = this.evaluate(when, point);
      if (truth === 1) return this.evaluate(then, point);
      known ||= truth === 0;
    }
    return known && otherwise ? this.evaluate(otherwise, point) : null;
  }

  private aggregate(cell: Extract<Cell, { kind: 'aggregate' }>, point: CellPoint): CellValue {
    const slot = point.cells.planned.slots.get(cell);
    if (!slot) return null;
    if (point.run) return orNull(this.prefix(cell, slot, point, point.run));
    const value = point.cells.value(slot.part, slot.aggregate, point.side, point.top, point.per);
    if (Number.isNaN(value)) return null;
    return point.cells.text(slot.part, slot.aggregate, value) ?? value;
  }

  /** The cell's place in the context of what stands inside a part of a formula. */
  private enter(cell: Extract<Cell, { kind: 'at' | 'moved' | 'unfiltered' }>, point: CellPoint): CellPoint {
    const key = point.cells.planned.within.get(cell)!;
    const cells = this.cube.contexts.get(key)!;
    const edge = this.edgeTo(point.cells, cells, cell);
    const through = (axis: AxisName, index: number): number => (index < 0 ? -1 : edge[axis] ? edge[axis][index] : index);
    const run = point.run && { of: this.runWithin(point.run.of, cells, edge), upTo: point.run.upTo };
    return { cells, side: through('side', point.side), top: through('top', point.top), per: through('per', point.per), run };
  }

  private edgeTo(
    from: ContextCells,
    to: ContextCells,
    cell: Extract<Cell, { kind: 'at' | 'moved' | 'unfiltered' }>,
  ): Record<AxisName, Int32Array | null> {
    const id = `${from.planned.context.key} ${to.planned.context.key}`;
    let edge = this.edges.get(id);
    if (!edge) {
      const place = cell.kind === 'at' && to.planned.context.steps.length > from.planned.context.steps.length ? cell.place : null;
      const lift = liftIn(this.plan.resolved);
      const along = (axis: AxisName): Int32Array | null => {
        // Axes of the same steps are numbered alike; members that are gone through are found anew.
        if (!place && axis !== 'per') return null;
        return Int32Array.from({ length: from[axis].size }, (_, index) => {
          const own = from[axis].along(index);
          const other = place ? stepAlong(this.plan.dataset, axis, { kind: 'place', place }, own, lift) : own;
          return other ? to[axis].find(other) : -1;
        });
      };
      this.edges.set(id, (edge = { side: along('side'), top: along('top'), per: along('per') }));
    }
    return edge;
  }

  private memoized(cell: Cell, point: CellPoint, work: () => CellValue): CellValue {
    if (point.run) return work();
    const { key } = point.cells.planned.context;
    let byContext = this.remembered.get(cell);
    if (!byContext) this.remembered.set(cell, (byContext = new Map<string, Map<number, CellValue>>()));
    let known = byContext.get(key);
    if (!known) byContext.set(key, (known = new Map()));
    const number = (point.per * point.cells.side.size + point.side) * point.cells.top.size + point.top;
    let value = known.get(number);
    if (value === undefined) known.set(number, (value = work()));
    return value;
  }

  /** An aggregate over the members that have records in the cell; the missing member does not count. */
  private overMembers(cell: Extract<Cell, { kind: 'per' }>, point: CellPoint): CellValue {
    const counted = point.run && countedOf(cell);
    if (counted) return this.overMembersSoFar(cell, counted, point, distinctSoFar());
    const members = this.membersWithin(cell, point);
    // None of the members that there are is 0; where there are none, nothing is counted.
    if (members.length === 0) return null;
    const values: number[] = [];
    for (const own of members) {
      if (cell.where && this.evaluate(cell.where, own) !== 1) continue;
      const value = cell.operand ? this.evaluate(cell.operand, own) : 1;
      if (typeof value === 'number') values.push(value);
    }
    return orNull(aggregateOfValues(cell.fn, Float64Array.from(values), cell.fraction));
  }

  /** An aggregate by the values of a field: these are the members that are gone through. */
  private ofCounts(cell: Extract<Cell, { kind: 'ofCounts' }>, point: CellPoint): CellValue {
    if (point.run && cell.counted.kind === 'aggregate') {
      const { per } = this.cube.contexts.get(point.cells.planned.within.get(cell)!)!;
      return this.overMembersSoFar(
        cell,
        cell.counted,
        point,
        countsSoFar(cell, (member) => valueOfMember(per, member, cell.field)),
      );
    }
    const values: CountedValue[] = [];
    for (const own of this.membersWithin(cell, point)) {
      const count = this.evaluate(cell.counted, own);
      if (typeof count === 'number') values.push({ value: valueOfMember(own.cells.per, own.per, cell.field), count });
    }
    return orNull(aggregateOfCounts(cell.fn, values, cell.fraction));
  }

  /** The places of the members that are gone through in a cell: those that have records there. */
  private membersWithin(cell: Extract<Cell, { kind: 'per' | 'ofCounts' }>, point: CellPoint): CellPoint[] {
    const cells = this.cube.contexts.get(point.cells.planned.within.get(cell)!)!;
    if (isNowhere(point)) return [];
    const outer = point.cells.per.along(point.per).path;
    const { run } = point;
    const inner = run && { of: this.runWithin(run.of, cells, { side: null, top: null, per: null }), upTo: run.upTo };
    const found: CellPoint[] = [];
    for (const per of run ? this.membersSoFar(cells, point, run) : cells.membersIn(point.side, point.top)) {
      if (!isWithin(cells.per.along(per).path, outer)) continue;
      found.push({ cells, side: point.side, top: point.top, per, run: inner });
    }
    return found;
  }

  /**
   * What follows from how often each member stands in the records so far, all along a line in one pass. What is gone through in each
   * place anew takes the square of their number.
   */
  private overMembersSoFar(
    cell: Extract<Cell, { kind: 'per' | 'ofCounts' }>,
    counted: Extract<Cell, { kind: 'aggregate' }>,
    point: CellPoint,
    sofar: CountsSoFar,
  ): CellValue {
    const { of: run, upTo } = point.run!;
    if (isNowhere(point)) return null;
    const cells = this.cube.contexts.get(point.cells.planned.within.get(cell)!)!;
    const slot = cells.planned.slots.get(counted);
    let byPlace = run.over.get(cell);
    if (!byPlace) run.over.set(cell, (byPlace = new Map<string, Float64Array>()));
    const across = run.axis === 'side' ? point.top : point.side;
    const id = `${point.cells.planned.context.key} ${across} ${point.per}`;
    let values = byPlace.get(id);
    if (!values) {
      const outer = point.cells.per.along(point.per).path;
      let isAny = false;
      const seen = new Set<number>();
      values = Float64Array.from(run.line, (index) => {
        const [side, top] = run.axis === 'side' ? [index, across] : [across, index];
        // Several members may stand in one place of another context.
        const members = seen.has(index) ? [] : cells.membersIn(side, top);
        seen.add(index);
        for (const member of members) {
          if (!isWithin(cells.per.along(member).path, outer)) continue;
          isAny = true;
          const count = slot ? cells.value(slot.part, slot.aggregate, side, top, member) : Number.NaN;
          if (!Number.isNaN(count)) sofar.take(member, count);
        }
        return isAny ? sofar.value() : Number.NaN;
      });
      byPlace.set(id, values);
    }
    return orNull(values[upTo] ?? Number.NaN);
  }

  private membersSoFar(cells: ContextCells, point: CellPoint, { of: run, upTo }: NonNullable<CellPoint['run']>): Set<number> {
    const members = new Set<number>();
    for (const index of run.line.slice(0, upTo + 1)) {
      const [side, top] = run.axis === 'side' ? [index, point.top] : [point.side, index];
      for (const member of cells.membersIn(side, top)) members.add(member);
    }
    return members;
  }

  private countPeriods(fact: string, period: Period, { cells, side, top, per }: CellPoint): CellValue {
    const members = new Map<string, string | null>();
    for (const axis of [cells.side.along(side), cells.top.along(top), cells.per.along(per)])
      axis.fields.forEach((field, level) => members.set(field, axis.path[level]));
    const calendar = this.plan.resolved.calendars.get(fact);
    if (!calendar) return null;
    const fields = [...members.keys()].filter((field) => periodOf(this.plan.dataset, calendar, field)).sort();
    const ranges = this.plan.resolved.dates
      .get(datesKey(fact, cells.planned.context.key, fields))
      ?.get(JSON.stringify(fields.map((field) => members.get(field))));
    if (!ranges || ranges.length === 0) return null;
    const yearStart = calendar.yearStart ?? 1;
    const keys = new Set<string>();
    for (const { first, last } of ranges)
      for (let day = first; day <= last;) {
        const key = periodKey(period, day, yearStart);
        keys.add(key);
        day = periodRange(period, key, yearStart)!.last + 1;
      }
    return keys.size;
  }

  private position(cell: Position, point: CellPoint): CellValue {
    const { axis } = cell;
    const own = point[axis];
    const { path } = point.cells[axis].along(own);
    // Nothing stands before, after or above the total of an axis.
    // What is counted beside it too has no place among the others.
    if (path.length === 0 || isExtra(path.at(-1)!)) return null;
    const at = (index: number): CellValue => this.evaluate(cell.operand, { ...point, [axis]: index });
    switch (cell.fn) {
      case 'rank':
        return isCombined(path.at(-1)!) ? null : this.rank(cell, point, at);
      case 'running': {
        const { line, places } = this.siblings(point.cells, axis, own);
        return this.evaluate(cell.operand, { ...point, run: { of: this.runOf(axis, point.cells, line), upTo: places.get(own) ?? -1 } });
      }
      case 'previous':
      case 'next':
      case 'moving_avg': {
        const { line, places } = this.neighbours(point.cells, axis, own);
        const place = places.get(own) ?? -1;
        if (cell.fn === 'previous') return place > 0 ? at(line[place - 1]) : null;
        if (cell.fn === 'next') return place >= 0 && place + cell.count < line.length ? at(line[place + cell.count]) : null;
        const values = line
          .slice(Math.max(0, place - cell.count + 1), place + 1)
          .map(at)
          .filter((value) => typeof value === 'number');
        return values.length > 0 ? values.reduce((sum, value) => sum + value, 0) / values.length : null;
      }
    }
  }

  /** Standard competition ranking: 1, 1, 3. */
  private rank(cell: Position, point: CellPoint, at: (index: number) => CellValue): CellValue {
    const value = at(point[cell.axis]);
    if (typeof value !== 'number') return null;
    const axis = point.cells[cell.axis];
    const peers = cell.within === 'parent' ? axis.siblings(point[cell.axis]) : peersOf(axis, point[cell.axis]);
    const id = JSON.stringify([
      point.cells.planned.context.key,
      cell.axis === 'side' ? point.top : point.side,
      point.per,
      cell.within === 'parent' ? peers[0] : peers.length,
      axis.along(point[cell.axis]).fields,
    ]);
    let byPeers = this.ranks.get(cell);
    if (!byPeers) this.ranks.set(cell, (byPeers = new Map<string, Map<number, number>>()));
    let ranks = byPeers.get(id);
    if (!ranks) {
      const known = peers
        .filter((peer) => !isCombined(axis.along(peer).path.at(-1)!))
        .flatMap((peer) => {
          const own = at(peer);
          return typeof own === 'number' ? [own] : [];
        });
      known.sort((a, b) => (cell.order === 'asc' ? a - b : b - a));
      byPeers.set(id, (ranks = new Map()));
      for (const [place, own] of known.entries()) if (!ranks.has(own)) ranks.set(own, place + 1);
    }
    return ranks.get(value) ?? null;
  }
  private readonly ranks = new Map<Cell, Map<string, Map<number, number>>>();

  /** Members under the same parent, in the order in which they are shown; found once. */
  private siblings(cells: ContextCells, axis: 'side' | 'top', index: number): Line {
    const family = cells[axis].family(index);
    return this.lineOf(`${cells.planned.context.key} ${axis} ${family}`, () => {
      const isMoved = cells.planned.context.steps.some(({ kind }) => kind === 'place');
      const shown = isMoved ? undefined : this.order?.[axis].get(this[axis].nodes[index].parent);
      const isCounted = (one: number): boolean => !isExtra(cells[axis].along(one).path.at(-1) ?? null);
      if (shown?.includes(index)) return shown.filter(isCounted);
      // Where no order is known it is that of the members themselves, not the one they were found in.
      const named = cells[axis]
        .siblings(index)
        .filter(isCounted)
        .map((one) => ({ one, member: cells[axis].along(one).path.at(-1) ?? null }));
      return named.sort((a, b) => byMember(a.member, b.member)).map(({ one }) => one);
    });
  }

  /** Members that come one after another: periods in the order of time across their parents, others under their parent. */
  private neighbours(cells: ContextCells, axis: 'side' | 'top', index: number): Line {
    const { fields, path } = cells[axis].along(index);
    const isPeriod = (level: number): boolean => {
      const place = fieldPlace(this.plan.dataset, fields[level]);
      return place.kind === 'period' && place.level.period !== 'weekday';
    };
    if (!isPeriod(fields.length - 1)) {
      const { line } = this.siblings(cells, axis, index);
      return this.lineOf(`${cells.planned.context.key} ${axis} named ${cells[axis].family(index)}`, () =>
        line.filter((one) => !isCombined(cells[axis].along(one).path.at(-1)!)),
      );
    }
    const parent = path.map((member, level) => (isPeriod(level) ? '' : member));
    return this.lineOf(JSON.stringify([cells.planned.context.key, axis, fields, parent]), () => {
      const times = peersOf(cells[axis], index)
        .map((one) => ({ one, path: cells[axis].along(one).path }))
        .filter((peer) => peer.path.at(-1) !== null && !isCombined(peer.path.at(-1)!))
        .filter((peer) => parent.every((member, level) => member === '' || peer.path[level] === member));
      return times.sort((a, b) => (a.path.at(-1)! < b.path.at(-1)! ? -1 : 1)).map(({ one }) => one);
    });
  }

  private lineOf(id: string, find: () => readonly number[]): Line {
    let known = this.lines.get(id);
    if (!known) {
      const line = find();
      this.lines.set(id, (known = { line, places: new Map(line.map((one, place) => [one, place])) }));
    }
    return known;
  }
  private readonly lines = new Map<string, Line>();

  private runOf(axis: 'side' | 'top', cells: ContextCells, line: readonly number[]): Run {
    const id = JSON.stringify([cells.planned.context.key, axis, line[0]]);
    let run = this.runs.get(id);
    if (!run) this.runs.set(id, (run = { axis, line, prefixes: new Map(), over: new Map(), within: new Map() }));
    return run;
  }

  private runWithin(run: Run, cells: ContextCells, edge: Record<AxisName, Int32Array | null>): Run {
    const { key } = cells.planned.context;
    let inner = run.within.get(key);
    const through = edge[run.axis];
    if (!inner) {
      const line = through ? run.line.map((index) => through[index]) : run.line;
      run.within.set(key, (inner = { axis: run.axis, line, prefixes: new Map(), over: new Map(), within: new Map() }));
    }
    return inner;
  }

  /** An aggregate over the records of the members so far; several of them may stand in one place of another context. */
  private prefix(
    cell: Extract<Cell, { kind: 'aggregate' }>,
    slot: { part: number; aggregate: number },
    point: CellPoint,
    { of: run, upTo }: NonNullable<CellPoint['run']>,
  ): number {
    const { cells } = point;
    const across = run.axis === 'side' ? point.top : point.side;
    const id = `${slot.part} ${slot.aggregate} ${across} ${point.per}`;
    let prefix = run.prefixes.get(id);
    if (!prefix) {
      prefix = new Float64Array(run.line.length);
      const merge = mergeOf(cell.call.fn);
      const seen = new Set<number>();
      let sofar = Number.NaN;
      run.line.forEach((index, place) => {
        if (!seen.has(index)) {
          seen.add(index);
          const [side, top] = run.axis === 'side' ? [index, across] : [across, index];
          const value = cells.value(slot.part, slot.aggregate, side, top, point.per);
          if (!Number.isNaN(value)) sofar = Number.isNaN(sofar) ? value : merge(sofar, value);
        }
        prefix![place] = sofar;
      });
      run.prefixes.set(id, prefix);
    }
    return prefix[upTo] ?? Number.NaN;
  }
}

/** Whether a member that is gone through is one of those within another, and is none that is missing. */
const isWithin = (path: readonly (string | null)[], outer: readonly (string | null)[]): boolean =>
  outer.every((member, index) => path[index] === member) && !path.slice(outer.length).includes(null);

/** The number that a member of a field stands for. */
function valueOfMember(per: ContextAxis, member: number, field: string): number {
  const { fields, path } = per.along(member);
  return Number(path[fields.indexOf(field)]);
}

/** Takes in how often members stand in further records, and says what follows from all so far. */
interface CountsSoFar {
  take(member: number, count: number): void;
  value(): number;
}

/** The count of a part that counts the members with any: how a running distinct count is written. */
function countedOf({ fn, operand, where }: Extract<Cell, { kind: 'per' }>): Extract<Cell, { kind: 'aggregate' }> | null {
  if (fn !== 'count' || operand !== null || where?.kind !== 'apply' || where.fn !== '>') return null;
  const [counted, than] = where.args;
  const isAny = than.kind === 'constant' && than.value === 0;
  return isAny && counted.kind === 'aggregate' && counted.call.fn === 'count' ? counted : null;
}

function distinctSoFar(): CountsSoFar {
  const seen = new Set<number>();
  return {
    take(member, count) {
      if (count > 0) seen.add(member);
    },
    value: () => seen.size,
  };
}

function countsSoFar({ fn, fraction }: Extract<Cell, { kind: 'ofCounts' }>, valueOf: (member: number) => number): CountsSoFar {
  const known = new Map<number, CountedValue>();
  // In order, so that putting them in order again takes one pass.
  const values: CountedValue[] = [];
  return {
    take(member, count) {
      const before = known.get(member);
      if (before) {
        before.count += count;
        return;
      }
      const own = { value: valueOf(member), count };
      known.set(member, own);
      values.push(own);
    },
    value() {
      values.sort((a, b) => a.value - b.value);
      return aggregateOfCounts(fn, values, fraction);
    },
  };
}

/** Missing members and all others come last. */
function byMember(a: string | null, b: string | null): number {
  const rank = (member: string | null): number => (member === null ? 2 : isCombined(member) ? 1 : 0);
  return rank(a) - rank(b) || (a === null || b === null ? 0 : compareText(a, b));
}

/** In this context there is no such member. */
const isNowhere = ({ side, top, per }: CellPoint): boolean => side < 0 || top < 0 || per < 0;

const sameFields = (a: readonly string[], b: readonly string[]): boolean =>
  a.length === b.length && a.every((field, index) => field === b[index]);

/** All members of an axis that stand under the same fields. */
function peersOf(axis: ContextAxis, index: number): number[] {
  const { fields } = axis.along(index);
  const peers: number[] = [];
  for (let one = 0; one < axis.size; one++) if (sameFields(axis.along(one).fields, fields)) peers.push(one);
  return peers;
}
