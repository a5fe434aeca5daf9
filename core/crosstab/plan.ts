import type { AggregateCall, Query, QueryResult } from '../engine/index.ts';
import { planMeasure, type MeasurePlan } from '../formula/index.ts';
import {
  allOf,
  factKnows,
  factNamed,
  fieldLabel,
  fieldPlace,
  fieldsOf,
  linkTo,
  type Crosstab,
  type Dataset,
  type Fact,
  type Filter,
} from '../model/index.ts';

/** Cells times aggregates that are held at once: about 100 MB. */
export const MOST_VALUES = 12_000_000;
/** Lines of one axis that are sorted and labelled at once. */
const MOST_LINES = 400_000;

/** How deep each axis is to be worked out: number of levels. */
export interface Depths {
  side: number;
  top: number;
}

/** One fact's part in a cross-tab. */
export interface FactPart {
  fact: Fact;
  /** Null where the conditions cannot be answered by this fact; then `reason` says why. */
  query: Query | null;
  reason: string;
  /** How many levels of each axis the fact knows. */
  known: Depths;
}

export interface PlannedMeasure {
  name: string;
  plan: MeasurePlan;
  /** Per aggregate of the plan: its fact part and its position in that part's query. */
  slots: { part: number; aggregate: number }[];
}

export interface CrosstabPlan {
  dataset: Dataset;
  side: string[];
  top: string[];
  parts: FactPart[];
  measures: PlannedMeasure[];
}

/** Stands in a path for all members of a level that were not selected. No text of a database can be this. */
export const OTHERS = '\u0000';

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
 * Plans which queries answer a cross-tab: one per fact that its measures read, with every total down to the depths.
 * `extra` lists measures needed beside the cells' own (for indicators and order).
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
  const calls = new Map<string, AggregateCall[]>();
  const parts: string[] = [];
  const measures = names.map((name): PlannedMeasure => {
    const plan = planMeasure(dataset, name);
    const slots = plan.aggregates.map(({ fact, call }) => {
      if (!calls.has(fact)) {
        calls.set(fact, []);
        parts.push(fact);
      }
      const known = calls.get(fact)!;
      const id = JSON.stringify(call);
      const found = known.findIndex((one) => JSON.stringify(one) === id);
      return { part: parts.indexOf(fact), aggregate: found >= 0 ? found : known.push(call) - 1 };
    });
    return { name, plan, slots };
  });
  return {
    dataset,
    side,
    top,
    measures,
    parts: parts.map((name) => planPart(dataset, factNamed(dataset, name), side, top, allOf(scope, spec.filter), calls.get(name)!)),
  };
}

function planPart(
  dataset: Dataset,
  fact: Fact,
  side: string[],
  top: string[],
  conditions: Filter | null,
  aggregates: AggregateCall[],
): FactPart {
  const depthKnown = (fields: string[]): number => {
    const unknown = fields.findIndex((field) => !factKnows(dataset, fact, field));
    return unknown < 0 ? fields.length : unknown;
  };
  const known = { side: depthKnown(side), top: depthKnown(top) };
  const filter = allOf(conditions, fact.filter);
  const reason = reasonNotKnown(dataset, fact, filter);
  if (reason) return { fact, query: null, reason, known };
  const sideLevels = Array.from({ length: known.side }, (_, level) => level);
  const topLevels = Array.from({ length: known.top }, (_, level) => known.side + level);
  const sets: number[][] = [];
  const bounds = {
    rows: [] as number[],
    columns: [] as number[],
    cells: Math.floor(MOST_VALUES / (aggregates.length + 1)),
    lines: MOST_LINES,
  };
  for (let s = 0; s <= known.side; s++) {
    for (let t = 0; t <= known.top; t++) {
      if (t === 0) bounds.rows.push(sets.length);
      if (s === 0) bounds.columns.push(sets.length);
      sets.push([...sideLevels.slice(0, s), ...topLevels.slice(0, t)]);
    }
  }
  const levels = [...side.slice(0, known.side), ...top.slice(0, known.top)];
  return { fact, reason, known, query: { fact: fact.name, filter, levels, sets, aggregates, bounds } };
}
