import { periodWords, pointsDrawing, shadeOf, shadeScale, valuesOfMeasure, type Point } from '@bold-compass/core/chart';
import { LOCALE, countWords, figureText, listWords } from '@bold-compass/core/format';
import type { ChartConfiguration } from 'chart.js';
import type { Feature, Geometry } from 'geojson';
import Supercluster from 'supercluster';
import type { ChartDrawing, ChartTarget, DrawnWith } from '../drawing.ts';
import { isSameCell, stateColour, targetOf } from '../targets.ts';
import { between, CHART_FONT, faded, pointShade } from '../tokens.ts';
import { waysOf } from '../ways.ts';
import type { Ground } from './map-ground.ts';
import { projectionOf, widthOf } from './projection.ts';
import type { PlaceShapes } from './place-shapes.ts';

/** In pixels: how large points are, and how near they may come to each other before they are drawn as one. */
const [SMALLEST, LARGEST, USUAL, NEAR] = [4, 24, 5, 24];
/** How far the part of the world that is shown goes beyond its points, in degrees, at least. */
const MARGIN = 1.5;
/** So wide is the world at the first zoom of a cluster, in pixels. */
const TILE = 512;
const NAMED = 3;

interface CellPoint {
  series: number;
  point: Point;
}

/** One point, or several that lie too near to each other. */
interface Drawn {
  longitude: number;
  latitude: number;
  spots: CellPoint[];
}

const isOnEarth = ({ x: latitude, y: longitude }: Point): boolean => Math.abs(latitude) <= 90 && Math.abs(longitude) <= 180;

/** Points that lie near to each other at a zoom, together. */
function clustered(spots: readonly CellPoint[], level: number): Drawn[] {
  const index = new Supercluster<{ spot: CellPoint }>({ radius: NEAR, extent: TILE, maxZoom: 22, minPoints: 2 });
  index.load(
    spots.map((spot) => ({
      ...{ type: 'Feature' as const, properties: { spot } },
      geometry: { type: 'Point' as const, coordinates: [spot.point.y, spot.point.x] },
    })),
  );
  return index.getClusters([-180, -90, 180, 90], Math.max(0, Math.floor(level))).map(({ properties, geometry }) => {
    const [longitude, latitude] = geometry.coordinates;
    const own = 'cluster' in properties ? index.getLeaves(properties.cluster_id as number, Infinity) : null;
    return { longitude, latitude, spots: own ? own.map((leaf) => leaf.properties.spot) : [(properties as { spot: CellPoint }).spot] };
  });
}

/** The part of the world that holds some points, as corners around them. */
function outlineOf(spots: readonly CellPoint[]): Feature<Geometry>[] {
  if (spots.length === 0) return [];
  const coordinates = spots.flatMap(({ point: { x: latitude, y: longitude } }) =>
    [-MARGIN, MARGIN].map((by) => [longitude + by, Math.min(89, Math.max(-89, latitude + by))]),
  );
  return [{ type: 'Feature', properties: {}, geometry: { type: 'MultiPoint', coordinates } }];
}

/** Members at their latitude and longitude: a third measure as their area, a fourth as their colour; near ones together. */
export function pointsMap(drawn: DrawnWith, shapes: PlaceShapes, overTiles = false): ChartDrawing {
  const { figure, tokens, chosen, view, width } = drawn;
  const { series, measures } = pointsDrawing(figure);
  const spots = series.flatMap(({ points }, index) => points.filter(isOnEarth).map((point): CellPoint => ({ series: index, point })));
  // All periods show the same part of the world.
  const everywhere = (figure.among?.series ?? [figure.series]).flatMap((own) =>
    pointsDrawing({ ...figure, series: own }).series.flatMap(({ points }) =>
      points.filter(isOnEarth).map((point): CellPoint => ({ series: 0, point })),
    ),
  );
  const outline = outlineOf(everywhere);
  const level = Math.log2(((width / widthOf(outline)) * 360 * view.zoom) / TILE);
  const places = clustered(spots, level);
  const sizeOf = ({ spots: own }: Drawn): number | null =>
    own.every(({ point }) => point.size === null) ? null : own.reduce((sum, { point }) => sum + (point.size ?? 0), 0);
  const largest = Math.max(
    valuesOfMeasure(figure, 2).reduce((most, value) => Math.max(most, value), 0),
    ...places.map((place) => sizeOf(place) ?? 0),
  );
  const radius = (place: Drawn): number => {
    const size = sizeOf(place);
    if (size === null || largest === 0) return place.spots.length > 1 ? Math.min(LARGEST, 8 + 2 * Math.log2(place.spots.length)) : USUAL;
    return Math.max(place.spots.length > 1 ? 9 : SMALLEST, LARGEST * Math.sqrt(size / largest));
  };
  const shades = shadeScale(valuesOfMeasure(figure, 3), null);
  const colour = ({ spots: own }: Drawn): string => {
    const [{ point, series: at }] = own;
    if (own.length > 1) return tokens.quiet;
    const state = stateColour(drawn, series[at], point.category);
    if (state) return state;
    return point.shade === null ? tokens.series[series[at].colour] : pointShade(tokens, shadeOf(shades, point.shade));
  };
  const nameOf = ({ point }: CellPoint): string => figure.categories[point.category].fullLabel;
  /** What is drawn as one with others has no way of its own. */
  const alone = new Set(
    places.filter(({ spots: own }) => own.length === 1).map(({ spots: [{ series: at, point }] }) => `${at} ${point.category}`),
  );
  const ways = waysOf(drawn).filter(({ series: at, category, points }) => alone.has(`${at} ${category}`) && points.every(isOnEarth));
  const before = ways.flatMap(({ points }) => (points.at(-2)?.size ? [points.at(-2)!] : []));
  const targets = places.map((place): ChartTarget => {
    const { spots: own, longitude, latitude } = place;
    if (own.length > 1) {
      const more = own.length > NAMED ? [`${own.length - NAMED} more`] : [];
      const names = listWords([...own.slice(0, NAMED).map(nameOf), ...more]);
      const count = countWords(own.length, { one: 'point', many: 'points' }, LOCALE);
      return { words: `${count}: ${names}`, cell: null, opens: false, zoomsTo: [longitude, latitude] };
    }
    const [{ point, series: at }] = own;
    const said = [point.size, point.shade].flatMap((value, index) => {
      const measure = measures[index + 2];
      return measure && value !== null ? [`${measure.label} ${figureText(value, measure.format, LOCALE)}`] : [];
    });
    const where = [nameOf(own[0]), series[at].label, periodWords(figure)].filter((words) => words !== '').join(', ');
    // What a point is chosen for is what it shows, not where it lies.
    const shown = measures[2] ? 2 : 0;
    return targetOf(drawn, { path: series[at].path, measure: shown, states: series[at].states }, point.category, () =>
      [where, said.join(', ')].filter(Boolean).join(': '),
    );
  });
  const pale = between(tokens.paper, tokens.rule, 0.45);
  const isFaint = (index: number): boolean => chosen !== null && !isSameCell(targets[index].cell, chosen);
  const config = {
    type: 'choropleth',
    data: {
      datasets: [
        {
          outline,
          showOutline: false,
          clipMap: false,
          data: [],
          ...(overTiles ? {} : { ground: { shapes: shapes.all, colour: pale, border: tokens.paper } satisfies Ground }),
          datalabels: { display: false },
        },
        {
          ...{ type: 'bubbleMap', order: -1, outline, showOutline: false, clipMap: false },
          data: places.map(({ longitude, latitude }) => ({ longitude, latitude, value: 1 })),
          radius: places.map(radius),
          hoverRadius: places.map((place) => radius(place) + 2),
          backgroundColor: places.map((place, index) => faded(colour(place), isFaint(index) ? 0.25 : 0.75)),
          borderColor: places.map(colour),
          borderWidth: 1,
        },
        ...(before.length > 0
          ? [
              {
                ...{ type: 'bubbleMap', order: -2, outline, showOutline: false, clipMap: false, datalabels: { display: false } },
                data: before.map(({ x, y }) => ({ latitude: x, longitude: y, value: 1 })),
                radius: before.map(({ size }) => Math.max(SMALLEST, LARGEST * Math.sqrt((size ?? 0) / largest))),
                backgroundColor: 'transparent',
                ...{ borderColor: tokens.quiet, borderWidth: 1 },
              },
            ]
          : []),
      ],
    },
    options: {
      interaction: { mode: 'nearest', intersect: true },
      scales: {
        projection: { type: 'viewed', axis: 'x', projection: projectionOf(outline, overTiles), padding: 10, view, overTiles },
        color: { axis: 'x', display: false, quantize: 0 },
        size: { axis: 'x', display: false, range: [SMALLEST, LARGEST] },
      },
      plugins: {
        mapTiles: { isShown: overTiles },
        mapWays: {
          ways: ways.map(({ points, colour: own }) => ({
            places: points.map(({ x, y }) => [y, x] as const),
            colour: faded(tokens.series[own % tokens.series.length], chosen ? 0.9 : 0.5),
          })),
        },
        datalabels: {
          display: ({ datasetIndex, dataIndex }: { datasetIndex: number; dataIndex: number }) =>
            datasetIndex === 1 && (places[dataIndex]?.spots.length ?? 0) > 1,
          color: tokens.paper,
          font: { family: CHART_FONT, size: 12, weight: 600 },
          formatter: (_value: unknown, { dataIndex }: { dataIndex: number }) => String(places[dataIndex].spots.length),
        },
      },
    },
  };
  return { config: config as unknown as ChartConfiguration, targets: [[], targets, ...(before.length > 0 ? [[]] : [])] };
}
