import { describe, expect, it } from 'vitest';
import { crosstabRequestSchema, type CrosstabResponse } from '../api/index.ts';
import { ColumnsData, EXHIBIT_QUESTIONS, type AnswerContext } from '../answers/index.ts';
import { crosstabSchema } from '../model/index.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';
import { readyRules, ruleFault } from './index.ts';

const context: AnswerContext = {
  ...{ dataset: workedDataset, data: new ColumnsData(workedDataset, workedStore()), tables: new Map(), locale: 'en-GB' },
  report: () => Promise.resolve(null),
};

/** The rows in which a ready-made rule holds. */
async function held(title: string, fields: string[]): Promise<string[]> {
  const rule = readyRules(workedDataset, { side: { fields } }, 'net').find((one) => one.title.startsWith(title))!;
  const exhibit = crosstabSchema.parse({
    ...{ kind: 'crosstab', id: 't', title: 'T', side: { fields, total: 'always' }, top: { fields: [] } },
    cells: [{ measure: 'net', marks: [{ kind: 'rule', formula: rule.formula }] }],
    filter: { op: 'in', field: 'year', values: ['2026'] },
  });
  const axis = { open: { depth: 9, exceptions: [] }, order: null, hideEmpty: true };
  const window = { from: 0, count: 100 };
  const question = EXHIBIT_QUESTIONS.find(({ path }) => path === 'crosstab')!;
  const request = crosstabRequestSchema.parse({ side: axis, top: axis, rows: window, columns: window });
  const { rows, marks } = (await question.answer(context, exhibit, { scope: {}, where: null }, request)) as CrosstabResponse;
  return rows.items.flatMap(({ labels, role }, row) => (marks![0].values[row][0] ? [role === 'total' ? 'total' : labels.at(-1)!] : []));
}

describe('ready-made rules', () => {
  // The worked example in 2026: Lyon 900, Malmö 600, Stockholm 300, Aarhus 250; Nordic 1,150 and Atlantic 900.
  it('hold each member against those of its own level', async () => {
    expect(await held('Above average', ['city'])).toEqual(['Lyon', 'Malmö']);
    expect(await held('Below average', ['city'])).toEqual(['Aarhus', 'Stockholm']);
    expect(await held('Above average', ['region', 'city'])).toEqual(['Lyon', 'Nordic', 'Malmö']);
  });
  it('go by rank, within limits, and against last year', async () => {
    expect(await held('Top 3', ['city'])).toEqual(['Lyon', 'Malmö', 'Stockholm']);
    expect(await held('Bottom 3', ['city'])).toEqual(['Aarhus', 'Malmö', 'Stockholm']);
    expect(await held('Over a value', ['city'])).toEqual(['Aarhus', 'Lyon', 'Malmö', 'Stockholm', 'total']);
  });
  it('are sound for every table', () => {
    for (const fields of [[], ['region'], ['region', 'country', 'city'], ['month']])
      for (const { formula } of readyRules(workedDataset, { side: { fields } }, 'average_price'))
        expect(ruleFault(workedDataset, formula)).toBeNull();
  });
});
