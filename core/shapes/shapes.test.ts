import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { MOST_SHAPES, parseShapes, propertiesOf, shapesByName, withoutNames, type Shapes } from './index.ts';

const square = (west: number, south: number): number[][][] => [
  [
    [west, south],
    [west + 1, south],
    [west + 1, south + 1],
    [west, south + 1],
    [west, south],
  ],
];
const feature = (properties: object | null, geometry: object = { type: 'Polygon', coordinates: square(10, 50) }): object => ({
  ...{ type: 'Feature', id: 7, properties, geometry },
});
const file = (...features: object[]): string => JSON.stringify({ type: 'FeatureCollection', name: 'Areas', features });
const read = (text: string): Shapes => {
  const result = parseShapes(text);
  if ('problem' in result) throw new Error(result.problem);
  return result.shapes;
};
const problem = (text: string): string => {
  const result = parseShapes(text);
  return 'problem' in result ? result.problem : '';
};

describe('a file of shapes', () => {
  it('is read as RFC 7946 has it, without what a map does not need', () => {
    const shapes = read(
      file(feature({ name: 'North', population: 12 }), feature(null, { type: 'MultiPolygon', coordinates: [square(0, 0), square(3, 3)] })),
    );
    expect(shapes.features.map(({ properties }) => properties)).toEqual([{ name: 'North', population: 12 }, {}]);
    expect(shapes.features[1].geometry).toEqual({ type: 'MultiPolygon', coordinates: [square(0, 0), square(3, 3)] });
    expect(Object.keys(shapes)).toEqual(['type', 'features']);
    expect(Object.keys(shapes.features[0])).toEqual(['type', 'properties', 'geometry']);
  });

  it('that is none says what is wrong, and where', () => {
    expect(problem('{"type"')).toMatch(/cannot be read as JSON/);
    expect(problem('[]')).toMatch(/no collection of features/);
    expect(problem('{"type":"FeatureCollection","features":{}}')).toMatch(/no collection of features/);
    expect(problem(file())).toBe('This file has no shapes.');
    expect(problem(file(feature({}), { type: 'Point' }))).toBe('Shape 2 is no feature.');
    expect(problem(file(feature({}, { type: 'Point', coordinates: [1, 2] })))).toMatch(/^Shape 1 is no polygon/);
    expect(problem(file(feature({}, { type: 'Polygon', coordinates: [] })))).toMatch(/without a ring/);
    expect(
      problem(
        file(
          feature(
            {},
            {
              type: 'Polygon',
              coordinates: [
                [
                  [0, 0],
                  [1, 1],
                ],
              ],
            },
          ),
        ),
      ),
    ).toMatch(/fewer than four positions/);
    expect(problem(file(feature({}, { type: 'Polygon', coordinates: [[['a'], [1, 1], [2, 2], [0, 0]]] })))).toMatch(/no pair of numbers/);
    expect(problem(file(feature({}, { type: 'Polygon', coordinates: square(4_500_000, 5_500_000) })))).toMatch(/WGS 84/);
    expect(problem(file(feature({}, { type: 'MultiPolygon', coordinates: 'x' })))).toMatch(/has no polygons/);
    expect(problem(file(feature([])))).toMatch(/properties that are no names/);
    expect(problem(file(...Array.from({ length: MOST_SHAPES + 1 }, () => feature({}))))).toMatch(/at most 5000/);
  });

  it('of any content is read or told about, and never throws', () => {
    fc.assert(
      fc.property(fc.json(), (text) => {
        const result = parseShapes(text);
        expect('problem' in result && result.problem !== '').toBe(true);
      }),
    );
    fc.assert(
      fc.property(fc.jsonValue(), fc.jsonValue(), (properties, geometry) => {
        const result = parseShapes(JSON.stringify({ type: 'FeatureCollection', features: [{ type: 'Feature', properties, geometry }] }));
        expect('problem' in result).toBe(true);
      }),
    );
  });
});

describe('names of shapes', () => {
  const shapes = read(
    file(feature({ code: 'SE', title: 'sweden ' }), feature({ code: 'NO', title: 'Norway' }), feature({ code: 'XX', title: 7 })),
  );

  it('are in the property that knows most members', () => {
    expect(propertiesOf(shapes, ['Sweden', 'Norway', 'Finland'])).toEqual([
      { property: 'title', matches: 2 },
      { property: 'code', matches: 0 },
    ]);
    expect(propertiesOf(shapes, ['NO'])[0]).toEqual({ property: 'code', matches: 1 });
    expect(shapesByName(shapes, 'title').get('sweden')).toBe(shapes.features[0]);
    expect(shapesByName(shapes, 'title').get('7')).toBe(shapes.features[2]);
  });

  it('go with all other properties where they may not be known', () => {
    const seen = withoutNames(shapes, 'title', (name) => name === 'Norway');
    expect(seen.features.map(({ properties }) => properties)).toEqual([{}, { title: 'Norway' }, {}]);
    expect(seen.features.map(({ geometry }) => geometry)).toEqual(shapes.features.map(({ geometry }) => geometry));
    // Names of properties that objects have of themselves name nothing.
    expect(shapesByName(shapes, 'constructor').size).toBe(0);
  });
});
