import type { ImportTarget, StagedView } from '@bold-compass/core/api';
import type { Analysis, ImportPlan } from '@bold-compass/core/imports';
import { nameFor } from '@bold-compass/core/modelling';
import type { AnyClient } from '../database/index.ts';
import { ApiError } from '../problems/index.ts';
import type { SourceRegistry, SourceRow } from '../sources/index.ts';
import { identifier, registered } from '../sql/index.ts';
import { doubledKeys, type TableStore } from '../tables/index.ts';
import type { StagedColumn } from './stage.ts';

type LaterKind = Extract<ImportTarget, { source: string }>['kind'];
type Changes = NonNullable<StagedView['changes']>;

/** The columns that a file is staged in: its own for something new, those of the source for a later file. */
export async function columnsFor(
  sources: SourceRegistry,
  plan: ImportPlan,
  target: ImportTarget,
  analysis: Analysis,
): Promise<StagedColumn[]> {
  if (target.kind === 'dataset' || target.kind === 'fact') {
    const taken = new Set<string>();
    return plan.columns.flatMap(({ include, name, type, scale }, source) =>
      include ? [{ source, column: nameFor(name, taken), type, scale: type === 'decimal' ? scale : 0 }] : [],
    );
  }
  const source = await sources.find(target.source);
  if (source.live || source.origin.kind !== 'file')
    throw new ApiError('bad-request', `${source.label} comes from a database: refresh it there instead of importing a file.`);
  if (target.kind === 'update' && source.key.length === 0) {
    throw new ApiError('bad-request', `${source.label} has no key, so its records cannot be told apart. Replace them, or append.`);
  }
  const missing: string[] = [];
  // Each column of the file fills one of the source: of equal names the first the first, the second the second.
  const filled = new Set<number>();
  const columns = source.columns.flatMap(({ column, label, type: kept, scale }): StagedColumn[] => {
    const position = plan.columns.findIndex(
      ({ include, name }, index) => include && !filled.has(index) && name.trim().toLowerCase() === label.trim().toLowerCase(),
    );
    filled.add(position);
    if (position < 0) {
      missing.push(label);
      return [];
    }
    // Texts that name members are staged as the file has them: their keys are found afterwards.
    const isBound = source.recipe?.bindings.some((binding) => binding.column === column);
    const type = (isBound && source.recipe?.columns.find((one) => one.column === column)?.type) || kept;
    if (plan.columns[position].type !== type) {
      throw new ApiError(
        'bad-request',
        `“${label}” is ${plan.columns[position].type} here but ${type} in ${source.label}. Set its type to ${type}.`,
      );
    }
    return [{ source: position, column, type, scale: type === 'decimal' ? stagedScale(plan, analysis, position, scale) : 0 }];
  });
  if (missing.length > 0) {
    throw new ApiError(
      'bad-request',
      `This file has no ${missing.map((label) => `“${label}”`).join(', ')}. Give a column that name, or choose another file.`,
    );
  }
  return columns;
}

/** Decimal places of a column of a later file: those that are here, or those that its numbers need where it may be widened. */
function stagedScale(plan: ImportPlan, analysis: Analysis, position: number, scale: number): number {
  if (plan.choices[`rounded ${position}`] !== 'widen') return scale;
  const scales = analysis.columns[position].scales[plan.reading.decimalSign === '.' ? 0 : 1];
  return Math.max(
    scale,
    Math.min(
      scales.findLastIndex((count) => count > 0),
      scales.length - 2,
    ),
  );
}

const list = (columns: string[], prefix = ''): string => columns.map((column) => `${prefix}${identifier(column)}`).join(', ');
const sameKey = (key: string[]): string => key.map((column) => `t.${identifier(column)} = s.${identifier(column)}`).join(' AND ');

/** What the records of a later file, in the relation `incoming`, would change in a source. */
export async function changeCounts(
  client: AnyClient,
  store: TableStore,
  source: SourceRow,
  kind: LaterKind,
  incoming: string,
): Promise<Changes> {
  const target = registered(source.id);
  const columns = source.columns.map(({ column }) => column);
  const one = async (sql: string): Promise<number> =>
    Number((await client.query<{ n: string }>(`SELECT count(*) AS n FROM ${sql}`)).rows[0].n);
  const before = await one(target);
  const added = await one(incoming);
  const doubled: Changes['doubled'] = [];
  for (const key of await store.keysOf(client, source.id)) {
    const { keys, examples } = await doubledKeys(client, incoming, key);
    if (keys > 0) doubled.push({ key, keys, examples });
  }
  const none = { doubled, keysHere: 0, equal: 0, sameFile: false };
  const { key } = source;
  const met = key.length > 0 ? await one(`${incoming} AS s WHERE EXISTS (SELECT FROM ${target} AS t WHERE ${sameKey(key)})`) : 0;
  if (kind === 'append') {
    const equal = await one(`(SELECT ${list(columns)} FROM ${incoming} INTERSECT ALL SELECT ${list(columns)} FROM ${target}) AS equal`);
    return { ...none, added, changed: 0, unchanged: before, removed: 0, keysHere: met, equal };
  }
  if (key.length === 0) return { ...none, added, changed: 0, unchanged: 0, removed: before };
  const changed = await one(
    `${target} AS t WHERE EXISTS (SELECT FROM ${incoming} AS s WHERE ${sameKey(key)} AND (${list(columns, 't.')}) IS DISTINCT FROM (${list(columns, 's.')}))`,
  );
  const kept = await one(`${target} AS t WHERE EXISTS (SELECT FROM ${incoming} AS s WHERE ${sameKey(key)})`);
  return {
    ...none,
    added: added - met,
    changed,
    unchanged: (kind === 'update' ? before : kept) - changed,
    removed: kind === 'update' ? 0 : before - kept,
  };
}

const count = new Intl.NumberFormat('en-GB');

/**
 * Refuses a later file that would break a key, and asks back where its records seem to be here already. Throws ApiError
 * `rows-refused`, and `already-here` unless that was agreed to.
 */
export function refuseHarm(source: SourceRow, kind: LaterKind, changes: Changes, rows: number, agreed: boolean): void {
  const [doubled] = changes.doubled;
  if (doubled) {
    const labels = doubled.key.map((column) => source.columns.find((one) => one.column === column)?.label ?? column).join(', ');
    throw new ApiError(
      'rows-refused',
      `${count.format(doubled.keys)} ${doubled.keys === 1 ? 'key stands' : 'keys stand'} in several rows of this file (${labels}: ${doubled.examples.slice(0, 3).join('; ')}), and each of ${source.label} must stand once. Correct the file, or skip the later rows.`,
    );
  }
  if (kind !== 'append') return;
  if (changes.keysHere > 0) {
    throw new ApiError(
      'rows-refused',
      `${count.format(changes.keysHere)} of ${count.format(rows)} rows have keys that ${source.label} has already. Choose Update to change those records and add the others.`,
    );
  }
  if (agreed || rows === 0 || (!changes.sameFile && changes.equal === 0)) return;
  const what = changes.sameFile
    ? `This very file was imported into ${source.label} before`
    : `${count.format(changes.equal)} of ${count.format(rows)} ${changes.equal === 1 ? 'row is' : 'rows are'} in ${source.label} already`;
  throw new ApiError('already-here', `${what}: appending it counts them twice. Append anyway, or choose Replace.`);
}

/** Statements that put the records of a relation into a source's table. */
export function mergeStatements(source: SourceRow, kind: LaterKind, incoming: string): string[] {
  const target = registered(source.id);
  const columns = source.columns.map(({ column }) => column);
  const insert = `INSERT INTO ${target} (${list(columns)}) SELECT ${list(columns, 's.')} FROM ${incoming} AS s`;
  switch (kind) {
    case 'append':
      return [insert];
    case 'replace':
      return [`DELETE FROM ${target}`, insert];
    case 'update': {
      const rest = columns.filter((column) => !source.key.includes(column));
      return [
        ...(rest.length > 0
          ? [
              `UPDATE ${target} AS t SET ${rest.map((column) => `${identifier(column)} = s.${identifier(column)}`).join(', ')} FROM ${incoming} AS s WHERE ${sameKey(source.key)}`,
            ]
          : []),
        `${insert} WHERE NOT EXISTS (SELECT FROM ${target} AS t WHERE ${sameKey(source.key)})`,
      ];
    }
  }
}
