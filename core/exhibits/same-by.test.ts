import { describe, expect, it } from 'vitest';
import { chartSchema, crosstabSchema, textSchema, varianceSchema } from '../model/index.ts';
import { workedDataset } from '../testing/worked-example.ts';
import { canBeShownBy, reportFaults, sameBy, shownAlready } from './index.ts';

const table = crosstabSchema.parse({
  ...{
    kind: 'crosstab',
    id: 'table',
    title: 'Net by region',
    side: { fields: ['region', 'country'], openLevels: 1 },
    top: { fields: ['year'] },
  },
  cells: [{ measure: 'net', format: { kind: 'number', decimals: 1 } }, { measure: 'goal' }],
});
const chart = chartSchema.parse({
  ...{
    kind: 'chart',
    id: 'chart',
    title: 'Net',
    side: { fields: ['month'] },
    top: { fields: [] },
    cells: [{ measure: 'net' }],
    chart: { kind: 'line' },
  },
});

describe('the same exhibit', () => {
  it('by another dimension goes by its levels, as many as there were, and says so', () => {
    const own = sameBy(table, { field: 'quarter' }, workedDataset);
    expect([own.side.fields, own.top.fields, own.title]).toEqual([['quarter'], ['year'], 'Net by quarter']);
    const city = sameBy(chart, { field: 'country' }, workedDataset);
    expect([city.side.fields, city.title]).toEqual([['country'], 'Net by country']);
    expect(own.cells).toEqual(table.cells);
  });

  it('from a finer level on goes by what is below it', () => {
    const own = sameBy(table, { field: 'country' }, workedDataset);
    expect([own.side.fields, own.title]).toEqual([['country', 'city'], 'Net by country']);
  });

  it('of another measure shows that in the place of the first, and says so', () => {
    const own = sameBy(table, { measure: 'average_price' }, workedDataset);
    expect(own.cells.map(({ measure }) => measure)).toEqual(['average_price', 'goal']);
    // How the other one was written says nothing of it.
    expect(own.cells[0].format).toBeUndefined();
    expect(own.title).toBe('Average price by region');
    expect(own.side).toEqual(table.side);
  });

  it('is sound, and what goes by nothing stays as it is', () => {
    const report = { schemaVersion: 1 as const, id: 'r', title: 'R', dataset: 'worked', folder: '', subtitle: '', note: '' };
    const parts = { pages: [], prompts: [], scopeLine: [], measures: [] };
    for (const field of ['city', 'quarter', 'channel'])
      expect(reportFaults({ ...report, ...parts, exhibits: [sameBy(table, { field }, workedDataset)] }, () => workedDataset)).toEqual([]);
    const text = textSchema.parse({ kind: 'text', id: 'text', text: 'Words' });
    expect(sameBy(text, { field: 'city' }, workedDataset)).toBe(text);
    expect(canBeShownBy(text)).toEqual({ fields: false, measures: false });
    const empty = crosstabSchema.parse({ ...table, side: { fields: [] }, top: { fields: [] }, cells: [] });
    expect(sameBy(empty, { field: 'city' }, workedDataset)).toBe(empty);
    expect(sameBy(empty, { measure: 'net' }, workedDataset)).toBe(empty);
  });

  it('is not offered by what it shows already', () => {
    expect(shownAlready(table)).toEqual(new Set(['region', 'country', 'year', 'net', 'goal']));
    const changed = varianceSchema.parse({ kind: 'variance', id: 'v', title: 'V', measure: 'net', fields: ['region'] });
    expect(canBeShownBy(changed)).toEqual({ fields: true, measures: true });
    expect(sameBy(changed, { field: 'channel' }, workedDataset).fields).toEqual(['channel']);
  });
});
