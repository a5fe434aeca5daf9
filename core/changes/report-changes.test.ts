import fc from 'fast-check';
import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import {
  axisOver,
  crosstabSchema,
  listSchema,
  pageSetupSchema,
  reportSchema,
  sectionsSchema,
  type Crosstab,
  type Exhibit,
  type Report,
} from '../model/index.ts';
import { workedDataset } from '../testing/worked-example.ts';
import { reportChanges } from './index.ts';

const folder = new URL('../../demo/documents/', import.meta.url);
const documents: Report[] = readdirSync(folder)
  .filter((name) => name !== 'dataset.json')
  .map((name) => reportSchema.parse(JSON.parse(readFileSync(new URL(name, folder), 'utf8'))));

const crosstab = crosstabSchema.parse({
  ...{ kind: 'crosstab', id: 'table', title: 'Table', side: axisOver(['region', 'country']), top: axisOver(['year']) },
  cells: [{ measure: 'net' }, { measure: 'goal' }],
});
const list = listSchema.parse({
  ...{ kind: 'list', id: 'lines', title: 'Lines', fact: 'sales' },
  columns: [{ field: 'country' }, { measure: 'net' }],
});
const report = reportSchema.parse({
  ...{ schemaVersion: 1, id: 'trial', title: 'Trial', folder: 'Here', dataset: workedDataset.name },
  ...{ exhibits: [crosstab, list], pages: [{ id: 'one', title: 'One' }] },
});
const changes = (after: Partial<Report>): string[] => reportChanges(report, { ...report, ...after }, () => workedDataset);
const withTable = (part: Partial<Crosstab>): string[] => changes({ exhibits: [{ ...crosstab, ...part }, list] });

describe('what changed between two documents', () => {
  it('is nothing between a document and itself', () => {
    for (const document of documents) expect(reportChanges(document, structuredClone(document), () => undefined)).toEqual([]);
  });

  it('is told of titles, folders, notes, pages and prompts', () => {
    expect(changes({ title: 'Other' })).toEqual(['The title was “Trial” and is “Other” now.']);
    expect(changes({ subtitle: 'For everyone' })).toEqual(['The subtitle is “For everyone” now.']);
    expect(changes({ folder: 'There' })).toEqual(['It was moved from “Here” to “There”.']);
    expect(changes({ note: 'New' })).toEqual(['Its description in the library changed.']);
    expect(changes({ pages: [{ id: 'two', title: 'Two' }] })).toEqual(['The page “Two” was added.', 'The page “One” was removed.']);
    expect(changes({ pages: [{ id: 'one', title: 'First' }] })).toEqual(['The page “One” is called “First” now.']);
    expect(changes({ prompts: [{ id: 'p', kind: 'members', fields: ['region'], multiple: true, initial: {} }] })).toEqual([
      'What the reader is asked changed.',
    ]);
    expect(changes({ scopeLine: [{ text: 'Everything' }] })).toEqual(['The words of the scope line changed.']);
  });

  it('names sections and page setup', () => {
    const sections = sectionsSchema.parse({ field: 'region' });
    const between = (before: Report, after: Report): string[] => reportChanges(before, after, () => workedDataset);
    const repeated = { ...report, sections };
    expect(changes({ sections })).toEqual(['The report has sections by region now.']);
    expect(between(repeated, report)).toEqual(['The report has no sections any more.']);
    const laid = { ...report, sections: { ...sections, layout: 'one-page' as const } };
    expect(between(repeated, laid)).toEqual(['The report: how its sections by region are shown changed.']);
    expect(changes({ pageSetup: pageSetupSchema.parse({ size: 'a3' }) })).toEqual(['How it is printed changed.']);
    const [first, ...others] = report.exhibits;
    const exhibits = [{ ...first, sections } as typeof first, ...others];
    expect(changes({ exhibits })).toEqual([expect.stringMatching(/ has sections by region now\.$/)]);
  });

  it('is told of exhibits that came, went, or stand elsewhere', () => {
    expect(changes({ exhibits: [list, crosstab] })).toEqual(['The exhibits stand in another order.']);
    expect(changes({ exhibits: [crosstab] })).toEqual(['The list “Lines” was removed.']);
    const text: Exhibit = { kind: 'text', id: 'words', width: 12, text: 'Hello' };
    expect(changes({ exhibits: [crosstab, list, text] })).toEqual(['The text was added.']);
    expect(changes({ exhibits: [{ ...list, id: 'table' }, list] })).toEqual(['“Table” is a list now.']);
  });

  it('is told of a cross-tab in the words of its fields and measures', () => {
    expect(withTable({ side: axisOver(['country']) })).toEqual(['“Table”: Region was removed down the side.']);
    expect(withTable({ side: axisOver(['country', 'region']) })).toEqual(['“Table”: another order down the side.']);
    expect(withTable({ top: axisOver(['year', 'quarter']) })).toHaveLength(1);
    expect(withTable({ cells: [{ measure: 'net' }] })).toEqual([expect.stringMatching(/was removed in the cells\.$/)]);
    expect(withTable({ cells: [{ measure: 'net', heading: 'Sold' }, { measure: 'goal' }] })).toEqual([
      expect.stringMatching(/^“Table”: how .* is shown changed\.$/),
    ]);
    expect(withTable({ style: 'ledger', freeze: false })).toEqual(['“Table”: its style changed.', '“Table”: what stays in view changed.']);
    expect(withTable({ side: { ...crosstab.side, totalPlace: 'before' } })).toEqual([
      '“Table”, down the side: where totals stand changed.',
    ]);
  });

  it('is told of a list by its columns', () => {
    const withList = (part: object): string[] => changes({ exhibits: [crosstab, { ...list, ...part }] });
    expect(withList({ columns: [{ measure: 'net' }] })).toEqual(['“Lines”: Country was removed among the columns.']);
    expect(withList({ columns: [{ field: 'country', hidden: true }, { measure: 'net' }] })).toEqual([
      '“Lines”: how Country is shown changed.',
    ]);
    expect(withList({ paging: 'scroll', rowNumbers: true })).toEqual([
      '“Lines”: its row numbers changed.',
      '“Lines”: how it is leafed through changed.',
    ]);
  });

  it('is never passed over in silence, whatever differs', () => {
    /** The ways to everything in a document that is no list or object itself, but for what names it. */
    const ways = (value: unknown, way: (string | number)[] = []): (string | number)[][] =>
      typeof value === 'object' && value !== null ? Object.entries(value).flatMap(([key, inner]) => ways(inner, [...way, key])) : [way];
    fc.assert(
      fc.property(fc.constantFrom(...documents), fc.nat(), (document, at) => {
        const known = ways(document).filter((way) => !['schemaVersion', 'id', 'dataset'].includes(String(way[0])));
        const way = known[at % known.length];
        const after = structuredClone(document);
        let holder = after as unknown as Record<string | number, unknown>;
        for (const step of way.slice(0, -1)) holder = holder[step] as typeof holder;
        const key = way.at(-1)!;
        const old = holder[key];
        const isKind = key === 'kind' && way.length === 3;
        holder[key] = isKind ? 'divider' : typeof old === 'number' ? old + 1 : typeof old === 'boolean' ? !old : `${String(old)}-x`;
        expect(
          reportChanges(document, after, () => undefined),
          way.join('.'),
        ).not.toEqual([]);
      }),
      { seed: 4, numRuns: 400 },
    );
  });
});
