import type { Dataset, Field } from '../model/index.ts';

/** A dataset whose fields over a table have at least these decimal places, by physical column; the same one where nothing changes. */
export function widened(dataset: Dataset, table: string, scales: ReadonlyMap<string, number>): Dataset {
  let changed = false;
  const wider = <One extends Pick<Field, 'column' | 'type' | 'scale' | 'formula'>>(field: One): One => {
    const scale = scales.get(field.column);
    if (scale === undefined || field.type !== 'decimal' || field.formula || field.scale >= scale) return field;
    changed = true;
    return { ...field, scale };
  };
  const facts = dataset.facts.map((fact) => (fact.table === table && !fact.live ? { ...fact, fields: fact.fields.map(wider) } : fact));
  const dimensions = dataset.dimensions.map((dimension) =>
    dimension.kind === 'table' && dimension.table === table
      ? { ...dimension, levels: dimension.levels.map(wider), attributes: dimension.attributes.map(wider) }
      : dimension,
  );
  return changed ? { ...dataset, facts, dimensions } : dataset;
}
