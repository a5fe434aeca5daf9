import { describe, expect, it } from 'vitest';
import definition from '../../demo/documents/dataset.json';
import sales from '../../demo/documents/sales-against-target.json';
import lines from '../../demo/documents/order-lines.json';
import {
  datasetSchema,
  exhibitSchema,
  measureSchema,
  reportSchema,
  withReportMeasures,
  type Crosstab,
  type Dataset,
  type Exhibit,
  type List,
  type Report,
} from '../model/index.ts';
import { reportChanges } from '../changes/index.ts';
import { workedDataset } from '../testing/worked-example.ts';
import { copiedExhibit, EXHIBIT_KINDS, isExhibitKind, kindOf, newExhibit, newKpi, reportFaults } from './index.ts';

const dataset = datasetSchema.parse(definition);
const report = reportSchema.parse(sales);
const crosstab = report.exhibits.find((one): one is Crosstab => one.kind === 'crosstab')!;
const list = reportSchema.parse(lines).exhibits.find((one): one is List => one.kind === 'list')!;
const kinds = Object.keys(EXHIBIT_KINDS) as Exhibit['kind'][];
const faultsOf = (exhibit: Exhibit, own: Report = report): string[] => reportFaults({ ...own, exhibits: [exhibit] }, () => dataset);

describe('kinds of exhibits', () => {
  it.each(kinds)('begin as documents that are sound, with ids of their own: %s', (kind) => {
    const first = newExhibit(kind, report, dataset, 'page')!;
    expect(exhibitSchema.parse(first)).toEqual(first);
    expect(first).toMatchObject({ kind, page: 'page' });
    expect(faultsOf(first)).toEqual([]);
    const second = newExhibit(kind, { ...report, exhibits: [...report.exhibits, first] }, dataset, undefined)!;
    expect(second.id).not.toBe(first.id);
    const other: Dataset = { ...dataset, name: 'elsewhere' };
    const elsewhere = newExhibit(kind, report, other, undefined)!;
    expect('filter' in elsewhere ? elsewhere.dataset : 'elsewhere').toBe('elsewhere');
  });

  it('are told by their names, which are none of an object’s own', () => {
    expect(kinds.every(isExhibitKind)).toBe(true);
    for (const none of ['toString', 'constructor', '__proto__', 'diagram', '']) expect(isExhibitKind(none)).toBe(false);
    for (const kind of kinds) expect(EXHIBIT_KINDS[kind]).toMatchObject({ kind, label: expect.stringMatching(/^[A-Z]/) as string });
  });

  it('begin as nothing where the dataset has nothing to show', () => {
    const bare: Dataset = { ...dataset, measures: [], facts: dataset.facts.map((fact) => ({ ...fact, fields: [] })) };
    expect(newExhibit('kpis', report, bare, undefined)).toBeNull();
    expect(newExhibit('list', report, bare, undefined)).toBeNull();
    expect(newExhibit('text', report, bare, undefined)).not.toBeNull();
  });

  it('read the names that stand anywhere in them', () => {
    const full: Crosstab = {
      ...crosstab,
      side: {
        ...crosstab.side,
        order: { by: 'measure', measure: 'units', direction: 'desc', at: [] },
        levels: {
          region: { ...crosstab.side.levels.region, order: { by: 'field', field: 'showroom_opened', direction: 'asc' } },
          country: { subtotal: true, pick: { count: 3, measure: 'orders_count', from: 'top', per: 'all', others: true, at: [] } },
        },
      },
      conditions: [{ field: 'city', measure: 'gross_margin', op: 'ge', value: 0 }],
      filter: { op: 'eq', field: 'channel', value: 'Online' },
    };
    const { fields, measures } = kindOf(full).names(full);
    expect(fields).toEqual(expect.arrayContaining(['region', 'country', 'showroom_opened', 'city', 'channel', 'year']));
    expect(measures).toEqual(expect.arrayContaining(['units', 'orders_count', 'gross_margin', 'net_sales']));
  });
});

describe('a copy', () => {
  const other: Report = { ...report, id: 'other', dataset: 'elsewhere', exhibits: [] };
  it('has an id of its own, and tells its dataset where that is not the report’s', () => {
    expect(copiedExhibit(crosstab, 'hollin-marsh', report, 'p')).toEqual({
      ...crosstab,
      id: `${crosstab.id}-2`,
      page: 'p',
      dataset: undefined,
    });
    expect(copiedExhibit({ ...crosstab, id: `${crosstab.id}-7` }, 'hollin-marsh', report, undefined).id).toBe(`${crosstab.id}-2`);
    expect(copiedExhibit(crosstab, 'hollin-marsh', other, undefined)).toMatchObject({ id: crosstab.id, dataset: 'hollin-marsh' });
    const back = copiedExhibit({ ...crosstab, dataset: 'elsewhere' }, 'hollin-marsh', other, undefined);
    expect(back).toMatchObject({ dataset: undefined });
  });
});

describe('key figures', () => {
  it('have ids that no other one of their strip has', () => {
    const measure = dataset.measures[0];
    expect(newKpi(measure).id).toBe('net-sales');
    expect(newKpi(measure, ['net-sales', 'net-sales-2']).id).toBe('net-sales-3');
    expect(newKpi({ ...measure, name: '___' }).id).toMatch(/^[a-z-]+$/);
    expect(newKpi({ ...measure, direction: 'lower' }).indicator.direction).toBe('lower');
  });
});

describe('faults of a report', () => {
  it('are none in the demo', () => {
    expect(reportFaults(report, () => dataset)).toEqual([]);
    expect(faultsOf(list)).toEqual([]);
  });

  it('name what is missing, once for each exhibit', () => {
    const side = { ...crosstab.side, fields: ['planet', 'moon'] };
    expect(faultsOf({ ...crosstab, side })).toEqual([`There is no field called "planet" in ${dataset.label}.`]);
    expect(faultsOf({ ...crosstab, cells: [{ measure: 'happiness' }] })).toEqual([
      `There is no measure called "happiness" in ${dataset.label}.`,
    ]);
    expect(reportFaults({ ...report, exhibits: [crosstab, crosstab] }, () => dataset)).toEqual([
      `Two exhibits have the id "${crosstab.id}".`,
    ]);
  });

  it('tell measures that cannot be counted in another way, and records that have not what a list shows', () => {
    expect(faultsOf({ ...crosstab, cells: [{ measure: 'attainment', aggregation: 'median' }] })[0]).toContain('no single aggregate');
    expect(faultsOf({ ...crosstab, cells: [{ measure: 'units', aggregation: 'median' }] })).toEqual([]);
    expect(faultsOf({ ...list, fact: 'letters' })).toEqual([`There are no records called "letters" in ${dataset.label}.`]);
    expect(faultsOf({ ...list, fact: 'targets' })[0]).toMatch(/have no "/);
  });
});

describe('the measures of a report', () => {
  const report = reportSchema.parse({ schemaVersion: 1, id: 'own', title: 'Own', dataset: 'worked', exhibits: [] });
  const measure = measureSchema.parse({ name: 'own', label: 'Own', formula: 'share(net)' });
  const faultsOf = (measures: (typeof measure)[]): string[] => {
    const whole = { ...report, measures };
    return reportFaults(whole, () => withReportMeasures(workedDataset, measures));
  };

  it('are sound, or said to be wrong in words', () => {
    expect(faultsOf([measure])).toEqual([]);
    expect(faultsOf([{ ...measure, formula: 'share(nett)' }])[0]).toContain('The measure Own: There is no field or measure called "nett".');
    expect(faultsOf([{ ...measure, formula: 'own + 1' }])[0]).toContain('These measures need each other');
    expect(faultsOf([measure, { ...measure, label: 'Twice' }])).toHaveLength(1);
    expect(faultsOf([{ ...measure, name: 'net' }])[0]).toContain('stands for something else');
    expect(faultsOf([{ ...measure, name: 'Quantity' }])[0]).toContain('stands for something else');
  });

  it('that changed are told as formulas', () => {
    const after = { ...report, measures: [{ ...measure, formula: 'rank(net)' }] };
    expect(reportChanges(report, { ...report, measures: [measure] }, () => workedDataset)).toEqual([
      'The measure “Own” was added: share(net).',
    ]);
    expect(reportChanges({ ...report, measures: [measure] }, after, () => workedDataset)).toEqual([
      'The formula of “Own” was share(net) and is rank(net) now.',
    ]);
    expect(reportChanges(after, report, () => workedDataset)).toEqual(['The measure “Own” was removed.']);
  });
});
