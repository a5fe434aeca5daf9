import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { ChartResponse, CrosstabResponse, ViewState } from '../api/index.ts';
import { pathKey } from '../crosstab/index.ts';
import { allOf, chartSchema, type Chart, type Filter } from '../model/index.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';
import { AnswerError, ColumnsData, EXHIBIT_QUESTIONS, type AnswerContext } from './index.ts';

const context: AnswerContext = {
  ...{ dataset: workedDataset, data: new ColumnsData(workedDataset, workedStore()), tables: new Map(), locale: 'en-GB' },
  report: () => Promise.resolve(null),
};
const chart = (part: object): Chart =>
  chartSchema.parse({
    kind: 'chart',
    id: 'drawn',
    title: 'Drawn',
    side: { fields: [] },
    top: { fields: [] },
    cells: [{ measure: 'net' }],
    chart: { kind: 'bar' },
    ...part,
  });
const axis = (depth: number, exceptions: string[] = []): ViewState['side'] => ({
  open: { depth, exceptions },
  order: null,
  hideEmpty: true,
});

function ask<Answer>(path: string, exhibit: Chart, viewState: ViewState, more: object = {}): Promise<Answer> {
  const question = EXHIBIT_QUESTIONS.find((one) => one.path === path)!;
  const request = question.request.parse({ scope: {}, choices: {}, where: null, ...viewState, ...more });
  return question.answer(context, exhibit, { scope: {}, where: allOf() }, request) as Promise<Answer>;
}
const drawn = (exhibit: Chart, side: ViewState['side'], top = axis(0)): Promise<ChartResponse> => ask('chart', exhibit, { side, top });

describe('a chart', () => {
  const territory = chart({ side: { fields: ['region', 'country', 'city'] } });

  it('draws the innermost members that stand open, and not those that these are in', async () => {
    const { rows, cells, totals } = await drawn(territory, axis(1));
    expect(rows.items.map(({ labels }) => labels.join(' '))).toEqual(['Atlantic France', 'Nordic Denmark', 'Nordic Sweden']);
    expect(cells).toEqual([[1400], [450], [1400]]);
    expect(totals).toEqual([3250]);
  });

  it('draws what is below a member that was opened, alone, down to the last level', async () => {
    const nordic = await drawn(territory, axis(0, [pathKey(['Nordic'])]));
    expect(nordic.root).toEqual({ path: ['Nordic'], labels: ['Nordic'] });
    expect(nordic.rows.items.map(({ labels }) => labels.at(-1))).toEqual(['Denmark', 'Sweden']);
    expect(nordic.totals).toEqual([1850]);
    const sweden = await drawn(territory, axis(0, [pathKey(['Nordic']), pathKey(['Nordic', 'Sweden'])]));
    expect(sweden.root.labels).toEqual(['Nordic', 'Sweden']);
    expect(sweden.cells).toEqual([[900], [500]]);
  });

  it('draws series, several measures in each, and one value where there is neither axis nor series', async () => {
    const years = chart({ side: { fields: ['region'] }, top: { fields: ['year'] }, cells: [{ measure: 'net' }, { measure: 'goal' }] });
    const { columns, cells } = await drawn(years, axis(0));
    expect(columns.items.map(({ labels }) => labels[0])).toEqual(['2025', '2026']);
    expect(cells).toEqual([
      [500, null, 900, 800],
      [700, null, 1150, 1200],
    ]);
    const alone = await drawn(chart({}), axis(0));
    expect(alone.cells).toEqual([[3250]]);
  });

  it('gives members of the series the same place, whichever of them are drawn', async () => {
    const cities = (filter: object | null) =>
      chart({ side: { fields: ['year'] }, top: { fields: ['city'] }, filter, chart: { kind: 'line', colours: 'member' } });
    const all = await drawn(cities(null), axis(0));
    expect(all.places).toEqual([0, 1, 2, 3]);
    const some = await drawn(cities({ op: 'in', field: 'city', values: ['Malmö', 'Stockholm'] }), axis(0));
    expect(some.places).toEqual([2, 3]);
  });

  it('gives members along the axis the same place too, where there are no series', async () => {
    const places = async (filter: object | null) =>
      (await drawn(chart({ side: { fields: ['city'] }, filter, chart: { kind: 'bar', colours: 'member' } }), axis(0))).memberPlaces;
    expect(await places(null)).toEqual([0, 1, 2, 3]);
    expect(await places({ op: 'in', field: 'city', values: ['Malmö', 'Stockholm'] })).toEqual([2, 3]);
  });

  it('refuses to draw more than anybody can tell apart', async () => {
    const days = chart({ side: { fields: ['day'], hideEmpty: false }, top: { fields: ['month'] }, cells: [{ measure: 'net' }] });
    const question = drawn(days, { ...axis(0), hideEmpty: false }, { ...axis(0), hideEmpty: false });
    await expect(question.then(({ rows }) => rows.total)).resolves.toBeLessThan(100_000);
    const every = chart({ ...days, cells: Array.from({ length: 8 }, () => ({ measure: 'net' })) });
    await expect(drawn(every, { ...axis(0), hideEmpty: false }, { ...axis(0), hideEmpty: false })).rejects.toThrow(AnswerError);
  });

  it('draws exactly the cells of the cross-tab with the same axes', async () => {
    const fields = fc.shuffledSubarray(['region', 'country', 'city', 'year', 'quarter', 'month', 'channel'], { maxLength: 4 });
    const measures = fc.shuffledSubarray(['net', 'goal', 'attainment', 'average_price', 'cities_sold'], { minLength: 1, maxLength: 3 });
    await fc.assert(
      fc.asyncProperty(
        fields,
        measures,
        fc.nat({ max: 3 }),
        fc.nat({ max: 2 }),
        fc.nat({ max: 4 }),
        async (names, cells, depth, topDepth, cut) => {
          const exhibit = chart({
            side: { fields: names.slice(0, cut) },
            top: { fields: names.slice(cut) },
            cells: cells.map((measure) => ({ measure })),
          });
          const viewState = {
            side: axis(Math.min(depth, Math.max(0, exhibit.side.fields.length - 1))),
            top: axis(Math.min(topDepth, Math.max(0, exhibit.top.fields.length - 1))),
          };
          const [own, table] = await Promise.all([
            ask<ChartResponse>('chart', exhibit, viewState),
            ask<CrosstabResponse>('crosstab', exhibit, viewState, { rows: { from: 0, count: 400 }, columns: { from: 0, count: 400 } }),
          ]);
          const key = (items: CrosstabResponse['rows']['items'], at: number): string => pathKey(items[at].path);
          const known = new Map<string, number | null>();
          table.cells.forEach((row, at) =>
            row.forEach((value, index) => {
              const column = Math.floor(index / cells.length);
              const header = [table.rows.items[at], table.columns.items[column]];
              // A member that stands open may show its figures in a line of its own, or nowhere.
              if (header.some(({ bare }) => bare)) return;
              known.set(JSON.stringify([key(table.rows.items, at), key(table.columns.items, column), index % cells.length]), value);
            }),
          );
          own.cells.forEach((row, at) =>
            row.forEach((value, index) => {
              const place = JSON.stringify([
                key(own.rows.items, at),
                key(own.columns.items, Math.floor(index / cells.length)),
                index % cells.length,
              ]);
              // A chart through time has all its periods: what no record stands behind is no cell, and zero where that is certain.
              if (value === 0) expect(known.get(place) ?? 0).toBe(0);
              else expect(known.get(place) ?? null).toBe(value);
            }),
          );
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('an axis of time', () => {
  const months = (part: object = {}, emptyPeriods = 'zero'): Chart =>
    chart({ side: { fields: ['year', 'month'] }, chart: { kind: 'line', emptyPeriods }, ...part });
  const labels = ({ rows }: ChartResponse): string[] => rows.items.map(({ path }) => path.at(-1)!);
  // The worked example has sales in January to March 2025 and in January and February 2026.
  it('has all its periods: sums and counts of no records are zero, all else a gap', async () => {
    const cells = [{ measure: 'net' }, { measure: 'average_price' }, { measure: 'cities_sold' }];
    const own = await drawn(months({ cells }), axis(1));
    const plain = await drawn(months({ cells }, 'hidden'), axis(1));
    expect(plain.zeros ?? 0).toBe(0);
    expect(labels(own)).toEqual(
      Array.from({ length: 14 }, (_, at) => (at < 12 ? `2025-${String(at + 1).padStart(2, '0')}` : `2026-0${at - 11}`)),
    );
    expect(own.rows.items.map(({ path }) => path[0])).toEqual([...Array<string>(12).fill('2025'), '2026', '2026']);
    const places = labels(plain).map((label) => labels(own).indexOf(label));
    expect(places.map((at) => own.cells[at])).toEqual(plain.cells);
    const added = own.cells.filter((_, at) => !places.includes(at));
    expect(added).toEqual(added.map(() => [0, null, 0]));
    expect(own.zeros).toBe(2 * added.length);
    const gaps = await drawn(months({ cells }, 'gap'), axis(1));
    expect(gaps.cells.filter((_, at) => !places.includes(at))).toEqual(added.map(() => [null, null, null]));
  });

  it('has those of its scope and of the member that is open, and no others', async () => {
    const year = await drawn(months({ filter: { op: 'in', field: 'year', values: ['2025'] } }), axis(1));
    expect(labels(year)).toHaveLength(12);
    const opened = await drawn(months(), axis(0, [pathKey(['2026'])]));
    expect(labels(opened)).toEqual(['2026-01', '2026-02']);
    const sorted = await drawn(months(), { ...axis(1), order: { by: 'label', direction: 'desc' } });
    expect(sorted.rows.total).toBe((await drawn(months({}, 'hidden'), axis(1))).rows.total);
    expect((await drawn(chart({ side: { fields: ['region'] }, chart: { kind: 'line' } }), axis(0))).cut).toBeUndefined();
    expect((await drawn(months({ chart: { kind: 'pie' } }), axis(1))).rows.total).toBeLessThan(14);
  });

  it('adds none where more would be drawn than a page can draw', async () => {
    // 240 measures in each of 425 days from January 2025 to February 2026 are more than 100,000 values; 200 are not.
    const days = (measures: number): Promise<ChartResponse> =>
      drawn(months({ side: { fields: ['day'] }, cells: Array.from({ length: measures }, () => ({ measure: 'net' })) }), axis(0));
    const plain = await drawn(months({ side: { fields: ['day'] } }, 'hidden'), axis(0));
    expect((await days(240)).rows.total).toBe(plain.rows.total);
    expect((await days(200)).rows.total).toBeGreaterThan(400);
  });

  it('has none that its reader may not see', async () => {
    /** Somebody whose rules leave 2026 and the beginning of 2025. */
    class Ruled extends ColumnsData {
      override readonly members = async (levels: string[], filter: Filter | null) =>
        (await new ColumnsData(workedDataset, workedStore()).members(levels, filter))?.filter(
          (path) => path.at(-1)! < '2025-03' || path[0] === '2026',
        ) ?? null;
    }
    const question = EXHIBIT_QUESTIONS.find((one) => one.path === 'chart')!;
    const request = question.request.parse({ scope: {}, choices: {}, where: null, side: axis(1), top: axis(0) });
    const own = { ...context, data: new Ruled(workedDataset, workedStore()), tables: new Map() };
    const only = months({ filter: { op: 'in', field: 'year', values: ['2026'] } });
    const all = (await question.answer(own, months({ filter: null }), { scope: {}, where: null }, request)) as ChartResponse;
    expect(labels(all).filter((label) => label > '2025-03' && label < '2026')).toEqual([]);
    expect(labels((await question.answer(own, only, { scope: {}, where: null }, request)) as ChartResponse)).toEqual([
      '2026-01',
      '2026-02',
    ]);
  });

  it('knows which of its periods the beginning of the data cuts', async () => {
    const facts = workedDataset.facts.map((fact) => (fact.name === 'sales' ? { ...fact, completeFrom: '2025-02-01' } : fact));
    const dataset = { ...workedDataset, facts };
    const own = { ...context, dataset, data: new ColumnsData(dataset, workedStore()), tables: new Map() };
    const question = EXHIBIT_QUESTIONS.find((one) => one.path === 'chart')!;
    const cut = async (field: string): Promise<string[]> => {
      const request = question.request.parse({ scope: {}, choices: {}, where: null, side: axis(0), top: axis(0) });
      const exhibit = months({ side: { fields: [field] }, filter: { op: 'in', field: 'year', values: ['2025'] } });
      const answer = (await question.answer(own, exhibit, { scope: {}, where: null }, request)) as ChartResponse;
      return answer.rows.items.flatMap(({ path }, at) => (answer.cut![at] ? [path[0]!] : []));
    };
    expect(await cut('month')).toEqual(['2025-01']);
    expect(await cut('quarter')).toEqual(['2025-Q1']);
    expect(await cut('year')).toEqual(['2025']);
  });

  it('knows which of its periods the scope cuts, first and last', async () => {
    const filter = {
      op: 'and',
      items: [
        { op: 'ge', field: 'day', value: '2025-01-15' },
        { op: 'le', field: 'day', value: '2025-06-20' },
      ],
    };
    const { cut, rows } = await drawn(months({ filter }), axis(1));
    expect(rows.items.filter((_, at) => cut![at]).map(({ path }) => path[1])).toEqual(['2025-01', '2025-06']);
    const years = await drawn(months({ side: { fields: ['year'] }, filter }), axis(0));
    expect(years.cut).toEqual([true]);
  });
});

describe('a forecast', () => {
  it('is made of whole periods only', async () => {
    const filter = {
      op: 'and',
      items: [
        { op: 'ge', field: 'day', value: '2025-01-15' },
        { op: 'le', field: 'day', value: '2025-11-20' },
      ],
    };
    const { forecast, rows } = await drawn(
      chart({ side: { fields: ['month'] }, filter, chart: { kind: 'line', forecast: { periods: 2, method: 'linear' } } }),
      axis(0),
    );
    expect(rows.total).toBe(11);
    // February to October; November, which the scope cuts, is forecast.
    expect(forecast!.from).toBe(10);
    expect(forecast!.ahead[0].labels).toEqual(['November 2025']);
    const [series] = forecast!.series;
    const whole = await drawn(
      chart({
        ...{ side: { fields: ['month'] }, chart: { kind: 'line', forecast: { periods: 2, method: 'linear' } } },
        filter: {
          op: 'and',
          items: [
            { op: 'ge', field: 'day', value: '2025-02-01' },
            { op: 'le', field: 'day', value: '2025-10-31' },
          ],
        },
      }),
      axis(0),
    );
    expect(series!.points).toEqual(whole.forecast!.series[0]!.points);
  });

  const months = (part: object = {}): Chart =>
    chart({ side: { fields: ['year', 'month'], hideEmpty: false }, chart: { kind: 'line', forecast: { periods: 3 } }, ...part });
  const unhidden = { ...axis(1), hideEmpty: false };

  it('names the periods that come, level by level', async () => {
    const { forecast } = await drawn(months({ cells: [{ measure: 'net' }] }), unhidden);
    expect(forecast!.ahead.map(({ labels }) => labels)).toEqual([
      ['2026', 'March'],
      ['2026', 'April'],
      ['2026', 'May'],
    ]);
    // Sales end in February: for the months after it they are not known to be complete.
    expect(forecast!.from).toBe(14);
  });

  it('is made of no more series than can be told apart', async () => {
    const cells = Array.from({ length: 17 }, () => ({ measure: 'net' }));
    const { forecast } = await drawn(months({ cells }), unhidden);
    expect(forecast!.problem).toMatch(/at most 16 series/);
  });

  it('says why nothing can be forecast', async () => {
    const members = await drawn(chart({ side: { fields: ['region'] }, chart: { kind: 'bar', forecast: { periods: 3 } } }), axis(0));
    expect(members.forecast!.problem).toMatch(/needs periods along the axis/);
    const gaps = await drawn(months({ chart: { kind: 'line', forecast: { periods: 3 }, emptyPeriods: 'hidden' } }), axis(1));
    expect(gaps.forecast!.problem).toMatch(/Periods are missing|too few whole periods/);
    const few = await drawn(chart({ side: { fields: ['year'] }, chart: { kind: 'line', forecast: { periods: 2 } } }), axis(0));
    expect(few.forecast!.problem).toMatch(/too few whole periods/);
  });

  it('leaves out series with gaps', async () => {
    const { forecast } = await drawn(months({ cells: [{ measure: 'average_price' }] }), unhidden);
    expect(forecast!.problem).toBeUndefined();
    expect(forecast!.series).toEqual([null]);
  });
});
