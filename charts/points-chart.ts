import {
  periodWords,
  pointsDrawing,
  pointsTrend,
  scaleEnds,
  shadeOf,
  shadeScale,
  valuesOfMeasure,
  type Ends,
  type Point,
} from '@bold-compass/core/chart';
import { LOCALE, figureText } from '@bold-compass/core/format';
import { samePath } from '@bold-compass/core/table';
import type { ChartConfiguration, ChartDataset } from 'chart.js';
import { POINT_SIZES, radiusOf } from './circle-sizes.ts';
import type { ChartDrawing, DrawnWith } from './drawing.ts';
import { MANY, NO_LABELS, type ManyPoints } from './many-points.ts';
import { pointNotes, type NotePlace } from './point-notes.ts';
import { valueScale } from './scales.ts';
import { isSameCell, stateColour, targetOf } from './targets.ts';
import { CHART_FONT, faded, pointShade } from './tokens.ts';
import { waysOf } from './ways.ts';

const USUAL = 5;
/** The share of an axis that stays free beside the outermost points, since these have a size. */
const MARGIN = 0.07;
/** Round ends of an axis, with room for its outermost points. */
function roomyEnds(values: readonly number[]): Ends {
  const [least, most] = values.reduce(([low, high], value) => [Math.min(low, value), Math.max(high, value)], [Infinity, -Infinity]);
  const room = (most - least) * MARGIN;
  // An axis of values that are not negative does not begin below zero.
  const low = least >= 0 ? Math.max(0, least - room) : least - room;
  return scaleEnds(least <= most ? [low, most + room] : [], false);
}

/** A point that is not drawn. */
const NOWHERE = { x: Number.NaN, y: Number.NaN, r: 0 };
/** So many points leave room for their names. */
const MOST_NAMED = 24;

/** A curve across points, which nothing is pointed at on. */
const lineThrough = (line: readonly { x: number; y: number }[], part: object): ChartDataset<'bubble'> =>
  ({
    type: 'line',
    data: [...line],
    borderWidth: 1.5,
    pointRadius: 0,
    pointHitRadius: 0,
    pointHoverRadius: 0,
    datalabels: { display: false },
    ...part,
  }) as unknown as ChartDataset<'bubble'>;

/** The way of each member through the periods before the one that is shown. */
function trails(drawn: DrawnWith): ChartDataset<'bubble'>[] {
  const { tokens, chosen } = drawn;
  return waysOf(drawn).map(({ colour, points }) => {
    const own = faded(tokens.series[colour % tokens.series.length], chosen ? 0.8 : 0.35);
    return lineThrough(points, {
      borderColor: own,
      backgroundColor: own,
      borderWidth: 1.2,
      pointRadius: points.map((_, at) => (at < points.length - 1 ? 1.6 : 0)),
    });
  });
}

/** Members placed by two measures, a third as their area and a fourth as their colour. */
export function pointsChart(drawn: DrawnWith): ChartDrawing {
  const { figure, tokens, settings, chosen } = drawn;
  const { series, measures } = pointsDrawing(figure);
  const all = series.flatMap(({ points }) => points);
  const largest = valuesOfMeasure(figure, 2).reduce((most, value) => Math.max(most, value), 0);
  const scale = shadeScale(valuesOfMeasure(figure, 3), null);
  const radius = (size: number | null): number => (size === null || largest === 0 ? USUAL : radiusOf(POINT_SIZES, size, largest));
  const colour = (own: string, shade: number | null): string => (shade === null ? own : pointShade(tokens, shadeOf(scale, shade)));
  /** At the place of their member, so that each moves to where it is in another period. */
  const placed = series.map(({ points }) => {
    const places: (Point | null)[] = figure.categories.map(() => null);
    for (const point of points) places[point.category] = point;
    return places;
  });
  const targets = series.map(({ path, label, states }, index) =>
    placed[index].map((point) => {
      if (!point) return null;
      const { category } = point;
      return targetOf(drawn, { path, measure: 0, states }, category, () => wordsOf(point, label));
    }),
  );
  function wordsOf({ category, x, y, size, shade }: Point, label: string): string {
    const said = [x, y, size, shade].flatMap((value, index) =>
      measures[index] && value !== null ? [`${measures[index].label} ${figureText(value, measures[index].format, LOCALE)}`] : [],
    );
    const where = [figure.categories[category].fullLabel, label, periodWords(figure)].filter((words) => words !== '').join(', ');
    return `${where}: ${said.join(', ')}`;
  }
  const trend = pointsTrend(figure, settings.trend);
  const [xs, ys] = [0, 1].map((position) => roomyEnds(valuesOfMeasure(figure, position)));
  const isNamed = settings.values === 'always' || (settings.values === 'auto' && all.length <= MOST_NAMED);
  /** A note of any measure stands at the point of its member. */
  const noteAt = (own: number, category: number): NotePlace | null => {
    const { path } = figure.series[own];
    const point = placed[series.findIndex((one) => samePath(one.path, path))]?.[category];
    const share = (value: number, { min, max }: Ends): number => (value - min) / (max - min);
    return point ? { x: point.x, y: point.y, fromLeft: share(point.x, xs), fromBottom: share(point.y, ys) } : null;
  };
  const config: ChartConfiguration<'bubble'> = {
    type: 'bubble',
    data: {
      datasets: series.map(({ label, colour: own, states }, index) => {
        const base = tokens.series[own % tokens.series.length];
        const colourAt = (point: Point | null, at: number): string =>
          stateColour(drawn, { states }, at) ?? colour(base, point?.shade ?? null);
        const isFaint = (at: number): boolean => chosen !== null && !isSameCell(targets[index][at]?.cell ?? null, chosen);
        const fills = placed[index].map((point, at) => faded(colourAt(point, at), isFaint(at) ? 0.25 : 0.7));
        return {
          label,
          data: placed[index].map((point) => (point ? { x: point.x, y: point.y, r: radius(point.size) } : NOWHERE)),
          // Of many points a picture is drawn, and only what is pointed at as a point of its own.
          ...(all.length > MANY
            ? { many: { fills, border: base } satisfies ManyPoints, datalabels: NO_LABELS, backgroundColor: base, borderColor: tokens.ink }
            : { backgroundColor: fills, borderColor: placed[index].map(colourAt) }),
          borderWidth: 1,
          hoverRadius: 2,
        };
      }),
    },
    options: {
      interaction: { mode: 'nearest', intersect: true },
      layout: { autoPadding: false, padding: { top: 12, right: 30 } },
      scales: {
        x: {
          ...valueScale(tokens, {
            ...{ format: measures[0].format, scale: settings.second, fromZero: false, title: measures[0].label },
            ends: xs,
          }),
        },
        y: {
          ...valueScale(tokens, {
            format: (measures[1] ?? measures[0]).format,
            scale: settings.scale,
            fromZero: false,
            title: measures[1]?.label,
            ends: ys,
          }),
        },
      },
      plugins: {
        annotation: { annotations: pointNotes(drawn, figure.series, figure.categories, noteAt) },
        datalabels: {
          display: ({ datasetIndex, dataIndex }) => (isNamed && placed[datasetIndex]?.[dataIndex] ? 'auto' : false),
          anchor: 'center',
          align: 'right',
          offset: ({ datasetIndex, dataIndex }) => radius(placed[datasetIndex][dataIndex]?.size ?? null) + 2,
          color: tokens.ink,
          font: { family: CHART_FONT, size: 12 },
          formatter: (_value, { dataIndex }) => figure.categories[dataIndex].label,
        },
      },
    },
  };
  if (trend) config.data.datasets.push(lineThrough(trend.line, { borderColor: tokens.quiet, borderDash: [5, 3] }));
  config.data.datasets.push(...trails(drawn));
  const beside = config.data.datasets.slice(series.length).map(() => []);
  return { config: config as unknown as ChartConfiguration, targets: [...targets, ...beside] };
}
