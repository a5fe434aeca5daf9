import { findField, findMeasure, isDataExhibit, type Dataset, type Report } from '../model/index.ts';
import { kindOf } from './registry.ts';

/** What of a report cannot be worked out over its datasets, in words; empty for a sound one. */
export function reportFaults(report: Report, datasetOf: (name: string) => Dataset): string[] {
  const faults: string[] = [];
  const ids = report.exhibits.map(({ id }) => id);
  const twice = ids.find((id, index) => ids.indexOf(id) !== index);
  if (twice) faults.push(`Two exhibits have the id "${twice}".`);
  for (const exhibit of report.exhibits) {
    if (!isDataExhibit(exhibit)) continue;
    const dataset = datasetOf(exhibit.dataset ?? report.dataset);
    const kind = kindOf(exhibit);
    const { fields, measures } = kind.names(exhibit);
    const field = fields.find((name) => !findField(dataset, name));
    if (field) faults.push(`There is no field called "${field}" in ${dataset.label}.`);
    // An order may be by a measure that has another aggregation there.
    const measure = measures.find((name) => !findMeasure(dataset, name.replace(/ \([a-z_]+\)$/, '')));
    if (measure) faults.push(`There is no measure called "${measure}" in ${dataset.label}.`);
    if (!field && !measure) faults.push(...(kind.faults?.(exhibit, dataset) ?? []));
  }
  return faults;
}
