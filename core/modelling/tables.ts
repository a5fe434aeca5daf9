import type { ColumnType, Dataset, Dimension, TableDimension } from '../model/index.ts';
import { factFor } from './first-dataset.ts';
import { nameFor, namesTaken } from './names.ts';

/** A table that a dataset can be made of. */
export interface TableColumns {
  table: string;
  label: string;
  columns: { column: string; label: string; type: ColumnType; scale: number }[];
}

/** Levels that a new tree begins with. */
const TREE_LEVELS = 4;

/**
 * A dimension over a table: its key as the one level, the other columns as attributes, so that coarser levels can be put
 * in order by hand; or a tree of parents and children.
 */
export function dimensionOver(dataset: Dataset, table: TableColumns, keyColumn: string, tree?: TableDimension['tree']): Dimension {
  const taken = namesTaken(dataset);
  const name = nameFor(tree ? `${table.table} tree` : table.table, new Set(dataset.dimensions.map((one) => one.name)));
  const base = { kind: 'table' as const, name, label: table.label, table: table.table, key: keyColumn };
  if (tree) {
    const levels = Array.from({ length: TREE_LEVELS }, (_, index) => index + 1).map((number) => ({
      ...{ name: nameFor(`${name} ${number}`, taken), label: `${table.label}, level ${number}`, plural: `members at level ${number}` },
      ...{ column: `level_${number}`, labelColumn: `level_${number}_label`, type: 'text' as const, scale: 0 },
    }));
    return { ...base, tree, levels, attributes: [] };
  }
  const key = table.columns.find(({ column }) => column === keyColumn)!;
  const words = table.columns.find(({ column, type }) => column !== keyColumn && type === 'text');
  const label = words?.label ?? key.label;
  const grain = {
    ...{ name: nameFor(keyColumn.replace(/_id$/, ''), taken), label, plural: `${label.toLowerCase()}s` },
    ...{ column: keyColumn, type: key.type, scale: key.scale, ...(words ? { labelColumn: words.column } : {}) },
  };
  const attributes = table.columns
    .filter(({ column }) => column !== keyColumn && column !== words?.column)
    .map((one) => ({ name: nameFor(one.column, taken), label: one.label, column: one.column, type: one.type, scale: one.scale }));
  return { ...base, levels: [grain], attributes };
}

/** A dataset with a fact more, over a table: joined to the calendar by its first date, with sums and averages of its numbers. */
export function withFact(dataset: Dataset, table: TableColumns): Dataset {
  const calendar = dataset.dimensions.find(({ kind }) => kind === 'calendar');
  const date = table.columns.find(({ type }) => type === 'date' || type === 'datetime');
  const links = calendar && date ? [{ dimension: calendar.name, column: date.column }] : [];
  const columns = table.columns.map(({ column, label, type, scale }) => ({ column, name: label, type, scale }));
  const { fact, measures } = factFor(dataset, table.label, table.table, columns, links);
  return {
    ...dataset,
    facts: [...dataset.facts, fact],
    measures: [...dataset.measures, ...measures],
  };
}
