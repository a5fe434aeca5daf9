import type { ExportRequest } from '@bold-compass/core/exports';
import { exhibitAsChosen, inStep, steppedWith } from '@bold-compass/core/exhibits';
import {
  isCellExhibit,
  isDataExhibit,
  type CellExhibit,
  type Crosstab,
  type Dataset,
  type DataExhibit,
  type ExpandedTo,
  type ReaderScope,
  type Report,
  type Sections,
} from '@bold-compass/core/model';
import { followedPlace, following } from '@bold-compass/core/prompts';
import { sectionsOfExhibit, sectionsOnPage, withSection } from '@bold-compass/core/sections';
import { openSteps } from '@bold-compass/core/table';
import type { LocationQuery } from 'vue-router';
import { orderIn } from '../list/order.ts';
import { readScales } from '../sections/address.ts';
import { readCrosstabState } from '../report/url-state.ts';

type Stands = ExportRequest['exhibits'][string];

/** A report as its reader has it before them. */
export interface ReportView {
  report: Report;
  /** The datasets of its exhibits, by name; its own where none is named. */
  datasetOf(name: string | undefined): Dataset | undefined;
  asked: ReaderScope;
  query: LocationQuery;
  /** Whether each section is exported: exhibits then stand as they do in one, whichever is open. */
  inEachSection: boolean;
}

/** The sections that an exhibit is in: those of its page, and its own. */
const sectionsAround = (report: Report, exhibit: DataExhibit): { sections: Sections | undefined; of?: string }[] => [
  { sections: sectionsOnPage(report, exhibit.page ?? report.pages[0]?.id) },
  { sections: sectionsOfExhibit(exhibit), of: exhibit.id },
];

/** What is asked in some section, where each of them is exported. */
function askedInSome({ report, asked, inEachSection }: ReportView, exhibit: DataExhibit): ReaderScope {
  if (!inEachSection) return asked;
  return sectionsAround(report, exhibit).reduce(
    (own, { sections, of }) => (sections ? withSection(own, { field: sections.field, member: null }, of) : own),
    asked,
  );
}

function asChosen(view: ReportView, exhibit: DataExhibit): DataExhibit {
  const own = inStep(view.report.exhibits, exhibit);
  const dataset = view.datasetOf(undefined);
  const isOther = exhibit.dataset !== undefined && exhibit.dataset !== view.report.dataset;
  const { choices } = askedInSome(view, exhibit);
  return dataset ? exhibitAsChosen(view.report, choices, own, dataset, isOther ? view.datasetOf(exhibit.dataset) : null) : own;
}

/** The exhibits of pages that answer from data, as the reader chose to see them. */
export function dataExhibits(view: ReportView, pages: readonly string[]): DataExhibit[] {
  const first = view.report.pages[0]?.id;
  return view.report.exhibits
    .filter((exhibit) => pages.length === 0 || pages.includes(exhibit.page ?? first ?? ''))
    .filter(isDataExhibit)
    .map((exhibit) => asChosen(view, exhibit));
}

/** The levels that rows of the cross-tabs can be opened to, each once, from the outermost in. */
export function levelsToOpen(view: ReportView, pages: readonly string[]): string[] {
  const labels = dataExhibits(view, pages).flatMap((exhibit) => {
    const dataset = view.datasetOf(exhibit.dataset);
    return exhibit.kind === 'crosstab' && dataset ? openSteps(dataset, exhibit.side.fields).map(({ label }) => label) : [];
  });
  return [...new Set(labels)];
}

/** How deep the rows of a cross-tab are opened; as they stand where it does not have the level. */
function depthOf(exhibit: Crosstab, dataset: Dataset | undefined, opened: ExpandedTo): number | null {
  if (opened.to === 'screen' || !dataset) return null;
  const steps = openSteps(dataset, exhibit.side.fields);
  const step = opened.to === 'all' ? steps.at(-1) : steps.find(({ label }) => label === opened.label);
  return step?.depth ?? null;
}

const texts = (query: LocationQuery, key: string): string[] => [query[key] ?? []].flat().filter((text) => text !== null);

/** What an exhibit is asked under where it follows what is chosen in another one. */
function followed({ report, asked, query, datasetOf }: ReportView, exhibit: DataExhibit): ReaderScope | undefined {
  const id = exhibit.follows;
  const other = report.exhibits.find((one): one is CellExhibit => isCellExhibit(one) && one.id === id);
  const dataset = datasetOf(undefined);
  if (!other || !dataset || other.id === exhibit.id) return undefined;
  const shown = exhibitAsChosen(report, asked.choices, other, dataset);
  const { cell } = readCrosstabState(shown, query);
  const place = cell && followedPlace(shown, cell);
  return place ? following(asked, place) : undefined;
}

function stateOf(view: ReportView, exhibit: DataExhibit, opened: ExpandedTo): unknown {
  const { report, query, datasetOf } = view;
  if (exhibit.kind === 'list') return { order: orderIn(texts(query, `${exhibit.id}.order`), exhibit) };
  if (!isCellExhibit(exhibit)) return {};
  const { side, top } = readCrosstabState(steppedWith(report.exhibits, exhibit) ?? exhibit, query);
  if (exhibit.kind === 'chart') {
    const [period] = texts(query, `${exhibit.id}.period`);
    return { side, top, hidden: texts(query, `${exhibit.id}.hidden`), ...(period === undefined ? {} : { period }) };
  }
  const depth = depthOf(exhibit, datasetOf(exhibit.dataset), opened);
  return { side: depth === null ? side : { ...side, open: { depth, exceptions: [] } }, top };
}

/** How the exhibits of pages stand for an export. */
export function viewStates(view: ReportView, pages: readonly string[], opened: ExpandedTo): Record<string, Stands> {
  return Object.fromEntries(
    dataExhibits(view, pages).map((exhibit): [string, Stands] => {
      const around = sectionsAround(view.report, exhibit).findLast(({ sections }) => sections);
      // What is chosen in one section says nothing of the others.
      const asked = view.inEachSection && around ? undefined : followed(view, exhibit);
      const scales = around?.sections && exhibit.kind === 'chart' ? readScales(view.query, around.sections, around.of) : undefined;
      return [exhibit.id, { ...(asked ? { asked } : {}), state: stateOf(view, exhibit, opened), ...(scales ? { scales } : {}) }];
    }),
  );
}
