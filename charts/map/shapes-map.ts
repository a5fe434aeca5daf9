import { drawnSeries, middleOf, shadeOf, shadeScale, valuesOfMeasure, type Series } from '@bold-compass/core/chart';
import { LOCALE, figureText } from '@bold-compass/core/format';
import type { ChartConfiguration } from 'chart.js';
import type { ChartDrawing, DrawnWith } from '../drawing.ts';
import { noData } from '../patterns.ts';
import { isSameCell, seriesTarget, stateColour, targetOf } from '../targets.ts';
import { between, faded, shadeColour } from '../tokens.ts';
import { radiusOf, RING_SIZES } from '../circle-sizes.ts';
import { LARGEST_PIE, pieRadius, type MapMarkOptions } from './map-marks.ts';
import type { Ground } from './map-ground.ts';
import { centreOf, outlineOf, projectionOf } from './projection.ts';
import type { PlaceShapes, Shape } from './place-shapes.ts';

/** How large rings are, in pixels. */
/** How opaque places are where tiles are behind them. */
const OVER_TILES = 0.72;

/** The series that are drawn as parts at each place: members of the series field, else the measures after the first. */
function partSeries({ figure, settings }: Pick<DrawnWith, 'figure' | 'settings'>): Series[] {
  if (settings.map.marks === 'rings') return [];
  return drawnSeries(figure).filter(({ measure }) => (figure.shape.hasSeriesField ? measure === 0 : measure > 0));
}

interface Place {
  category: number;
  shape: Shape;
}

/** Marks at places, with what they stand for. */
function marksAt(drawn: DrawnWith, places: readonly Place[]): { options: MapMarkOptions; at: Place[]; words: string[] } | null {
  const { figure, settings, tokens } = drawn;
  const parts = partSeries(drawn);
  const as = settings.map.marks;
  if (parts.length === 0 || as === 'rings') return null;
  const at = places.filter(({ category }) => parts.some(({ values }) => (values[category] ?? 0) !== 0));
  const sum = (series: readonly Series[], category: number): number =>
    series.reduce((total, { values }) => total + Math.max(0, values[category] ?? 0), 0);
  const keys = new Set(parts.map(({ key }) => key));
  // The same height and the same area stand for the same value in each period.
  const all = (figure.among?.series ?? [figure.series]).map((series) => series.filter(({ key }) => keys.has(key)));
  const values = all.flatMap((series) =>
    as === 'pies'
      ? figure.categories.map((_, category) => sum(series, category))
      : series.flatMap((own) => own.values.map((value) => Math.abs(value ?? 0))),
  );
  const most = values.reduce((largest, value) => Math.max(largest, value), 0);
  const marks = at.map(({ category }) => ({
    parts: parts.map(({ values: own, colour }) => ({ value: own[category] ?? 0, colour: tokens.series[colour] })),
  }));
  const words = at.map(({ category }) => {
    const said = parts.map(({ values: own, label, format }) => `${label} ${figureText(own[category], format, LOCALE)}`);
    return `${figure.categories[category].fullLabel}: ${said.join(', ')}`;
  });
  return { options: { dataset: 1, as, marks, most, paper: tokens.paper }, at, words };
}

/** Places by colour, pale where nothing is measured, with rings, columns or pies for what else there is. */
export function shapesMap(drawn: DrawnWith, shapes: PlaceShapes, overTiles = false): ChartDrawing {
  const { figure, tokens, settings, chosen, view } = drawn;
  const [shade] = drawnSeries(figure);
  const shapeAt = (category: number): Shape | undefined => {
    const { label, header } = figure.categories[category];
    return shapes.shapeOf(label, header?.path.at(-1) ?? null);
  };
  /** Parts of several members are no single value that a colour could show. */
  const isShaded = !figure.shape.hasSeriesField || settings.map.marks === 'rings';
  const known = figure.categories.flatMap((_, category): Place[] => {
    const shape = shapeAt(category);
    return shape ? [{ category, shape }] : [];
  });
  const hasValue = (series: readonly Series[], category: number): boolean =>
    series.some(({ values, measure }) => (measure === 0 || !isShaded) && values[category] !== null);
  const places = known.filter(({ category }) => hasValue(drawnSeries(figure), category));
  const scale = shadeScale(valuesOfMeasure(figure, 0), middleOf(settings));
  /** The part of the world that is shown holds all that is measured, in any period. */
  const outline = outlineOf(
    known.filter(({ category }) => hasValue(figure.among?.series.flat() ?? figure.series, category)).map(({ shape }) => shape),
  );
  const measured = new Set(places.map(({ shape }) => shape));
  const rest = shapes.all.filter((shape) => !measured.has(shape));
  const solid = places.map(({ category }) => {
    if (!isShaded) return between(tokens.paper, tokens.sea, 0.16);
    const state = stateColour(drawn, shade, category);
    if (state) return state;
    const value = shade.values[category];
    return value === null ? between(tokens.paper, tokens.sea, 0.08) : shadeColour(tokens, shadeOf(scale, value));
  });
  const colours = overTiles ? solid.map((colour) => faded(colour, OVER_TILES)) : solid;
  const isChosen = (index: number): boolean => isSameCell(targets[index]?.cell ?? null, chosen);
  const [, ring] = isShaded && settings.map.marks === 'rings' ? drawnSeries(figure) : [];
  const rings = ring ? places.filter(({ category }) => (ring.values[category] ?? 0) > 0) : [];
  const ringBefore =
    ring && settings.through?.trails ? figure.among?.series[figure.among.at - 1]?.find(({ key }) => key === ring.key) : undefined;
  const ringsBefore = ringBefore ? known.filter(({ category }) => (ringBefore.values[category] ?? 0) > 0) : [];
  const largest = valuesOfMeasure(figure, 1).reduce((most, value) => Math.max(most, value), 0);
  const ringRadius = (value: number): number => radiusOf(RING_SIZES, value, largest);
  const marks = marksAt(drawn, known);
  const [part = shade] = partSeries(drawn);
  const ofMarks = marks?.at.map(({ category }, index) => targetOf(drawn, part, category, () => marks.words[index])) ?? [];
  const targets = places.map(({ category }) => {
    // Where a place has no value of its own it says what its parts are.
    const mark = isShaded ? -1 : (marks?.at.findIndex((one) => one.category === category) ?? -1);
    return ofMarks[mark] ?? seriesTarget(drawn, shade, category);
  });
  const pale = between(tokens.paper, tokens.rule, 0.45);
  const over = { type: 'bubbleMap', order: -1, outline, showOutline: false, clipMap: false, backgroundColor: 'transparent' };
  const markRadius = (index: number): number => {
    const { as, most, marks: all } = marks!.options;
    return as === 'pies'
      ? pieRadius(
          all[index].parts.reduce((sum, { value }) => sum + Math.max(0, value), 0),
          most,
        )
      : LARGEST_PIE;
  };
  const config = {
    type: 'choropleth',
    data: {
      labels: places.map(({ shape }) => shape.properties.name),
      datasets: [
        {
          outline,
          showOutline: false,
          clipMap: false,
          ...(overTiles
            ? {}
            : {
                ground: {
                  ...{ shapes: rest, colour: pale, border: tokens.paper },
                  missing: { shapes: known.flatMap(({ shape }) => (measured.has(shape) ? [] : [shape])), fill: noData(tokens) },
                } satisfies Ground,
              }),
          data: [
            ...places.map(({ shape, category }) => ({
              feature: shape,
              center: centreOf(shape),
              value: shade.values[category] ?? Number.NaN,
            })),
          ],
          backgroundColor: ({ dataIndex }: { dataIndex: number }) => colours[dataIndex],
          borderColor: ({ dataIndex }: { dataIndex: number }) => (isChosen(dataIndex) ? tokens.ink : tokens.paper),
          borderWidth: ({ dataIndex }: { dataIndex: number }) => (isChosen(dataIndex) ? 2 : 0.7),
          hoverBackgroundColor: ({ dataIndex }: { dataIndex: number }) => faded(colours[dataIndex], 0.8),
        },
        ...(rings.length > 0
          ? [
              {
                ...over,
                data: rings.map(({ shape, category }) => ({ ...centreOf(shape), value: ring.values[category] })),
                radius: rings.map(({ category }) => ringRadius(ring.values[category]!)),
                borderColor: tokens.ink,
                borderWidth: 1.2,
              },
            ]
          : []),
        ...(ringsBefore.length > 0
          ? [
              {
                ...over,
                data: ringsBefore.map(({ shape, category }) => ({ ...centreOf(shape), value: ringBefore!.values[category] })),
                radius: ringsBefore.map(({ category }) => ringRadius(ringBefore!.values[category]!)),
                ...{ borderColor: tokens.quiet, borderWidth: 1 },
              },
            ]
          : []),
        ...(marks
          ? [
              {
                ...over,
                data: marks.at.map(({ shape }) => ({ ...centreOf(shape), value: 1 })),
                radius: marks.at.map((_, index) => markRadius(index)),
                hoverRadius: marks.at.map((_, index) => markRadius(index)),
                borderColor: 'transparent',
                borderWidth: 0,
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
        ...(rings.length > 0 || marks ? { size: { axis: 'x', display: false, range: [RING_SIZES.least, RING_SIZES.most] } } : {}),
      },
      plugins: { datalabels: { display: false }, mapMarks: marks?.options, mapTiles: { isShown: overTiles } },
    },
  };
  const ofRings = rings.map(({ category }) => seriesTarget(drawn, ring, category));
  // In the order in which they are drawn: what was before is no target.
  const beside = [...(rings.length > 0 ? [ofRings] : []), ...(ringsBefore.length > 0 ? [[]] : []), ...(marks ? [ofMarks] : [])];
  return { config: config as unknown as ChartConfiguration, targets: [targets, ...beside] };
}
