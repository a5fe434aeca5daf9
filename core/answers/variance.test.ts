import { describe, expect, it } from 'vitest';
import type { CellRecords, Explanation, VarianceResponse } from '../api/index.ts';
import { allOf, varianceSchema, type Filter, type Variance } from '../model/index.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';
import { AnswerError, ColumnsData, EXHIBIT_QUESTIONS, type AnswerContext } from './index.ts';

const context: AnswerContext = {
  ...{ dataset: workedDataset, data: new ColumnsData(workedDataset, workedStore()), tables: new Map(), locale: 'en-GB' },
  report: () => Promise.resolve(null),
};
const exhibit: Variance = varianceSchema.parse({
  ...{ kind: 'variance', id: 'changed', title: 'What changed', measure: 'net' },
  fields: ['region', 'city', 'channel'],
});
const in2026: Filter = { op: 'in', field: 'year', values: ['2026'] };

function ask<Answer>(path: string, own: Variance, request: object = {}): Promise<Answer> {
  const question = EXHIBIT_QUESTIONS.find((one) => one.path === path)!;
  const asked = { scope: {}, where: allOf(in2026) };
  return question.answer(
    context,
    own,
    asked,
    question.request.parse({ scope: {}, choices: {}, where: null, ...request }),
  ) as Promise<Answer>;
}

describe('what changed', () => {
  it('is told as a whole and by the members of each field', async () => {
    const answer = await ask<VarianceResponse>('variance', exhibit);
    // The worked example by hand: 1,200 in 2025, 2,050 in 2026.
    expect([answer.before, answer.after]).toEqual([1200, 2050]);
    expect(answer.sentences).toEqual(['Net rose by 850 (+70.8\u00a0%), from 1,200 a year before to 2,050.']);
    const by = (field: string) =>
      answer.fields.find((one) => one.field === field)!.named.map(({ label, before, after, change }) => [label, before, after, change]);
    expect(by('region')).toEqual([
      ['Nordic', 700, 1150, 450],
      ['Atlantic', 500, 900, 400],
    ]);
    expect(by('channel')).toEqual([
      ['Online', 200, 1450, 1250],
      ['Showroom', 1000, 600, -400],
    ]);
    expect(answer.fields.every(({ addsUp }) => addsUp)).toBe(true);
  });

  it('says where the parts are no parts of the whole', async () => {
    const answer = await ask<VarianceResponse>('variance', { ...exhibit, measure: 'average_price' });
    expect(answer.fields.find(({ field }) => field === 'region')!.addsUp).toBe(false);
  });

  it('counts the others of an average anew, since it does not add up', async () => {
    const own = { ...exhibit, measure: 'average_price', most: 1, fields: ['city', 'channel'] };
    const answer = await ask<VarianceResponse>('variance', own);
    const whole = (filter: Filter) => ask<VarianceResponse>('variance', { ...own, filter });
    let seen = 0;
    for (const { field, named, others, addsUp } of answer.fields) {
      if (!others || addsUp) continue;
      seen++;
      const values = named.map(({ path }) => path[0]!);
      const { before, after } = await whole({ op: 'notIn', field, values });
      expect(others).toMatchObject({ before: before ?? 0, after: after ?? 0, change: (after ?? 0) - (before ?? 0) });
    }
    expect(seen).toBeGreaterThan(0);
  });

  it('is told by price, volume and mix where a quantity is named', async () => {
    const dataset = {
      ...workedDataset,
      measures: [...workedDataset.measures, { ...workedDataset.measures[0], name: 'units', label: 'Units', formula: 'sum(quantity)' }],
    };
    const question = EXHIBIT_QUESTIONS.find(({ path }) => path === 'variance')!;
    const own = { ...exhibit, effects: { quantity: 'units', field: 'city' } };
    const request = question.request.parse({ scope: {}, choices: {}, where: null });
    const answer = (await question.answer({ ...context, dataset }, own, { scope: {}, where: in2026 }, request)) as VarianceResponse;
    // Stockholm 2 at 100 to 3 at 100, Malmö 1 at 300 to 2 at 300, Aarhus 4 at 50 to 5 at 50, Lyon 1 at 500 to 2 at 450.
    const { parts } = answer.effects!;
    const values = Object.fromEntries(Object.entries(parts).map(([name, { value }]) => [name, value]));
    expect(values).toEqual({ price: -100, volume: 600, mix: 350, gained: 0, lost: 0 });
    // Lyon alone became cheaper; each part is told by the members that made it.
    expect(parts.price.named.map(({ label, before: old, after, change }) => [label, old, after, change])).toEqual([
      ['Lyon', 500, 900, -100],
    ]);
    for (const { value, named, others } of Object.values(parts))
      expect(named.reduce((sum, { change }) => sum + change, others?.change ?? 0)).toBeCloseTo(value, 9);
  });

  it('leads from each figure to why it is so, what it stands against, and its records', async () => {
    const cell = { side: ['Online'], top: [], measure: 'net', along: 'channel' };
    const why = await ask<Explanation>('explain', exhibit, cell);
    expect(why.value).toBe(1450);
    expect(why.against[0]).toMatchObject({ label: 'Same days, last year', value: 200 });
    const { page } = await ask<CellRecords>('records', exhibit, { ...cell, order: [], offset: 0, limit: 10 });
    expect(page.records).toBe(3);
    const { earlier } = await ask<VarianceResponse>('variance', exhibit);
    const before = { ...cell, measure: earlier };
    expect((await ask<Explanation>('explain', exhibit, before)).value).toBe(200);
    const records = await ask<CellRecords>('records', exhibit, { ...before, order: [], offset: 0, limit: 10 });
    expect(records.parts).toEqual([{ key: expect.any(String) as string, label: 'Sales', dates: '1 Jan 2025 to 28 Feb 2025' }]);
    expect(records.page.records).toBe(1);
  });

  it('answers for no field that it does not look through', async () => {
    const question = EXHIBIT_QUESTIONS.find(({ path }) => path === 'explain')!;
    const visible = (along: string | undefined, seen: boolean) =>
      question.visible(exhibit, { side: ['Online'], top: [], measure: 'net', along }, () => Promise.resolve(seen));
    await expect(visible('country', true)).rejects.toThrow(AnswerError);
    await expect(visible(undefined, true)).rejects.toThrow(AnswerError);
    await expect(visible('channel', false)).rejects.toThrow(/not among what you may see/);
    await expect(visible('channel', true)).resolves.toMatchObject({ along: 'channel' });
  });

  describe('between two members', () => {
    const between: Variance = { ...exhibit, between: { field: 'region', before: 'Nordic', after: 'Atlantic' } };

    it('is told by what they differ in, each figure with its records', async () => {
      const answer = await ask<VarianceResponse>('variance', between);
      // The worked example by hand, in 2026: 1,150 in Nordic, 900 in Atlantic.
      expect([answer.before, answer.after, answer.between]).toEqual([1150, 900, { before: 'Nordic', after: 'Atlantic' }]);
      expect(answer.sentences).toEqual(['Net is 900 in Atlantic, 250 (−21.7\u00a0%) less than 1,150 in Nordic.']);
      expect(answer.fields.map(({ field }) => field)).not.toContain('region');
      for (const { named, others } of answer.fields) {
        expect(named.reduce((sum, { before }) => sum + (before ?? 0), others?.before ?? 0)).toBe(1150);
        expect(named.reduce((sum, { change }) => sum + change, others?.change ?? 0)).toBe(-250);
        for (const { path, before, after } of named)
          for (const [member, value] of [['Nordic', before] as const, ['Atlantic', after] as const]) {
            const cell = {
              side: path,
              top: [member],
              measure: 'net',
              along: answer.fields.find((one) => one.named.some((own) => own.path === path))!.field,
            };
            const why = await ask<Explanation>('explain', between, cell);
            expect(why.value).toBe(value);
          }
      }
      expect(answer.fields[0].sentence).toMatch(/furthest (below in|above)/);
    });

    it('says what is missing, and shows no member that may not be seen', async () => {
      await expect(ask('variance', { ...exhibit, between: { field: 'region', before: '', after: 'Nordic' } })).rejects.toThrow(
        /Choose both/,
      );
      const nowhere = await ask<VarianceResponse>('variance', {
        ...exhibit,
        between: { field: 'region', before: 'Nordic', after: 'Nowhere' },
      });
      expect(nowhere.sentences).toEqual(['Net has no value in Nowhere.']);
      const question = EXHIBIT_QUESTIONS.find(({ path }) => path === 'variance')!;
      const asked = question.request.parse({ scope: {}, choices: {}, where: null });
      await expect(question.visible(between, asked, (_, [member]) => Promise.resolve(member !== 'Nordic'))).rejects.toThrow(
        /not among what you may see/,
      );
      const explain = EXHIBIT_QUESTIONS.find(({ path }) => path === 'explain')!;
      const cell = (top: string[]) => ({ side: ['Online'], top, measure: 'net', along: 'channel' });
      const visible = (top: string[]) => explain.visible(between, cell(top), () => Promise.resolve(true));
      await expect(visible(['Nordic'])).resolves.toMatchObject({ top: ['Nordic'] });
      await expect(visible([])).rejects.toThrow(AnswerError);
      await expect(visible(['Alpine'])).rejects.toThrow(AnswerError);
    });
  });
});
