import { describe, expect, it } from 'vitest';
import definition from '../../demo/documents/dataset.json';
import { datasetSchema, listSchema, type List } from '../model/index.ts';
import type { ListRow } from '../api/index.ts';
import { listColumns, listLine, listState, totalText, valueText } from './list-table.ts';

const dataset = datasetSchema.parse(definition);
const list = (part: object = {}): List =>
  listSchema.parse({
    ...{ kind: 'list', id: 'lines', title: 'Lines', fact: 'orders' },
    columns: [
      { field: 'country', heading: 'Land', total: 'count_distinct' },
      { field: 'order_date' },
      { field: 'quantity', total: 'sum' },
      { measure: 'net_sales' },
      { field: 'status', hidden: true },
    ],
    ...part,
  });

describe('indicators of a list', () => {
  const indicator = { by: 'ratio', onCourse: 1, drifting: 0.96, direction: 'higher' };
  const judged = (against: object, values: (number | null)[], by = 'ratio') => {
    const columns = [
      { measure: 'net_sales', indicator: { ...indicator, by, against } },
      { measure: 'target', hidden: true },
    ];
    return listState(listColumns(dataset, list({ columns, detail: false, groups: [{ field: 'country' }] }))[0], values)?.state ?? null;
  };
  it('hold a measure against another column, hidden or not, or against a number', () => {
    const target = { kind: 'measure', measure: 'target' };
    expect([judged(target, [100, 100]), judged(target, [97, 100]), judged(target, [95, 100])]).toEqual(['on', 'drifting', 'off']);
    expect(judged(target, [100, null])).toBe('none');
    expect(judged({ kind: 'value', value: 200 }, [100, null])).toBe('off');
    expect(judged({ kind: 'none' }, [1, null], 'value')).toBe('on');
  });
  it('say nothing of what is no number, nor of columns that have none', () => {
    expect(judged({ kind: 'value', value: 1 }, [null, null])).toBeNull();
    expect(listState(listColumns(dataset, list())[3], [null, null, null, 5])).toBeNull();
  });
});

describe('the columns of a list', () => {
  const columns = listColumns(dataset, list());
  it('are those that are not hidden, under their own headings, at their place in the document', () => {
    expect(columns.map(({ index, heading, numeric }) => [index, heading, numeric])).toEqual([
      [0, 'Land', false],
      [1, 'Order date', false],
      [2, 'Quantity', true],
      [3, 'Net sales', true],
    ]);
  });
  it('write dates, numbers, yes and no, and what is missing', () => {
    const [country, date, quantity, measure] = columns;
    expect(valueText('2026-03-07', date, 'en-GB')).toBe('7 Mar 2026');
    expect(valueText(12_345, quantity, 'en-GB')).toBe('12,345');
    expect([valueText(true, country, 'en-GB'), valueText(false, country, 'en-GB'), valueText(null, country, 'en-GB')]).toEqual([
      'Yes',
      'No',
      '–',
    ]);
    // A measure has no value beside a single record.
    expect(valueText(null, measure, 'en-GB')).toBe('');
  });
  it('count in plain numbers, and leave totals empty where none was asked for', () => {
    const [country, date, quantity] = columns;
    expect([totalText(1_017, country, 'en-GB'), totalText(5, date, 'en-GB'), totalText(9_000, quantity, 'en-GB')]).toEqual([
      '1,017',
      '',
      '9,000',
    ]);
  });
  it('show numbers that name something as they are', () => {
    const [named] = listColumns(dataset, list({ columns: [{ field: 'quantity' }] }));
    expect([named.numeric, valueText(12_345, named, 'en-GB')]).toEqual([false, '12345']);
  });
  it('write the texts and dates that measures give, at the left', () => {
    const last = { ...dataset.measures[0], name: 'last_order', label: 'Last order', formula: 'max(order_date)' };
    const own = { ...dataset, measures: [...dataset.measures, last] };
    const [rating, date] = listColumns(own, list({ columns: [{ measure: 'target_rating' }, { measure: 'last_order' }] }));
    expect([rating.numeric, date.numeric]).toEqual([false, false]);
    expect([totalText('reached', rating, 'en-GB'), totalText('2026-10-31', date, 'en-GB')]).toEqual(['reached', '31 Oct 2026']);
  });
});

describe('lines of a list', () => {
  const columns = (own: List) => listColumns(dataset, own);
  const textsOf = (own: List, row: ListRow): string[] =>
    listLine(own, dataset.facts[0], columns(own), row, 'en-GB').cells.map(({ text }) => text);
  const total = { totals: [2, null, 30, 900, null], groups: ['Nordic'], records: 12, depth: 1 };
  const groups = (part: object) => list({ groups: [{ field: 'region', ...part }] });

  it('show the totals of a group in its footer, in its header where it has none, or in both', () => {
    const shown = (part: object): boolean[] =>
      (['header', 'footer'] as const).map((kind) => textsOf(groups(part), { kind, ...total }).includes('30'));
    expect(shown({})).toEqual([false, true]);
    expect(shown({ footer: false })).toEqual([true, true]);
    expect(shown({ headerTotals: true })).toEqual([true, true]);
  });

  it('are shaded as the style says: every second record by its number, whatever part is in view, or the lines of groups', () => {
    const band = (banding: string | undefined, row: ListRow): boolean =>
      listLine(list({ banding }), dataset.facts[0], columns(list()), row, 'en-GB').band;
    const record = (number: number): ListRow => ({ kind: 'record', number, groups: [], values: ['SE', '2026-01-01', 1, 1, 'Open'] });
    expect([1, 2, 3, 4].map((number) => band('rows', record(number)))).toEqual([false, true, false, true]);
    expect([band('rows', { kind: 'footer', ...total }), band('groups', { kind: 'footer', ...total })]).toEqual([false, true]);
    expect([band('groups', record(2)), band(undefined, record(2))]).toEqual([false, false]);
  });
});
