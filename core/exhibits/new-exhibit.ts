import { isDataExhibit, type Dataset, type Exhibit, type Report } from '../model/index.ts';
import { EXHIBIT_KINDS } from './registry.ts';

/** An id that no exhibit of a report has, made of a word. */
export function freeExhibitId(report: Report, word: string): string {
  const taken = new Set(report.exhibits.map(({ id }) => id));
  let id = word;
  for (let number = 2; taken.has(id); number++) id = `${word}-${number}`;
  return id;
}

/** A new exhibit on a page of a report. Null where the dataset has nothing to show in it. */
export function newExhibit(kind: Exhibit['kind'], report: Report, dataset: Dataset, page: string | undefined): Exhibit | null {
  const { id, create } = EXHIBIT_KINDS[kind];
  const otherDataset = dataset.name === report.dataset ? undefined : dataset.name;
  return create({ id: freeExhibitId(report, id), page, dataset, otherDataset });
}

/** A copy of an exhibit for a report, with an id of its own there; its dataset is told where it is not the report's. */
export function copiedExhibit(exhibit: Exhibit, from: string, report: Report, page: string | undefined): Exhibit {
  const id = freeExhibitId(report, exhibit.id.replace(/-\d+$/, ''));
  if (!isDataExhibit(exhibit)) return { ...exhibit, id, page };
  const dataset = exhibit.dataset ?? from;
  return { ...exhibit, id, page, dataset: dataset === report.dataset ? undefined : dataset };
}
