import { describe, expect, it } from 'vitest';
import { crosstabRequestSchema, listRequestSchema, type CrosstabResponse, type ListResponse } from '../api/index.ts';
import { ColumnsData, EXHIBIT_QUESTIONS, type AnswerContext } from '../answers/index.ts';
import { plainFigure } from '../format/index.ts';
import { crosstabSchema, factNamed, listSchema, type Crosstab, type List } from '../model/index.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';
import { cellsOf, crosstabHeading, crosstabRows, CrosstabTable, listColumns, listHeading, listRows, listTotals } from './index.ts';

/** Tables as rows of files: what the screen has, with figures to calculate on. */

const context: AnswerContext = {
  ...{ dataset: workedDataset, data: new ColumnsData(workedDataset, workedStore()), tables: new Map(), locale: 'en-GB' },
  report: () => Promise.resolve(null),
};
async function ask<Answer>(exhibit: Crosstab | List, path: string, request: object): Promise<Answer> {
  const question = EXHIBIT_QUESTIONS.find((one) => one.path === path)!;
  return (await question.answer(context, exhibit, { scope: {}, where: null }, request)) as Answer;
}
async function tableOf(part: object): Promise<CrosstabTable> {
  const exhibit = crosstabSchema.parse({
    ...{ kind: 'crosstab', id: 't', title: 'T', side: { fields: ['region', 'country'], summaries: ['count'] }, top: { fields: ['year'] } },
    cells: [
      { measure: 'net', format: { kind: 'currency', currency: 'EUR', unit: 'thousand', decimals: 2 } },
      { measure: 'attainment', format: { kind: 'percent', decimals: 1 } },
    ],
    ...part,
  });
  const axis = { open: { depth: 1, exceptions: [] }, order: null, hideEmpty: true };
  const window = { from: 0, count: 100 };
  const request = crosstabRequestSchema.parse({
    side: axis,
    top: { ...axis, open: { depth: 9, exceptions: [] } },
    rows: window,
    columns: window,
  });
  const answer = await ask<CrosstabResponse>(exhibit, 'crosstab', request);
  return new CrosstabTable(workedDataset, exhibit, cellsOf(answer), '2026-12-31', 'en-GB');
}

describe('a cross-tab as rows of a file', () => {
  it('names levels, members and measures with their units, and has figures as numbers in these', async () => {
    const table = await tableOf({});
    expect(crosstabHeading(table, 'en-GB').slice(0, 4)).toEqual([
      'Region',
      'Country',
      '2025 · Net (thousand euro)',
      '2025 · Attainment (%)',
    ]);
    const rows = crosstabRows(table, 'en-GB');
    // The worked example by hand: France 500 in 2025 and 900 in 2026, of 800; in all 3,250.
    expect(rows.find(([, country]) => country === 'France')).toEqual(['Atlantic', 'France', 0.5, null, 0.9, 112.5, 1.4, 175]);
    expect(rows.at(-1)!.slice(0, 2)).toEqual(['All regions', '']);
    expect(rows.at(-1)!.at(-2)).toBe(3.25);
    expect(rows.find(([label]) => label === 'Count of visible rows')!.at(-2)).toBe(2);
    const widths = new Set(rows.map((row) => row.length));
    expect([...widths]).toEqual([crosstabHeading(table, 'en-GB').length]);
  });

  it('says what stands over several measures before each of them', async () => {
    const table = await tableOf({ cells: [{ measure: 'net', spanning: 'Sold' }, { measure: 'average_price' }] });
    const heading = crosstabHeading(table, 'en-GB').slice(2, 4);
    expect(heading[0]).toBe('2025 · Sold · Net');
    expect(heading[1]).not.toContain('Sold');
  });

  it('says what the screen says, figure by figure', async () => {
    const table = await tableOf({ cells: [{ measure: 'net' }, { measure: 'average_price' }] });
    const rows = crosstabRows(table, 'en-GB');
    rows.forEach((own, row) =>
      own.slice(2).forEach((value, index) => {
        const { text } = table.cell(row, Math.floor(index / 2), index % 2);
        expect(value === null ? '–' : Number(value)).toBe(text === '–' ? '–' : Number(text.replaceAll(',', '').replace('−', '-')));
      }),
    );
  });

  it('has a line for each measure where these stand one below the other', async () => {
    const table = await tableOf({ measuresOn: 'side', top: { fields: [] } });
    expect(crosstabHeading(table, 'en-GB')).toEqual(['Region', 'Country', 'Measure', '']);
    const rows = crosstabRows(table, 'en-GB');
    expect(rows.slice(0, 2).map((row) => row.slice(0, 3))).toEqual([
      ['Atlantic', '', 'Net (thousand euro)'],
      ['Atlantic', '', 'Attainment (%)'],
    ]);
  });
});

describe('a list as rows of a file', () => {
  it('has its groups, records, and totals', async () => {
    const list = listSchema.parse({
      ...{ kind: 'list', id: 'l', title: 'L', fact: 'sales', rowNumbers: true, groups: [{ field: 'region' }] },
      columns: [{ field: 'city' }, { measure: 'net' }],
    });
    const answer = await ask<ListResponse>(
      list,
      'list',
      listRequestSchema.parse({ scope: {}, where: null, order: [], offset: 0, limit: 200 }),
    );
    const columns = listColumns(workedDataset, list);
    const heading = listHeading(list, columns, ['Region'], 'en-GB');
    const rows = listRows(list, factNamed(workedDataset, 'sales'), columns, answer.rows, 'en-GB');
    expect(heading.slice(0, 3)).toEqual(['Row', 'Region', 'City']);
    const records = rows.filter((_, at) => answer.rows[at].kind === 'record');
    expect(records.length).toBe(answer.records);
    const totals = listTotals(list, columns, answer, 'en-GB')!;
    expect(totals[0]).toBe('Total');
    expect(totals.at(-1)).toBe(3250);
    expect([...rows, totals].every((row) => row.length === heading.length)).toBe(true);
  });
});

describe('a plain figure', () => {
  it('is in the unit and with the decimals that it is shown with', () => {
    expect(plainFigure(1_234_567.891, { kind: 'currency', currency: 'EUR', unit: 'million', decimals: 2 })).toBe(1.23);
    expect(plainFigure(0.12345, { kind: 'percent', unit: 'one', decimals: 1 })).toBe(12.3);
    expect(plainFigure(-0.001, { kind: 'number', unit: 'one', decimals: 1 })).toBe(0);
    expect(plainFigure(3_723, { kind: 'duration', unit: 'one', decimals: 0 })).toBe('1:02:03');
  });
});
