import fc from 'fast-check';
import { quantileSorted } from 'simple-statistics';
import { describe, expect, it } from 'vitest';
import { writtenPath } from '../crosstab/index.ts';
import { unitWords } from '../format/index.ts';
import type { ChartResponse, Header } from '../api/index.ts';
import { chartSchema, type ChartKindName } from '../model/index.ts';
import { workedDataset } from '../testing/worked-example.ts';
import { trendThrough } from './ahead.ts';
import {
  axisDrawing,
  axisWords,
  binsOf,
  boxesOf,
  chartFigure,
  chartsOfPeriods,
  chartSketch,
  chartWords,
  commonEnds,
  correlationWords,
  CHART_KINDS_BY_NAME,
  drawnSeries,
  figureUnits,
  legendSeries,
  logarithmMisfit,
  misfitOf,
  notesAt,
  noteWords,
  panelsOf,
  partsDrawing,
  pointsDrawing,
  pointsTrend,
  pointWords,
  proposedKind,
  quantile,
  controlLimits,
  controlOf,
  controlWords,
  dayGridOf,
  flowsOf,
  isLying,
  slopesOf,
  isOutside,
  isPastColours,
  referenceValue,
  scaleEnds,
  thinned,
  valuesOfMeasure,
  type ChartFigure,
} from './index.ts';

const header = (labels: string[], part: Partial<Header> = {}): Header => ({
  ...{ path: labels, labels, role: labels.length === 0 ? 'total' : 'member', depth: labels.length, open: false, canOpen: false },
  ...part,
});

interface Drawn {
  kind: ChartKindName;
  rows: string[][];
  columns?: string[][];
  cells: (number | null)[][];
  measures?: string[];
  side?: string[];
  top?: string[];
  chart?: object;
  total?: number | null;
  others?: number;
  formats?: object[];
  memberPlaces?: number[];
}

/** A figure over some answer. */
function figureOf({
  kind,
  rows,
  columns = [[]],
  cells,
  measures = ['net'],
  side = ['region'],
  top = [],
  chart = {},
  total = null,
  others,
  memberPlaces,
  formats = [],
}: Drawn): ChartFigure {
  const exhibit = chartSchema.parse({
    ...{ kind: 'chart', id: 'drawn', title: 'Drawn', side: { fields: side }, top: { fields: top } },
    ...{ cells: measures.map((measure, index) => ({ measure, format: formats[index] })), chart: { kind, ...chart } },
  });
  const answer: ChartResponse = {
    rows: { total: rows.length, from: 0, items: rows.map((labels, index) => header(labels, index === others ? { others: 4 } : {})) },
    columns: { total: columns.length, from: 0, items: columns.map((labels) => header(labels)) },
    measures: [],
    cells,
    root: { path: [], labels: [] },
    totals: measures.map(() => total),
    memberPlaces,
    milliseconds: 0,
  };
  return chartFigure(workedDataset, exhibit, answer, { locale: 'en-GB', dataTo: '2026-02-28' });
}

const values = fc.array(fc.integer({ min: -1_000, max: 1_000 }), { minLength: 1, maxLength: 30 });
const positive = fc.array(fc.integer({ min: 1, max: 1_000 }), { minLength: 1, maxLength: 30 });
const members = (own: readonly number[]): { rows: string[][]; cells: number[][] } => ({
  rows: own.map((_, index) => [`Member ${index}`]),
  cells: own.map((value) => [value]),
});

describe('a waterfall', () => {
  it('ends where each next step begins, and at the total of all records', () => {
    fc.assert(
      fc.property(values, fc.integer({ min: -5_000, max: 5_000 }), (own, total) => {
        const { series, categories } = axisDrawing(figureOf({ kind: 'waterfall', ...members(own), total }));
        const spans = series[0].spans!.map((span) => span!);
        spans.slice(1, -1).forEach(([from], index) => expect(from).toBe(spans[index][1]));
        expect(spans.at(-1)).toEqual([0, total]);
        expect(spans.at(-2)![1]).toBe(total);
        const sum = own.reduce((all, value) => all + value, 0);
        expect(categories.some(({ label }) => label === 'Difference to total')).toBe(sum !== total);
      }),
    );
  });
});

describe('a logarithmic scale', () => {
  const scales = { scale: { logarithmic: true }, second: {} };
  const given = { rows: [['A'], ['B'], ['C'], ['D']], cells: [[5], [0], [-2], [null]] };

  it('says how many values it has no place for, and is drawn all the same', () => {
    const misfit = logarithmMisfit(figureOf({ kind: 'line', ...given }), scales);
    expect(misfit).toMatchObject({
      words: '2 values at or below zero have no place on a logarithmic scale and are not drawn.',
      drawn: scales,
    });
    expect(misfit?.linear.scale.logarithmic).toBeUndefined();
    const one = logarithmMisfit(figureOf({ kind: 'line', rows: [['A'], ['B']], cells: [[5], [0]] }), scales);
    expect(one?.words).toContain('1 value at or below zero has no place');
    expect(logarithmMisfit(figureOf({ kind: 'line', rows: [['A']], cells: [[5]] }), scales)).toBeNull();
    expect(logarithmMisfit(figureOf({ kind: 'line', ...given }), { scale: {}, second: { logarithmic: true } })).toBeNull();
  });

  it('is linear under columns, which begin at zero', () => {
    const misfit = logarithmMisfit(figureOf({ kind: 'column', rows: [['A']], cells: [[5]] }), scales);
    expect(misfit?.words).toContain('begin at zero');
    expect(misfit?.drawn.scale.logarithmic).toBeUndefined();
  });

  it('of points is that of each of their two measures', () => {
    const points = figureOf({
      kind: 'scatter',
      measures: ['net', 'goal'],
      rows: [['A'], ['B']],
      cells: [
        [0, 2],
        [3, 4],
      ],
    });
    expect(logarithmMisfit(points, scales)).toBeNull();
    expect(logarithmMisfit(points, { scale: {}, second: { logarithmic: true } })?.words).toContain('1 value');
  });
});

describe('a Pareto chart', () => {
  it('goes from the largest member down, and its share up to the whole', () => {
    fc.assert(
      fc.property(positive, (own) => {
        const { series } = axisDrawing(figureOf({ kind: 'pareto', ...members(own) }));
        const [bars, share] = series;
        expect(bars.values).toEqual([...own].sort((a, b) => b - a));
        share.values.slice(1).forEach((value, index) => expect(value!).toBeGreaterThan(share.values[index]!));
        expect(share.values.at(-1)).toBeCloseTo(1, 12);
      }),
    );
  });

  it('has all other members last, however large they are together', () => {
    const { categories } = axisDrawing(
      figureOf({ kind: 'pareto', rows: [['A'], ['B'], ['All other regions']], cells: [[1], [2], [90]], others: 2 }),
    );
    expect(categories.map(({ label }) => label)).toEqual(['B', 'A', 'All other regions']);
  });
});

describe('parts of a whole', () => {
  it('add up to it, by share too', () => {
    fc.assert(
      fc.property(positive, (own) => {
        const { parts, whole } = partsDrawing(figureOf({ kind: 'ring', ...members(own) }));
        expect(whole).toBe(own.reduce((sum, value) => sum + value, 0));
        expect(parts.reduce((sum, { share }) => sum + share!, 0)).toBeCloseTo(1, 10);
      }),
    );
  });

  it('of each member add up to 100 %', () => {
    const figure = figureOf({
      kind: 'column',
      rows: [['Nordic'], ['Atlantic']],
      columns: [['2025'], ['2026']],
      cells: [
        [1, 3],
        [5, null],
      ],
      top: ['year'],
      chart: { arrangement: 'share' },
    });
    const { series } = axisDrawing(figure);
    expect(series.map(({ values: own }) => own)).toEqual([
      [0.25, 1],
      [0.75, null],
    ]);
    expect(series[0].format.kind).toBe('percent');
    expect(figureUnits(figure)).toBe('%');
    const grouped = { ...figure, shape: { ...figure.shape, arrangement: 'grouped' as const } };
    expect(figureUnits(grouped)).toBe(unitWords(drawnSeries(figure)[0].format, 'en-GB'));
    expect(figureUnits(grouped)).not.toBe('%');
  });

  it('of two units have an axis each, that of the first measure on the left, unless something else is set', () => {
    const given = {
      ...{
        kind: 'line' as const,
        side: ['month'],
        rows: [['2025-01'], ['2025-02']],
        cells: [
          [10, 0.5, 3],
          [20, 0.6, 4],
        ],
      },
      measures: ['net', 'attainment', 'average_price'],
      formats: [{ kind: 'currency', currency: 'EUR' }, { kind: 'percent' }, { kind: 'currency', currency: 'EUR' }],
    };
    const own = figureOf(given);
    expect(own.series.map(({ second }) => second)).toEqual([false, true, false]);
    expect(own.notes).toEqual([]);
    expect(
      axisWords(
        axisDrawing(own).series.filter(({ second }) => second),
        'en-GB',
      ),
    ).toMatch(/\(%\)$/);
    const left = figureOf({ ...given, chart: { series: { attainment: { second: false } } } });
    expect(left.series.map(({ second }) => second)).toEqual([false, false, false]);
    expect(left.notes.join()).toMatch(/^One axis has several units: .*%/);
    expect(figureOf({ ...given, chart: { arrangement: 'stacked' } }).series.some(({ second }) => second)).toBe(false);
  });

  it('have one colour in each group', () => {
    const { parts } = partsDrawing(
      figureOf({
        kind: 'treemap',
        side: ['region', 'country'],
        rows: [
          ['Nordic', 'Sweden'],
          ['Nordic', 'Denmark'],
          ['Atlantic', 'France'],
        ],
        cells: [[3], [2], [1]],
      }),
    );
    expect(parts.map(({ colour, groups }) => [groups[0], colour])).toEqual([
      ['Nordic', 0],
      ['Nordic', 0],
      ['Atlantic', 1],
    ]);
  });
});

describe('how values are spread', () => {
  it('has each member in the one range that holds it', () => {
    fc.assert(
      fc.property(values, (own) => {
        const bins = binsOf(figureOf({ kind: 'distribution', ...members(own) }));
        const placed = bins.flatMap(({ from, to, categories }) =>
          categories.map((category) => own[category] >= from && own[category] < to),
        );
        expect(placed).toEqual(own.map(() => true));
        bins.slice(1).forEach(({ from }, index) => expect(from).toBe(bins[index].to));
      }),
    );
  });

  it('has values on a bound where the bound says: tenths are no sums of binary fractions', () => {
    const tenths = Array.from({ length: 11 }, (_, index) => index / 10);
    for (const { from, to, categories } of binsOf(figureOf({ kind: 'distribution', ...members(tenths) })))
      expect(categories.map((category) => tenths[category])).toEqual(tenths.filter((value) => value >= from && value < to));
  });

  it('has quartiles between the values, as percentile_cont has them', () => {
    // PostgreSQL: SELECT percentile_cont(array[0.25, 0.5, 0.75]) WITHIN GROUP (ORDER BY x) FROM (VALUES (1), (2), (4), (8)) AS v (x) gives {1.75, 3, 5}.
    expect([0.25, 0.5, 0.75].map((part) => quantile([1, 2, 4, 8], part))).toEqual([1.75, 3, 5]);
    // At whole places it is the value itself, for every definition of quantiles.
    expect(quantile([3, 5, 9], 0.5)).toBe(quantileSorted([3, 5, 9], 0.5));
  });

  it('tells members apart that are far from their group', () => {
    const rows = [1, 2, 3, 4, 5, 100].map((value) => ['Nordic', `City ${value}`]);
    const [box] = boxesOf(figureOf({ kind: 'box', side: ['region', 'city'], rows, cells: [[1], [2], [3], [4], [5], [100]] }));
    expect(box).toMatchObject({ label: 'Nordic', count: 6, median: 3.5, whiskers: [1, 5], outliers: [{ category: 5, value: 100 }] });
  });
});

describe('points', () => {
  it('are members with both measures; the others are counted', () => {
    const figure = figureOf({
      kind: 'bubble',
      measures: ['net', 'goal', 'cities_sold'],
      rows: [['A'], ['B'], ['C']],
      cells: [
        [1, 2, 3],
        [4, null, 1],
        [5, 6, -1],
      ],
    });
    const { series, missing } = pointsDrawing(figure);
    expect(series[0].points).toEqual([
      { category: 0, x: 1, y: 2, size: 3, shade: null },
      { category: 2, x: 5, y: 6, size: 0, shade: null },
    ]);
    expect(missing).toBe(1);
    expect(chartWords(figure)).toBe('Bubbles by region. 2 points: Net along, Goal up and Cities as size. 1 member has no place.');
  });

  it('have a curve through them in the units of the axes', () => {
    const figure = figureOf({
      kind: 'scatter',
      measures: ['net', 'goal'],
      rows: [['A'], ['B'], ['C']],
      cells: [
        [1, 3],
        [2, 5],
        [3, 7],
      ],
    });
    const trend = pointsTrend(figure, { kind: 'linear' })!;
    expect(trend.words).toBe('Linear trend: y = 1 + 2 x, R² 1.000');
    expect(correlationWords(figure)).toBe('Correlation 1');
    expect(trend.line[0]).toEqual({ x: 1, y: 3 });
  });
});

describe('through time', () => {
  /** Three regions in two years, by channel; the second year is not over, and has no showrooms. */
  const through = (kind: ChartKindName = 'bar', chart: object = {}): ChartFigure =>
    figureOf({
      ...{ kind, side: ['region'], top: ['year', 'channel'], rows: [['Nordic'], ['Atlantic'], ['Alpine']] },
      columns: [
        ['2025', 'Online'],
        ['2025', 'Showroom'],
        ['2026', 'Online'],
      ],
      cells: [
        [1, 20, 3],
        [null, 5, 40],
        [7, null, null],
      ],
      chart: { through: {}, ...chart },
    });

  it('each period is a chart of its own, with the same series in the same order and colours', () => {
    const [first, second, ...rest] = chartsOfPeriods(through());
    expect(rest).toEqual([]);
    expect([first, second].map(({ period }) => period)).toEqual([
      { member: '2025', label: '2025', isPartial: false },
      { member: '2026', label: '2026', isPartial: true },
    ]);
    const keysAndColours = ({ series }: ChartFigure) => series.map(({ key, colour, label }) => [key, colour, label]);
    expect(keysAndColours(second)).toEqual(keysAndColours(first));
    expect(first.series.map(({ label, values }) => [label, values])).toEqual([
      ['Online', [1, null, 7]],
      ['Showroom', [20, 5, null]],
    ]);
    // What is not there in a period has no values in it, and is still pointed at by its path.
    expect(second.series.map(({ path, values }) => [path, values])).toEqual([
      [
        ['2026', 'Online'],
        [3, 40, null],
      ],
      [
        ['2026', 'Showroom'],
        [null, null, null],
      ],
    ]);
    expect(pointWords(second, second.series[0], 1)).toBe('Online, Atlantic, 2026 to date: 40');
    expect(chartWords(second)).toMatch(/^Bars by region, 2026 to date\. Online is highest in Atlantic \(40\)/);
  });

  it('has one scale over all periods', () => {
    for (const figure of chartsOfPeriods(through())) {
      expect(commonEnds(figure, false)).toEqual(scaleEnds([0, 40], true));
      expect([...valuesOfMeasure(figure, 0)].sort((a, b) => a - b)).toEqual([1, 3, 5, 7, 20, 40]);
    }
    // Stacked, the highest stack counts: 21 in Nordic in the first year, 40 in Atlantic in the second.
    const [stacked] = chartsOfPeriods(through('column', { arrangement: 'stacked' }));
    expect(commonEnds(stacked, false)!.max).toBeGreaterThanOrEqual(40);
    expect(commonEnds(stacked, false)!.max).toBeLessThan(60);
    // Neither lines nor steps have to begin at zero; columns and areas have.
    const least = (kind: ChartKindName): number => {
      const high = figureOf({
        ...{ kind, top: ['year', 'channel'], rows: [['A'], ['B']], columns: [['2025', 'Online']], cells: [[101], [109]] },
        chart: { through: {} },
      });
      return commonEnds(chartsOfPeriods(high)[0], false)!.min;
    };
    expect(['line', 'step', 'area', 'column'].map((kind) => least(kind as ChartKindName) > 0)).toEqual([true, true, false, false]);
    expect(commonEnds(through(), false)).toBeNull();
    const share = chartsOfPeriods(through('column', { arrangement: 'share' }))[0];
    expect(commonEnds(share, false)).toBeNull();
    // What is calculated out of the members of a chart has a scale that only that chart has.
    for (const kind of ['waterfall', 'pareto', 'diverging'] as const)
      expect(commonEnds(chartsOfPeriods(through(kind))[0], false), kind).toBeNull();
  });

  it('settings of a series hold in each period', () => {
    const key = 'net Online';
    expect(chartsOfPeriods(through())[0].series[0].key).toBe(key);
    const hidden = chartsOfPeriods(through('bar', { series: { [key]: { hidden: true, colour: 6 } } }));
    expect(hidden.map(({ series }) => [series[0].hidden, series[0].colour])).toEqual([
      [true, 6],
      [true, 6],
    ]);
    expect(valuesOfMeasure(hidden[0], 0)).toEqual([20, 5]);
  });

  it('without a field to go through all is shown at once', () => {
    const plain = figureOf({ kind: 'bar', rows: [['A']], cells: [[1]], chart: { through: {} } });
    expect(plain.periods).toBeNull();
    expect(chartsOfPeriods(plain)).toEqual([]);
  });
});

describe('a line of many points', () => {
  it('keeps its ends, its peaks, and its gaps, at the places where they are', () => {
    const many = fc.array(fc.option(fc.integer({ min: -50, max: 50 }), { nil: null, freq: 6 }), { minLength: 1, maxLength: 400 });
    fc.assert(
      fc.property(many, fc.integer({ min: 1, max: 60 }), (own, stretches) => {
        const kept = thinned(own, stretches);
        expect(kept).toEqual([...new Set(kept)].sort((a, b) => a - b));
        expect(kept.length).toBeLessThanOrEqual(5 * stretches);
        const known = own.flatMap((value, index) => (value === null ? [] : [index]));
        const values = kept.flatMap((index) => own[index] ?? []);
        if (known.length > 0) {
          expect(Math.max(...values)).toBe(Math.max(...known.map((index) => own[index]!)));
          expect(Math.min(...values)).toBe(Math.min(...known.map((index) => own[index]!)));
          expect(kept).toContain(known[0]);
          expect(kept).toContain(known.at(-1));
        }
        // Between two values that follow each other where there is a gap in one stretch, the gap stays.
        expect(kept.some((index) => own[index] === null)).toBe(own.includes(null));
      }),
    );
    expect(thinned([1, 2, 3], 2)).toEqual([0, 1, 2]);
  });
});

describe('a chart drawn small', () => {
  it('has its shapes on a scale from 0 to 1, and nothing that could be read', () => {
    fc.assert(
      fc.property(values, fc.constantFrom<ChartKindName>('column', 'bar', 'line', 'area', 'waterfall', 'map', 'treemap'), (own, kind) => {
        const { series, zero } = chartSketch(figureOf({ kind, ...members(own) }));
        expect(zero).toBeGreaterThanOrEqual(0);
        expect(zero).toBeLessThanOrEqual(1);
        const shown = series.flat().flatMap((value) => value ?? []);
        for (const value of shown) {
          expect(value).toBeGreaterThanOrEqual(0);
          expect(value).toBeLessThanOrEqual(1);
        }
        expect(Math.max(...shown, zero)).toBeGreaterThanOrEqual(shown.length > 0 && new Set(own).size > 1 ? 1 : 0);
      }),
    );
    const long = chartSketch(figureOf({ kind: 'line', ...members(Array.from({ length: 500 }, (_, index) => index)) }));
    expect(long.series[0].length).toBeLessThanOrEqual(48);
    expect([long.series[0][0], long.series[0].at(-1)]).toEqual([0, 1]);
  });

  it('places dots by two measures, and slices by their shares', () => {
    const dots = figureOf({
      kind: 'scatter',
      measures: ['net', 'goal'],
      rows: [['A'], ['B']],
      cells: [
        [1, 30],
        [3, 10],
      ],
    });
    expect(chartSketch(dots)).toEqual({
      shape: 'dots',
      series: [
        [0, 1],
        [1, 0],
      ],
      zero: 0,
    });
    expect(chartSketch(figureOf({ kind: 'pie', rows: [['A'], ['B']], cells: [[1], [3]] }))).toEqual({
      shape: 'slices',
      series: [[0.25, 0.75]],
      zero: 0,
    });
  });
});

describe('colours by member', () => {
  it('are those of their places among all members, whatever is shown', () => {
    const colours = (memberPlaces?: number[]) =>
      partsDrawing(figureOf({ kind: 'pie', rows: [['A'], ['C']], cells: [[1], [3]], memberPlaces })).parts.map(({ colour }) => colour);
    expect(colours()).toEqual([0, 1]);
    expect(colours([0, 2])).toEqual([0, 2]);
  });
});

describe('a reference line', () => {
  it('stands at a value, or where the average or the median of what is shown is', () => {
    expect(referenceValue({ at: 7 }, [])).toBe(7);
    expect(referenceValue({ at: 'average' }, [1, null, 5, 6])).toBe(4);
    expect(referenceValue({ at: 'median' }, [9, null, 1, 5])).toBe(5);
    expect(referenceValue({ at: 'median' }, [null])).toBeNull();
  });
});

describe('control limits', () => {
  // NIST/SEMATECH e-Handbook of Statistical Methods, 6.3.2.2: ten batches of a flow rate, their average and limits.
  const FLOW = [49.6, 47.6, 49.9, 51.3, 47.8, 51.2, 52.6, 52.4, 53.6, 52.1];

  it('are those of the published example', () => {
    const limits = controlLimits(FLOW)!;
    expect(limits.centre).toBeCloseTo(50.81, 10);
    expect(limits.high).toBeCloseTo(55.8041, 4);
    expect(limits.low).toBeCloseTo(45.8159, 4);
    expect(FLOW.some((value) => isOutside(limits, value))).toBe(false);
  });

  it('need two neighbours, and a gap has none', () => {
    expect(controlLimits([5])).toBeNull();
    expect(controlLimits([5, null, 7])).toBeNull();
    // The ranges are 2 and 4; what is beside the gap counts in the average alone.
    expect(controlLimits([1, 3, null, 10, 6])!.high).toBeCloseTo(5 + (3 * 3) / 1.128, 10);
  });

  it('name what lies outside, and do not judge what is not whole', () => {
    const own = [10, 11, 10, 11, 10, 30, 10, 11, 10, 11, 10, 11];
    const figure = figureOf({ kind: 'line', rows: own.map((_, index) => [`R${index + 1}`]), cells: own.map((value) => [value]) });
    const settings = { lines: [{ at: 'limits' as const, label: '' }] };
    expect(controlOf(figure, settings)!.outside).toEqual([5]);
    expect(controlWords(figure, settings)).toMatch(/^Outside the control limits of .*: R6\.$/);
    expect(controlOf(figure, { lines: [] })).toBeNull();
    const categories = figure.categories.map((one, index) => (index === 5 ? { ...one, isPartial: true } : one));
    expect(controlWords({ ...figure, categories }, settings)).toMatch(/^All values lie within/);
  });
});

describe('more series than colours', () => {
  const lines = (count: number, part: object = {}): ChartFigure =>
    figureOf({
      kind: 'line',
      rows: [['A'], ['B']],
      columns: Array.from({ length: count }, (_, index) => [`S${index}`]),
      cells: [0, 1].map(() => Array.from({ length: count }, (_, index) => index)),
      top: ['channel'],
      ...part,
    });

  it('are charts of their own, one for each', () => {
    expect(isPastColours(lines(8))).toBe(false);
    expect(isPastColours(lines(9))).toBe(true);
    expect(panelsOf(lines(9))).toHaveLength(9);
    expect(isPastColours(lines(9, { kind: 'column', chart: { arrangement: 'stacked' } }))).toBe(true);
    expect(isPastColours(lines(9, { kind: 'diverging' }))).toBe(false);
    expect(isPastColours(lines(9, { kind: 'heat' }))).toBe(false);
  });
});

describe('parts of each whole in charts of their own', () => {
  it('keep their shares, which add up to the whole across the charts', () => {
    const cells = [
      [1, 2, 5],
      [4, 4, null],
    ];
    const columns = [['X'], ['Y'], ['Z']];
    const figure = figureOf({ kind: 'column', rows: [['A'], ['B']], columns, cells, top: ['channel'], chart: { arrangement: 'share' } });
    const panels = panelsOf(figure);
    const shares = panels.map((panel) => axisDrawing(panel.figure).series[0].values);
    expect(shares).toEqual([
      [1 / 8, 1 / 2],
      [2 / 8, 1 / 2],
      [5 / 8, null],
    ]);
    expect(commonEnds(panels[0].figure, false)?.max).toBeLessThan(1);
  });
});

describe('notes', () => {
  it('stand at their points, where these are drawn, and are told with them', () => {
    const figure = figureOf({ kind: 'bar', rows: [['A'], ['B'], ['C']], cells: [[1], [5], [null]] });
    const at = (side: string[], measure = 'net') => ({ side, top: [], measure, text: 'Trade fair' });
    const all = [at(['B']), at(['C']), at(['Z']), at(['A'], 'goal')];
    expect(notesAt(all, ['net'], figure.series, figure.categories)).toEqual([{ series: 0, category: 1, text: 'Trade fair' }]);
    expect(noteWords(figure, all, ['net'])).toEqual(['Net, B: 5. Trade fair']);
  });
  it('stand at groups too, which no document can name as they are', () => {
    const figure = figureOf({ kind: 'bar', rows: [['\0=strings'], ['B']], cells: [[1], [5]] });
    const note = { side: writtenPath(['\0=strings']), top: [], measure: 'net', text: 'Together' };
    expect(note.side).toEqual(['%00=strings']);
    expect(notesAt([note], ['net'], figure.series, figure.categories)).toEqual([{ series: 0, category: 0, text: 'Together' }]);
  });
});

describe('a map', () => {
  const over = (map: object, top: string[] = []) =>
    figureOf({
      ...{ kind: 'map', rows: [['Sweden'], ['Norway']], top, measures: ['net', 'goal', 'average_price'], chart: { map } },
      ...(top.length > 0
        ? {
            columns: [['Online'], ['Showroom']],
            cells: [
              [1, 2, 3, 4, 5, 6],
              [1, 2, 3, 4, 5, 6],
            ],
          }
        : {
            cells: [
              [1, 2, 3],
              [4, 5, 6],
            ],
          }),
    });
  const named = (figure: ChartFigure, map: { points: boolean; marks: 'rings' | 'columns' | 'pies' }) =>
    legendSeries(figure, map).map(({ label }) => label);

  it('names what its parts are: measures after the first, or members of the series', () => {
    expect(named(over({}), { points: false, marks: 'rings' })).toEqual([]);
    expect(named(over({}), { points: false, marks: 'columns' })).toEqual(['Goal', 'Average price']);
    expect(named(over({}, ['channel']), { points: false, marks: 'pies' })).toEqual(['Online', 'Showroom']);
  });

  it('of points needs two measures', () => {
    const one = figureOf({ kind: 'map', rows: [['Oslo']], cells: [[59.9]], chart: { map: { points: true } } });
    expect(misfitOf(one)).toMatchObject({ isImpossible: true, words: expect.stringContaining('latitude, then longitude') as string });
    expect(misfitOf(over({ points: true }))).toBeNull();
  });
});

describe('series', () => {
  const months = ['2025', '2026'].flatMap((year) => ['January', 'February', 'March'].map((month) => [year, month]));
  const through = (chart: object = {}): ChartFigure =>
    figureOf({ kind: 'line', side: ['year', 'month'], rows: months, cells: [[1], [2], [3], [4], [5], [1]], chart });

  it('say what happened, and what each point is', () => {
    expect(chartWords(through())).toBe(
      'Lines by month. Net stayed the same at 1; highest in February 2026 (5), lowest in January 2025 (1).',
    );
    const figure = through();
    expect(pointWords(figure, figure.series[0], 4)).toBe('Net, February 2026: 5');
  });

  it('have a trend with its equation, and a moving average with gaps at its beginning', () => {
    expect(through({ trend: { kind: 'linear' } }).notes).toEqual(['Linear trend: y = 1.667 + 0.2857 x, R² 0.107']);
    const { trend } = through({ trend: { kind: 'moving', degree: 3 } }).series[0];
    expect(trend!.values).toEqual([null, null, 2, 3, 4, 10 / 3]);
  });

  it('have an equation that is the curve which is drawn, far from zero too', () => {
    // x counts places in a chart of periods, and is a measure in one of points: years, prices in cents.
    const kinds = fc.constantFrom(
      'linear' as const,
      'polynomial' as const,
      'logarithmic' as const,
      'exponential' as const,
      'power' as const,
    );
    const ys = fc.array(fc.integer({ min: 1, max: 10_000 }), { minLength: 8, maxLength: 30 });
    const evaluated = (words: string, x: number): number => {
      const number = (text: string): number => Number(text.replaceAll(',', '').replaceAll('−', '-'));
      const [, equation, , centre, reach] = /y = (.*?)(, where z = \(x ([^)]*)\) \/ ([\d.,]+))?(, R²|$)/.exec(words)!;
      const z = centre === undefined ? x : (x + number(centre.replace(' ', '').replace('+', ''))) / number(reach);
      const exponential = /^(\S+) e\^\((\S+) (?:x|\(x − (\S+)\))\)$/.exec(equation);
      if (exponential) return number(exponential[1]) * Math.exp(number(exponential[2]) * (x - number(exponential[3] ?? '0')));
      const power = /^(\S+) (?:x|\(x \/ (\S+)\))\^(\S+)$/.exec(equation);
      if (power) return number(power[1]) * (x / number(power[2] ?? '1')) ** number(power[3]);
      return equation
        .replaceAll('− ', '+ −')
        .split(' + ')
        .map((term) => /^(\S+?)(?: (ln x|[xz])(?:\^(\d))?)?$/.exec(term)!)
        .reduce((sum, [, value, of, degree]) => {
          const at = of === undefined ? 1 : of === 'ln x' ? Math.log(x) : (of === 'z' ? z : x) ** Number(degree ?? 1);
          return sum + number(value.replace('−−', '')) * at;
        }, 0);
    };
    fc.assert(
      fc.property(kinds, ys, fc.constantFrom(1, 2_000, 150_000), fc.integer({ min: 2, max: 6 }), (kind, own, from, degree) => {
        const points = own.map((y, index) => ({ x: from + index, y }));
        const through = trendThrough({ kind, degree }, points, 'en-GB')!;
        const heights = points.map(({ x }) => through.at(x));
        const height = Math.max(...heights) - Math.min(...heights);
        fc.pre(height > 1e-6);
        points.forEach(({ x }, index) =>
          expect(Math.abs(evaluated(through.words, x) - heights[index])).toBeLessThan(0.002 * height + 1e-9),
        );
      }),
    );
  });

  it('say which of their periods are not over, along the axis and as series', () => {
    // There is data to 28 February 2026, so that February is over and 2026 is not.
    const years = figureOf({
      kind: 'column',
      side: ['region'],
      top: ['year'],
      rows: [['Nordic']],
      columns: [['2025'], ['2026']],
      cells: [[5, 3]],
    });
    expect(years.series.map(({ label, isPartial }) => [label, isPartial])).toEqual([
      ['2025', false],
      ['2026 to date', true],
    ]);
    expect(years.notes).toEqual(['Paler or dashed: 2026 to date']);
    const months = figureOf({ kind: 'line', side: ['month'], rows: [['2026-01'], ['2026-02']], cells: [[5], [3]] });
    expect(months.notes).toEqual([]);
    const quarters = figureOf({ kind: 'area', side: ['quarter'], rows: [['2025-Q4'], ['2026-Q1']], cells: [[5], [3]] });
    expect(quarters.notes).toEqual([expect.stringMatching(/^Paler or dashed: .* to date$/)]);
  });

  it('are split into a chart for each member, with one scale over all', () => {
    const figure = figureOf({
      kind: 'line',
      rows: [['A'], ['B']],
      columns: [['2025'], ['2026']],
      cells: [
        [10, 400],
        [20, 900],
      ],
      top: ['year'],
      chart: { panels: true },
    });
    const panels = panelsOf(figure);
    expect(panels.map(({ label, figure: own }) => [label, own.series.map(({ label: name }) => name)])).toEqual([
      ['2025', ['Net']],
      ['2026', ['Net']],
    ]);
  });
});

describe('a scale', () => {
  it('holds all values, from zero where lengths stand for them, with round ends', () => {
    fc.assert(
      fc.property(values, fc.boolean(), (own, fromZero) => {
        const { min, max, step } = scaleEnds(own, fromZero);
        expect(min).toBeLessThanOrEqual(Math.min(...own) + 1e-9);
        expect(max).toBeGreaterThanOrEqual(Math.max(...own) - 1e-9);
        expect(max).toBeGreaterThan(min);
        if (fromZero) expect(min <= 0 && max >= 0).toBe(true);
        expect(Math.abs(Math.round(min / step) - min / step)).toBeLessThan(1e-6);
      }),
    );
  });
});

describe('the kind of a chart', () => {
  it('is proposed from its fields, with a reason', () => {
    const proposed = (side: string[], top: string[], measures: string[]) => {
      const { kind, reason } = proposedKind(
        workedDataset,
        chartSchema.parse({
          kind: 'chart',
          id: 'c',
          title: 'c',
          side: { fields: side },
          top: { fields: top },
          cells: measures.map((measure) => ({ measure })),
          chart: { kind: 'pie' },
        }),
      );
      expect(reason).toMatch(/\.$/);
      return kind;
    };
    expect(proposed(['month'], [], ['net'])).toBe('line');
    expect(proposed(['year'], [], ['net'])).toBe('column');
    expect(proposed(['country'], [], ['net'])).toBe('bar');
    expect(proposed(['country'], ['month'], ['net'])).toBe('heat');
    expect(proposed(['country'], [], ['net', 'goal'])).toBe('scatter');
    expect(proposed(['country'], [], ['net', 'goal', 'cities_sold'])).toBe('bubble');
    expect(proposed([], [], ['net'])).toBe('bar');
  });

  it('is answered with a better one where it does not suit', () => {
    const misfit = (part: Partial<Drawn> & { kind: ChartKindName }) =>
      misfitOf(figureOf({ rows: [['A'], ['B']], cells: [[1], [2]], ...part }));
    const many = members(Array.from({ length: 190 }, (_, index) => index + 1));
    expect(misfit({ kind: 'pie', ...many })).toMatchObject({ better: { kind: 'bar' }, isImpossible: false });
    expect(misfit({ kind: 'pie', cells: [[1], [-2]] })).toMatchObject({ better: { kind: 'bar' }, isImpossible: true });
    const stack = { rows: [['A']], columns: [['x'], ['y']], cells: [[1, -2]], top: ['year'] };
    expect(misfit({ kind: 'column', ...stack, chart: { arrangement: 'stacked' } })).toMatchObject({
      better: { arrangement: 'grouped' },
      isImpossible: true,
    });
    expect(misfit({ kind: 'scatter' })?.better.kind).toBe('bar');
    expect(misfit({ kind: 'heat' })?.better.kind).toBe('bar');
    expect(misfit({ kind: 'box' })?.better.kind).toBe('distribution');
    expect(misfit({ kind: 'bar', ...many })).toBeNull();
    for (const [name, { about }] of Object.entries(CHART_KINDS_BY_NAME)) expect(about, name).toMatch(/\.$/);
  });
});

describe('bars to either side', () => {
  const answers = fc.array(fc.array(fc.integer({ min: 0, max: 50 }), { minLength: 5, maxLength: 5 }), { minLength: 1, maxLength: 6 });
  const five = ['1', '2', '3', '4', '5'].map((name) => [name]);
  const drawn = (cells: number[][], columns = five): ReturnType<typeof axisDrawing> =>
    axisDrawing(figureOf({ kind: 'diverging', rows: cells.map((_, row) => [`R${row}`]), columns, cells, top: ['channel'] }));

  it('are shares that follow each other without a gap, with half of the middle answer on either side', () => {
    fc.assert(
      fc.property(answers, (cells) => {
        const { series } = drawn(cells);
        cells.forEach((row, index) => {
          const sum = row.reduce((all, value) => all + value, 0);
          const spans = series.map(({ spans: own }) => own![index]);
          if (sum === 0) return expect(spans).toEqual(row.map(() => null));
          spans.slice(1).forEach((span, at) => expect(span![0]).toBeCloseTo(spans[at]![1], 12));
          spans.forEach((span, at) => expect(span![1] - span![0]).toBeCloseTo(row[at] / sum, 12));
          const [from, to] = spans[2]!;
          expect(from).toBeCloseTo(-to, 12);
        });
      }),
    );
  });
  it('meet at zero where their number is even', () => {
    const { series } = drawn([[1, 2, 3, 4]], five.slice(0, 4));
    expect(series.map(({ spans }) => spans![0]![1])).toEqual([
      expect.closeTo(-0.2, 12),
      expect.closeTo(0, 12),
      expect.closeTo(0.3, 12),
      expect.closeTo(0.7, 12),
    ]);
    expect(series[0].spans![0]![0]).toBeCloseTo(-0.3, 12);
    expect(series[0].format).toMatchObject({ kind: 'percent' });
  });
  it('stand on their side, outwards, where some take away', () => {
    const { series } = drawn([[5, -2, 3, -4]], five.slice(0, 4));
    expect(series.map(({ spans }) => spans![0])).toEqual([
      [0, 5],
      [0, -2],
      [5, 8],
      [-2, -6],
    ]);
    expect(series[0].format).not.toMatchObject({ kind: 'percent' });
  });
});

describe('ranges', () => {
  const cells = [
    [4, 9],
    [7, 3],
    [1, null],
  ];
  const rows = [['A'], ['B'], ['C']];
  it('reach from the smaller of two measures to the larger, whichever comes first', () => {
    const { series } = axisDrawing(figureOf({ kind: 'range', rows, cells, measures: ['net', 'average_price'] }));
    expect(series.map(({ spans }) => spans)).toEqual([[[4, 9], [3, 7], null]]);
    expect(series[0].label).toMatch(/^.+ to .+$/);
  });
  it('are the ends of a value where there are three', () => {
    const three = cells.map(([low, high]) => [6, low, high]);
    const { series } = axisDrawing(figureOf({ kind: 'range', rows, cells: three, measures: ['net', 'average_price', 'net'] }));
    expect(series.map(({ as, spans }) => ({ as, spans }))).toEqual([
      { as: 'line', spans: undefined },
      { as: 'column', spans: [[4, 9], [3, 7], null] },
    ]);
    expect(series[0].values).toEqual([6, 6, 6]);
  });
  it('have no line through their ends, whatever was chosen for a kind before', () => {
    const chart = { trend: { kind: 'linear' }, arrangement: 'share' };
    const { series, notes } = figureOf({ kind: 'range', rows, cells, measures: ['net', 'average_price'], chart });
    expect(series.map(({ trend }) => trend)).toEqual([null, null]);
    expect(notes.join()).not.toContain('y =');
  });
  it('lie of members, and stand of periods', () => {
    const [ofMembers, ofPeriods] = [['region'], ['month']].map((side) =>
      figureOf({ kind: 'range', rows: [['2026-01']], cells: [[1, 2]], measures: ['net', 'average_price'], side }),
    );
    expect([isLying(ofMembers), isLying(ofPeriods), isLying({ ...ofPeriods, kind: 'bar' })]).toEqual([true, false, true]);
  });
});

describe('slopes', () => {
  it('go from place to place, up or down by their first and last value', () => {
    const figure = figureOf({
      ...{ kind: 'slope', rows: [['A'], ['B'], ['C'], ['D'], ['E']], columns: [['2024'], ['2025']], top: ['year'] },
      cells: [
        [1, 2],
        [5, 3],
        [4, 4],
        [null, 2],
        [null, null],
      ],
    });
    const { places, slopes } = slopesOf(figure);
    expect(places).toEqual(['2024', '2025']);
    expect(slopes.map(({ label, went }) => [label, went])).toEqual([
      ['A', 'up'],
      ['B', 'down'],
      ['C', 'level'],
      ['D', null],
    ]);
    expect(chartWords(figure)).toBe('Slopes by region. From 2024 to 2025 1 member rose and 1 member fell.');
    expect(misfitOf(figureOf({ kind: 'slope', rows: [['A']], cells: [[1]] }))?.better.kind).toBe('bar');
  });
});

describe('flows', () => {
  it('give as much as they take, whatever goes between which', () => {
    const amounts = fc.array(fc.array(fc.integer({ min: -5, max: 20 }), { minLength: 3, maxLength: 3 }), { minLength: 1, maxLength: 5 });
    fc.assert(
      fc.property(amounts, (cells) => {
        const rows = cells.map((_, row) => [`R${row}`]);
        const columns = [['X'], ['Y'], ['Z']];
        const { sources, targets, flows } = flowsOf(figureOf({ kind: 'flow', rows, columns, cells, top: ['channel'] }));
        const sum = (own: { value: number }[]): number => own.reduce((all, { value }) => all + value, 0);
        expect([sum(sources), sum(targets)]).toEqual([sum(flows), sum(flows)]);
        expect(flows.map(({ from, to, value }) => [sources[from].label, targets[to].label, value])).toEqual(
          cells.flatMap((row, at) => row.flatMap((value, column) => (value > 0 ? [[`R${at}`, 'XYZ'[column], value]] : []))),
        );
      }),
    );
  });
  it('go from groups to their members where there is no series', () => {
    const rows = [
      ['Nordic', 'Sweden'],
      ['Nordic', 'Norway'],
      ['Central', 'Austria'],
    ];
    const figure = figureOf({ kind: 'flow', rows, cells: [[3], [2], [4]], side: ['region', 'country'] });
    const { sources, targets } = flowsOf(figure);
    expect(sources).toEqual([
      { label: 'Nordic', value: 5 },
      { label: 'Central', value: 4 },
    ]);
    expect(targets.map(({ label }) => label)).toEqual(['Sweden', 'Norway', 'Austria']);
    expect(misfitOf(figureOf({ kind: 'flow', rows: [['A']], cells: [[1]] }))?.isImpossible).toBe(true);
    expect(chartWords(figure)).toContain('Central to Austria');
  });
});

describe('a calendar grid', () => {
  const gridOf = (days: string[]): ReturnType<typeof dayGridOf> =>
    dayGridOf(figureOf({ kind: 'days', rows: days.map((day) => [day]), cells: days.map((_, index) => [index]), side: ['day'] }));

  it('has each day in its week: ISO 8601 begins these on Mondays', () => {
    // 1 January 2026 is a Thursday, 5 January a Monday (ISO 8601 week 2 of 2026).
    const { days, months, columns } = gridOf(['2026-01-01', '2026-01-04', '2026-01-05', '2026-02-01', '2026-02-02']);
    expect(days.map(({ column, weekday, year }) => [column, weekday, year])).toEqual([
      [0, 3, 0],
      [0, 6, 0],
      [1, 0, 0],
      [4, 6, 0],
      [5, 0, 0],
    ]);
    expect(months).toEqual([
      { column: 0, month: 1 },
      { column: 4, month: 2 },
    ]);
    expect(columns).toBe(6);
  });
  it('has years below each other, each from its own first week, and no two days in one place', () => {
    const { days, years } = gridOf(['2024-01-08', '2024-12-31', '2025-01-01', '2025-12-31', '2026-01-01']);
    expect(years).toEqual(['2024', '2025', '2026']);
    expect(days.map(({ year, column, weekday }) => [year, column, weekday])).toEqual([
      [0, 1, 0],
      [0, 52, 1],
      [1, 0, 2],
      [1, 52, 2],
      [2, 0, 3],
    ]);
    fc.assert(
      fc.property(fc.uniqueArray(fc.integer({ min: 0, max: 1_500 }), { minLength: 1, maxLength: 60 }), (own) => {
        const dates = own.map((day) => new Date(Date.UTC(2023, 0, 1 + day)).toISOString().slice(0, 10));
        const places = gridOf(dates).days.map(({ year, column, weekday }) => `${year} ${column} ${weekday}`);
        expect(new Set(places).size).toBe(own.length);
      }),
    );
  });
  it('needs days', () => {
    expect(misfitOf(figureOf({ kind: 'days', rows: [['2026-01']], cells: [[1]], side: ['month'] }))?.better.kind).toBe('line');
    expect(misfitOf(figureOf({ kind: 'days', rows: [['2026-01-01']], cells: [[1]], side: ['day'] }))).toBeNull();
  });
});
