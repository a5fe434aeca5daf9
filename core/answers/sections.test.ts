import { beforeAll, describe, expect, it } from 'vitest';
import { chartRequestSchema, crosstabRequestSchema, type ChartResponse, type CommonScale, type CrosstabResponse } from '../api/index.ts';
import { chartSchema, crosstabSchema, reportSchema, sectionsSchema, type DataExhibit, type Report, type Sections } from '../model/index.ts';
import { withSection, type Section } from '../sections/index.ts';
import { withFormulas } from '../testing/formulas.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';
import { ColumnsData, dataDays, EXHIBIT_QUESTIONS, openExhibit, sectionList, type AnswerContext } from './index.ts';

/** A report repeated for each member of a level. Figures by hand from the records of formulas.md. */

const data = new ColumnsData(workedDataset, workedStore());
const context: AnswerContext = { dataset: workedDataset, data, tables: new Map(), locale: 'en-GB', report: () => Promise.resolve(null) };
const YEAR = { scope: { year: ['2026'] }, where: null };
const list = (part: Partial<Sections>, asked = YEAR as Parameters<typeof sectionList>[2]) =>
  sectionList(context, sectionsSchema.parse({ field: 'country', ...part }), asked, null);

describe('the sections of a report', () => {
  it('are the members that have records, in their order', async () => {
    const { sections, whole } = await list({});
    expect(sections).toEqual(
      [
        ['Denmark', 2],
        ['France', 3],
        ['Sweden', 4],
      ].map(([member, records]) => ({ member, label: member, records, figure: null })),
    );
    expect(whole).toBeNull();
    expect((await list({ order: { by: 'member', direction: 'desc' } })).sections.map(({ member }) => member)).toEqual([
      'Sweden',
      'France',
      'Denmark',
    ]);
  });

  it('have a figure with its state, and so have all together', async () => {
    const indicator = {
      against: { kind: 'measure', measure: 'goal' },
      by: 'ratio',
      onCourse: 1,
      drifting: 0.9,
      direction: 'higher',
    } as const;
    const { sections, whole } = await list({ figure: { measure: 'net', indicator } });
    expect(sections.map(({ member, figure }) => [member, figure?.value, figure?.state])).toEqual([
      ['Denmark', 250, 'off'],
      ['France', 900, 'on'],
      ['Sweden', 900, 'on'],
    ]);
    expect(whole).toMatchObject({ value: 2050, state: 'on' });
    const { sections: plain, whole: sum } = await list({ figure: { measure: 'net' } });
    expect(plain.map(({ figure }) => figure)).toEqual([250, 900, 900].map((value) => ({ value, state: 'none', bearing: null })));
    expect(sum).toEqual({ value: 2050, state: 'none', bearing: null });
  });

  it('stand in the order of a measure, those without a value last', async () => {
    const order = { by: 'measure', measure: 'net', direction: 'asc' } as const;
    const asked = { scope: { year: ['2026'], channel: ['Showroom'] }, where: null };
    const { sections } = await list({ order, empty: 'say' }, asked);
    expect(sections.map(({ member, records }) => [member, records])).toEqual([
      ['Sweden', 3],
      ['Denmark', 1],
      ['France', 2],
    ]);
    const { sections: largest } = await list({ order: { ...order, direction: 'desc' } });
    expect(largest.map(({ member }) => member)).toEqual(['France', 'Sweden', 'Denmark']);
  });

  it('without records are left out, or listed as empty', async () => {
    const asked = { scope: { month: ['2025-01'] }, where: null };
    const names = async (empty: Sections['empty']) =>
      (await list({ empty }, asked)).sections.map(({ member, records }) => [member, records]);
    expect(await names('leave-out')).toEqual([
      ['France', 1],
      ['Sweden', 1],
    ]);
    expect(await names('say')).toEqual([
      ['Denmark', 0],
      ['France', 1],
      ['Sweden', 1],
    ]);
  });

  it('are those of an exhibit under its own condition', async () => {
    const { sections } = await sectionList(context, sectionsSchema.parse({ field: 'city' }), YEAR, {
      op: 'eq',
      field: 'country',
      value: 'Sweden',
    });
    expect(sections.map(({ member }) => member)).toEqual(['Malmö', 'Stockholm']);
  });
});

// Each section is the part of the whole that it is of. ----------------------------------------------------------------
const ALL = { from: 0, count: 400 };
const axis = (depth: number) => ({ open: { depth, exceptions: [] as string[] }, order: null, hideEmpty: true });
const table = crosstabSchema.parse({
  ...{ kind: 'crosstab', id: 'table', title: 'Table', side: { fields: ['region', 'country', 'city'], total: 'always', openLevels: 1 } },
  ...{ top: { fields: ['year'], total: 'always' }, cells: [{ measure: 'net' }, { measure: 'goal' }] },
});
const chart = chartSchema.parse({
  ...{ kind: 'chart', id: 'chart', title: 'Chart', side: { fields: ['region', 'country'] }, top: { fields: ['year'] } },
  ...{ cells: [{ measure: 'net' }], chart: { kind: 'column' } },
});
const report: Report = reportSchema.parse({
  ...{ schemaVersion: 1, id: 'sections', title: 'Sections', dataset: 'worked', sections: { field: 'region' }, exhibits: [table, chart] },
});
async function ask<Answer>(exhibit: DataExhibit, path: string, section: Section | null, part: object): Promise<Answer> {
  const asked = withSection({ scope: {}, choices: {}, where: null }, section);
  const opened = openExhibit(report, exhibit, asked, { dataset: workedDataset, days: dataDays(data) }, null);
  const question = EXHIBIT_QUESTIONS.find((one) => one.path === path)!;
  return (await question.answer(context, opened.exhibit, opened.asked, question.request.parse({ ...asked, ...part }))) as Answer;
}
const lines = async (section: Section | null, depth: number): Promise<[string, (number | null)[]][]> => {
  const part = crosstabRequestSchema.parse({ side: axis(depth), top: axis(0), rows: ALL, columns: ALL });
  const { rows, cells } = await ask<CrosstabResponse>(table, 'crosstab', section, part);
  return rows.items.map(({ role, labels }, row) => [role === 'total' ? 'total' : labels.at(-1)!, cells[row]]);
};

describe('a table in a section', () => {
  it('shows the rows of its member, and that member as its total', async () => {
    const whole = new Map(await lines(null, 2));
    for (const member of ['Nordic', 'Atlantic']) {
      const own = await lines({ field: 'region', member }, 1);
      expect(own.at(-1)).toEqual(['total', whole.get(member)]);
      expect(own.length).toBe(member === 'Nordic' ? 6 : 3);
      for (const [label, values] of own.slice(0, -1)) expect(values).toEqual(whole.get(label));
    }
  });

  it('begins at the level below that of the sections, as far open as it was', async () => {
    const opened = openExhibit(
      report,
      table,
      withSection({ scope: {}, choices: {}, where: null }, { field: 'region', member: 'Nordic' }),
      { dataset: workedDataset, days: dataDays(data) },
      null,
    ).exhibit;
    expect([opened.side.fields, opened.side.openLevels, opened.top.fields]).toEqual([['country', 'city'], 0, ['year']]);
  });
});

describe('scales that the charts of sections have in common', () => {
  const drawn = async (kind: object, member: string): Promise<number[]> => {
    const exhibit = { ...chart, chart: { ...chart.chart, ...kind } };
    const request = chartRequestSchema.parse({ side: axis(0), top: axis(0) });
    const { cells } = await ask<ChartResponse>(exhibit, 'chart', { field: 'region', member }, request);
    return 'arrangement' in kind
      ? cells.map((row) => row.reduce<number>((sum, value) => sum + (value ?? 0), 0))
      : cells.flat().filter((value) => value !== null);
  };
  let scale: CommonScale;
  beforeAll(async () => {
    scale = await ask<CommonScale>(chart, 'common-scale', null, { side: axis(0), top: axis(0), field: 'region' });
  });

  it('reach from the least to the largest value that any of them draws', async () => {
    const values = [...(await drawn({}, 'Nordic')), ...(await drawn({}, 'Atlantic'))];
    expect(scale.measures).toEqual([{ low: Math.min(...values), high: Math.max(...values) }]);
  });

  it('of stacked series cover their sums', async () => {
    const sums = [...(await drawn({ arrangement: 'stacked' }, 'Nordic')), ...(await drawn({ arrangement: 'stacked' }, 'Atlantic'))];
    expect(scale.sums).toEqual({ low: Math.min(...sums), high: Math.max(...sums) });
  });

  it('go by a level that the chart does not show', async () => {
    const { measures } = await ask<CommonScale>(chart, 'common-scale', null, { side: axis(0), top: axis(0), field: 'channel' });
    const values: number[] = [];
    for (const member of ['Online', 'Showroom']) {
      const request = chartRequestSchema.parse({ side: axis(0), top: axis(0) });
      const { cells } = await ask<ChartResponse>(chart, 'chart', { field: 'channel', member }, request);
      values.push(...cells.flat().filter((value) => value !== null));
    }
    expect(measures).toEqual([{ low: Math.min(...values), high: Math.max(...values) }]);
  });

  it.each([
    ['a share', 'share(net)', {}],
    ['a rank', 'rank(net)', {}],
    ['a running total', 'running(net)', {}],
    ['the largest member', 'net', { country: { pick: { count: 1, measure: 'net', others: false } } }],
  ])('are those of the sections one by one where values depend on members beside them: %s', async (_, formula, levels) => {
    const own = withFormulas(workedDataset, formula === 'net' ? [] : [formula]);
    const at = { ...context, dataset: own, data: new ColumnsData(own, workedStore()) };
    const exhibit = chartSchema.parse({
      ...chart,
      side: { ...chart.side, fields: ['region', 'country'], levels },
      cells: [{ measure: formula }],
      top: { fields: [] },
    });
    const asked = async <Answer>(path: string, section: Section | null, part: object): Promise<Answer> => {
      const chosen = withSection({ scope: {}, choices: {}, where: null }, section);
      const opened = openExhibit(report, exhibit, chosen, { dataset: own, days: dataDays(data) }, null);
      const question = EXHIBIT_QUESTIONS.find((one) => one.path === path)!;
      return (await question.answer(at, opened.exhibit, opened.asked, question.request.parse({ ...chosen, ...part }))) as Answer;
    };
    const state = { side: axis(0), top: axis(0) };
    const values: number[] = [];
    for (const member of ['Nordic', 'Atlantic']) {
      const { cells } = await asked<ChartResponse>('chart', { field: 'region', member }, state);
      values.push(...cells.flat().filter((value) => value !== null));
    }
    expect(values.length).toBeGreaterThan(1);
    const { measures } = await asked<CommonScale>('common-scale', null, { ...state, field: 'region' });
    expect(measures).toEqual([{ low: Math.min(...values), high: Math.max(...values) }]);
  });
});
