import { canAggregateOtherwise } from '@bold-compass/core/crosstab';
import {
  aggregationSchema,
  factKnows,
  findField,
  inLevelOrder,
  measureNamed,
  type Aggregation,
  type Axis,
  type CellExhibit,
  type Chart,
  type CellMeasure,
  type Dataset,
  type Dimension,
  type LevelSettings,
  type Measure,
} from '@bold-compass/core/model';
import { moved } from '../drag/landing.ts';

export type Edge = 'side' | 'top';

/** The other edge. */
export const across = (edge: Edge): Edge => (edge === 'side' ? 'top' : 'side');

export interface FieldChoice {
  /** Of the field, or of the first of a tree's. */
  name: string;
  label: string;
  group: string;
  /** What is looked through when searching. */
  words: string;
  /** What is placed with it: the field alone, or all levels of a parent–child tree. */
  fields: string[];
}

const choiceOf = (
  { name, label, folder, description }: { name: string; label: string; folder?: string; description?: string },
  group: string,
): FieldChoice => ({ name, label, group: folder ?? group, words: `${label} ${name} ${description ?? ''}`, fields: [name] });

/** A parent–child tree is one choice: its levels only ever stand together. */
function dimensionChoices(dimension: Dimension): FieldChoice[] {
  if (dimension.kind === 'calendar') return dimension.levels.map((level) => choiceOf(level, dimension.label));
  const attributes = dimension.attributes
    .filter(({ hidden, type }) => !hidden && type !== 'decimal')
    .map((field) => choiceOf(field, dimension.label));
  const levels = dimension.levels.filter(({ hidden }) => !hidden);
  if (!dimension.tree || levels.length === 0) return [...levels.map((level) => choiceOf(level, dimension.label)), ...attributes];
  const fields = levels.map(({ name }) => name);
  return [
    { name: fields[0], label: dimension.label, group: dimension.label, words: `${dimension.label} ${fields.join(' ')}`, fields },
    ...attributes,
  ];
}

/** Periods that a chart can go through. */
export const periodFields = (dataset: Dataset): FieldChoice[] =>
  dataset.dimensions.filter(({ kind }) => kind === 'calendar').flatMap(dimensionChoices);

/** All fields that can stand on an edge, with their words and where they are from. */
export const groupingFields = (dataset: Dataset): FieldChoice[] => [
  ...dataset.dimensions.flatMap(dimensionChoices),
  ...dataset.facts.flatMap((fact) =>
    fact.fields.filter(({ hidden, type }) => !hidden && type !== 'decimal').map((field) => choiceOf(field, fact.label)),
  ),
];

/** Fields that a list of some records can show. */
export function recordFields(dataset: Dataset, factName: string): FieldChoice[] {
  const fact = dataset.facts.find(({ name }) => name === factName);
  const numbers = (fact?.fields ?? [])
    .filter((field) => !field.hidden && field.type === 'decimal')
    .map((field) => choiceOf(field, fact!.label));
  return fact
    ? [...groupingFields(dataset).filter(({ name }) => findField(dataset, name) && factKnows(dataset, fact, name)), ...numbers]
    : [];
}

/** The group of measures that are in no folder. */
const MEASURES = 'Measures';

/** All measures that can be shown. */
export const measureChoices = (dataset: Dataset): FieldChoice[] =>
  dataset.measures.filter(({ hidden }) => !hidden).map((measure) => choiceOf(measure, MEASURES));

const withFields = <Own extends CellExhibit>(exhibit: Own, edge: Edge, fields: string[]): Own => {
  const { order, levels } = exhibit[edge];
  // An order by a column that may be gone falls back to the labels.
  return {
    ...exhibit,
    [edge]: {
      ...exhibit[edge],
      fields,
      levels: Object.fromEntries(Object.entries(levels).filter(([field]) => fields.includes(field))),
      openLevels: Math.min(exhibit[edge].openLevels, Math.max(fields.length - 1, 0)),
      order: order.by === 'measure' && order.at.length > 0 ? { by: 'label', direction: 'asc' } : order,
    },
  };
};

/** Puts a field on an edge at a place, the end where it is not said; it stands on one edge only. */
export function placeField<Own extends CellExhibit>(exhibit: Own, edge: Edge, field: string, at = Infinity): Own {
  const settings = exhibit.side.levels[field] ?? exhibit.top.levels[field];
  const before = exhibit[edge].fields.indexOf(field);
  const cleared = removeField(removeField(exhibit, 'side', field), 'top', field);
  const fields = [...cleared[edge].fields];
  fields.splice(before >= 0 && before < at ? at - 1 : at, 0, field);
  const placed = withFields(cleared, edge, fields);
  return settings ? setLevel(placed, edge, field, settings) : placed;
}

export function removeField<Own extends CellExhibit>(exhibit: Own, edge: Edge, field: string): Own {
  return exhibit[edge].fields.includes(field)
    ? withFields(
        exhibit,
        edge,
        exhibit[edge].fields.filter((one) => one !== field),
      )
    : exhibit;
}

/** Puts several fields on an edge, one after the other. */
export const placeFields = <Own extends CellExhibit>(exhibit: Own, edge: Edge, fields: string[], at = Infinity): Own =>
  fields.reduce((placed, field, index) => placeField(placed, edge, field, at + index), exhibit);

/** Moves a field one place outward (-1) or inward (+1) on its edge. */
export function shiftField<Own extends CellExhibit>(exhibit: Own, edge: Edge, field: string, step: -1 | 1): Own {
  const at = exhibit[edge].fields.indexOf(field);
  const to = at + step;
  if (at < 0 || to < 0 || to >= exhibit[edge].fields.length) return exhibit;
  return placeField(exhibit, edge, field, step > 0 ? to + 1 : to);
}

/** The fields of an edge that a chart goes through one member at a time: the first one of the series, or none. */
export const fieldsGoneThrough = (exhibit: CellExhibit, edge: Edge): number =>
  edge === 'top' && exhibit.kind === 'chart' && exhibit.chart.through && exhibit.top.fields.length > 0 ? 1 : 0;

/** Shows a chart for each member of a field, one after the other; it takes the place of the field that did so before. */
export function goThrough(exhibit: Chart, field: string): Chart {
  const [before] = exhibit.top.fields.slice(0, fieldsGoneThrough(exhibit, 'top'));
  const free = before === undefined ? exhibit : removeField(exhibit, 'top', before);
  const { through = { trails: true } } = exhibit.chart;
  return { ...placeField(free, 'top', field, 0), chart: { ...exhibit.chart, through, panels: false } };
}

/** Shows all at once again. */
export function stopGoingThrough(exhibit: Chart): Chart {
  const [field] = exhibit.top.fields;
  const freed = field === undefined ? exhibit : removeField(exhibit, 'top', field);
  return { ...freed, chart: { ...exhibit.chart, through: undefined } };
}

/** Puts fields on an edge, after the one that is gone through. */
function placeBehind<Own extends CellExhibit>(exhibit: Own, edge: Edge, fields: string[], at = Infinity): Own {
  const [gone] = exhibit.top.fields.slice(0, fieldsGoneThrough(exhibit, 'top'));
  if (gone === undefined || exhibit.kind !== 'chart') return placeFields(exhibit, edge, fields, at);
  if (fields.includes(gone)) return placeFields(stopGoingThrough(exhibit) as Own, edge, fields, at);
  return placeFields(exhibit, edge, fields, at + fieldsGoneThrough(exhibit, edge));
}

/** Puts fields on an edge as `placeBehind` does, the levels of each hierarchy from the coarsest to the finest. */
export function placeInOrder<Own extends CellExhibit>(dataset: Dataset, exhibit: Own, edge: Edge, fields: string[], at = Infinity): Own {
  const placed = placeBehind(exhibit, edge, fields, at);
  const gone = fieldsGoneThrough(placed, edge);
  const own = placed[edge].fields;
  return withFields(placed, edge, [...own.slice(0, gone), ...inLevelOrder(dataset, own.slice(gone))]);
}

/** Swaps the axis of a chart and its series; it goes on to go through its periods. */
export function swapSeries(exhibit: Chart): Chart {
  const [gone] = exhibit.top.fields.slice(0, fieldsGoneThrough(exhibit, 'top'));
  if (gone === undefined) return swapAxes(exhibit);
  const { through } = exhibit.chart;
  const swapped = goThrough(swapAxes(stopGoingThrough(exhibit)), gone);
  return { ...swapped, chart: { ...swapped.chart, through } };
}

export const swapAxes = <Own extends CellExhibit>(exhibit: Own): Own => ({
  ...exhibit,
  side: { ...exhibit.top, layout: exhibit.side.layout, repeatLabels: exhibit.side.repeatLabels },
  top: { ...exhibit.side, layout: 'tree', repeatLabels: false },
});

/** The ways a measure can be counted that are not in the cells yet; none where it is no single aggregate. */
export function freeAggregations({ cells }: Pick<CellExhibit, 'cells'>, { name, formula }: Measure): Aggregation[] {
  const used = cells.filter(({ measure }) => measure === name).map(({ aggregation }) => aggregation);
  return canAggregateOtherwise(formula) ? aggregationSchema.options.filter((one) => !used.includes(one)) : [];
}

/** Measures that can be put among the cells: those that are not there, or can be counted in yet another way. */
export const freeMeasures = (dataset: Dataset, exhibit: CellExhibit): FieldChoice[] =>
  measureChoices(dataset).filter(
    ({ name }) =>
      !exhibit.cells.some(({ measure }) => measure === name) || freeAggregations(exhibit, measureNamed(dataset, name)).length > 0,
  );

/**
 * Puts a measure among the cells at a place. Where it is there already it is counted in another way; where there is none
 * left, nothing changes.
 */
export function placeMeasure<Own extends CellExhibit>(exhibit: Own, measure: Measure, at = Infinity): Own {
  const { name } = measure;
  const isThere = exhibit.cells.some((cell) => cell.measure === name && !cell.aggregation);
  const [aggregation] = freeAggregations(exhibit, measure);
  if (isThere && !aggregation) return exhibit;
  return { ...exhibit, cells: exhibit.cells.toSpliced(at, 0, isThere ? { measure: name, aggregation } : { measure: name }) };
}

export function moveCell<Own extends CellExhibit>(exhibit: Own, from: number, to: number): Own {
  if (to < 0 || to >= exhibit.cells.length) return exhibit;
  return { ...exhibit, cells: moved(exhibit.cells, from, to) };
}

export const removeCell = <Own extends CellExhibit>(exhibit: Own, index: number): Own => ({
  ...exhibit,
  cells: exhibit.cells.filter((_, at) => at !== index),
});

export const setCell = <Own extends CellExhibit>(exhibit: Own, index: number, part: Partial<CellMeasure>): Own => ({
  ...exhibit,
  cells: exhibit.cells.map((cell, at) => (at === index ? { ...cell, ...part } : cell)),
});

export const setAxis = <Own extends CellExhibit>(exhibit: Own, edge: Edge, part: Partial<Axis>): Own => ({
  ...exhibit,
  [edge]: { ...exhibit[edge], ...part },
});

/** Changes the settings of a level on its edge. */
export const setLevel = <Own extends CellExhibit>(exhibit: Own, edge: Edge, field: string, part: Partial<LevelSettings>): Own =>
  setAxis(exhibit, edge, {
    levels: { ...exhibit[edge].levels, [field]: { ...(exhibit[edge].levels[field] ?? { subtotal: true }), ...part } },
  });
