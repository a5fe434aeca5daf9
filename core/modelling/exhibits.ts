import {
  crosstabSchema,
  dividerSchema,
  imageSchema,
  isDataExhibit,
  kpiStripSchema,
  listSchema,
  textSchema,
  type Dataset,
  type Exhibit,
  type Kpi,
  type Measure,
  type Report,
} from '../model/index.ts';

/** An id that no exhibit of a report has, made of a word. */
export function freeExhibitId(report: Report, word: string): string {
  const taken = new Set(report.exhibits.map(({ id }) => id));
  let id = word;
  for (let number = 2; taken.has(id); number++) id = `${word}-${number}`;
  return id;
}

/** A key figure over a measure, held against last year until another comparison is chosen. */
export function newKpi({ name, label, direction }: Measure, taken: string[] = []): Kpi {
  const base = name.replaceAll(/[^a-z0-9]+/gi, '-').toLowerCase() || 'figure';
  let id = base;
  for (let number = 2; taken.includes(id); number++) id = `${base}-${number}`;
  return {
    ...{ id, label, measure: name, words: 'on last year' },
    indicator: { against: { kind: 'back', amount: 1, unit: 'year' }, by: 'ratio', onCourse: 1, drifting: 0.96, direction },
  };
}

/** A new exhibit as it is first seen, on a page. Null where the dataset has nothing to show in it. */
export function newExhibit(kind: Exhibit['kind'], report: Report, dataset: Dataset, page: string | undefined): Exhibit | null {
  const own = dataset.name === report.dataset ? {} : { dataset: dataset.name };
  const placed = { page, ...own };
  const measures = dataset.measures.filter(({ hidden }) => !hidden);
  switch (kind) {
    case 'crosstab':
      return crosstabSchema.parse({
        ...placed,
        kind,
        id: freeExhibitId(report, 'cross-tab'),
        title: 'New cross-tab',
        side: { fields: [] },
        top: { fields: [] },
        cells: [],
      });
    case 'list': {
      const [fact] = dataset.facts;
      const fields = fact.fields.filter(({ hidden }) => !hidden).slice(0, 6);
      if (fields.length === 0) return null;
      const columns = fields.map(({ name, type }) => ({ field: name, ...(type === 'decimal' ? { total: 'sum' as const } : {}) }));
      return listSchema.parse({ ...placed, kind, id: freeExhibitId(report, 'list'), title: fact.label, fact: fact.name, columns });
    }
    case 'kpis':
      if (measures.length === 0) return null;
      return kpiStripSchema.parse({
        ...placed,
        kind,
        id: freeExhibitId(report, 'figures'),
        title: 'Key figures',
        kpis: measures.slice(0, 3).map((one) => newKpi(one)),
      });
    case 'text':
      return textSchema.parse({ page, kind, id: freeExhibitId(report, 'text'), text: '## A heading\n\nWords about {scope}.' });
    case 'image':
      return imageSchema.parse({ page, kind, id: freeExhibitId(report, 'picture'), source: EMPTY_PICTURE });
    case 'divider':
      return dividerSchema.parse({ page, kind, id: freeExhibitId(report, 'divider') });
  }
}

/** One transparent pixel, as SVG. */
const EMPTY_PICTURE = 'data:image/svg+xml;base64,PHN2ZyB4bWxucz0iaHR0cDovL3d3dy53My5vcmcvMjAwMC9zdmciIHdpZHRoPSIxIiBoZWlnaHQ9IjEiLz4=';

/** A copy of an exhibit for a report, with an id of its own there; its dataset is told where it is not the report's. */
export function copiedExhibit(exhibit: Exhibit, from: string, report: Report, page: string | undefined): Exhibit {
  const id = freeExhibitId(report, exhibit.id.replace(/-\d+$/, ''));
  if (!isDataExhibit(exhibit)) return { ...exhibit, id, page };
  const dataset = exhibit.dataset ?? from;
  return { ...exhibit, id, page, dataset: dataset === report.dataset ? undefined : dataset };
}
