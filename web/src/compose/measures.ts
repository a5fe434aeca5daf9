import { nameFor, namesTaken } from '@bold-compass/core/modelling';
import {
  isCellExhibit,
  type CellExhibit,
  type CellMeasure,
  type Dataset,
  type Exhibit,
  type Measure,
  type Report,
} from '@bold-compass/core/model';
import { placeMeasure } from './edges.ts';

/** A measure of a report before anything is written. */
export const emptyMeasure = (dataset: Dataset, fact: string | undefined): Measure => ({
  ...{ name: nameFor('new measure', namesTaken(dataset)), label: 'New measure', formula: '', fact, direction: 'higher' },
  format: { kind: 'number', decimals: 0, unit: 'one' },
});

/** The report with a measure of its own, in the place of the one of the same name where there is one. */
export function withMeasure(report: Report, measure: Measure): Report {
  const isKnown = report.measures.some(({ name }) => name === measure.name);
  return {
    ...report,
    measures: isKnown ? report.measures.map((one) => (one.name === measure.name ? measure : one)) : [...report.measures, measure],
  };
}

/** The same, shown in the cells of a cross-tab at a place. */
export function withMeasureIn(report: Report, exhibit: CellExhibit, measure: Measure, at: number): Report {
  const placed: Exhibit = placeMeasure(exhibit, measure, at);
  return { ...withMeasure(report, measure), exhibits: report.exhibits.map((one) => (one.id === exhibit.id ? placed : one)) };
}

/** A cell that shows a measure in no rows any more. */
function withoutInRows(cell: CellMeasure, name: string): CellMeasure {
  const levels = Object.fromEntries(Object.entries(cell.levels ?? {}).filter(([, measure]) => measure !== name));
  return {
    ...cell,
    levels: Object.keys(levels).length > 0 ? levels : undefined,
    total: cell.total === name ? undefined : cell.total,
  };
}

/** The report without a measure of its own, and without its place in any cross-tab. */
export function withoutMeasure(report: Report, name: string): Report {
  return {
    ...report,
    measures: report.measures.filter((measure) => measure.name !== name),
    exhibits: report.exhibits.map((exhibit) =>
      isCellExhibit(exhibit)
        ? { ...exhibit, cells: exhibit.cells.filter(({ measure }) => measure !== name).map((cell) => withoutInRows(cell, name)) }
        : exhibit,
    ),
  };
}
