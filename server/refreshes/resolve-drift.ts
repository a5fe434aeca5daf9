import type { Drift, RefreshChoice } from '@bold-compass/core/api';
import { labelOf } from '@bold-compass/core/format';
import type { SourceColumn, SqlOrigin } from '@bold-compass/core/model';
import { nameFor } from '@bold-compass/core/modelling';
import type { DescribedColumn } from '../drivers/index.ts';
import { ApiError } from '../problems/index.ts';
import type { SourceRow } from '../sources/index.ts';

/** The columns to import after what an analyst said about changes. Throws ApiError `source-drifted` where that is not enough. */
export function resolveDrift(
  source: SourceRow,
  origin: SqlOrigin,
  { answered, missing, retyped, added, touches }: Drift & { answered: DescribedColumn[] },
  { mapping, added: choice }: RefreshChoice,
): { columns: SourceColumn[]; ignored: string[] } {
  const types = new Map(answered.map(({ name, type }) => [name, type]));
  const columns = source.columns.map((column) => {
    const from = mapping[column.from];
    return from !== undefined && types.get(from) === column.type ? { ...column, from } : column;
  });
  const mapped = new Set(columns.map(({ from }) => from));
  const stillMissing = columns.filter(({ from }) => !types.has(from)).map(({ from }) => from);
  const stillRetyped = retyped.filter(({ column }) => columns.some(({ from }) => from === column));
  const fresh = added.filter((name) => !mapped.has(name));
  const faults = [
    ...stillMissing.map((name) => `“${name}” is missing`),
    ...stillRetyped.map(({ column, was, is }) => `“${column}” was ${was} and is ${is} now`),
    ...(choice === undefined ? fresh.map((name) => `“${name}” is new`) : []),
  ];
  if (faults.length > 0) {
    const named = touches.map(({ kind, label }) => `the ${kind} ${label}`);
    throw new ApiError(
      'source-drifted',
      `${faults.join(', ')}.${missing.length + retyped.length > 0 && named.length > 0 ? ` This touches ${named.join(', ')}.` : ''} Say what is meant, then refresh again.`,
    );
  }
  if (choice !== 'take') return { columns, ignored: [...origin.ignored, ...fresh] };
  const taken = new Set(columns.map(({ column }) => column));
  const more = answered
    .filter(({ name }) => fresh.includes(name))
    .map(({ name, type, scale }): SourceColumn => ({
      column: nameFor(name, taken),
      label: labelOf(name),
      from: name,
      type,
      scale: scale ?? 0,
    }));
  return { columns: [...columns, ...more], ignored: origin.ignored };
}
