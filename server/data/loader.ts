import { pipeline } from 'node:stream/promises';
import { Writable } from 'node:stream';
import {
  labelColumnName,
  NumberColumnBuilder,
  ReferenceBuilder,
  rollupName,
  TextColumnBuilder,
  type Column,
  type FactTable,
  type Reference,
  type Store,
  type Table,
} from '@bold-compass/core/engine';
import {
  linkTo,
  type CalendarDimension,
  type Dataset,
  type Fact,
  type Field,
  type Level,
  type TableDimension,
} from '@bold-compass/core/model';
import type { AnyClient } from '../database/index.ts';
import { to as copyTo } from 'pg-copy-streams';
import { dateTimeText, finiteDate, identifier, tableOf } from '../sql/index.ts';
import { BinaryCopyParser, readDate, readInt8 } from './binary-copy.ts';

/** One output column of a COPY: its SQL, and what takes its fields. */
interface Output {
  sql: string;
  take(buffer: Buffer, start: number, length: number): void;
}

type FieldLike = Pick<Field, 'column' | 'type' | 'scale'>;

/** Reads a text through the dictionary of what was seen, so that repeated texts are not decoded again and again. */
function textOutput(sql: string, builder: TextColumnBuilder): Output {
  return {
    sql: `(${sql})::text`,
    take: (buffer, start, length) => builder.push(length < 0 ? null : buffer.toString('utf8', start, start + length)),
  };
}

function fieldOutput(sql: string, field: FieldLike): { output: Output; finish: () => Column } {
  if (field.type === 'text' || field.type === 'datetime') {
    // Dates with a time are kept as ISO 8601 texts: their order is that of time.
    const builder = new TextColumnBuilder();
    const output = textOutput(field.type === 'text' ? sql : dateTimeText(sql), builder);
    return { output, finish: () => builder.finish() };
  }
  const builder = new NumberColumnBuilder(field.type, field.type === 'decimal' ? field.scale : 0);
  const finish = (): Column => builder.finish();
  if (field.type === 'date') {
    return {
      output: { sql: finiteDate(sql), take: (buffer, start, length) => builder.push(length < 0 ? null : readDate(buffer, start)) },
      finish,
    };
  }
  const units =
    field.type === 'decimal'
      ? `round((${sql})::numeric * ${10 ** field.scale})::int8`
      : field.type === 'boolean'
        ? `(${sql})::int::int8`
        : `(${sql})::int8`;
  return { output: { sql: units, take: (buffer, start, length) => builder.push(length < 0 ? null : readInt8(buffer, start)) }, finish };
}

async function copy(client: AnyClient, sql: (columns: string) => string, outputs: Output[]): Promise<number> {
  let rows = 0;
  const parser = new BinaryCopyParser({
    onField: (index, buffer, start, length) => outputs[index].take(buffer, start, length),
    onRow: () => void rows++,
  });
  const sink = new Writable({
    write(chunk: Buffer, _encoding, done) {
      try {
        parser.write(chunk);
        done();
      } catch (error) {
        done(error as Error);
      }
    },
  });
  const query = sql(outputs.map((output) => output.sql).join(', ') || '1::int8');
  await pipeline(client.query(copyTo(`COPY (${query}) TO STDOUT (FORMAT binary)`)), sink);
  return rows;
}

interface TablePlan {
  outputs: Output[];
  finish: Record<string, () => Column>;
}

function planFields(fields: FieldLike[], names: string[], prefix = ''): TablePlan {
  const plan: TablePlan = { outputs: [], finish: {} };
  fields.forEach((field, index) => {
    const { output, finish } = fieldOutput(`${prefix}${identifier(field.column)}`, field);
    plan.outputs.push(output);
    plan.finish[names[index]] = finish;
  });
  return plan;
}

const finishAll = (finish: Record<string, () => Column>): Record<string, Column> =>
  Object.fromEntries(Object.entries(finish).map(([name, build]) => [name, build()]));

function planLevels(levels: Level[]): TablePlan {
  const labelled = levels.filter((level) => level.labelColumn);
  const fields = [...levels, ...labelled.map((level): FieldLike => ({ column: level.labelColumn!, type: 'text', scale: 0 }))];
  return planFields(fields, [...levels.map((level) => level.name), ...labelled.map((level) => labelColumnName(level.name))]);
}

async function loadDimension(client: AnyClient, dataset: Dataset, dimension: TableDimension): Promise<Table> {
  const levels = planLevels(dimension.levels);
  const attributes = planFields(
    dimension.attributes,
    dimension.attributes.map((field) => field.name),
  );
  const from = `${tableOf(dataset, dimension)} AS t`;
  const rows = await copy(client, (columns) => `SELECT ${columns} FROM ${from} ORDER BY ${identifier(dimension.key)}`, [
    ...levels.outputs,
    ...attributes.outputs,
  ]);
  return { rows, columns: finishAll({ ...levels.finish, ...attributes.finish }) };
}

/** The members of a coarser level with their parents: what a fact kept there refers to. */
function rollupSource(dataset: Dataset, dimension: TableDimension, depth: number): string {
  const level = dimension.levels[depth];
  const column = identifier(level.column);
  const columns = dimension.levels
    .slice(0, depth + 1)
    .flatMap((one) => [identifier(one.column), ...(one.labelColumn ? [identifier(one.labelColumn)] : [])]);
  return `(SELECT DISTINCT ON (${column}) ${columns.join(', ')} FROM ${tableOf(dataset, dimension)} AS t WHERE ${column} IS NOT NULL ORDER BY ${column})`;
}

async function loadRollup(client: AnyClient, dataset: Dataset, dimension: TableDimension, depth: number): Promise<Table> {
  const levels = planLevels(dimension.levels.slice(0, depth + 1));
  const source = rollupSource(dataset, dimension, depth);
  const order = identifier(dimension.levels[depth].column);
  const rows = await copy(client, (columns) => `SELECT ${columns} FROM ${source} AS s ORDER BY ${order}`, levels.outputs);
  return { rows, columns: finishAll(levels.finish) };
}

/** First and last day of all dates that link facts to the calendar. */
async function calendarSpan(client: AnyClient, dataset: Dataset): Promise<Store['calendar']> {
  const spans = dataset.facts.flatMap((fact) =>
    dataset.dimensions
      .filter((dimension): dimension is CalendarDimension => dimension.kind === 'calendar')
      .flatMap((dimension) => {
        const link = linkTo(fact, dimension);
        if (!link) return [];
        const column = finiteDate(identifier(link.column));
        return [`SELECT min(${column}) AS first, max(${column}) AS last FROM ${tableOf(dataset, fact)} AS f`];
      }),
  );
  if (spans.length === 0) return { first: 0, days: 0 };
  const { rows } = await client.query<{ first: number | null; last: number | null }>(
    `SELECT min(first) - date '1970-01-01' AS first, max(last) - date '1970-01-01' AS last FROM (${spans.join(' UNION ALL ')}) AS spans`,
  );
  const { first, last } = rows[0];
  return first === null || last === null ? { first: 0, days: 0 } : { first, days: last - first + 1 };
}

async function loadFact(client: AnyClient, dataset: Dataset, fact: Fact, calendar: Store['calendar']): Promise<FactTable> {
  const fields = planFields(
    fact.fields,
    fact.fields.map((field) => field.name),
    'f.',
  );
  const links = new Map<string, ReferenceBuilder>();
  const joins: string[] = [];
  const outputs = [...fields.outputs];
  fact.links.forEach((link, index) => {
    const dimension = dataset.dimensions.find((one) => one.name === link.dimension)!;
    const builder = new ReferenceBuilder();
    links.set(dimension.name, builder);
    const column = `f.${identifier(link.column)}`;
    const take: Output['take'] = (buffer, start, length) => builder.push(length < 0 ? null : readInt8(buffer, start));
    if (dimension.kind === 'calendar') {
      outputs.push({ sql: `(${finiteDate(column)} - date '1970-01-01' - ${calendar.first})::int8`, take });
      return;
    }
    // The star is joined once, here, by key: a record keeps the position of its row, not the key.
    const depth = link.level ? dimension.levels.findIndex((level) => level.name === link.level) : -1;
    const key = identifier(depth >= 0 ? dimension.levels[depth].column : dimension.key);
    const source = depth >= 0 ? rollupSource(dataset, dimension, depth) : tableOf(dataset, dimension);
    joins.push(
      `LEFT JOIN (SELECT ${key} AS key, row_number() OVER (ORDER BY ${key}) - 1 AS position FROM ${source} AS s) AS j${index} ON j${index}.key = ${column}`,
    );
    outputs.push({ sql: `j${index}.position`, take });
  });
  const from = `${tableOf(dataset, fact)} AS f ${joins.join(' ')}`;
  const rows = await copy(client, (columns) => `SELECT ${columns} FROM ${from}`, outputs);
  const references: Record<string, Reference> = {};
  for (const [name, builder] of links) references[name] = builder.finish();
  return { rows, columns: finishAll(fields.finish), links: references };
}

/**
 * Loads a dataset's tables into columns, in one snapshot of the database. `version` names the state of the data.
 * Errors of the database are passed on.
 */
export async function loadStore(client: AnyClient, dataset: Dataset, version: string): Promise<Store> {
  await client.query('BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY');
  // Two loads at once would join each other's scan in its middle: records that no order tells apart stood in another one each time.
  await client.query('SET LOCAL synchronize_seqscans = off');
  try {
    const calendar = await calendarSpan(client, dataset);
    const store: Store = { version, calendar, dimensions: {}, rollups: {}, facts: {} };
    for (const dimension of dataset.dimensions) {
      if (dimension.kind === 'table') store.dimensions[dimension.name] = await loadDimension(client, dataset, dimension);
    }
    for (const fact of dataset.facts) {
      for (const link of fact.links) {
        const dimension = dataset.dimensions.find((one) => one.name === link.dimension)!;
        if (dimension.kind !== 'table' || !link.level) continue;
        const name = rollupName(dimension.name, link.level);
        const depth = dimension.levels.findIndex((level) => level.name === link.level);
        store.rollups[name] ??= await loadRollup(client, dataset, dimension, depth);
      }
      store.facts[fact.name] = await loadFact(client, dataset, fact, calendar);
    }
    return store;
  } finally {
    await client.query('COMMIT');
  }
}
