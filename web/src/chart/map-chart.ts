import { drawnSeries, pointWords, shadeOf, shadeScale, valuesOfMeasure } from '@bold-compass/core/chart';
import type { ChartConfiguration } from 'chart.js';
import { BubbleMapController, ChoroplethController, ColorScale, GeoFeature, ProjectionScale, SizeScale } from 'chartjs-chart-geo';
import { geoArea, geoBounds, geoCentroid, geoConicEqualArea, geoEqualEarth, type GeoProjection } from 'd3-geo';
import { Chart } from './chart-js.ts';
import type { DrawChart } from './drawing.ts';
import { isSameCell, targetOf } from './targets.ts';
import { between, faded, shadeColour } from './tokens.ts';
import { shapeOf, WORLD, type Shape } from './world.ts';

Chart.register(BubbleMapController, ChoroplethController, ColorScale, GeoFeature, ProjectionScale, SizeScale);

const [SMALLEST, LARGEST] = [3, 16];

/** The largest piece of a country, for the part of the world that is shown. */
function mainland(shape: Shape): Shape {
  const { geometry } = shape;
  if (geometry.type !== 'MultiPolygon') return shape;
  const pieces = geometry.coordinates.map((coordinates) => ({ type: 'Polygon' as const, coordinates }));
  return { ...shape, geometry: pieces.reduce((largest, piece) => (geoArea(piece) > geoArea(largest) ? piece : largest)) };
}

/** Wider parts of the world, in degrees, are shown as the whole world is. */
const WIDEST = 150;

/** A projection that keeps areas: turned to what is shown, with the parallels that suit it. */
function projectionOf(shapes: readonly Shape[]): GeoProjection {
  if (shapes.length === 0) return geoEqualEarth();
  const [[west, south], [east, north]] = geoBounds({ type: 'FeatureCollection', features: [...shapes] });
  const width = east >= west ? east - west : east - west + 360;
  if (width > WIDEST || (south < 0 && north > 0)) return geoEqualEarth();
  const sixth = (north - south) / 6;
  return geoConicEqualArea()
    .parallels([south + sixth, north - sixth])
    .rotate([-(west + width / 2), 0]);
}

/** Countries by colour, pale where nothing is measured, with rings for a second measure. */
export const mapChart: DrawChart = (drawn) => {
  const { figure, tokens, settings, chosen } = drawn;
  const [shade, ring] = drawnSeries(figure);
  const places = figure.categories.flatMap(({ label }, category) => {
    const shape = shapeOf(label);
    const value = shade?.values[category] ?? null;
    return shape && value !== null ? [{ category, shape, value }] : [];
  });
  const scale = shadeScale(valuesOfMeasure(figure, 0), settings.middle);
  const outline = places.map(({ shape }) => mainland(shape));
  const measured = new Set(places.map(({ shape }) => shape));
  const rest = WORLD.filter((shape) => !measured.has(shape));
  const colours = places.map(({ value, category }) =>
    settings.colours === 'state' && shade.states?.[category]
      ? tokens.states[shade.states[category]]
      : shadeColour(tokens, shadeOf(scale, value)),
  );
  const targets = places.map(({ category }) => targetOf(drawn, shade, category, pointWords(figure, shade, category)));
  const rings = ring ? places.filter(({ category }) => (ring.values[category] ?? 0) > 0) : [];
  const largest = Math.max(...rings.map(({ category }) => ring.values[category]!), 0);
  const pale = between(tokens.paper, tokens.rule, 0.45);
  const config = {
    type: 'choropleth',
    data: {
      labels: [...places.map(({ shape }) => shape.properties.name), ...rest.map((shape) => shape.properties.name)],
      datasets: [
        {
          outline,
          showOutline: false,
          clipMap: false,
          data: [
            ...places.map(({ shape, value }) => ({ feature: shape, value })),
            ...rest.map((shape) => ({ feature: shape, value: Number.NaN })),
          ],
          backgroundColor: ({ dataIndex }: { dataIndex: number }) => colours[dataIndex] ?? pale,
          borderColor: ({ dataIndex }: { dataIndex: number }) =>
            isSameCell(targets[dataIndex]?.cell ?? null, chosen) ? tokens.ink : tokens.paper,
          borderWidth: ({ dataIndex }: { dataIndex: number }) => (isSameCell(targets[dataIndex]?.cell ?? null, chosen) ? 2 : 0.7),
          hoverBackgroundColor: ({ dataIndex }: { dataIndex: number }) => (colours[dataIndex] ? faded(colours[dataIndex], 0.8) : pale),
        },
        ...(rings.length > 0
          ? [
              {
                type: 'bubbleMap',
                // Over the countries.
                order: -1,
                outline,
                showOutline: false,
                clipMap: false,
                data: rings.map(({ shape, category }) => {
                  // The middle of the largest piece: islands far away do not draw it off.
                  const [longitude, latitude] = geoCentroid(mainland(shape));
                  return { longitude, latitude, value: ring.values[category] };
                }),
                radius: rings.map(({ category }) => Math.max(SMALLEST, LARGEST * Math.sqrt(ring.values[category]! / largest))),
                backgroundColor: 'transparent',
                borderColor: tokens.ink,
                borderWidth: 1.2,
              },
            ]
          : []),
      ],
    },
    options: {
      interaction: { mode: 'nearest', intersect: true },
      scales: {
        projection: { axis: 'x', projection: projectionOf(outline), padding: 10 },
        color: { axis: 'x', display: false, quantize: 0 },
        ...(rings.length > 0 ? { size: { axis: 'x', display: false, range: [SMALLEST, LARGEST] } } : {}),
      },
      plugins: { datalabels: { display: false } },
    },
  };
  const ofRings = rings.map(({ category }) => targetOf(drawn, ring, category, pointWords(figure, ring, category)));
  return { config: config as unknown as ChartConfiguration, targets: rings.length > 0 ? [targets, ofRings] : [targets] };
};

/** Members that are no country that is known. */
export const withoutShape: (labels: readonly string[]) => string[] = (labels) => labels.filter((label) => !shapeOf(label));
