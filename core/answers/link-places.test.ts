import { describe, expect, it } from 'vitest';
import type { Explanation } from '../api/index.ts';
import { crosstabSchema } from '../model/index.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';
import { ColumnsData, EXHIBIT_QUESTIONS, type AnswerContext } from './index.ts';

const context: AnswerContext = {
  ...{ dataset: workedDataset, data: new ColumnsData(workedDataset, workedStore()), tables: new Map(), locale: 'en-GB' },
  report: () => Promise.resolve(null),
};
const link = (label: string, part: object): object => ({ label, records: true, ...part });
const exhibit = crosstabSchema.parse({
  ...{ kind: 'crosstab', id: 'linked', title: 'Linked', side: { fields: ['region', 'city'] }, top: { fields: ['year', 'channel'] } },
  cells: [{ measure: 'net' }],
  drills: [
    link('of figures', {}),
    link('of rows', { from: 'labels' }),
    link('of cities', { from: 'labels', level: 'city' }),
    link('of columns', { from: 'columns' }),
    link('of channels', { from: 'columns', level: 'channel' }),
  ],
});
async function linksAt(side: string[], top: string[]): Promise<Explanation['drills']> {
  const question = EXHIBIT_QUESTIONS.find(({ path }) => path === 'explain')!;
  const request = question.request.parse({ side, top, measure: 'net' });
  return ((await question.answer(context, exhibit, { scope: {}, where: null }, request)) as Explanation).drills;
}
const labelsAt = async (side: string[], top: string[]): Promise<string[]> => (await linksAt(side, top)).map(({ label }) => label);

describe('the links of a cross-tab', () => {
  it('stand at figures, at the labels of rows and at those of columns, of all levels or of one', async () => {
    expect(await labelsAt(['Nordic'], ['2026'])).toEqual(['of figures']);
    expect(await labelsAt([], [])).toEqual(['of figures']);
    expect(await labelsAt(['Nordic'], [])).toEqual(['of figures', 'of rows']);
    expect(await labelsAt(['Nordic', 'Malmö'], [])).toEqual(['of figures', 'of rows', 'of cities']);
    expect(await labelsAt([], ['2026'])).toEqual(['of figures', 'of columns']);
    expect(await labelsAt([], ['2026', 'Online'])).toEqual(['of figures', 'of columns', 'of channels']);
  });

  it('carry along what they stand at', async () => {
    const found = (await linksAt([], ['2026', 'Online'])).find(({ from }) => from === 'columns')!;
    expect(found).toMatchObject({ scope: { year: ['2026'], channel: ['Online'] }, to: 'records' });
    expect(found.records).toBeGreaterThan(0);
  });
});
