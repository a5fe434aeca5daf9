import type { CellMeasure, CellExhibit, Dataset } from '@bold-compass/core/model';
import { findField } from '@bold-compass/core/model';
import { setCell } from './edges.ts';

/** The rows that a cell may show another measure in: those of each level down the side, and their total. */
export function rowChoices({ side }: CellExhibit, dataset: Dataset): { depth: number; words: string }[] {
  const levels = side.fields.map((field, level) => ({
    depth: level + 1,
    words: `Rows of ${(findField(dataset, field)?.label ?? field).toLowerCase()}`,
  }));
  return [...levels, { depth: 0, words: 'Total' }];
}

/** A cross-tab whose cell shows another measure (or none: null) in the rows of a level; its own where nothing is said. */
export function withMeasureInRows(exhibit: CellExhibit, index: number, depth: number, measure: string | null | undefined): CellExhibit {
  const cell = exhibit.cells[index];
  const other = measure === cell.measure ? undefined : measure;
  if (depth === 0) return setCell(exhibit, index, { total: other });
  const field = exhibit.side.fields[depth - 1];
  const rest = Object.fromEntries(Object.entries(cell.levels ?? {}).filter(([name]) => name !== field));
  const levels: CellMeasure['levels'] = other === undefined ? rest : { ...rest, [field]: other };
  return setCell(exhibit, index, { levels: Object.keys(levels).length > 0 ? levels : undefined });
}
