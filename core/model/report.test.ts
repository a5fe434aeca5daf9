import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { crosstabSchema, datasetSchema, listSchema, reportSchema, withReportMeasures, type Dataset } from './index.ts';

const folder = new URL('../../demo/documents/', import.meta.url);
const read = (name: string): unknown => JSON.parse(readFileSync(new URL(name, folder), 'utf8'));
const names = readdirSync(folder).filter((name) => name !== 'dataset.json');

const bare = { schemaVersion: 1, id: 'trial', title: 'Trial', dataset: 'd', exhibits: [] };
const table = { kind: 'crosstab', id: 't', title: 'T', side: { fields: [] }, top: { fields: [] }, cells: [] };

/** Why a document is refused; an empty text where it is not. */
const refusal = (document: object): string => reportSchema.safeParse(document).error?.issues[0].message ?? '';

describe('reports as documents', () => {
  it.each(names)('go out and come back as they were: %s', (name) => {
    const report = reportSchema.parse(read(name));
    expect(reportSchema.parse(JSON.parse(JSON.stringify(report)))).toEqual(report);
  });

  it('say little: what is usual is filled in', () => {
    expect(reportSchema.parse({ ...bare, exhibits: [table] })).toMatchObject({
      ...{ folder: '', prompts: [], pages: [], scopeLine: [] },
      exhibits: [
        {
          style: 'yearbook',
          measuresOn: 'top',
          blank: '–',
          freeze: true,
          width: 12,
          side: { total: 'auto', layout: 'tree', hideEmpty: true },
        },
      ],
    });
    expect(listSchema.parse({ kind: 'list', id: 'l', title: 'L', fact: 'f', columns: [{ field: 'a' }] })).toMatchObject({
      ...{ paging: 'pages', detail: true, groups: [], rowNumbers: false },
    });
  });

  it('are refused where they are no report, or would not fit', () => {
    expect(refusal({ ...bare, schemaVersion: 2 })).not.toBe('');
    expect(refusal({ ...bare, id: 'Ünsafe id' })).toContain('small letters, digits and hyphens');
    expect(refusal({ ...bare, title: '' })).not.toBe('');
    expect(refusal({ ...bare, exhibits: [{ ...table, width: 13 }] })).not.toBe('');
    expect(refusal({ ...bare, exhibits: [{ ...table, kind: 'unheard-of' }] })).not.toBe('');
    expect(refusal({ ...bare, exhibits: [{ kind: 'list', id: 'l', title: 'L', fact: 'f', columns: [{}] }] })).toBe(
      'A column is of a field or of a measure',
    );
    expect(refusal({ ...bare, exhibits: [{ kind: 'image', id: 'i', source: 'https://elsewhere.example/x.png' }] })).toContain('PNG, JPEG');
    expect(refusal({ ...bare, exhibits: [{ kind: 'image', id: 'i', source: 'data:text/html;base64,PGI+' }] })).toContain('PNG, JPEG');
  });

  it('hold orders and picks of levels, and subtotals before or after their members', () => {
    const levels = {
      region: { subtotalPlace: 'after', order: { by: 'measure', measure: 'net', at: ['2026'] }, pick: { count: 3, measure: 'net' } },
    };
    expect(crosstabSchema.parse({ ...table, side: { fields: ['region'], levels } }).side.levels.region).toEqual({
      ...{ subtotal: true, subtotalPlace: 'after' },
      order: { by: 'measure', measure: 'net', at: ['2026'], direction: 'desc' },
      pick: { count: 3, from: 'top', measure: 'net', at: [], per: 'parent', others: true },
    });
    expect(
      crosstabSchema.safeParse({ ...table, side: { fields: [], levels: { region: { pick: { count: 0, measure: 'net' } } } } }).success,
    ).toBe(false);
  });
});

describe('the dataset of the demo company', () => {
  const dataset: Dataset = datasetSchema.parse(read('dataset.json'));
  it('goes out and comes back as it was', () => {
    expect(datasetSchema.parse(JSON.parse(JSON.stringify(dataset)))).toEqual(dataset);
  });
  it('is refused where two things have one name, or a fact names what is not there', () => {
    const twice = { ...dataset, measures: [...dataset.measures, dataset.measures[0]] };
    expect(datasetSchema.safeParse(twice).success).toBe(false);
    const [fact, ...rest] = dataset.facts;
    const lost = { ...dataset, facts: [{ ...fact, links: [{ ...fact.links[0], dimension: 'nowhere' }] }, ...rest] };
    expect(datasetSchema.safeParse(lost).success).toBe(false);
  });
});

describe('the measures of a report', () => {
  const dataset: Dataset = datasetSchema.parse(read('dataset.json'));
  const own = { ...dataset.measures[0], name: 'own_share', label: 'Own share', formula: 'share(net_sales)' };

  it('stand among those of its dataset, which come first where names are the same', () => {
    const together = withReportMeasures(dataset, [own, { ...own, name: 'NET_SALES', label: 'Another' }]);
    expect(together.measures).toHaveLength(dataset.measures.length + 1);
    expect(together.measures.at(-1)).toEqual(own);
    // The same measures make the same object, so that what is calculated for it is found again.
    expect(withReportMeasures(dataset, [{ ...own }, { ...own, name: 'NET_SALES', label: 'Another' }])).toBe(together);
    expect(withReportMeasures(dataset, [])).toBe(dataset);
  });
});
