import { geoMercator } from 'd3-geo';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { tilesIn } from './tiles.ts';

const area = { left: 20, right: 620, top: 10, bottom: 410 };
const view = fc.record({
  centre: fc.tuple(fc.integer({ min: -179, max: 179 }), fc.integer({ min: -70, max: 70 })),
  scale: fc.integer({ min: 60, max: 60_000 }),
});
const projectionOf = ({ centre, scale }: { centre: [number, number]; scale: number }) =>
  geoMercator().center(centre).scale(scale).translate([320, 210]);

describe('tiles behind a map', () => {
  it('hold the places that the Web Mercator scheme puts into them', () => {
    fc.assert(
      fc.property(view, fc.integer({ min: 20, max: 619 }), fc.integer({ min: 10, max: 409 }), (given, x, y) => {
        const projection = projectionOf(given);
        const [longitude, latitude] = projection.invert!([x + 0.5, y + 0.5])!;
        fc.pre(Math.abs(latitude) < 85);
        const tile = tilesIn(projection, area, 1).find(
          ({ left, top, size }) => left <= x + 0.5 && x + 0.5 < left + size && top <= y + 0.5 && y + 0.5 < top + size,
        );
        const [zoom, column, row] = tile!.path.split('/').slice(3).map(Number);
        // The formulas of the scheme (spherical Mercator, EPSG:3857; in common use for tiles, no source).
        const angle = (latitude * Math.PI) / 180;
        expect(column).toBe(Math.floor(((((longitude + 540) % 360) / 360) * 2 ** zoom) % 2 ** zoom));
        expect(row).toBe(Math.floor(((1 - Math.asinh(Math.tan(angle)) / Math.PI) / 2) * 2 ** zoom));
      }),
    );
  });

  it('are few, and drawn at no more than twice or less than half of their size', () => {
    fc.assert(
      fc.property(view, fc.constantFrom(1, 2), (given, ratio) => {
        const tiles = tilesIn(projectionOf(given), area, ratio);
        expect(tiles.length).toBeLessThan(60);
        for (const { size, path } of tiles) {
          const drawn = (size * ratio) / 256;
          expect(drawn).toBeLessThanOrEqual(path.startsWith('/api/tiles/19/') ? Infinity : Math.SQRT2 + 1e-9);
          expect(drawn).toBeGreaterThanOrEqual(Math.SQRT1_2 - 1e-9);
        }
        expect(new Set(tiles.map(({ left, top }) => `${left} ${top}`)).size).toBe(tiles.length);
      }),
    );
  });
});
