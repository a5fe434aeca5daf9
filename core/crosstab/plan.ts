import type { DayRange } from '../calendar/index.ts';
import type { AggregateCall, Query, QueryResult } from '../engine/index.ts';
import { partsOfCell, planMeasure, type Cell, type MeasurePlan } from '../formula/index.ts';
import {
  allOf,
  axisOver,
  factKnows,
  factNamed,
  fieldLabel,
  fieldPlace,
  fieldsOf,
  linkTo,
  type CalendarDimension,
  type Crosstab,
  type Dataset,
  type Fact,
  type Filter,
  type MemberGroup,
} from '../model/index.ts';
import { contextWithin, fieldsIn, OWN_CONTEXT, splitsAfterMoves, type Context } from './contexts.ts';

/** Cells times aggregates that are held at once: about 100 MB. */
export const MOST_VALUES = 12_000_000;
/** Lines of one axis that are sorted and labelled at once. */
const MOST_LINES = 400_000;

/** How deep each axis is to be calculated: number of levels. */
export interface Depths {
  side: number;
  top: number;
}

/** The fields along each axis of one set of a query. */
export interface SetFields {
  side: readonly string[];
  top: readonly string[];
  per: readonly string[];
}

/** One question about a fact: its records under one context. */
export interface FactPart {
  fact: Fact;
  context: Context;
  /** Null where the conditions cannot be answered by this fact; then `reason` says why. */
  query: Query | null;
  /** The query with every record on its own dates, from which that with moved dates is made. */
  unmoved: Query | null;
  /** The conditions of its columns: by these `opening` and `closing` find their dates, for all rows alike. */
  column: Filter | null;
  /** The fields of each set of the query. */
  sets: SetFields[];
  /** The members that it stands at in the place of levels: those of all others and of groups, and what is above them. */
  fixed: ReadonlyMap<string, string | null>;
  /** Why there is no value, or in some cells none. */
  reason: string;
  /** The dates of the grand total, and those that they are moved to; only where dates move. */
  dates?: { own: DayRange[]; moved: DayRange[] };
  /** How many levels of each axis the fact knows; in a moved context, the levels that it knows there. */
  known: Depths;
}

/** How a part of a formula is answered, by the context that it stands in. */
export interface PlannedContext {
  context: Context;
  /** Of each aggregate: its fact part and its position in that part's query. */
  slots: Map<Cell, { part: number; aggregate: number }>;
  /** The contexts of what stands inside parts of formulas. */
  within: Map<Cell, string>;
  /** The parts whose records say which members an aggregate over members goes through. */
  perParts: number[];
}

export interface PlannedMeasure {
  name: string;
  plan: MeasurePlan;
  /** The fact parts that it reads. */
  parts: number[];
}

export interface CrosstabPlan {
  dataset: Dataset;
  side: string[];
  top: string[];
  /** The conditions on every cell, without those that facts always have. */
  conditions: Filter | null;
  parts: FactPart[];
  measures: PlannedMeasure[];
  contexts: Map<string, PlannedContext>;
  /** What is found out before the parts are asked. */
  resolved: Resolved;
}

/** What a plan needs to know of the data before it can be asked. */
export interface Resolved {
  /** The member of a level for each member of a finer field, by `liftKey`; null where a member has several. */
  lifts: Map<string, Map<string, string | null>>;
  /** The dates of cells by the periods that tell them apart, for `periods`; by `datesKey`, its fields in order of their names. */
  dates: Map<string, Map<string, DayRange[]>>;
  /** The calendar that the dates of a fact are told by there. */
  calendars: Map<string, CalendarDimension>;
}

export const liftKey = (finer: string, level: string): string => `${finer} in ${level}`;
export const datesKey = (fact: string, context: string, fields: readonly string[]): string => JSON.stringify([fact, context, fields]);

/** Stands in a path for all members of a level that were not selected. No text of a database can be this. */
export const OTHERS = '\u0000';

/** How members that are put together under a name stand in a path: in the place of their members, or beside them. */
const INSTEAD = `${OTHERS}=`;
const BESIDE = `${OTHERS}+`;
/** What a difference takes off, which is shown nowhere. */
const LESS = `${OTHERS}-`;

/** What stands in a path for the members of a group, one of `soundGroups`. */
export const groupKey = ({ id, instead }: MemberGroup): string => (instead ? INSTEAD : BESIDE) + id;
export const lessKey = ({ id }: Pick<MemberGroup, 'id'>): string => LESS + id;

/**
 * The groups of a level as they can stand: each id once, and no member in the place of two groups. One that shares a member
 * with a group before it stands beside its members.
 */
export function soundGroups(groups: readonly MemberGroup[] = []): MemberGroup[] {
  const ids = new Set<string>();
  const replaced = new Set<string>();
  return groups.flatMap((group) => {
    if (ids.has(group.id)) return [];
    ids.add(group.id);
    const instead = group.instead && !group.less?.length && !group.members.some((member) => replaced.has(member));
    if (instead) group.members.forEach((member) => replaced.add(member));
    return [{ ...group, instead }];
  });
}

/** What a group takes off, by its own key, where it is a difference; null for what is no group beside its members. */
export const lessOf = (member: string | null): string | null => (member?.startsWith(BESIDE) ? LESS + member.slice(BESIDE.length) : null);

/** How the classes of a level stand in a path. No group has such an id. */
const CLASS = `${INSTEAD}:`;
/** What stands in a path for a class of members, counted from 0. */
export const classKey = (index: number): string => CLASS + index;
/** The letter of a class: A for the first; null for what is none. */
export const classLetter = (member: string | null): string | null =>
  member?.startsWith(CLASS) ? String.fromCharCode('A'.charCodeAt(0) + Number(member.slice(CLASS.length))) : null;

/** Whether a part of a path stands for several members: all others, or a group. */
export const isCombined = (member: string | null): boolean => member !== null && member.charCodeAt(0) === 0;
/** Whether it counts what is counted beside it too, so that it is part of nothing that goes over all members. */
export const isExtra = (member: string | null): boolean =>
  member !== null && isCombined(member) && (member.startsWith(BESIDE) || member.startsWith(LESS));
/** Whether it is only there to be taken off. */
export const isTakenOff = (member: string | null): boolean => member !== null && member.startsWith(LESS);

/** Members of a level that are selected under one parent as its top or bottom, and whether the rest is shown together. */
export interface SelectedMembers {
  which: 'side' | 'top';
  /** Path of the parent. */
  parent: (string | null)[];
  field: string;
  /** Position of the field on its axis. */
  level: number;
  members: (string | null)[];
  others: boolean;
  /** Members that are put together under a name there, by what stands for them in a path. */
  groups?: { key: string; members: (string | null)[] }[];
}

/** Where others stand: a path that ends with OTHERS; null on the axis whose levels are told apart. */
export interface OthersPlace {
  side: (string | null)[] | null;
  top: (string | null)[] | null;
}

/** A question about "all others", and its answers by fact part. */
export interface OthersQuestion extends OthersPlace {
  plan: CrosstabPlan;
}
export interface OthersAnswer extends OthersQuestion {
  results: (QueryResult | null)[];
}

/** Why a fact cannot answer under some conditions; empty when it can. */
export function reasonNotKnown(dataset: Dataset, fact: Fact, filter: Filter | null): string {
  const unknown = fieldsOf(filter).filter((field) => !factKnows(dataset, fact, field));
  if (unknown.length === 0) return '';
  const labels = unknown.map((field) => fieldLabel(dataset, field).toLowerCase()).join(' or ');
  return `${fact.grain ?? `${fact.label} are not kept by ${labels}`}, so under a choice of ${labels} there is no value.`;
}

/** Why a fact has no value at a level that it does not know: it is kept coarser, or has nothing to do with that dimension. */
export function reasonBelow(dataset: Dataset, fact: Fact, field: string): string {
  const place = fieldPlace(dataset, field);
  const isLinked = place.dimension !== null && linkTo(fact, place.dimension) !== undefined;
  if (isLinked) return `${fact.grain ?? `${fact.label} are kept at a coarser level`}, so there is no value here.`;
  return `${fact.label} have no ${fieldLabel(dataset, field).toLowerCase()}, so there is no value here.`;
}

/**
 * Plans which queries answer a cross-tab: one for each fact and context that its measures read, with every total down to the
 * depths. `extra` lists measures needed beside the cells' own (for indicators and order). Where a formula moves dates or
 * goes to other levels, `resolvePlan` has to fill the plan in before it is asked.
 */
export function planCrosstab(
  dataset: Dataset,
  spec: Pick<Crosstab, 'side' | 'top' | 'cells' | 'filter'>,
  scope: Filter | null,
  depths: Depths,
  extra: string[] = [],
): CrosstabPlan {
  const side = spec.side.fields.slice(0, depths.side);
  const top = spec.top.fields.slice(0, depths.top);
  const names = [...new Set([...spec.cells.map((cell) => cell.measure), ...extra])];
  const planning = new PartPlanning(dataset);
  const measures = names.map((name): PlannedMeasure => {
    const plan = planMeasure(dataset, name);
    return { name, plan, parts: planning.read(plan.cell) };
  });
  const conditions = allOf(scope, spec.filter);
  return {
    ...{ dataset, side, top, measures, conditions },
    contexts: planning.contexts,
    resolved: { lifts: new Map(), dates: new Map(), calendars: new Map() },
    parts: planning.parts.map(({ fact, context, calls }) =>
      planPart(dataset, factNamed(dataset, fact), context, side, top, conditions, calls),
    ),
  };
}

/** The conditions that a cell stands under, and those of them that are its column's. */
export interface CellConditions {
  filter: Filter | null;
  column: Filter | null;
}

/** Plans which queries answer a measure in one cell, by the conditions that it stands under. */
export function planCell(dataset: Dataset, measure: string, { filter, column }: CellConditions): CrosstabPlan {
  const none = axisOver([]);
  const plan = planCrosstab(dataset, { side: none, top: none, cells: [{ measure }], filter: null }, filter, { side: 0, top: 0 });
  for (const part of plan.parts) part.column = allOf(part.context.unfiltered ? null : column, part.fact.filter);
  return plan;
}

/** Collects what formulas read: aggregates by fact and context. */
class PartPlanning {
  readonly parts: { fact: string; context: Context; calls: AggregateCall[] }[] = [];
  readonly contexts = new Map<string, PlannedContext>();

  constructor(private readonly dataset: Dataset) {
    this.contextOf(OWN_CONTEXT);
  }

  private contextOf(context: Context): PlannedContext {
    let own = this.contexts.get(context.key);
    if (!own) this.contexts.set(context.key, (own = { context, slots: new Map(), within: new Map(), perParts: [] }));
    return own;
  }

  private partOf(fact: string, context: Context): number {
    const found = this.parts.findIndex((part) => part.fact === fact && part.context.key === context.key);
    return found >= 0 ? found : this.parts.push({ fact, context, calls: [] }) - 1;
  }

  /** Takes in a formula; returns the parts that it reads. */
  read(cell: Cell): number[] {
    const parts = new Set<number>();
    this.visit(cell, OWN_CONTEXT, parts, new Map());
    return [...parts];
  }

  /** `seen` holds the parts of the formula that were visited, by context: some are used in several places. */
  private visit(cell: Cell, context: Context, parts: Set<number>, seen: Map<string, Set<Cell>>): void {
    let visited = seen.get(context.key);
    if (!visited) seen.set(context.key, (visited = new Set()));
    if (visited.has(cell)) return;
    visited.add(cell);
    const own = this.contextOf(context);
    switch (cell.kind) {
      case 'aggregate': {
        // What stands on the axes is found by the cell's own records, whatever its formula goes by.
        this.partOf(cell.fact, OWN_CONTEXT);
        const part = this.partOf(cell.fact, context);
        parts.add(part);
        const { calls } = this.parts[part];
        const id = JSON.stringify(cell.call);
        const found = calls.findIndex((one) => JSON.stringify(one) === id);
        own.slots.set(cell, { part, aggregate: found >= 0 ? found : calls.push(cell.call) - 1 });
        return;
      }
      case 'at':
      case 'moved':
      case 'unfiltered':
      case 'ofCounts':
      case 'per': {
        const inner = contextWithin(this.dataset, context, cell);
        own.within.set(cell, inner.key);
        if (cell.kind === 'per' || cell.kind === 'ofCounts') {
          const { perParts } = this.contextOf(inner);
          for (const fact of cell.facts) {
            this.partOf(fact, OWN_CONTEXT);
            const part = this.partOf(fact, inner);
            parts.add(part);
            if (!perParts.includes(part)) perParts.push(part);
          }
        }
        for (const part of partsOfCell(cell)) this.visit(part, inner, parts, seen);
        return;
      }
      case 'periods':
        parts.add(this.partOf(cell.fact, context));
        return;
      default:
        for (const part of partsOfCell(cell)) this.visit(part, context, parts, seen);
    }
  }
}

function planPart(
  dataset: Dataset,
  fact: Fact,
  context: Context,
  side: string[],
  top: string[],
  conditions: Filter | null,
  aggregates: AggregateCall[],
): FactPart {
  const along = (axis: 'side' | 'top', fields: string[]): (readonly string[])[] =>
    Array.from({ length: fields.length + 1 }, (_, depth) => fieldsIn(dataset, context, axis, fields.slice(0, depth)));
  const knows = (fields: readonly string[]): boolean => fields.every((field) => factKnows(dataset, fact, field));
  const [sides, tops] = [along('side', side), along('top', top)];
  const per = fieldsIn(dataset, context, 'per', []);
  const depthKnown = (lists: (readonly string[])[]): number => {
    const unknown = lists.findIndex((fields) => !knows(fields));
    return (unknown < 0 ? lists.length : unknown) - 1;
  };
  const known = { side: depthKnown(sides), top: depthKnown(tops) };
  const filter = allOf(context.unfiltered ? null : conditions, fact.filter);
  const unknownPer = per.find((field) => !factKnows(dataset, fact, field));
  const reason = reasonNotKnown(dataset, fact, filter) || (unknownPer === undefined ? '' : reasonBelow(dataset, fact, unknownPer));
  const part = { fact, context, reason, known, column: filter, fixed: new Map<string, string | null>() };
  if (reason) return { ...part, query: null, unmoved: null, sets: [] };
  const sets = distinctSets(
    sides.filter(knows).flatMap((ofSide) => tops.filter(knows).map((ofTop) => ({ side: ofSide, top: ofTop, per }))),
  );
  const levels = levelsOf(dataset, context, sets);
  const isOwn = context.key === OWN_CONTEXT.key;
  const query: Query = {
    ...{ fact: fact.name, filter, levels, aggregates },
    sets: sets.map((set) => positionsOf(levels, set)),
    ...(isOwn ? { bounds: boundsOf(sets, aggregates.length) } : {}),
  };
  return { ...part, query, unmoved: query, sets };
}

/**
 * The levels of a query over some sets, each once. A period that moved dates are cut into is another level than the one that
 * cells stand under: to March, January belongs as well.
 */
export function levelsOf(dataset: Dataset, context: Context, sets: readonly SetFields[]): string[] {
  const apart = new Set(splitsAfterMoves(dataset, context).flatMap(({ fields }) => fields));
  const axes = new Set(sets.flatMap(({ side, top }) => [...side, ...top]));
  const per = new Set(sets.flatMap((set) => set.per));
  return [...axes, ...[...per].filter((field) => !axes.has(field) || apart.has(field))];
}

/** The positions of a set's fields in the levels of its query, each once; those that are gone through come last there. */
export const positionsOf = (levels: readonly string[], { side, top, per }: SetFields): number[] => [
  ...new Set([...[...side, ...top].map((field) => levels.indexOf(field)), ...per.map((field) => levels.lastIndexOf(field))]),
];

function distinctSets(sets: SetFields[]): SetFields[] {
  return [...new Map(sets.map((set) => [JSON.stringify([set.side, set.top, set.per]), set])).values()];
}

export function boundsOf(sets: SetFields[], aggregates: number): Query['bounds'] {
  const where = (holds: (set: SetFields) => boolean): number[] => sets.flatMap((set, index) => (holds(set) ? [index] : []));
  return {
    rows: where(({ top }) => top.length === 0),
    columns: where(({ side }) => side.length === 0),
    cells: Math.floor(MOST_VALUES / (aggregates + 1)),
    lines: MOST_LINES,
  };
}
