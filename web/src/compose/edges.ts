import type { Crosstab, Dataset } from '@bold-compass/core/model';

export type Edge = 'side' | 'top';

/** The other edge. */
export const across = (edge: Edge): Edge => (edge === 'side' ? 'top' : 'side');

/** All fields that can stand on an edge, with their words and where they are from. */
export function groupingFields(dataset: Dataset): { name: string; label: string; group: string }[] {
  return [
    ...dataset.dimensions.flatMap((dimension) =>
      dimension.levels
        .filter((level) => !('hidden' in level && level.hidden))
        .map((level) => ({ name: level.name, label: level.label, group: ('folder' in level && level.folder) || dimension.label })),
    ),
    ...dataset.facts.flatMap((fact) =>
      fact.fields
        .filter((field) => !field.hidden && (field.type === 'text' || field.type === 'boolean' || field.type === 'integer'))
        .map((field) => ({ name: field.name, label: field.label, group: field.folder ?? fact.label })),
    ),
  ];
}

const withFields = (exhibit: Crosstab, edge: Edge, fields: string[]): Crosstab => {
  const { order } = exhibit[edge];
  // An order by a column that may be gone falls back to the labels.
  return {
    ...exhibit,
    [edge]: {
      ...exhibit[edge],
      fields,
      openLevels: Math.min(exhibit[edge].openLevels, Math.max(fields.length - 1, 0)),
      order: order.by === 'measure' && order.at.length > 0 ? { by: 'label', direction: 'asc' } : order,
    },
  };
};

/** Adds a field at the end of an edge; it stands on one edge only. */
export function addField(exhibit: Crosstab, edge: Edge, field: string): Crosstab {
  const cleared = removeField(exhibit, across(edge), field);
  return cleared[edge].fields.includes(field) ? cleared : withFields(cleared, edge, [...cleared[edge].fields, field]);
}

export function removeField(exhibit: Crosstab, edge: Edge, field: string): Crosstab {
  return exhibit[edge].fields.includes(field)
    ? withFields(
        exhibit,
        edge,
        exhibit[edge].fields.filter((one) => one !== field),
      )
    : exhibit;
}

/** Moves a field one place outward (-1) or inward (+1) on its edge. */
export function shiftField(exhibit: Crosstab, edge: Edge, field: string, step: -1 | 1): Crosstab {
  const fields = [...exhibit[edge].fields];
  const at = fields.indexOf(field);
  const to = at + step;
  if (at < 0 || to < 0 || to >= fields.length) return exhibit;
  [fields[at], fields[to]] = [fields[to], fields[at]];
  return withFields(exhibit, edge, fields);
}

export const swapAxes = (exhibit: Crosstab): Crosstab => ({ ...exhibit, side: exhibit.top, top: exhibit.side });

export function addMeasure(exhibit: Crosstab, measure: string): Crosstab {
  return exhibit.cells.some((cell) => cell.measure === measure) ? exhibit : { ...exhibit, cells: [...exhibit.cells, { measure }] };
}

export const removeMeasure = (exhibit: Crosstab, measure: string): Crosstab => ({
  ...exhibit,
  cells: exhibit.cells.filter((cell) => cell.measure !== measure),
});

/** Switches an edge's grand total. */
export const setTotal = (exhibit: Crosstab, edge: Edge, total: Crosstab['side']['total']): Crosstab => ({
  ...exhibit,
  [edge]: { ...exhibit[edge], total },
});
