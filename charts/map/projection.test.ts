import { geoArea, geoPath } from 'd3-geo';
import { describe, expect, it } from 'vitest';
import type { Shape } from './place-shapes.ts';
import { centreOf, mainland, outlineOf, projectionKey, projectionOf, widthOf } from './projection.ts';
import { WORLD } from './world.ts';

const placed = (...names: string[]): Shape[] => names.map((name) => WORLD.shapeOf(name, null)!);
const NORDIC = ['Denmark', 'Finland', 'Iceland', 'Norway', 'Sweden'];
/** A square, as a place. */
function square(west: number, south: number, size = 2): Shape {
  const [east, north] = [west + size, south + size];
  const ring = [west, south, west, north, east, north, east, south, west, south];
  const coordinates = Array.from({ length: 5 }, (_, index) => [ring[index * 2], ring[index * 2 + 1]]);
  return { type: 'Feature', properties: { name: `${west} ${south}` }, geometry: { type: 'Polygon', coordinates: [coordinates] } };
}

describe('the part of the world that is shown', () => {
  it('is that of the largest pieces: islands far away draw nothing off', () => {
    const [france] = placed('France');
    expect(mainland(france).geometry.type).toBe('Polygon');
    expect(geoArea(mainland(france))).toBeLessThan(geoArea(france));
    // The middle of the mainland lies near 46.5° north and 2.5° east (from memory).
    const { longitude, latitude } = centreOf(france);
    expect(Math.abs(longitude - 2.5)).toBeLessThan(1);
    expect(Math.abs(latitude - 46.5)).toBeLessThan(1);
    expect(mainland(square(0, 0))).toEqual(square(0, 0));
  });

  it('is as wide as it is, across the line where the days change too', () => {
    expect(widthOf(outlineOf([square(170, 10), square(178, 10, 6)]))).toBeCloseTo(14, 6);
    expect(widthOf(outlineOf([square(-10, 10), square(20, 10)]))).toBeCloseTo(32, 6);
    expect(widthOf(outlineOf([]))).toBe(360);
  });

  it('is known again for the same places, so that what follows from it is calculated once', () => {
    expect(outlineOf(placed('Sweden', 'Norway'))).toBe(outlineOf(placed('Sweden', 'Norway')));
    expect(outlineOf(placed('Sweden', 'Norway'))).not.toBe(outlineOf(placed('Norway', 'Sweden')));
  });
});

describe('a projection', () => {
  // Snyder, "Map Projections: A Working Manual", 1987: equal-area projections keep the ratio of areas everywhere.
  it.each([
    ['a region', NORDIC],
    ['the whole world', ['Canada', 'Brazil', 'Australia', 'Kenya', 'Sweden']],
  ])('of %s keeps areas', (_, names) => {
    const projection = projectionOf(outlineOf(placed(...names)), false);
    const path = geoPath(projection);
    const ratios = placed(...names).map((shape) => path.area(mainland(shape)) / geoArea(mainland(shape)));
    for (const ratio of ratios) expect(ratio / ratios[0]).toBeCloseTo(1, 1);
  });

  it('is turned to what is shown, so that its middle stands upright', () => {
    const projection = projectionOf(outlineOf([square(10, 50), square(18, 60)]), false);
    const [west] = projection([15, 45])!;
    const [east] = projection([15, 65])!;
    expect(west).toBeCloseTo(east, 6);
  });

  it('is that of the tiles over these, and is told apart by where it puts places', () => {
    const outline = outlineOf(placed(...NORDIC));
    const [over, own] = [projectionOf(outline, true), projectionOf(outline, false)];
    // Mercator: a line of latitude is straight.
    expect(over([0, 60])![1]).toBeCloseTo(over([30, 60])![1], 9);
    expect(own([0, 60])![1]).not.toBeCloseTo(own([30, 60])![1], 1);
    expect(projectionKey(projectionOf(outline, false))).toBe(projectionKey(own));
    expect(projectionKey(own)).not.toBe(projectionKey(own.scale(own.scale() * 2)));
  });
});
