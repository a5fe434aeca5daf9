import { MOST_TILE_ZOOM, TILE_SIZE } from '@bold-compass/core/api';
import type { Chart, ChartType, Plugin } from 'chart.js';
import type { GeoProjection } from 'd3-geo';

interface MapTilesOptions {
  isShown: boolean;
}

declare module 'chart.js' {
  // The name of the type parameter is the library's.
  interface PluginOptionsByType<TType extends ChartType> {
    mapTiles?: MapTilesOptions & { of?: TType };
  }
}

/** A tile and where it is drawn, in pixels. */
interface PlacedTile {
  path: string;
  left: number;
  top: number;
  size: number;
}

/** A part of the canvas, in pixels. */
interface Area {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/**
 * The tiles that fill an area under a Mercator projection, at the zoom whose pixels are nearest to those of the screen: the world
 * is 2π · scale wide.
 */
export function tilesIn(projection: GeoProjection, area: Area, pixelRatio: number): PlacedTile[] {
  const world = 2 * Math.PI * projection.scale();
  const zoom = Math.min(MOST_TILE_ZOOM, Math.max(0, Math.round(Math.log2((world * pixelRatio) / TILE_SIZE))));
  const count = 2 ** zoom;
  const size = world / count;
  const [middleX, middleY] = projection([0, 0]) ?? [0, 0];
  const [west, north] = [middleX - world / 2, middleY - world / 2];
  const first = { column: Math.floor((area.left - west) / size), row: Math.max(0, Math.floor((area.top - north) / size)) };
  const last = { column: Math.floor((area.right - west) / size), row: Math.min(count - 1, Math.floor((area.bottom - north) / size)) };
  const tiles: PlacedTile[] = [];
  for (let column = first.column; column <= last.column; column++)
    for (let row = first.row; row <= last.row; row++) {
      // Beyond 180° the world begins again.
      const around = ((column % count) + count) % count;
      tiles.push({ path: `/api/tiles/${zoom}/${around}/${row}`, left: west + column * size, top: north + row * size, size });
    }
  return tiles;
}

/** So many pictures of tiles are kept. */
const MOST_KEPT = 400;
const pictures = new Map<string, HTMLImageElement>();
/** Charts that are drawn again when their next tile is there. */
const waiting = new Set<Chart>();

function drawSoon(chart: Chart): void {
  if (waiting.has(chart)) return;
  waiting.add(chart);
  requestAnimationFrame(() => {
    waiting.delete(chart);
    // One that was taken away meanwhile has no canvas any more.
    if (chart.ctx) chart.draw();
  });
}

/** The picture of a tile; null while it is on its way, after which the chart is drawn again. */
function pictureOf(path: string, chart: Chart): HTMLImageElement | null {
  const known = pictures.get(path);
  if (known) {
    pictures.delete(path);
    pictures.set(path, known);
    if (known.complete && known.naturalWidth > 0) return known;
    if (!known.complete) known.addEventListener('load', () => drawSoon(chart), { once: true });
    return null;
  }
  const picture = new Image();
  picture.addEventListener('load', () => drawSoon(chart), { once: true });
  // A tile that could not be fetched is asked for again when the map is next drawn.
  picture.addEventListener('error', () => pictures.delete(path), { once: true });
  picture.src = path;
  pictures.set(path, picture);
  for (const [oldest] of pictures) {
    if (pictures.size <= MOST_KEPT) break;
    pictures.delete(oldest);
  }
  return null;
}

/** Draws tiles behind a map. */
export const mapTiles: Plugin = {
  id: 'mapTiles',
  beforeDatasetsDraw(chart, _args, options) {
    if (!(options as Partial<MapTilesOptions>).isShown) return;
    const { projection } = chart.scales.projection as unknown as { projection: GeoProjection };
    const { ctx, chartArea } = chart;
    ctx.save();
    ctx.beginPath();
    ctx.rect(chartArea.left, chartArea.top, chartArea.width, chartArea.height);
    ctx.clip();
    for (const { path, left, top, size } of tilesIn(projection, chartArea, chart.currentDevicePixelRatio)) {
      const picture = pictureOf(path, chart);
      if (picture) ctx.drawImage(picture, left, top, size, size);
    }
    ctx.restore();
  },
};
