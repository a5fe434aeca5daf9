import { indicatorMeasures } from '../indicators/index.ts';
import {
  fieldPlural,
  findField,
  findMeasure,
  isDataExhibit,
  type Dataset,
  type Exhibit,
  type Report,
  type Sections,
} from '../model/index.ts';

/** The sections that a page is repeated in: its own, else those of the report. */
export const sectionsOnPage = ({ sections, pages }: Pick<Report, 'sections' | 'pages'>, page: string | undefined): Sections | undefined =>
  pages.find(({ id }) => id === page)?.sections ?? sections;

/** A report with other settings of the sections that a page is repeated in. */
export const withSectionsOnPage = (report: Report, page: string | undefined, sections: Sections): Report =>
  report.pages.some((one) => one.id === page && one.sections)
    ? { ...report, pages: report.pages.map((one) => (one.id === page ? { ...one, sections } : one)) }
    : { ...report, sections };

/** The sections of an exhibit of its own. */
export const sectionsOfExhibit = (exhibit: Exhibit): Sections | undefined => (isDataExhibit(exhibit) ? exhibit.sections : undefined);

/** Sections with all of them together among them, where that is one: never beside a single section, which it would be once more. */
export const withWhole = <One>({ whole }: Sections, sections: readonly One[], all: One): One[] =>
  whole === 'none' || sections.length < 2 ? [...sections] : whole === 'first' ? [all, ...sections] : [...sections, all];

/** The words for all members of sections together: "All regions". */
export const allTogether = (dataset: Dataset, { field }: Sections): string =>
  `All ${findField(dataset, field) ? fieldPlural(dataset, field) : field}`;

/** Settings of sections, all of a report, with the dataset that each goes by. */
export function allSections(report: Report): { sections: Sections; dataset: string }[] {
  const own = [report.sections, ...report.pages.map(({ sections }) => sections)];
  return [
    ...own.flatMap((sections) => (sections ? [{ sections, dataset: report.dataset }] : [])),
    ...report.exhibits.flatMap((exhibit) => {
      const sections = sectionsOfExhibit(exhibit);
      return sections && isDataExhibit(exhibit) ? [{ sections, dataset: exhibit.dataset ?? report.dataset }] : [];
    }),
  ];
}

/** The names that sections read. */
export function namesInSections({ field, order, figure }: Sections): { fields: string[]; measures: string[] } {
  return {
    fields: [field],
    measures: [
      ...(order.by === 'measure' ? [order.measure] : []),
      ...(figure ? [figure.measure, ...indicatorMeasures(figure.indicator)] : []),
    ],
  };
}

const isKnown = (sections: Sections, dataset: Dataset): boolean => {
  const { fields, measures } = namesInSections(sections);
  return fields.every((name) => findField(dataset, name)) && measures.every((name) => findMeasure(dataset, name));
};

/** Sections where a dataset knows what they read; undefined where it does not. */
export const knownSections = (sections: Sections | undefined, dataset: Dataset): Sections | undefined =>
  sections && isKnown(sections, dataset) ? sections : undefined;

/** What is wrong with the sections of a report, in words; empty where they are sound. */
export function sectionFaults(report: Report, datasetOf: (name: string) => Dataset): string[] {
  return allSections(report).flatMap(({ sections, dataset: name }) => {
    const dataset = datasetOf(name);
    const { fields, measures } = namesInSections(sections);
    const place = findField(dataset, sections.field);
    return [
      ...fields
        .filter((field) => !findField(dataset, field))
        .map((field) => `Sections go by "${field}", and there is no such field in ${dataset.label}.`),
      ...(place?.type === 'decimal' ? [`Sections go by members, and the numbers of "${sections.field}" are none.`] : []),
      ...measures
        .filter((measure) => !findMeasure(dataset, measure))
        .map((measure) => `Sections read "${measure}", and there is no such measure in ${dataset.label}.`),
    ];
  });
}
