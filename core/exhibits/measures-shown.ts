import { namesIn } from '../formula/index.ts';
import { findMeasure, isDataExhibit, type Dataset, type Report } from '../model/index.ts';
import { kindOf } from './registry.ts';

/**
 * The measures of a dataset that a report shows, and those that they are made of, in small letters. `dataset` is the one named,
 * with the measures of the report where it is the report's own.
 */
export function measuresShown(report: Report, name: string, dataset: Dataset): Set<string> {
  const shown = new Set<string>();
  const add = (measure: string): void => {
    const own = findMeasure(dataset, measure);
    if (!own || shown.has(own.name.toLowerCase())) return;
    shown.add(own.name.toLowerCase());
    namesIn(own.formula).forEach(add);
  };
  for (const exhibit of report.exhibits)
    if (isDataExhibit(exhibit) && (exhibit.dataset ?? report.dataset) === name) kindOf(exhibit).names(exhibit).measures.forEach(add);
  return shown;
}
