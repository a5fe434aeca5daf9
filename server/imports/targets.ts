import type { ImportTarget, StagedView } from '@bold-compass/core/api';
import type { ImportPlan } from '@bold-compass/core/imports';
import type pg from 'pg';
import { ApiError } from '../http/problems.ts';
import type { SourceRegistry, SourceRow } from '../sources/index.ts';
import { identifier, qualified } from '../sql/index.ts';
import { nameFor } from '@bold-compass/core/modelling';
import type { StagedColumn } from './stage.ts';

/** The columns that a file is staged in: its own for something new, those of the source for a later file. */
export async function columnsFor(sources: SourceRegistry, plan: ImportPlan, target: ImportTarget): Promise<StagedColumn[]> {
  if (target.kind === 'dataset' || target.kind === 'fact') {
    const taken = new Set<string>();
    return plan.columns.flatMap(({ include, name, type, scale }, source) =>
      include ? [{ source, column: nameFor(name, taken), type, scale: type === 'decimal' ? scale : 0 }] : [],
    );
  }
  const source = await sources.find(target.source);
  if (target.kind === 'update' && source.key.length === 0) {
    throw new ApiError('bad-request', `${source.label} has no key, so its records cannot be told apart. Replace them, or append.`);
  }
  const missing: string[] = [];
  const columns = source.columns.flatMap(({ column, label, type, scale }): StagedColumn[] => {
    const position = plan.columns.findIndex(({ include, name }) => include && name.toLowerCase() === label.toLowerCase());
    if (position < 0) missing.push(label);
    else if (plan.columns[position].type !== type) {
      throw new ApiError(
        'bad-request',
        `“${label}” is ${plan.columns[position].type} here but ${type} in ${source.label}. Set its type to ${type}.`,
      );
    }
    return position < 0 ? [] : [{ source: position, column, type, scale }];
  });
  if (missing.length > 0) {
    throw new ApiError(
      'bad-request',
      `This file has no ${missing.map((label) => `“${label}”`).join(', ')}. Name a column so, or choose another file.`,
    );
  }
  return columns;
}

const list = (columns: string[], prefix = ''): string => columns.map((column) => `${prefix}${identifier(column)}`).join(', ');
const sameKey = (key: string[]): string => key.map((column) => `t.${identifier(column)} = s.${identifier(column)}`).join(' AND ');

/** What a staged later file would change in a source. */
export async function changeCounts(
  client: pg.ClientBase,
  source: SourceRow,
  kind: 'replace' | 'append' | 'update',
  schema: string,
  staged: string,
): Promise<NonNullable<StagedView['changes']>> {
  const [target, incoming] = [qualified(source.schema, source.table), qualified(schema, staged)];
  const one = async (sql: string): Promise<number> =>
    Number((await client.query<{ n: string }>(`SELECT count(*) AS n FROM ${sql}`)).rows[0].n);
  const before = await one(target);
  const added = await one(incoming);
  if (kind === 'append') return { added, changed: 0, unchanged: before, removed: 0 };
  if (kind === 'replace' && source.key.length === 0) return { added, changed: 0, unchanged: 0, removed: before };
  const columns = source.columns.map(({ column }) => column);
  const both = `${target} AS t JOIN ${incoming} AS s ON ${sameKey(source.key)}`;
  const met = await one(both);
  const changed = await one(`${both} WHERE (${list(columns, 't.')}) IS DISTINCT FROM (${list(columns, 's.')})`);
  return {
    added: added - met,
    changed,
    unchanged: (kind === 'update' ? before : met) - changed,
    removed: kind === 'update' ? 0 : before - met,
  };
}

/** Statements that put staged records into a source's table. */
export function mergeStatements(source: SourceRow, kind: 'replace' | 'append' | 'update', schema: string, staged: string): string[] {
  const [target, incoming] = [qualified(source.schema, source.table), qualified(schema, staged)];
  const columns = source.columns.map(({ column }) => column);
  const insert = `INSERT INTO ${target} (${list(columns)}) SELECT ${list(columns, 's.')} FROM ${incoming} AS s`;
  switch (kind) {
    case 'append':
      return [insert, `DROP TABLE ${incoming}`];
    case 'replace':
      return [`TRUNCATE ${target}`, insert, `DROP TABLE ${incoming}`];
    case 'update': {
      const rest = columns.filter((column) => !source.key.includes(column));
      return [
        ...(rest.length > 0
          ? [
              `UPDATE ${target} AS t SET ${rest.map((column) => `${identifier(column)} = s.${identifier(column)}`).join(', ')} FROM ${incoming} AS s WHERE ${sameKey(source.key)}`,
            ]
          : []),
        `${insert} WHERE NOT EXISTS (SELECT FROM ${target} AS t WHERE ${sameKey(source.key)})`,
        `DROP TABLE ${incoming}`,
      ];
    }
  }
}
