import { describe, expect, it } from 'vitest';
import type { CrosstabResponse, Header, ListResponse } from '../api/index.ts';
import { crosstabSchema, listSchema, type Crosstab } from '../model/index.ts';
import { cellsOf } from '../table/index.ts';
import { workedDataset } from '../testing/worked-example.ts';
import { crosstabExport } from './crosstab-export.ts';
import { groupStarts } from './index.ts';
import { listExport } from './list-export.ts';

const look = { dataset: workedDataset, dataTo: '2026-10-31', locale: 'en-GB' };
const header = (path: string[], part: Partial<Header> = {}): Header => ({
  ...{ path, labels: path, role: 'member', depth: path.length, open: false, canOpen: false },
  ...part,
});
const total = header([], { role: 'total' });
const measures = ['net', 'goal'].map((measure) => ({ measure, side: 2, top: 1, available: true, reason: '' }));

function table(part: object, columns: Header[]): ReturnType<typeof crosstabExport> {
  const exhibit: Crosstab = crosstabSchema.parse({
    ...{ kind: 'crosstab', id: 't', title: 'T', side: { fields: ['region', 'country'] }, top: { fields: [] } },
    cells: [{ measure: 'net' }, { measure: 'goal' }],
    ...part,
  });
  const rows = [header(['North'], { open: true }), header(['North', 'Sweden']), total];
  const answer: CrosstabResponse = {
    ...{ rows: { total: 3, from: 0, items: rows }, columns: { total: columns.length, from: 0, items: columns }, measures, milliseconds: 0 },
    cells: rows.map((_, row) => columns.flatMap((_own, column) => [row * 10 + column, null])),
  };
  return crosstabExport(look, exhibit, cellsOf(answer));
}

describe('a cross-tab as it leaves', () => {
  it('has headings over members and measures, and knows where groups of columns begin', () => {
    const { head, labels, columns } = table({ top: { fields: ['year'] } }, [header(['2025']), header(['2026']), total]);
    expect(labels).toEqual(['Territory']);
    expect(head.map((level) => level.map(({ text, from, count }) => `${text} ${from}+${count}`))).toEqual([
      ['2025 0+2', '2026 2+2', 'All years 4+2'],
      [0, 2, 4].flatMap((from) => [`Net 0`, `Goal 1`].map((words, at) => `${words.split(' ')[0]} ${from + at}+1`)),
    ]);
    expect(groupStarts({ head, columns })).toEqual([true, false, true, false, true, false]);
  });

  it('lies as deep as its toggles, with values as they are beside their texts', () => {
    const { lines } = table({}, [total]);
    expect(lines.map(({ labels, depth, indent, role, strong }) => [labels[0], depth, indent, role, strong])).toEqual([
      ['North', 0, 0, 'member', true],
      ['Sweden', 1, 1, 'member', false],
      ['All regions', 0, 0, 'total', true],
    ]);
    expect(lines.map(({ cells }) => cells.map(({ value }) => value))).toEqual([
      [0, null],
      [10, null],
      [20, null],
    ]);
  });

  it('has a row of headings for its labels, also where measures stand below each other and nothing across', () => {
    const { head, labels, lines } = table({ measuresOn: 'side' }, [total]);
    expect(labels).toEqual(['Territory', 'Measure']);
    expect(head).toEqual([[]]);
    expect(lines.slice(0, 2).map((line) => line.labels)).toEqual([
      ['North', 'Net'],
      ['', 'Goal'],
    ]);
  });
});

it('totals of a list that count are counts, whatever their column is in', () => {
  const list = listSchema.parse({
    ...{ kind: 'list', id: 'l', title: 'L', fact: 'sales' },
    columns: [{ field: 'unit_price', total: 'count_distinct', format: { kind: 'currency', currency: 'EUR', unit: 'thousand' } }],
  });
  const answer: ListResponse = { records: 1, lines: 1, rows: [{ kind: 'record', values: [1500], number: 1, groups: [] }], totals: [1500] };
  const { lines } = listExport(look, list, answer);
  expect(lines[0].cells[0].format).toMatchObject({ unit: 'thousand' });
  expect(lines[1].cells[0]).toMatchObject({ value: 1500, text: '1,500', format: { kind: 'number', unit: 'one' } });
});
