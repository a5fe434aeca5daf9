import { chartFigure, chartsOfPeriods, type ChartFigure } from '@bold-compass/core/chart';
import type { ChartResponse, Header } from '@bold-compass/core/api';
import type { State } from '@bold-compass/core/indicators';
import { chartSchema, CHART_KINDS, type Chart, type ChartKindName } from '@bold-compass/core/model';
import { workedDataset } from '@bold-compass/core/testing/worked-example';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { axisChart } from './axis-chart.ts';
import { dayChart } from './day-chart.ts';
import { flowChart } from './flow-chart.ts';
import { slopeChart } from './slope-chart.ts';
import { inStyle } from './chart-styles.ts';
import { gridChart } from './grid-chart.ts';
import type { ChartDrawing, ChartTarget, DrawnWith } from './drawing.ts';
import { ownShapes } from './map/place-shapes.ts';
import { pointsMap } from './map/points-map.ts';
import { shapesMap } from './map/shapes-map.ts';
import { WORLD } from './map/world.ts';
import { packedChart } from './packed-chart.ts';
import { ringChart } from './parts-chart.ts';
import { nextPoint, type PointAt } from './point-keys.ts';
import { pointsChart } from './points-chart.ts';
import { readableOn, type CanvasTokens } from './tokens.ts';

const tokens: CanvasTokens = {
  ...{
    ink: 'rgb(0, 0, 0)',
    quiet: 'rgb(90, 90, 90)',
    rule: 'rgb(200, 200, 200)',
    hairline: 'rgb(230, 230, 230)',
    paper: 'rgb(255, 255, 255)',
  },
  ...{ sea: 'rgb(0, 80, 90)', brass: 'rgb(170, 110, 0)', good: 'rgb(0, 80, 90)', bad: 'rgb(180, 40, 40)' },
  series: Array.from({ length: 8 }, (_, index) => `rgb(${index * 20 + 10}, 0, 0)`),
  states: {
    ...{ ahead: 'rgb(0, 120, 0)', on: 'rgb(0, 120, 0)', drifting: 'rgb(170, 110, 0)' },
    ...{ off: 'rgb(180, 40, 40)', far: 'rgb(180, 40, 40)', none: 'rgb(120, 120, 120)' },
  },
};
const header = (path: string[]): Header => ({
  ...{ path, labels: path, role: path.length > 0 ? 'member' : 'total', depth: path.length, open: false, canOpen: false },
});

interface Given {
  kind: ChartKindName;
  rows: string[];
  columns?: string[];
  cells: (number | null)[][];
  measures?: string[];
  chart?: object;
  states?: (State | null)[][];
}

/** A chart of some figures, as it is handed to what draws it. */
function drawn({ kind, rows, columns, cells, measures = ['net'], chart = {}, states }: Given, part: Partial<DrawnWith> = {}): DrawnWith {
  const exhibit: Chart = chartSchema.parse({
    ...{ kind: 'chart', id: 'drawn', title: 'Drawn', side: { fields: ['region'] }, top: { fields: columns ? ['channel'] : [] } },
    ...{ cells: measures.map((measure) => ({ measure })), chart: { kind, ...chart } },
  });
  const heads = (columns ?? ['']).map((column) => header(column === '' ? [] : [column]));
  const answer: ChartResponse = {
    rows: { total: rows.length, from: 0, items: rows.map((row) => header([row])) },
    columns: { total: heads.length, from: 0, items: heads },
    ...{ measures: [], cells, root: { path: [], labels: [] }, totals: measures.map(() => null), milliseconds: 0, states },
  };
  const figure: ChartFigure = chartFigure(workedDataset, exhibit, answer, { locale: 'en-GB', dataTo: '2026-02-28' });
  return {
    ...{ figure, settings: exhibit.chart, tokens, measures, width: 600, height: 300, warns: true, chosen: null },
    view: { zoom: 1, centre: null },
    ...part,
  };
}
const words = ({ targets }: ChartDrawing): string[] => targets.flat().flatMap((target) => target?.words ?? []);
const datasets = ({ config }: ChartDrawing): Record<string, unknown>[] => config.data.datasets as unknown as Record<string, unknown>[];

describe('what is drawn along an axis', () => {
  const values = fc.array(fc.option(fc.integer({ min: -99, max: 99 }), { nil: null }), { minLength: 1, maxLength: 40 });
  it('has a target for each of its points, which names the cell it stands for', () => {
    fc.assert(
      fc.property(values, fc.constantFrom<ChartKindName>('column', 'bar', 'line', 'area', 'step'), (own, kind) => {
        const drawing = axisChart(drawn({ kind, rows: own.map((_, index) => `R${index}`), cells: own.map((value) => [value]) }));
        const [targets] = drawing.targets;
        expect(targets.map((target) => target?.cell?.side)).toEqual(
          own.map((value, index) => (value === null ? undefined : [`R${index}`])),
        );
        expect(datasets(drawing)[0].data).toEqual(own);
      }),
    );
  });

  it('says of each point of a thinned line what it is, at its own place', () => {
    const own = Array.from({ length: 5_000 }, (_, index) => (index * 7_919) % 997);
    const drawing = axisChart(drawn({ kind: 'line', rows: own.map((_, index) => `R${index}`), cells: own.map((value) => [value]) }));
    const data = datasets(drawing)[0].data as { x: number; y: number }[];
    expect(data.length).toBeLessThan(1_200);
    expect(drawing.targets[0].map((target) => target?.cell?.side)).toEqual(data.map(({ x }) => [`R${x}`]));
    for (const { x, y } of data) expect(y).toBe(own[x]);
    expect(Math.max(...data.map(({ y }) => y))).toBe(996);
  });

  it('of two values of each member is two points with a line between them, which nothing is pointed at on', () => {
    const cells = [
      [3, 8],
      [9, 2],
      [4, null],
    ];
    const drawing = axisChart(drawn({ kind: 'dumbbell', rows: ['A', 'B', 'C'], cells, measures: ['net', 'average_price'] }));
    const [net, price, between] = datasets(drawing);
    expect([net.data, price.data]).toEqual([
      [3, 9, 4],
      [8, 2, null],
    ]);
    expect([net.showLine, price.showLine]).toEqual([false, false]);
    expect(between.data).toEqual([[3, 8], [2, 9], null]);
    expect(drawing.targets.map((own) => own.length)).toEqual([3, 3, 0]);
  });

  it('of a range is a bar between its ends, which says both', () => {
    const cells = [
      [3, 8],
      [9, 2],
      [4, null],
    ];
    const range = axisChart(drawn({ kind: 'range', rows: ['A', 'B', 'C'], cells, measures: ['net', 'average_price'] }));
    expect(datasets(range).map(({ data }) => data)).toEqual([[[3, 8], [2, 9], null]]);
    expect(words(range)).toEqual([expect.stringMatching(/, A: 3.* to 8/), expect.stringMatching(/, B: 2.* to 9/)]);
    const errors = axisChart(
      drawn({ kind: 'range', rows: ['A', 'B', 'C'], cells: cells.map((row) => [5, ...row]), measures: ['net', 'average_price', 'net'] }),
    );
    expect(datasets(errors).map(({ type, data, showLine }) => [type, data, showLine])).toEqual([
      ['line', [5, 5, 5], false],
      ['bar', [[3, 8], [2, 9], null], undefined],
    ]);
  });

  it('to either side of zero lies in one line, whatever the arrangement says', () => {
    const drawing = axisChart(
      drawn({ kind: 'diverging', rows: ['A'], columns: ['Low', 'High'], cells: [[1, 3]], chart: { arrangement: 'stacked' } }),
    );
    expect(datasets(drawing).map(({ data, grouped, stack }) => [data, grouped, stack])).toEqual([
      [[[-0.25, 0]], false, undefined],
      [[[0, 0.75]], false, undefined],
    ]);
    expect(words(drawing)).toEqual([expect.stringContaining('25'), expect.stringContaining('75')]);
  });

  it('to either side of zero has a scale that holds both, also where shares were drawn before', () => {
    const drawing = axisChart(
      drawn({ kind: 'diverging', rows: ['A'], columns: ['Low', 'High'], cells: [[1, 3]], chart: { arrangement: 'share' } }),
    );
    const { min, max } = drawing.config.options!.scales!.x as { min?: number; max?: number };
    expect([min, max]).toEqual([undefined, undefined]);
  });

  it('outside control limits is told by its colour', () => {
    const own = [10, 11, 10, 11, 10, 30, 10, 11, 10, 11, 10, 11];
    const lines = [{ at: 'limits', label: '' }];
    const drawing = axisChart(
      drawn({ kind: 'line', rows: own.map((_, at) => `R${at}`), cells: own.map((one) => [one]), chart: { lines } }),
    );
    const colours = datasets(drawing)[0].pointBorderColor as string[];
    expect(colours.flatMap((colour, at) => (colour === tokens.bad ? [at] : []))).toEqual([5]);
    expect(drawing.config.options?.plugins?.annotation?.annotations).toHaveLength(3);
  });
});

describe('styles', () => {
  const two = (style: string, kind: ChartKindName = 'column'): DrawnWith =>
    drawn({
      kind,
      rows: ['A', 'B'],
      columns: ['Online', 'Showroom'],
      cells: [
        [1, 2],
        [3, 4],
      ],
      chart: { style },
    });
  /** The colours of what is drawn; a pattern is none in a browser without a canvas, where it falls back to its ink. */
  const colours = (drawing: ChartDrawing): string[] => datasets(drawing).flatMap(({ backgroundColor }) => backgroundColor as string[]);

  it('fill with ink alone in black and white, and with their own colours in print', () => {
    const given = two('monochrome');
    expect(new Set(colours(inStyle(given, axisChart(given), false)))).toEqual(new Set([tokens.ink]));
    const printed = two('yearbook');
    expect(new Set(colours(inStyle(printed, axisChart(printed), true)))).toEqual(new Set([tokens.series[0], tokens.series[1]]));
    expect(inStyle(printed, axisChart(printed), false)).toEqual(expect.objectContaining({ targets: axisChart(printed).targets }));
  });

  it('tell lines apart by their dashes, where there are no colours', () => {
    const given = two('monochrome', 'line');
    const dashes = datasets(inStyle(given, axisChart(given), false)).map(({ borderDash }) => JSON.stringify(borderDash));
    expect(new Set(dashes).size).toBe(2);
  });

  it('leave what is drawn, and what it stands for, as it is', () => {
    for (const kind of CHART_KINDS.filter((one) => ['column', 'bar', 'line', 'area', 'step'].includes(one))) {
      const given = two('bold', kind);
      const plain = axisChart(given);
      const bold = inStyle(given, plain, false);
      expect(bold.targets).toBe(plain.targets);
      expect(datasets(bold).map(({ data }) => data)).toEqual(datasets(plain).map(({ data }) => data));
    }
  });
});

describe('the level of steps', () => {
  it('lies around the name of its period, so that it changes between two of them', () => {
    const [line] = datasets(axisChart(drawn({ kind: 'step', rows: ['A', 'B'], cells: [[1], [2]] })));
    expect(line).toMatchObject({ stepped: 'middle', data: [1, 2] });
  });
});

describe('columns below zero', () => {
  const fills = (kind: ChartKindName, columns: string[] | undefined, cells: number[][]): unknown[] =>
    datasets(axisChart(drawn({ kind, rows: ['A', 'B'], columns, cells }))).map(({ backgroundColor }) => backgroundColor);

  it('warn where one series stands alone, and keep the colour of theirs where there are others', () => {
    const [own, other] = tokens.series;
    expect(fills('column', undefined, [[1], [-2]])).toEqual([[own, tokens.bad]]);
    const two = [
      [1, -2],
      [-3, 4],
    ];
    expect(fills('column', ['Online', 'Showroom'], two)).toEqual([
      [own, own],
      [other, other],
    ]);
  });
});

describe('points', () => {
  it('stand at the place of their member, so that they can move from period to period', () => {
    const drawing = pointsChart(
      drawn({
        kind: 'scatter',
        measures: ['net', 'goal'],
        rows: ['A', 'B', 'C'],
        cells: [
          [1, 2],
          [null, 3],
          [5, 6],
        ],
      }),
    );
    expect(drawing.targets[0].map((target) => target?.cell?.side ?? null)).toEqual([['A'], null, ['C']]);
    expect((datasets(drawing)[0].data as { x: number }[]).map(({ x }) => x)).toEqual([1, NaN, 5]);
  });
});

describe('a map of shapes', () => {
  it('knows countries by their English names, and by codes of ISO 3166-1', () => {
    const sweden = WORLD.shapeOf('Sweden', null)!;
    for (const name of ['SE', 'swe', ' sweden ']) expect(WORLD.shapeOf(name, null)).toBe(sweden);
    expect(WORLD.shapeOf('Czechia', null)).toBe(WORLD.shapeOf('CZ', null));
    expect(WORLD.shapeOf('Atlantis', null)).toBeUndefined();
  });

  const square = (west: number, isTurned: boolean): [number, number][][] => {
    const ring: [number, number][] = [
      [west, 50],
      [west + 1, 50],
      [west + 1, 51],
      [west, 51],
      [west, 50],
    ];
    return [isTurned ? ring.reverse() : ring];
  };
  it('takes own shapes whichever way their rings go, by label or by member', () => {
    const shapes = ownShapes(
      {
        type: 'FeatureCollection',
        features: [false, true].map((isTurned, index) => ({
          ...{ type: 'Feature', properties: { code: `A${index}` } },
          geometry: { type: 'Polygon', coordinates: square(index * 3, isTurned) },
        })),
      },
      'code',
    );
    const rings = shapes.all.map(({ geometry }) => (geometry.type === 'Polygon' ? geometry.coordinates[0] : []));
    // Both go the way that holds the square, and not all the world but it.
    const isLeftwards = (ring: number[][]): boolean =>
      ring.reduce((sum, [x, y], at) => sum + x * ring[(at + 1) % ring.length][1] - y * ring[(at + 1) % ring.length][0], 0) > 0;
    expect(isLeftwards(rings[0])).toBe(isLeftwards(rings[1]));
    expect(shapes.shapeOf('a1', null)).toBe(shapes.all[1]);
    expect(shapes.shapeOf('First', 'A0')).toBe(shapes.all[0]);
    expect(shapes.shapeOf('First', null)).toBeUndefined();
  });

  it('says each value at its place, and all parts where a place has several', () => {
    const plain = shapesMap(drawn({ kind: 'map', rows: ['Sweden', 'Norway', 'Nowhere'], cells: [[1], [2], [3]] }), WORLD);
    expect(words(plain)).toEqual(['Net, Sweden: 1', 'Net, Norway: 2']);
    const pies = drawn({
      kind: 'map',
      rows: ['Sweden', 'Norway'],
      columns: ['Online', 'Showroom'],
      cells: [
        [1, 2],
        [3, 4],
      ],
      chart: { map: { marks: 'pies' } },
    });
    const drawing = shapesMap(pies, WORLD);
    expect(drawing.targets[0].map((target) => target?.words)).toEqual(['Sweden: Online 1, Showroom 2', 'Norway: Online 3, Showroom 4']);
    expect(drawing.targets[1].map((target) => target?.cell?.side)).toEqual([['Sweden'], ['Norway']]);
  });
});

describe('a map of points', () => {
  const place = fc.record({
    latitude: fc.integer({ min: 36, max: 64 }),
    longitude: fc.integer({ min: -9, max: 25 }),
    size: fc.integer({ min: 1, max: 50 }),
  });
  const map = (places: { latitude: number; longitude: number; size: number }[], zoom: number): ChartDrawing =>
    pointsMap(
      drawn(
        {
          ...{ kind: 'map', measures: ['net', 'goal', 'average_price'], chart: { map: { points: true } } },
          rows: places.map((_, index) => `P${index}`),
          cells: places.map(({ latitude, longitude, size }) => [latitude, longitude, size]),
        },
        { view: { zoom, centre: null } },
      ),
      WORLD,
    );
  const membersOf = (target: ChartTarget | null): number => Number(/^(\d+) points/.exec(target!.words)?.[1] ?? 1);

  it('draws each member once, alone or with those near it, and apart from nearer', () => {
    fc.assert(
      fc.property(fc.array(place, { minLength: 1, maxLength: 40 }), (places) => {
        const [, far] = map(places, 1).targets;
        const [, near] = map(places, 60).targets;
        for (const targets of [far, near]) expect(targets.reduce((sum, target) => sum + membersOf(target), 0)).toBe(places.length);
        expect(near.length).toBeGreaterThanOrEqual(far.length);
        for (const target of far) expect(target!.cell === null).toBe(target!.zoomsTo !== undefined);
        const spots = new Set(places.map(({ latitude, longitude }) => `${latitude} ${longitude}`));
        expect(near.length).toBe(spots.size);
      }),
      { numRuns: 25 },
    );
  });

  it('leaves out what lies nowhere on earth', () => {
    const drawing = map(
      [
        { latitude: 59, longitude: 18, size: 1 },
        { latitude: 123, longitude: 18, size: 1 },
      ],
      1,
    );
    expect(drawing.targets[1].map((target) => target?.cell?.side)).toEqual([['P0']]);
  });
});

describe('colours by state', () => {
  const given = {
    ...{ rows: ['Sweden', 'Norway', 'Denmark'], cells: [[3], [2], [1]], chart: { colours: 'state' } },
    states: [['on'], ['off'], [null]] satisfies (State | null)[][],
  };
  const colourKey: Partial<Record<ChartKindName, string>> = { line: 'pointBackgroundColor' };
  const draw: [ChartKindName, (own: DrawnWith) => ChartDrawing][] = [
    ['column', axisChart],
    ['line', axisChart],
    ['ring', ringChart],
    ['packed', packedChart],
    ['heat', gridChart],
    ['map', (own) => shapesMap(own, WORLD)],
  ];
  it.each(draw.map(([kind, how]) => ({ kind, how })))('are those of the indicator, and said in words: $kind', ({ kind, how }) => {
    const drawing = how(drawn({ ...given, kind }));
    const [first] = datasets(drawing);
    const own = first[colourKey[kind] ?? 'backgroundColor'] as string[] | ((at: { dataIndex: number }) => string);
    const colours = [0, 1, 2].map((dataIndex) => (typeof own === 'function' ? own({ dataIndex }) : own[dataIndex]));
    const opaque = (colour: string): string => colour.replace('rgba', 'rgb').replace(/, 0\.\d+\)/, ')');
    expect(opaque(colours[0])).toBe(tokens.states.on);
    expect(opaque(colours[1])).toBe(tokens.states.off);
    expect(Object.values(tokens.states)).not.toContain(opaque(colours[2]));
    const said = drawing.targets[0].map((target) => /\. (.*)$/.exec(target!.words)?.[1]);
    expect(said).toEqual(['On course', 'Off course', undefined]);
  });

  it('of points are those of the first of their measures that is judged', () => {
    const scatter = { ...given, kind: 'scatter' as const, measures: ['net', 'goal'] };
    const points = drawn({
      ...scatter,
      cells: [
        [3, 1],
        [2, 2],
        [1, 3],
      ],
      states: [
        [null, 'on'],
        [null, 'off'],
        [null, null],
      ],
    });
    expect(words(pointsChart(points)).map((own) => own.split('. ')[1])).toEqual(['On course', 'Off course', undefined]);
  });
});

describe('trails over a map', () => {
  const periods = ['north', 'south', 'west'];
  /** The second period of three, of two members whose values are given period by period. */
  const second = (given: Omit<Given, 'kind' | 'columns'>): DrawnWith => {
    const whole = drawn({ ...given, kind: 'map', columns: periods, chart: { ...given.chart, through: { trails: true } } });
    return { ...whole, figure: chartsOfPeriods(whole.figure)[1] };
  };

  it('are ways from where points were, and their sizes in the period before', () => {
    const drawing = pointsMap(
      second({
        ...{ rows: ['Van', 'Stand'], measures: ['net', 'goal', 'average_price'], chart: { map: { points: true } } },
        cells: [
          [50, 10, 5, 51, 11, 6, 52, 12, 7],
          [40, 0, 3, 40, 0, 4, 40, 0, 5],
        ],
      }),
      WORLD,
    );
    const plugins = drawing.config.options!.plugins as { mapWays: { ways: { places: [number, number][] }[] } };
    expect(plugins.mapWays.ways.map(({ places }) => places)).toEqual([
      [
        [10, 50],
        [11, 51],
      ],
      [
        [0, 40],
        [0, 40],
      ],
    ]);
    const [, , before] = datasets(drawing);
    expect(before.data).toMatchObject([{ latitude: 50 }, { latitude: 40 }]);
    // Areas stand for sizes: so do those of the period before, on the same scale.
    const [van, stand] = before.radius as number[];
    expect((van / stand) ** 2).toBeCloseTo(5 / 3);
    expect(drawing.targets.map((own) => own.length)).toEqual([0, 2, 0]);
  });

  it('are the rings of the period before, which are no targets', () => {
    const drawing = shapesMap(
      second({
        rows: ['Sweden', 'Norway'],
        measures: ['net', 'goal'],
        cells: [
          [1, 4, 2, 9, 3, 16],
          [1, 4, 2, 4, 3, 4],
        ],
      }),
      WORLD,
    );
    const [, rings, before] = datasets(drawing).map(({ radius }) => radius as number[]);
    expect(rings[0] / rings[1]).toBeCloseTo(3 / 2);
    expect(before[0]).toBeCloseTo(before[1]);
    expect(drawing.targets.map((own) => own.length)).toEqual([2, 2, 0]);
  });
});

describe('keys through points', () => {
  const grid = fc.array(fc.array(fc.boolean(), { minLength: 1, maxLength: 6 }), { minLength: 1, maxLength: 4 });
  it('come to points only, and to each of a series from its first', () => {
    fc.assert(
      fc.property(grid, fc.boolean(), (places, lying) => {
        const points = places.map((row) => row.map((isThere) => (isThere ? {} : null)));
        const first = nextPoint(points, null, 'Home', lying);
        expect(first === null).toBe(!places.flat().includes(true));
        if (!first) return;
        const seen: PointAt[] = [first];
        for (let at = first; ;) {
          const next = nextPoint(points, at, lying ? 'ArrowDown' : 'ArrowRight', lying)!;
          expect(points[next.dataset][next.index]).not.toBeNull();
          if (next.index === at.index) break;
          seen.push(next);
          at = next;
        }
        expect(seen.length).toBe(places[first.dataset].filter(Boolean).length);
        expect(nextPoint(points, first, 'Tab', lying)).toBeNull();
      }),
    );
  });
});

describe('members between places', () => {
  const given = {
    ...{ kind: 'slope' as const, rows: ['A', 'B', 'C'], columns: ['2024', '2025'] },
    cells: [
      [1, 5],
      [6, 2],
      [null, 3],
    ],
  };
  it('are a line each, named with their figures at both ends', () => {
    const drawing = slopeChart(drawn(given));
    expect(drawing.config.data.labels).toEqual(['2024', '2025']);
    expect(datasets(drawing).map(({ data }) => data)).toEqual(given.cells);
    const { labels } = (
      drawing.config.options!.plugins as unknown as { endLabels: { labels: { text: string; side?: string; dataset: number }[] } }
    ).endLabels;
    expect(labels.map(({ text, side, dataset }) => [dataset, side ?? 'right', text.replace(/\s+/g, ' ')])).toEqual([
      [0, 'left', expect.stringMatching(/^A .*1/)],
      [0, 'right', expect.stringMatching(/5/)],
      [1, 'left', expect.stringMatching(/^B .*6/)],
      [1, 'right', expect.stringMatching(/2/)],
      // What is only at the end is named there.
      [2, 'right', expect.stringMatching(/^C .*3/)],
    ]);
    expect(drawing.targets.map((own) => own.map((target) => target?.cell?.top))).toEqual([
      [['2024'], ['2025']],
      [['2024'], ['2025']],
      [undefined, ['2025']],
    ]);
  });
  it('are red where they fall and that is bad', () => {
    const colours = (warns: boolean): unknown[] => datasets(slopeChart(drawn(given, { warns }))).map(({ borderColor }) => borderColor);
    expect(colours(true)[1]).toBe(tokens.bad);
    expect(colours(false)).not.toContain(tokens.bad);
  });
  it('have names that are cut before they take the whole width, and then stand whole below', () => {
    const name = 'A'.repeat(200);
    const long = slopeChart(drawn({ ...given, rows: [name, 'B', 'C'] }));
    expect([long.unnamed, long.unnamedAs]).toEqual([[name], 'In full']);
    expect(slopeChart(drawn(given)).unnamed).toEqual([]);
    const padding = (long.config.options!.layout as { padding: { left: number } }).padding;
    expect(padding.left).toBeLessThan(340);
  });
});

describe('bands', () => {
  it('stand for the cells they draw, and the chosen one is told from the others', () => {
    const given = {
      kind: 'flow' as const,
      rows: ['A', 'B'],
      columns: ['X', 'Y'],
      cells: [
        [1, 2],
        [0, 4],
      ],
    };
    const drawing = flowChart(drawn(given));
    expect(drawing.targets[0].map((target) => [target?.cell?.side, target?.cell?.top])).toEqual([
      [['A'], ['X']],
      [['A'], ['Y']],
      [['B'], ['Y']],
    ]);
    expect(datasets(drawing)[0].data).toEqual([
      { from: 'from 0', to: 'to 0', flow: 1 },
      { from: 'from 0', to: 'to 1', flow: 2 },
      { from: 'from 1', to: 'to 1', flow: 4 },
    ]);
    const [{ alpha }] = datasets(flowChart(drawn(given, { chosen: drawing.targets[0][1]!.cell }))) as unknown as {
      alpha: (at: { dataIndex: number }) => number;
    }[];
    expect([0, 2].every((dataIndex) => alpha({ dataIndex }) < alpha({ dataIndex: 1 }))).toBe(true);
  });
});

describe('days', () => {
  it('are cells in their weeks, with a pattern of their own where there is no value', () => {
    const drawing = dayChart(drawn({ kind: 'days', rows: ['2026-01-01', '2026-01-05', '2026-01-06'], cells: [[1], [null], [3]] }));
    const [{ data, backgroundColor }] = datasets(drawing) as unknown as [{ data: { x: number; y: number }[]; backgroundColor: unknown[] }];
    expect(data.map(({ x, y }) => [x, y])).toEqual([
      [0, 3],
      [1, 0],
      [1, 1],
    ]);
    expect(new Set(backgroundColor).size).toBe(3);
    expect(drawing.targets[0].map((target) => target?.cell?.side)).toEqual([['2026-01-01'], undefined, ['2026-01-06']]);
  });
});

it('reads on every colour: ink on what is pale, paper on what is dark', () => {
  const two = { ink: 'rgb(0, 0, 0)', paper: 'rgb(255, 255, 255)' };
  // WCAG 2.2: black and white have 21 to 1; on mid grey (119) both are near 4.5 to 1.
  expect(['rgb(250, 240, 200)', 'rgb(20, 40, 60)', 'rgb(140, 140, 140)', 'rgb(100, 100, 100)'].map((one) => readableOn(two, one))).toEqual([
    two.ink,
    two.paper,
    two.ink,
    two.paper,
  ]);
});
