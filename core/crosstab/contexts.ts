import type { Cell, DateMove, Place } from '../formula/index.ts';
import { fieldPlace, isBelow, type Dataset } from '../model/index.ts';

/** The axes that a value stands on; `per` holds the members that an aggregate over members goes through. */
export type AxisName = 'side' | 'top' | 'per';

/** Something that changes what a cell stands under. */
export type Step =
  | { kind: 'place'; place: Place }
  /** `after` so many moves of dates: those are made before members are gone through, and later ones within each member. */
  | { kind: 'per'; fields: string[]; after: number };

/** Under what a part of a formula is calculated, as against the cell that it is for. */
export interface Context {
  /** Tells contexts apart. */
  key: string;
  steps: Step[];
  /** How the dates of the cell become others, in this order. */
  moves: DateMove[];
  /** Without the conditions of the report. */
  unfiltered: boolean;
}

const contextOf = (parts: Omit<Context, 'key'>): Context => ({ ...parts, key: JSON.stringify(parts) });

/** The cell itself. */
export const OWN_CONTEXT = contextOf({ steps: [], moves: [], unfiltered: false });

/** Whether it is about the members of the cell itself, on whatever dates. */
export const isOfCell = ({ steps, unfiltered }: Context): boolean => steps.length === 0 && !unfiltered;

/** The context of what stands inside a part of a formula. */
export function contextWithin(
  dataset: Dataset,
  context: Context,
  cell: Extract<Cell, { kind: 'at' | 'moved' | 'unfiltered' | 'per' | 'ofCounts' }>,
): Context {
  const { steps, moves, unfiltered } = context;
  switch (cell.kind) {
    case 'unfiltered':
      return contextOf({ steps, moves, unfiltered: true });
    case 'moved':
      return contextOf({ steps, moves: [...moves, cell.move], unfiltered });
    case 'per':
      return contextOf({ steps: [...steps, { kind: 'per', fields: cell.fields, after: moves.length }], moves, unfiltered });
    case 'ofCounts':
      return contextOf({ steps: [...steps, { kind: 'per', fields: [cell.field], after: moves.length }], moves, unfiltered });
    case 'at': {
      const { place } = cell;
      const level = place.to === 'level' ? fieldPlace(dataset, place.field) : null;
      // Dates that were moved are widened where they are now, not where they came from.
      if (level?.kind === 'period' && moves.length > 0 && level.level.period !== 'weekday')
        return contextOf({ steps, moves: [...moves, { kind: 'whole', period: level.level.period }], unfiltered });
      return contextOf({ steps: [...steps, { kind: 'place', place }], moves, unfiltered });
    }
  }
}

/** Finds the member of a level that a member of a finer field belongs to; undefined where there is none, or several. */
export type Lift = (finer: string, level: string, member: string | null) => string | null | undefined;

/** Members along one axis. */
export interface Along {
  fields: readonly string[];
  path: readonly (string | null)[];
}

/** Where a step leads along one axis; null where that cannot be told. */
export function stepAlong(dataset: Dataset, axis: AxisName, step: Step, { fields, path }: Along, lift: Lift): Along | null {
  if (step.kind === 'per') return axis === 'per' ? null : { fields, path };
  const { place } = step;
  switch (place.to) {
    case 'total':
      return axis !== 'per' && place.axes.includes(axis) ? { fields: [], path: [] } : { fields, path };
    case 'parent':
      return axis === place.axis ? { fields: fields.slice(0, -1), path: path.slice(0, -1) } : { fields, path };
    case 'level': {
      const cleared = fields.map((field) => isBelow(dataset, field, place.field));
      const first = cleared.indexOf(true);
      if (first < 0) return { fields, path };
      const isThere = fields.includes(place.field);
      const kept = fields.map((_, index) => index).filter((index) => !cleared[index] || (index === first && !isThere));
      const member = isThere || path.length === 0 ? null : lift(fields[first], place.field, path[first]);
      if (member === undefined) return null;
      return {
        fields: kept.map((index) => (cleared[index] ? place.field : fields[index])),
        path: path.length === 0 ? [] : kept.map((index) => (cleared[index] ? member : path[index])),
      };
    }
  }
}

/** Where members along an axis of the cross-tab stand in a context; null where that cannot be told. */
export function alongIn(dataset: Dataset, { steps }: Context, axis: AxisName, along: Along, lift: Lift): Along | null {
  return steps.reduce<Along | null>(
    (own, step) => (own && (step.kind === 'place' || axis === 'per') ? stepAlong(dataset, axis, step, own, lift) : own),
    along,
  );
}

const NO_LIFT: Lift = () => null;

/** The fields along an axis in a context, given those of the cell. */
export function fieldsIn(dataset: Dataset, { steps }: Context, axis: AxisName, fields: readonly string[]): readonly string[] {
  return steps.reduce<readonly string[]>((own, step) => {
    if (step.kind === 'per') return axis === 'per' ? [...own, ...step.fields.filter((field) => !own.includes(field))] : own;
    return stepAlong(dataset, axis, step, { fields: own, path: [] }, NO_LIFT)!.fields;
  }, fields);
}

/** Periods that moved dates are cut into, member by member, and after how many moves. */
export interface DateSplit {
  after: number;
  fields: string[];
}

/** The periods that an aggregate over members goes through once some dates were moved, in order. */
export function splitsAfterMoves(dataset: Dataset, { steps }: Context): DateSplit[] {
  const isRunOfDays = (field: string): boolean => {
    const place = fieldPlace(dataset, field);
    return place.kind === 'period' && place.level.period !== 'weekday';
  };
  const known = new Set<string>();
  return steps.flatMap((step) => {
    if (step.kind !== 'per') return [];
    const fields = step.fields.filter((field) => !known.has(field) && isRunOfDays(field));
    fields.forEach((field) => known.add(field));
    return step.after > 0 && fields.length > 0 ? [{ after: step.after, fields }] : [];
  });
}

/** The pairs of a finer field and a level that members have to be found by, in a context of some axes. */
export function liftsOf(dataset: Dataset, { steps }: Context, axes: readonly (readonly string[])[]): { finer: string; level: string }[] {
  const levels = steps.flatMap((step) => (step.kind === 'place' && step.place.to === 'level' ? [step.place.field] : []));
  const fields = [...new Set([...axes.flat(), ...levels, ...steps.flatMap((step) => (step.kind === 'per' ? step.fields : []))])];
  return levels.flatMap((level) => fields.filter((finer) => isBelow(dataset, finer, level)).map((finer) => ({ finer, level })));
}
