import { FormulaError, planMeasure } from '../formula/index.ts';
import { findField, isDataExhibit, UnknownNameError, type Dataset, type Report } from '../model/index.ts';
import { promptFaults } from '../prompts/index.ts';
import { sectionFaults } from '../sections/index.ts';
import { missingNames } from './missing.ts';
import { kindOf } from './registry.ts';

/** What of a report cannot be calculated over its datasets, in words; empty for a sound one. */
export function reportFaults(report: Report, datasetOf: (name: string) => Dataset): string[] {
  const faults: string[] = [];
  const ids = report.exhibits.map(({ id }) => id);
  const twice = ids.find((id, index) => ids.indexOf(id) !== index);
  if (twice) faults.push(`Two exhibits have the id "${twice}".`);
  faults.push(...promptFaults(report, datasetOf(report.dataset)), ...sectionFaults(report, datasetOf));
  faults.push(...measureFaults(report, datasetOf(report.dataset)));
  for (const exhibit of report.exhibits) {
    if (!isDataExhibit(exhibit)) continue;
    const dataset = datasetOf(exhibit.dataset ?? report.dataset);
    const kind = kindOf(exhibit);
    const { fields, measures } = missingNames(exhibit, dataset);
    const [field] = fields;
    const [measure] = measures;
    if (field) faults.push(`There is no field called "${field}" in ${dataset.label}.`);
    if (measure) faults.push(`There is no measure called "${measure}" in ${dataset.label}.`);
    if (!field && !measure) faults.push(...(kind.faults?.(exhibit, dataset) ?? []));
  }
  return faults;
}

/** What is wrong with the measures of the report itself; `dataset` has them among its own. */
function measureFaults({ measures }: Report, dataset: Dataset): string[] {
  return measures.flatMap(({ name, label }, index) => {
    const isTwice = measures.findIndex((one) => one.name.toLowerCase() === name.toLowerCase()) !== index;
    if (
      isTwice ||
      findField(dataset, name) ||
      dataset.measures.find((one) => one.name.toLowerCase() === name.toLowerCase())?.label !== label
    )
      return [`The name "${name}" of the measure ${label} stands for something else already.`];
    try {
      planMeasure(dataset, name);
      return [];
    } catch (error) {
      if (error instanceof FormulaError || error instanceof UnknownNameError) return [`The measure ${label}: ${error.message}`];
      throw error;
    }
  });
}
