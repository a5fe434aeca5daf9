import type { Binding, Unmatched } from '@bold-compass/core/api';
import type { ImportRecipe } from '@bold-compass/core/imports';
import { fieldPlace, findField, type Dataset, type Level, type Link, type TableDimension } from '@bold-compass/core/model';
import { distance } from 'fastest-levenshtein';
import type { AnyClient } from '../database/index.ts';
import { ApiError } from '../problems/index.ts';
import { identifier, staged as stagedName, tableOf } from '../sql/index.ts';
import { sqlType, type StagedColumn } from './stage.ts';

/** Texts listed that no member has. */
const LISTED = 100;
const NEAR = 3;

/** A column of a staged table that names members of a level. */
export interface BoundColumn {
  staged: StagedColumn;
  dimension: TableDimension;
  level: Level;
  by: Binding['by'];
}

/** The bindings that a source's recipe keeps, for the columns of a later file. Throws ApiError where their level is gone. */
export function recipeBindings(dataset: Dataset, recipe: ImportRecipe, columns: StagedColumn[]): Binding[] {
  return recipe.bindings
    .filter((one) => one.dataset === dataset.name)
    .flatMap(({ column, level, by }) => {
      const staged = columns.find((one) => one.column === column);
      if (!staged) return [];
      if (!findField(dataset, level)) {
        const words = `The first file's “${column}” named members of “${level}”, which ${dataset.label} does not have any more. Bring the level back, or import this file as a new fact.`;
        throw new ApiError('bad-request', words);
      }
      return [{ column: staged.source, level, by }];
    });
}

/** The bindings of table dimensions; dates are linked to calendars without any look-up. */
export function boundColumns(dataset: Dataset, bindings: Binding[], columns: StagedColumn[]): BoundColumn[] {
  return bindings.flatMap(({ column, level: name, by }) => {
    const staged = columns.find(({ source }) => source === column);
    const place = fieldPlace(dataset, name);
    if (!staged || place.kind !== 'level') return [];
    if (by === 'label' && !place.level.labelColumn && place.level.type !== 'text')
      throw new ApiError('bad-request', `${place.level.label} has no labels. Bind the column by key.`);
    return [{ staged, dimension: place.dimension, level: place.level, by }];
  });
}

/** The members of a level as a table of key, label and what the column's texts are held against. */
function members(dataset: Dataset, { dimension, level, by }: BoundColumn): string {
  const key = `${identifier(level.column)}::text`;
  const label = level.labelColumn ? `${identifier(level.labelColumn)}::text` : key;
  return `(SELECT DISTINCT ${key} AS key, ${label} AS label, btrim(${by === 'key' ? key : label}) AS match FROM ${tableOf(dataset, dimension)} AS t WHERE ${identifier(level.column)} IS NOT NULL)`;
}

/** The member that a staged text stands for: one that has it, or the one that an analyst said before. */
const resolved = (alias: string): string => `coalesce(${alias}m.key, ${alias}c.member)`;

/** Joins the members of a level and what was said about its texts; `$1` is the dataset, `level` the placeholder of the level. */
function joins(dataset: Dataset, bound: BoundColumn, alias: string, level: string): string {
  const text = `btrim(s.${identifier(bound.staged.column)}::text)`;
  const said = `(SELECT text, member FROM app.corrections WHERE dataset = $1 AND level = ${level})`;
  return `LEFT JOIN ${members(dataset, bound)} AS ${alias}m ON ${alias}m.match = ${text} LEFT JOIN ${said} AS ${alias}c ON ${alias}c.text = ${text}`;
}

/** The texts of a bound column that no member has, with those that look most alike. Throws where a label has two members. */
export async function findUnmatched(client: AnyClient, dataset: Dataset, bound: BoundColumn, table: string): Promise<Unmatched> {
  const { rows: known } = await client.query<{ key: string; label: string; match: string }>(
    `SELECT * FROM ${members(dataset, bound)} AS m`,
  );
  const seen = new Map<string, string>();
  for (const { key, match, label } of known) {
    const other = seen.get(match);
    if (other !== undefined && other !== key) {
      throw new ApiError('file-invalid', `“${label}” is the label of two members of ${bound.level.label}. Bind this column by key.`);
    }
    seen.set(match, key);
  }
  const column = `s.${identifier(bound.staged.column)}`;
  const { rows } = await client.query<{ text: string; count: number }>(
    `SELECT btrim(${column}::text) AS text, count(*)::int AS count FROM ${stagedName(table)} AS s ${joins(dataset, bound, 'b', '$2')}
     WHERE ${column} IS NOT NULL AND ${resolved('b')} IS NULL GROUP BY 1 ORDER BY 2 DESC, 1`,
    [dataset.name, bound.level.name],
  );
  return {
    column: bound.staged.source,
    level: bound.level.name,
    levelLabel: bound.level.label,
    total: rows.length,
    records: rows.reduce((sum, { count }) => sum + count, 0),
    texts: rows.slice(0, LISTED).map(({ text, count }) => ({ text, count, near: nearest(text, known) })),
  };
}

/** The members whose label or key takes the fewest changed letters (Levenshtein distance), case aside. */
function nearest(text: string, known: { key: string; label: string }[]): { key: string; label: string }[] {
  const lower = text.toLowerCase();
  return known
    .map(({ key, label }) => ({ key, label, far: Math.min(distance(lower, label.toLowerCase()), distance(lower, key.toLowerCase())) }))
    .sort((a, b) => a.far - b.far || a.label.localeCompare(b.label))
    .slice(0, NEAR)
    .map(({ key, label }) => ({ key, label }));
}

/** Copies staged records into another table, with the keys of members in place of the texts of bound columns. */
export async function insertBound(
  client: AnyClient,
  dataset: Dataset,
  bounds: BoundColumn[],
  columns: StagedColumn[],
  { staged, into }: { staged: string; into: string },
): Promise<void> {
  const outputs = columns.map((one) => {
    const index = bounds.findIndex((bound) => bound.staged.column === one.column);
    if (index < 0) return `s.${identifier(one.column)}`;
    return `${resolved(`b${index}`)}::${sqlType(bounds[index].level)}`;
  });
  const joined = bounds.map((bound, index) => joins(dataset, bound, `b${index}`, `$${index + 2}`));
  // The dataset is named even where nothing is bound, so that every parameter has a type.
  await client.query(
    `INSERT INTO ${into} SELECT ${outputs.join(', ')} FROM ${stagedName(staged)} AS s ${joined.join(' ')} WHERE $1::text IS NOT NULL`,
    [dataset.name, ...bounds.map(({ level }) => level.name)],
  );
}

/** The links that bound columns give a fact: at their level, or at the dimension's grain. */
export function boundLinks(dataset: Dataset, bindings: Binding[], columns: StagedColumn[]): Link[] {
  return bindings.flatMap(({ column, level: name }): Link[] => {
    const staged = columns.find(({ source }) => source === column);
    if (!staged) return [];
    const place = fieldPlace(dataset, name);
    if (place.kind === 'period') {
      const finest = place.level.period === 'day';
      return [{ dimension: place.dimension.name, column: staged.column, ...(finest ? {} : { level: place.level.name }) }];
    }
    if (place.kind !== 'level') return [];
    const grain = place.dimension.levels.at(-1)!;
    const isGrain = place.level.name === grain.name && grain.column === place.dimension.key;
    return [{ dimension: place.dimension.name, column: staged.column, ...(isGrain ? {} : { level: place.level.name }) }];
  });
}
