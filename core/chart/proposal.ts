import { fieldLabel, fieldPlace, type Chart, type ChartKindName, type Dataset, type Period } from '../model/index.ts';

export interface Proposal {
  kind: ChartKindName;
  reason: string;
}

const YEARS: ReadonlySet<Period> = new Set(['year', 'fiscal_year', 'week_year']);

const isPeriod = (dataset: Dataset, field: string): boolean => fieldPlace(dataset, field).kind === 'period';

/** Whether periods run along the axis of a chart. */
export const isThroughTime = (dataset: Dataset, { side }: Pick<Chart, 'side'>): boolean =>
  side.fields.length > 0 && side.fields.every((field) => isPeriod(dataset, field));

/** The kind that suits the fields of a chart, and why. Throws UnknownNameError. */
export function proposedKind(dataset: Dataset, { side, top, cells }: Pick<Chart, 'side' | 'top' | 'cells'>): Proposal {
  const [along] = side.fields;
  if (along === undefined) return { kind: 'bar', reason: 'There is no field along the axis, so there is one bar for each series.' };
  const last = side.fields.at(-1)!;
  if (isThroughTime(dataset, { side })) {
    const place = fieldPlace(dataset, last);
    const isYears = place.kind === 'period' && YEARS.has(place.level.period);
    return isYears
      ? { kind: 'column', reason: 'There are few years, so columns compare them.' }
      : { kind: 'line', reason: `${fieldLabel(dataset, last)} runs along the axis, so a line shows how values move.` };
  }
  if (top.fields.some((field) => isPeriod(dataset, field)) && cells.length === 1)
    return { kind: 'heat', reason: 'Members and periods cross each other, so a grid of colours shows where and when.' };
  if (cells.length >= 3) return { kind: 'bubble', reason: 'There are three measures of each member: place, place and size.' };
  if (cells.length === 2 && top.fields.length === 0)
    return { kind: 'scatter', reason: 'There are two measures of each member, so points show how they go together.' };
  return { kind: 'bar', reason: `${fieldLabel(dataset, last)} has labels that bars leave room for.` };
}
