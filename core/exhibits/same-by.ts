import { fieldLabel, fieldPlace, fieldPlural, type Dataset, type Exhibit } from '../model/index.ts';
import type { Swap } from '../prompts/index.ts';
import { relabelled, withFollowers } from './followers.ts';
import { runFrom } from './open-by.ts';
import { kindOf } from './registry.ts';
import { retitled } from './swap-exhibit.ts';

/** What an exhibit is shown by instead: another dimension, from a field on, or another measure. */
type OtherPart = { field: string } | { measure: string };

const NO_MEASURES: ReadonlyMap<string, string> = new Map();

/** The measure that an exhibit shows first; undefined where it shows none. */
const firstMeasure = (exhibit: Exhibit): string | undefined => kindOf(exhibit).names(exhibit).measures[0];

/** What an exhibit cannot be shown by instead, since it shows that already: fields along its axes, and its measures. */
export function shownAlready(exhibit: Exhibit): Set<string> {
  const { axes, names } = kindOf(exhibit);
  return new Set([...(axes?.(exhibit).flat() ?? []), ...names(exhibit).measures]);
}

/** Whether an exhibit goes by fields, and shows measures, that others can stand for. */
export const canBeShownBy = (exhibit: Exhibit): { fields: boolean; measures: boolean } => ({
  fields: kindOf(exhibit).swapped !== undefined && (kindOf(exhibit).axes?.(exhibit).flat().length ?? 0) > 0,
  measures: kindOf(exhibit).swapped !== undefined && firstMeasure(exhibit) !== undefined,
});

/** The levels of a dimension from one on, down to as many as there were of the other. */
function levelsFrom(dataset: Dataset, field: string, count: number): string[] {
  const place = fieldPlace(dataset, field);
  if (place.kind !== 'level' && place.kind !== 'period') return [field];
  const { levels } = place.dimension;
  return levels.slice(place.depth, place.kind === 'period' ? place.depth + 1 : place.depth + count).map(({ name }) => name);
}

/** A title that names what is shown now; what it said of the other field is said of this one, or is added. */
function titledBy(title: string, dataset: Dataset, from: string, to: string): string {
  const [before, after] = [from, to].map((name) => [fieldPlural(dataset, name), fieldLabel(dataset, name).toLowerCase()] as const);
  const renamed = before.reduce((words, word, at) => relabelled(words, word, after[at]), title);
  return renamed === title ? `${title} by ${after[1]}` : renamed;
}

/** The same exhibit by another dimension, or of another measure; as it is where it goes by none. */
export function sameBy<Own extends Exhibit>(exhibit: Own, other: OtherPart, dataset: Dataset): Own {
  const { swapped } = kindOf(exhibit);
  if (!swapped) return exhibit;
  if ('measure' in other) {
    const first = firstMeasure(exhibit);
    if (first === undefined) return exhibit;
    const swap = withFollowers({ measures: new Map([[first, other.measure]]), fields: [] }, dataset);
    return swapped(retitled(exhibit, swap, dataset), swap, dataset) as Own;
  }
  const axis = kindOf(exhibit)
    .axes?.(exhibit)
    .find((fields) => fields.length > 0);
  const from = axis?.[0];
  if (!axis || from === undefined) return exhibit;
  const run = runFrom(dataset, axis, from);
  const to = levelsFrom(dataset, other.field, run.length);
  const swap: Swap = { measures: NO_MEASURES, fields: [{ from: run, to }] };
  const own = swapped(exhibit, swap, dataset);
  return ('title' in own ? { ...own, title: titledBy(own.title, dataset, from, other.field).slice(0, 200) } : own) as Own;
}
