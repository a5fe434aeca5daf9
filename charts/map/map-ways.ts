import type { ChartType, Plugin } from 'chart.js';
import type { GeoProjection } from 'd3-geo';

/** Where something was and is, from place to place. */
interface MapWay {
  /** Longitude and latitude, the last one where it is. */
  places: readonly (readonly [number, number])[];
  colour: string;
}

declare module 'chart.js' {
  // The name of the type parameter is the library's.
  interface PluginOptionsByType<TType extends ChartType> {
    mapWays?: { ways: readonly MapWay[]; of?: TType };
  }
}

/** In pixels. */
const [WIDTH, STOP] = [1.2, 1.8];

/** Draws the ways of points under these, over the map. */
export const mapWays: Plugin = {
  id: 'mapWays',
  beforeDatasetDraw(chart, { index }, options) {
    const { ways = [] } = options as { ways?: readonly MapWay[] };
    // The points are the second dataset, over the map.
    if (index !== 1 || ways.length === 0) return;
    const { projection } = chart.scales.projection as unknown as { projection: GeoProjection };
    const { ctx } = chart;
    ctx.save();
    ctx.lineWidth = WIDTH;
    for (const { places, colour } of ways) {
      const stops = places.flatMap(([longitude, latitude]) => {
        const at = projection([longitude, latitude]);
        return at ? [at] : [];
      });
      ctx.strokeStyle = colour;
      ctx.fillStyle = colour;
      ctx.beginPath();
      stops.forEach(([x, y], step) => (step === 0 ? ctx.moveTo(x, y) : ctx.lineTo(x, y)));
      ctx.stroke();
      for (const [x, y] of stops.slice(0, -1)) {
        ctx.beginPath();
        ctx.arc(x, y, STOP, 0, 2 * Math.PI);
        ctx.fill();
      }
    }
    ctx.restore();
  },
};
