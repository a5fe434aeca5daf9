import type { CellMeasure, Crosstab } from '../model/index.ts';

type RowCell = Pick<CellMeasure, 'measure' | 'levels' | 'total'>;

/** The measure that a cell shows in rows of some depth, 0 being the total: its own, another one, or none (null). */
export function measureInRow({ measure, levels, total }: RowCell, fields: readonly string[], depth: number): string | null {
  const other = depth === 0 ? total : levels?.[fields[depth - 1]];
  return other === undefined ? measure : other;
}

/**
 * A cell as it is in rows of some depth; null where it shows nothing there. What was said of its own measure, its totals and
 * its indicator, is not said of another.
 */
export function cellInRow(cell: CellMeasure, { side }: Pick<Crosstab, 'side'>, depth: number): CellMeasure | null {
  const measure = measureInRow(cell, side.fields, depth);
  if (measure === null || measure === cell.measure) return measure === null ? null : cell;
  const { heading, negative } = cell;
  return { measure, heading, negative };
}

/** The measures that cells show in some rows in the place of their own. */
export const measuresInRows = ({ cells, side }: Pick<Crosstab, 'cells' | 'side'>): string[] =>
  cells.flatMap(({ levels = {}, total }) => [total, ...side.fields.map((field) => levels[field])].filter((name) => name != null));
