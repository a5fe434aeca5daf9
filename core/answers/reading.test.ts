import { describe, expect, it } from 'vitest';
import { crosstabRequestSchema, type CrosstabResponse } from '../api/index.ts';
import { openByChoice, openByKey, withBranches } from '../exhibits/index.ts';
import { pathKey, writtenPath } from '../crosstab/index.ts';
import { crosstabSchema, indicatorSchema, type Crosstab, type Indicator } from '../model/index.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';
import { AnswerError, ColumnsData, EXHIBIT_QUESTIONS, readingOf, type AnswerContext } from './index.ts';

const context: AnswerContext = {
  ...{ dataset: workedDataset, data: new ColumnsData(workedDataset, workedStore()), tables: new Map(), locale: 'en-GB' },
  report: () => Promise.resolve(null),
};
const everything = { scope: {}, where: null };
const judged = (indicator: Partial<Indicator>): Crosstab =>
  crosstabSchema.parse({
    ...{ kind: 'crosstab', id: 'judged', title: 'Judged', side: { fields: ['country', 'city'] }, top: { fields: ['year'] } },
    cells: [
      {
        measure: 'net',
        indicator: indicatorSchema.parse({ against: { kind: 'value', value: 500 }, onCourse: 1, drifting: 0.5, ...indicator }),
      },
    ],
  });
async function shown(exhibit: Crosstab, depth: number, exceptions: string[][] = []): Promise<CrosstabResponse> {
  const question = EXHIBIT_QUESTIONS.find(({ path }) => path === 'crosstab')!;
  const axis = { open: { depth, exceptions: exceptions.map(pathKey) }, order: null, hideEmpty: true };
  const window = { from: 0, count: 100 };
  const request = crosstabRequestSchema.parse({ side: axis, top: axis, rows: window, columns: window });
  return (await question.answer(context, exhibit, everything, request)) as CrosstabResponse;
}

describe('the reading of a cell', () => {
  it.each([
    ['against a number', judged({})],
    ['against the average of those beside it', judged({ against: { kind: 'average' } })],
    ['by its rank among those at the same level', judged({ by: 'spread', onCourse: 0.67, drifting: 0.33 })],
  ])('is the state that the table shows: %s', async (_, exhibit) => {
    const told = new Set<string>();
    for (const depth of [0, 1]) {
      const { rows, columns, states, cells } = await shown(exhibit, depth);
      for (const [row, { path: side, role }] of rows.items.entries())
        for (const [column, { path: top }] of columns.items.entries()) {
          // A member that stands open is judged in the table where it is shown closed.
          if (role !== 'member' || side.length !== depth + 1 || cells[row][column] === null) continue;
          const reading = await readingOf(context, exhibit, everything, { side, top, measure: 'net' }, () => Promise.resolve(true));
          expect(reading.state, `${side.join()} ${top.join()}`).toBe(states![row][column]);
          told.add(reading.state);
        }
    }
    expect(told.size).toBeGreaterThan(1);
  });

  it.each([
    ['against a number', judged({ against: { kind: 'value', value: 700 } })],
    ['against the average of those beside it', judged({ against: { kind: 'average' } })],
    ['by its rank among those at the same level', judged({ by: 'spread', onCourse: 0.67, drifting: 0.33 })],
  ])('is the state that the table shows below a member that was opened by a level of its own: %s', async (_, plain) => {
    const exhibit = withBranches(plain, { [openByKey('judged')]: [openByChoice('city', 'quarter', ['Sweden'])] }, workedDataset);
    const { rows, columns, states, cells } = await shown(exhibit, 0, [['Sweden']]);
    const below = rows.items.flatMap(({ path }, row) => (path.length === 2 ? [{ side: path, row }] : []));
    expect(below.length).toBeGreaterThan(1);
    const told = new Set<string>();
    for (const { side, row } of below)
      for (const [column, { path: top }] of columns.items.entries()) {
        if (cells[row][column] === null) continue;
        const place = { side: writtenPath(side), top: writtenPath(top), measure: 'net' };
        const reading = await readingOf(context, exhibit, everything, place, () => Promise.resolve(true));
        expect(reading.state, `${side.join()} ${top.join()}`).toBe(states![row][column]);
        told.add(reading.state);
      }
    expect(told.size).toBeGreaterThan(1);
    // Nobody may watch what they may not see, and nothing is watched that is not opened so any more.
    const [{ side }] = below;
    const read = (one: Crosstab, seen: boolean): Promise<unknown> =>
      readingOf(context, one, everything, { side, top: [], measure: 'net' }, (fields) =>
        Promise.resolve(seen || !fields.includes('quarter')),
      );
    await expect(read(exhibit, false)).rejects.toThrow(AnswerError);
    await expect(read(plain, true)).rejects.toThrow('not opened by that level any more');
  });

  it('is none where there is no such cell, or none that the reader may see', async () => {
    const own = judged({ against: { kind: 'average' } });
    const read = (side: string[], measure = 'net', seen = true): Promise<unknown> =>
      readingOf(context, own, everything, { side, top: [], measure }, () => Promise.resolve(seen));
    await expect(read(['Nowhere'])).rejects.toThrow(AnswerError);
    await expect(read(['Sweden'], 'goal')).rejects.toThrow(AnswerError);
    await expect(read(['Sweden'], 'net', false)).rejects.toThrow(AnswerError);
  });
});
