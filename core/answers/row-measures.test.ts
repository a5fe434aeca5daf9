import { describe, expect, it } from 'vitest';
import { crosstabRequestSchema, type CrosstabResponse, type Explanation } from '../api/index.ts';
import { crosstabSchema, type Crosstab } from '../model/index.ts';
import { cellsOf, CrosstabTable } from '../table/index.ts';
import { withFormulas } from '../testing/formulas.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';
import { reportFaults } from '../exhibits/index.ts';
import { ColumnsData, EXHIBIT_QUESTIONS, type AnswerContext } from './index.ts';

/** One level shows another measure than its parent, and totals another formula or none. Figures of formulas.md, in 2026. */

const OF_TOTAL = 'share(net, of: total)';
const OF_PARENT = 'share(net)';
const dataset = withFormulas(workedDataset, [OF_TOTAL, OF_PARENT]);
dataset.measures.slice(-2).forEach((measure) => (measure.format = { kind: 'percent', decimals: 2, unit: 'one' }));
const context: AnswerContext = {
  ...{ dataset, data: new ColumnsData(dataset, workedStore()), tables: new Map(), locale: 'en-GB' },
  report: () => Promise.resolve(null),
};
const crosstab = (cells: object[], part: object = {}): Crosstab =>
  crosstabSchema.parse({
    ...{ kind: 'crosstab', id: 'shares', title: 'Shares', side: { fields: ['region', 'country'], total: 'always' }, top: { fields: [] } },
    ...{ cells, filter: { op: 'in', field: 'year', values: ['2026'] }, ...part },
  });
async function ask<Answer>(exhibit: Crosstab, path: string, part: object): Promise<Answer> {
  const question = EXHIBIT_QUESTIONS.find((one) => one.path === path)!;
  return (await question.answer(context, exhibit, { scope: {}, where: null }, question.request.parse(part))) as Answer;
}
async function shown(exhibit: Crosstab): Promise<{ rows: Record<string, (string | number | null)[]>; answer: CrosstabResponse }> {
  const axis = { open: { depth: 9, exceptions: [] }, order: null, hideEmpty: true };
  const window = { from: 0, count: 100 };
  const answer = await ask<CrosstabResponse>(
    exhibit,
    'crosstab',
    crosstabRequestSchema.parse({ side: axis, top: axis, rows: window, columns: window }),
  );
  return { answer, rows: Object.fromEntries(answer.rows.items.map(({ path }, row) => [path.join('/'), answer.cells[row]])) };
}

describe('measures by level', () => {
  it('regions as shares of the total and countries as shares of their region both add up to 100 %', async () => {
    const { rows } = await shown(crosstab([{ measure: OF_TOTAL, levels: { country: OF_PARENT } }]));
    const [nordic, atlantic] = [Number(rows.Nordic[0]), Number(rows.Atlantic[0])];
    expect(nordic).toBeCloseTo(0.561, 3);
    expect(nordic + atlantic).toBeCloseTo(1, 12);
    expect(Number(rows['Nordic/Sweden'][0])).toBeCloseTo(0.7826, 4);
    expect(Number(rows['Nordic/Sweden'][0]) + Number(rows['Nordic/Denmark'][0])).toBeCloseTo(1, 12);
  });

  it('a total shows another measure, or nothing', async () => {
    const { rows } = await shown(
      crosstab([
        { measure: 'net', total: 'average_price' },
        { measure: 'goal', total: null },
      ]),
    );
    expect(rows['']).toEqual([225, null]);
    expect(rows.Nordic).toEqual([1150, 1200]);
  });

  it('cells are explained as they are shown', async () => {
    const exhibit = crosstab([{ measure: OF_TOTAL, levels: { country: OF_PARENT }, total: 'net' }]);
    const { rows } = await shown(exhibit);
    for (const [key, [value]] of Object.entries(rows)) {
      const side = key === '' ? [] : key.split('/');
      const explained = await ask<Explanation>(exhibit, 'explain', { side, top: [], measure: OF_TOTAL });
      expect(explained.value).toBe(value);
      expect(explained.measure).toBe(side.length === 0 ? 'net' : side.length === 1 ? OF_TOTAL : OF_PARENT);
    }
  });

  it('are written in their own format, with the unit where the heading names another', async () => {
    const exhibit = crosstab([
      { measure: 'net', levels: { country: OF_PARENT } },
      { measure: 'goal', levels: { region: null } },
    ]);
    const table = new CrosstabTable(dataset, exhibit, cellsOf((await shown(exhibit)).answer), '2026-02-28', 'en-GB');
    const texts = [0, 1, 2].map((row) => [0, 1].map((position) => table.cell(row, 0, position).text));
    expect(texts[0]).toEqual(['900', '']);
    expect(texts[1][0]).toMatch(/^100\.00\s?%$/);
    expect(table.cell(0, 0, 1)).toMatchObject({ text: '', reason: '', leads: false });
  });

  it('that are gone are a fault', () => {
    const report = {
      prompts: [],
      pages: [],
      measures: [],
      dataset: dataset.name,
      exhibits: [crosstab([{ measure: 'net', total: 'gone' }])],
    };
    expect(reportFaults(report as never, () => dataset)).toEqual([expect.stringContaining('no measure called "gone"')]);
  });
});
