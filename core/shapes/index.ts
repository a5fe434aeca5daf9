export { MOST_SHAPES, parseShapes, type Geometry, type PlaceShape, type Position, type Shapes } from './geojson.ts';
export { nameKey, propertiesOf, shapesByName, withoutNames } from './names.ts';
