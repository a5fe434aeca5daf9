import { initialScope } from '@bold-compass/core/prompts';
import { axisOver, chartSchema, reportSchema, type Crosstab, type Filter, type Report } from '@bold-compass/core/model';
import fc from 'fast-check';
import { createMemoryHistory, createRouter, type LocationQuery, type LocationQueryRaw } from 'vue-router';
import { describe, expect, it } from 'vitest';
import document from '../../../demo/documents/sales-against-target.json';
import {
  cellQuery,
  choiceQuery,
  emptyQuery,
  linkedQuery,
  openQuery,
  orderQuery,
  readChoices,
  readCrosstabState,
  readScope,
  readWhere,
  scopeQuery,
  stateQuery,
  toggled,
  whereQuery,
  type Orders,
} from './url-state.ts';

const report: Report = reportSchema.parse(document);
const exhibit = report.exhibits.find((one): one is Crosstab => one.kind === 'crosstab')!;
const router = createRouter({ history: createMemoryHistory(), routes: [{ path: '/', component: {} }] });

/** A query as it comes back from the address bar. */
const throughAddress = (query: LocationQueryRaw): LocationQuery => router.resolve(router.resolve({ path: '/', query }).fullPath).query;

const member = fc.string({ minLength: 1, maxLength: 8 }).filter((text) => text !== '*');

const first = initialScope(report);

describe('choices of prompts in addresses', () => {
  const text = { kind: 'text' as const, id: 'p', words: '', field: 'country', initial: 'Swe' };
  const prompted: Report = reportSchema.parse({ ...report, prompts: [text] });
  const read = (query: LocationQueryRaw) => readChoices(prompted, throughAddress(query));

  it('are the first ones where nothing is said, none where a link led here, and the reader’s wherever they chose', () => {
    expect(read({})).toEqual({});
    expect(read(linkedQuery)).toEqual({ p: [] });
    expect(read({ ...linkedQuery, ...choiceQuery('p', ['Nor']) })).toEqual({ p: ['Nor'] });
    expect(read(choiceQuery('p', []))).toEqual({ p: [] });
  });
});

describe('scope in addresses', () => {
  it('comes back the same', () => {
    fc.assert(
      fc.property(
        fc.dictionary(
          fc.constantFrom('region', 'country', 'city', 'year', 'quarter', 'channel'),
          fc.uniqueArray(member, { minLength: 1, maxLength: 3 }),
        ),
        (scope) => {
          const { ...plain } = scope;
          expect(readScope(report, throughAddress(scopeQuery(plain)), first)).toEqual(plain);
        },
      ),
      { seed: 11 },
    );
  });

  it("is the report's first choice until a reader chooses, then theirs, also when that is everything", () => {
    expect(readScope(report, {}, first)).toEqual({ year: ['2026'] });
    expect(readScope(report, throughAddress({ 'territory.side': ['1'] }), first)).toEqual({ year: ['2026'] });
    expect(readScope(report, throughAddress(scopeQuery({})), first)).toEqual({});
    expect(readScope(report, throughAddress({ region: 'Nordic' }), first)).toEqual({ region: ['Nordic'] });
  });

  it('is kept apart from how exhibits stand', () => {
    const query = throughAddress({ region: 'Nordic', compose: '', 'territory.side': ['1', 'Nordic'] });
    expect(stateQuery(query)).toEqual({ compose: '', 'territory.side': ['1', 'Nordic'] });
  });
});

describe('the state of a cross-tab in addresses', () => {
  it('comes back the same', () => {
    const path = fc.array(fc.option(member), { minLength: 1, maxLength: 3 });
    fc.assert(
      fc.property(fc.nat({ max: 4 }), fc.array(path, { maxLength: 4 }), path, path, (depth, opened, side, top) => {
        const open = opened.reduce(toggled, { depth, exceptions: [] });
        const cell = { side, top, measure: 'target' };
        const state = readCrosstabState(exhibit, throughAddress({ ...openQuery(exhibit, 'side', open), ...cellQuery(exhibit, cell) }));
        expect(state.side.open).toEqual(open);
        expect(state.cell).toEqual(cell);
      }),
      { seed: 12 },
    );
    const order: Orders = { by: 'measure', measure: 'net_sales', at: ['2026', '2026-Q2'], direction: 'asc' };
    expect(readCrosstabState(exhibit, throughAddress(orderQuery(exhibit, 'side', order))).side.order).toEqual(order);
  });

  it('opens and closes a member by the same step', () => {
    const once = toggled({ depth: 1, exceptions: [] }, ['Nordic', 'Sweden']);
    expect(once.exceptions).toEqual(['Nordic/Sweden']);
    expect(toggled(once, ['Nordic', 'Sweden']).exceptions).toEqual([]);
  });

  it('switches empty rows and columns on their own', () => {
    const first = readCrosstabState(exhibit, {});
    const rows = throughAddress(emptyQuery(exhibit, first, 'side'));
    const state = readCrosstabState(exhibit, rows);
    expect([state.side.hideEmpty, state.top.hideEmpty]).toEqual([false, true]);
    expect(emptyQuery(exhibit, state, 'side')).toEqual({ 'territory.empty': undefined });
    expect(emptyQuery(exhibit, state, 'top')).toEqual({ 'territory.empty': ['side', 'top'] });
  });

  it('falls back to the report where an address was edited by hand', () => {
    const broken = throughAddress({
      'territory.side': ['many'],
      'territory.top': ['-1'],
      'territory.side-order': ['sideways'],
      'territory.cell': ['a', 'b', 'no measure'],
    });
    expect(readCrosstabState(exhibit, broken)).toEqual(readCrosstabState(exhibit, {}));
  });
});

describe('the state of a chart in addresses', () => {
  const chart = (part: object) =>
    chartSchema.parse({
      ...{ kind: 'chart', id: 'drawn', title: 'Drawn', side: { fields: ['country'] }, cells: [{ measure: 'net_sales' }] },
      ...{ top: { fields: ['quarter', 'channel'] }, chart: { kind: 'bar', ...part } },
    });
  it('begins with the periods open that it goes through, so that each shows its series', () => {
    expect(readCrosstabState(chart({}), {}).top.open).toEqual({ depth: 0, exceptions: [] });
    expect(readCrosstabState(chart({ through: {} }), {}).top.open).toEqual({ depth: 1, exceptions: [] });
    const alone = { ...chart({ through: {} }), top: axisOver(['quarter']) };
    expect(readCrosstabState(alone, {}).top.open).toEqual({ depth: 0, exceptions: [] });
  });
});

describe('conditions in addresses', () => {
  const value = fc.oneof(fc.string({ maxLength: 12 }), fc.integer(), fc.boolean());
  const { filter } = fc.letrec<{ filter: Filter }>((tie) => ({
    filter: fc.oneof(
      { maxDepth: 3 },
      fc.record({ op: fc.constantFrom('eq' as const, 'ne' as const), field: fc.constantFrom('city', 'net price'), value }),
      fc.record({ op: fc.constant('in' as const), field: fc.constant('city'), values: fc.array(fc.string(), { maxLength: 3 }) }),
      fc.record({ op: fc.constantFrom('empty' as const, 'notEmpty' as const), field: fc.constant('channel') }),
      fc.record({ op: fc.constantFrom('and' as const, 'or' as const), items: fc.array(tie('filter'), { maxLength: 3 }) }),
      fc.record({ op: fc.constant('not' as const), item: tie('filter') }),
    ),
  }));

  it('come back the same', () => {
    fc.assert(fc.property(filter, (where) => void expect(readWhere(throughAddress(whereQuery(where)))).toEqual(where)));
    expect(throughAddress(whereQuery(null))).toEqual({});
  });

  it('that cannot be read are none', () => {
    for (const broken of ['{', '7', '{"op":"drop"}', '{"op":"eq"}', '']) expect(readWhere({ 'report.where': broken })).toBeNull();
  });
});
