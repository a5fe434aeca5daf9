import { isDeepStrictEqual } from 'node:util';
import type { Touched } from '@bold-compass/core/api';
import { measureUnder } from '@bold-compass/core/answers';
import { measuresShown } from '@bold-compass/core/exhibits';
import { namesIn } from '@bold-compass/core/formula';
import { allOf, findMeasure, withReportMeasures, type Dataset, type Filter, type Measure, type Report } from '@bold-compass/core/model';
import { initialScope, promptValues } from '@bold-compass/core/prompts';
import type { DatasetReader } from '../data/index.ts';

type ChangedValue = Touched['reports'][number]['values'][number];

/** The measures that are not the same in two definitions, by name: added, changed or deleted. */
export function changedMeasures(before: Dataset, after: Dataset): Map<string, { before?: Measure; after?: Measure }> {
  const changed = new Map<string, { before?: Measure; after?: Measure }>();
  for (const { name } of [...before.measures, ...after.measures]) {
    const pair = { before: findMeasure(before, name), after: findMeasure(after, name) };
    if (!isDeepStrictEqual(pair.before, pair.after)) changed.set(name, pair);
  }
  return changed;
}

/** The names of measures that come to something else: with another formula, or made of one that has. */
export function affectedMeasures(before: Dataset, after: Dataset): Set<string> {
  const affected = new Set<string>();
  for (const [name, pair] of changedMeasures(before, after))
    if (pair.before?.formula !== pair.after?.formula) affected.add(name.toLowerCase());
  for (let grew = true; grew;) {
    grew = false;
    for (const { name, formula } of [...before.measures, ...after.measures]) {
      if (affected.has(name.toLowerCase()) || ![...namesIn(formula)].some((one) => affected.has(one))) continue;
      affected.add(name.toLowerCase());
      grew = true;
    }
  }
  return affected;
}

/** As many figures of a report are compared. */
const MOST = 12;

/**
 * What the affected measures that a report shows come to before and after, in its total under the members it starts with.
 * `reader` is over the applied definition; `after` has the measures of the draft.
 */
export async function changedValues(
  reader: DatasetReader,
  report: Report,
  after: Dataset,
  affected: ReadonlySet<string>,
): Promise<ChangedValue[]> {
  const scope = initialScope(report);
  const filter = allOf(...Object.entries(scope).map(([field, values]): Filter => ({ op: 'in', field, values })));
  const values = promptValues(report, { scope, choices: {} });
  const own = report.dataset === reader.dataset.name ? report.measures : [];
  const old = withReportMeasures(reader.dataset, own, values);
  // Everything else of the draft can only be calculated once it is applied.
  const next = withReportMeasures({ ...reader.dataset, measures: after.measures }, own, values);
  const shown = [...measuresShown(report, reader.dataset.name, old)].filter((name) => affected.has(name));
  const valueIn = async (dataset: Dataset, name: string): Promise<number | null> => {
    if (!findMeasure(dataset, name)) return null;
    const { value } = await measureUnder({ dataset, data: reader }, name, filter);
    return Number.isNaN(value) ? null : value;
  };
  const compared = await Promise.all(
    shown.slice(0, MOST).map(async (name): Promise<ChangedValue[]> => {
      const { label, format } = findMeasure(old, name)!;
      const [was, is] = await Promise.all([valueIn(old, name), valueIn(next, name)]).catch(() => [null, null]);
      return was === is ? [] : [{ label, format, before: was, after: is }];
    }),
  );
  return compared.flat();
}
