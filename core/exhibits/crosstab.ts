import { canAggregateOtherwise, measuresInRows } from '../crosstab/index.ts';
import { crosstabSchema, fieldsOf, findMeasure, type Axis, type Crosstab, type Dataset } from '../model/index.ts';
import { isSame, labelOf, listed, settingChanges } from './changes.ts';
import { indicatorMeasures } from '../indicators/index.ts';
import { markKindOf, ruleFault } from '../marks/index.ts';
import type { Swap } from '../prompts/index.ts';
import type { ExhibitKind, ExhibitNames } from './kind.ts';
import { otherFields, otherName } from './swap.ts';
import { placeLeft } from '../sections/index.ts';

/** The names that an axis reads beside its fields. */
function axisNames({ fields, levels, order, branches = [] }: Axis): ExhibitNames {
  const orders = [order, ...Object.values(levels).map((level) => level.order)];
  return {
    fields: [
      ...fields,
      ...branches.flatMap((branch) => branch.fields),
      ...orders.flatMap((one) => (one?.by === 'field' ? [one.field] : [])),
    ],
    measures: [
      ...orders.flatMap((one) => (one?.by === 'measure' ? [one.measure] : [])),
      ...Object.values(levels).flatMap(({ pick, classes }) => [pick, classes].flatMap((own) => own?.measure ?? [])),
    ],
  };
}

function crosstabChanges(name: string, before: Crosstab, after: Crosstab, dataset: Dataset | undefined): string[] {
  const label = (one: string): string => labelOf(dataset, one);
  const axis = (old: Axis, now: Axis, where: string): string[] => [
    ...listed(old.fields, now.fields, label, name, where),
    ...settingChanges(`${name}, ${where}`, old, now, new Set(['fields'])),
  ];
  const cellKey = ({ measure, aggregation }: Crosstab['cells'][number]): string => (aggregation ? `${measure} (${aggregation})` : measure);
  const cells = (of: Crosstab): string[] => of.cells.map(cellKey);
  const shown = after.cells.flatMap((cell) => {
    const old = before.cells.find((one) => cellKey(one) === cellKey(cell));
    return old && !isSame(old, cell) ? [`${name}: how ${label(cell.measure)} is shown changed.`] : [];
  });
  return [
    ...axis(before.side, after.side, 'down the side'),
    ...axis(before.top, after.top, 'across the top'),
    ...listed(cells(before), cells(after), label, name, 'in the cells'),
    ...shown,
  ];
}

/** A measure of a cell in the place of another: what was said of the other's look is not said of it. */
function swappedMeasure(cell: Crosstab['cells'][number], swap: Swap): Partial<Crosstab['cells'][number]> {
  const measure = otherName(swap, cell.measure);
  return measure === cell.measure
    ? {}
    : {
        measure,
        heading: undefined,
        format: undefined,
        aggregation: undefined,
        indicator: undefined,
        levels: undefined,
        total: undefined,
        marks: undefined,
      };
}

/** An axis over other fields: what was said of single levels goes with them. */
function swappedAxis(axis: Axis, swap: Swap): Axis {
  const renamed = <Own extends { by: string }>(order: Own): Own =>
    'measure' in order ? { ...order, measure: otherName(swap, String(order.measure)) } : order;
  const fields = otherFields(swap, axis.fields);
  const isSwapped = fields.some((field, index) => field !== axis.fields[index]) || fields.length !== axis.fields.length;
  const levels = Object.fromEntries(
    Object.entries(axis.levels).map(([field, { order, pick, classes, ...level }]) => [
      field,
      {
        ...level,
        ...(order ? { order: renamed(order) } : {}),
        ...(pick ? { pick: { ...pick, measure: otherName(swap, pick.measure) } } : {}),
        ...(classes ? { classes: { ...classes, measure: otherName(swap, classes.measure) } } : {}),
      },
    ]),
  );
  const order =
    isSwapped && (axis.order.by === 'field' || axis.order.by === 'hand') ? ({ by: 'label', direction: 'asc' } as const) : axis.order;
  return { ...axis, fields, levels, order: renamed(order) };
}

/** An axis with some of its levels; `across` keeps those of the other one, which orders and picks point along. */
function narrowedAxis(axis: Axis, left: readonly string[], across: <At extends { at: string[] }>(placed: At) => At): Axis {
  const placed = <Own extends object>(own: Own): Own => ('at' in own ? across(own as Own & { at: string[] }) : own);
  const levels = Object.fromEntries(
    Object.entries(axis.levels).map(([field, { order, pick, classes, ...level }]) => [
      field,
      {
        ...level,
        ...(order ? { order: placed(order) } : {}),
        ...(pick ? { pick: placed(pick) } : {}),
        ...(classes ? { classes: placed(classes) } : {}),
      },
    ]),
  );
  const openLevels = Math.max(0, axis.openLevels - (axis.fields.length - left.length));
  return { ...axis, fields: [...left], levels, order: placed(axis.order), openLevels };
}

export const crosstabKind: ExhibitKind<Crosstab> = {
  kind: 'crosstab',
  label: 'Cross-tab',
  id: 'cross-tab',
  isNumbered: true,
  names(exhibit) {
    const axes = [axisNames(exhibit.side), axisNames(exhibit.top)];
    const marks = exhibit.cells.flatMap((cell) => (cell.marks ?? []).map((mark) => markKindOf(mark).names(mark)));
    return {
      fields: [
        ...axes.flatMap(({ fields }) => fields),
        ...exhibit.conditions.map(({ field }) => field),
        ...fieldsOf(exhibit.filter),
        ...marks.flatMap((mark) => mark.fields),
      ],
      measures: [
        ...axes.flatMap(({ measures }) => measures),
        ...exhibit.conditions.map(({ measure }) => measure),
        ...measuresInRows(exhibit),
        ...marks.flatMap((mark) => mark.measures),
        ...exhibit.cells.flatMap(({ measure, indicator }) => [measure, ...indicatorMeasures(indicator)]),
      ],
    };
  },
  faults({ cells }, dataset) {
    const rules = cells.flatMap(({ marks = [] }) => marks.flatMap((mark) => markKindOf(mark).formula?.(mark) ?? []));
    const fault = rules.map((formula) => ({ formula, words: ruleFault(dataset, formula) })).find(({ words }) => words !== null);
    if (fault) return [`The rule "${fault.formula}": ${fault.words}`];
    const odd = cells.find(({ measure, aggregation }) => aggregation && !canAggregateOtherwise(findMeasure(dataset, measure)!.formula));
    return odd ? [`${findMeasure(dataset, odd.measure)!.label} is no single aggregate, so it cannot have another aggregation.`] : [];
  },
  axes: ({ side, top }) => [side.fields, top.fields],
  links: ({ drills }) => drills,
  texts: ({ title, note }) => [title, note],
  swapped: (own, swap) => ({
    ...own,
    side: swappedAxis(own.side, swap),
    top: swappedAxis(own.top, swap),
    cells: own.cells.map((cell) => ({ ...cell, ...swappedMeasure(cell, swap) })),
    conditions: own.conditions.map((one) => ({ ...one, measure: otherName(swap, one.measure) })),
    drills: own.drills.map((one) => ({ ...one, measures: one.measures?.map((measure) => otherName(swap, measure)) })),
  }),
  inSection(own, left) {
    const [side, top] = [left(own.side.fields), left(own.top.fields)];
    const along =
      ({ fields }: Axis, kept: readonly string[]) =>
      <At extends { at: string[] }>(placed: At): At => ({ ...placed, at: placeLeft(placed.at, fields, kept) });
    const isLeft = ({ field }: { field: string }): boolean =>
      [...side, ...top].includes(field) || ![...own.side.fields, ...own.top.fields].includes(field);
    return {
      ...own,
      side: narrowedAxis(own.side, side, along(own.top, top)),
      top: narrowedAxis(own.top, top, along(own.side, side)),
      conditions: own.conditions.filter(isLeft),
    };
  },
  changes: (name, before, after, dataset) => ({
    sentences: crosstabChanges(name, before, after, dataset),
    settings: ['side', 'top', 'cells'],
  }),
  create: ({ id, page, otherDataset }) =>
    crosstabSchema.parse({
      ...{ kind: 'crosstab', id, page, dataset: otherDataset, title: 'New cross-tab' },
      ...{ side: { fields: [] }, top: { fields: [] }, cells: [] },
    }),
};
