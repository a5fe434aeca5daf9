import type { JoinAsked, JoinCheck, QueryCheck, QueryPreview, TableSample, TableSummary } from '@bold-compass/core/api';
import type { ColumnType, QueryParameter, SqlOrigin } from '@bold-compass/core/model';
import { bindParameters, type BoundText } from '@bold-compass/core/written';
import pg from 'pg';
import Cursor from 'pg-cursor';
import { ApiError } from '../problems/index.ts';
import { identifier, qualified } from '../sql/index.ts';
import { AnswerTooLarge } from './answer-limit.ts';
import type { Connections } from './connections.ts';

const SAMPLE_ROWS = 20;
const PREVIEW_ROWS = 100;
const EXAMPLES = 5;
/** Most characters of a value that a preview shows, bytes of all of them, and rows that are read at a time. */
const SHOWN_CHARACTERS = 2_000;
const PREVIEW_BYTES = 4_000_000;
const PREVIEW_BATCH = 10;

const { builtins } = pg.types;
const TYPES: Record<number, ColumnType> = {
  [builtins.INT2]: 'integer',
  [builtins.INT4]: 'integer',
  [builtins.INT8]: 'integer',
  [builtins.NUMERIC]: 'decimal',
  [builtins.MONEY]: 'decimal',
  [builtins.FLOAT4]: 'decimal',
  [builtins.FLOAT8]: 'decimal',
  [builtins.DATE]: 'date',
  [builtins.TIMESTAMP]: 'datetime',
  [builtins.TIMESTAMPTZ]: 'datetime',
  [builtins.BOOL]: 'boolean',
};

/** Texts as the server writes them, whatever their type. */
export const AS_TEXT = { getTypeParser: () => (value: string) => value };

export interface QueryColumn {
  name: string;
  type: ColumnType;
  /** Decimal places; null where the type does not say, so that only the records tell. */
  scale: number | null;
  /** A binary floating-point number: what it holds is itself a rounding. */
  approximate: boolean;
}

const columnOf = ({ name, dataTypeID, dataTypeModifier }: pg.FieldDef): QueryColumn => {
  const type = TYPES[dataTypeID] ?? 'text';
  // The modifier of numeric(p, s) is ((p << 16) | s) + 4 (PostgreSQL source, numeric.c).
  const declared = dataTypeID === builtins.NUMERIC && dataTypeModifier >= 4 ? (dataTypeModifier - 4) & 0x7ff : null;
  const money = dataTypeID === builtins.MONEY ? 2 : declared;
  return {
    ...{ name, type, scale: type === 'decimal' ? money : 0 },
    approximate: dataTypeID === builtins.FLOAT4 || dataTypeID === builtins.FLOAT8,
  };
};

/** The parameters' values in the order of the placeholders. */
export function parameterValues({ names }: BoundText, parameters: QueryParameter[]): (string | null)[] {
  return names.map((name) => {
    const value = parameters.find((parameter) => parameter.name === name)?.value ?? '';
    return value === '' ? null : value;
  });
}

/** A query without the semicolon that ends it. */
export const withoutEnd = (text: string): string => text.trimEnd().replace(/;(?:\s|--[^\n]*(?:\n|$)|\/\*[\s\S]*?\*\/)*$/, '');

/**
 * A query as a part of another one. A comment at its end must not swallow what follows, and only one statement can be
 * written so: a second one is no longer SQL.
 */
export function asSubquery(text: string): { sql: string; offset: number } {
  const head = 'SELECT * FROM (\n';
  return { sql: `${head}${withoutEnd(text)}\n) AS q`, offset: head.length };
}

/** Runs a query that an analyst wrote; refusals are told in words, with their place. Throws ApiError `query-invalid`. */
export async function runWritten(
  client: pg.Client,
  origin: Pick<SqlOrigin, 'text' | 'parameters'>,
  limit: number,
): Promise<pg.QueryArrayResult<(string | null)[]>> {
  const bound = bindParameters(origin.text, origin.parameters);
  const { sql, offset } = asSubquery(bound.text);
  try {
    return await client.query<(string | null)[]>({
      text: `${sql} LIMIT ${limit}`,
      values: parameterValues(bound, origin.parameters),
      rowMode: 'array',
      types: AS_TEXT,
      // The extended protocol takes one statement at a time.
      queryMode: 'extended',
    } as pg.QueryArrayConfig);
  } catch (error) {
    throw writtenFailure(error, origin.text, bound, offset);
  }
}

function writtenFailure(error: unknown, text: string, bound: BoundText, offset: number): unknown {
  const { code, message, position, hint } = error as { code?: string; message?: string; position?: string; hint?: string };
  if (!code) return error;
  const at = position === undefined ? undefined : Math.min(bound.written(Number(position) - 1 - offset), text.length);
  const words: Record<string, string> = {
    '25006': 'A source only reads: this would change something there.',
    '57014': 'This took longer than 20 seconds and was stopped. Ask for less, or let the server keep an index for it.',
    '42501': `This is not open to the connection's user: ${message}.`,
  };
  // What stands around the query when it is run is not the writer's to read about.
  const isCutShort = code === '42601' && position !== undefined && Number(position) - 1 - offset >= withoutEnd(bound.text).length;
  if (isCutShort)
    return new ApiError(
      'query-invalid',
      'The query ends too early: something is missing at its end, or it does not begin with SELECT or WITH.',
      { position: text.length },
    );
  const stacked = code === '42601' && /;\s*\S/.test(withoutEnd(text));
  const detail = stacked
    ? 'One query at a time: remove everything after the first semicolon.'
    : (words[code] ?? `${message}.${hint ? ` ${hint}` : ''}`);
  return new ApiError('query-invalid', detail, at === undefined ? {} : { position: at });
}

interface FirstRows {
  found: (string | null)[][];
  stopped: string;
}

/** Reads the first rows a few at a time, each value cut where it is long, and ends where they add up to too much. */
async function firstRows(client: pg.Client, origin: WrittenQuery, width: number, limit: number): Promise<FirstRows> {
  const bound = bindParameters(origin.text, origin.parameters);
  const names = Array.from({ length: width }, (_, index) => `c${index}`);
  // One character more tells that a value was cut.
  const cut = names.map((name) => `left(${name}::text, ${SHOWN_CHARACTERS + 1}) AS ${name}`);
  const head = `SELECT ${cut.join(', ') || '1'} FROM (\n`;
  const named = width > 0 ? `(${names.join(', ')})` : '';
  const sql = `${head}${withoutEnd(bound.text)}\n) AS q${named} LIMIT ${limit}`;
  const result: FirstRows = { found: [], stopped: '' };
  let bytes = 0;
  let shortened = 0;
  try {
    const cursor = client.query(
      new Cursor<(string | null)[]>(sql, parameterValues(bound, origin.parameters), {
        rowMode: 'array',
        types: AS_TEXT as unknown as pg.CustomTypesConfig,
      }),
    );
    for (;;) {
      const batch = await cursor.read(PREVIEW_BATCH);
      for (const row of batch) {
        bytes += row.reduce((sum, value) => sum + (value?.length ?? 0), 0);
        result.found.push(
          row.map((value) => {
            if (value === null || value.length <= SHOWN_CHARACTERS) return value;
            shortened++;
            return `${value.slice(0, SHOWN_CHARACTERS)}…`;
          }),
        );
      }
      if (batch.length < PREVIEW_BATCH) break;
      if (bytes > PREVIEW_BYTES) {
        result.stopped = `The rows are long: only the first ${result.found.length} are shown.`;
        await cursor.close();
        break;
      }
    }
  } catch (error) {
    if (!(error instanceof AnswerTooLarge)) throw writtenFailure(error, origin.text, bound, head.length);
    result.stopped = `${error.message} Only the first ${result.found.length} rows are shown.`;
  }
  if (shortened > 0 && result.stopped === '')
    result.stopped = `${shortened === 1 ? 'One value is' : `${shortened} values are`} longer than ${SHOWN_CHARACTERS.toLocaleString('en-GB')} characters and shown in part.`;
  return result;
}

type WrittenQuery = Pick<SqlOrigin, 'connection' | 'text' | 'parameters'>;

/** What a source's server offers, and what a written query answers. */
export class SourceQuery {
  constructor(private readonly connections: Connections) {}

  /** The tables and views that the connection's user may read, with the server's estimate of their rows. */
  tables(connection: string): Promise<TableSummary[]> {
    return this.connections.ask(connection, async (client) => {
      const { rows } = await client.query<TableSummary>(
        `SELECT n.nspname AS schema, c.relname AS name, greatest(c.reltuples, 0)::float8 AS rows,
           (SELECT coalesce(json_agg(json_build_object('name', a.attname, 'type', format_type(a.atttypid, a.atttypmod)) ORDER BY a.attnum), '[]')
            FROM pg_attribute AS a WHERE a.attrelid = c.oid AND a.attnum > 0 AND NOT a.attisdropped) AS columns,
           (SELECT coalesce(json_agg(json_build_object('column', a.attname, 'schema', tn.nspname, 'table', t.relname, 'key', k.attname)), '[]')
            FROM pg_constraint AS f JOIN pg_class AS t ON t.oid = f.confrelid JOIN pg_namespace AS tn ON tn.oid = t.relnamespace
            JOIN pg_attribute AS a ON a.attrelid = f.conrelid AND a.attnum = f.conkey[1]
            JOIN pg_attribute AS k ON k.attrelid = f.confrelid AND k.attnum = f.confkey[1]
            WHERE f.conrelid = c.oid AND f.contype = 'f' AND cardinality(f.conkey) = 1) AS references
         FROM pg_class AS c JOIN pg_namespace AS n ON n.oid = c.relnamespace
         WHERE c.relkind IN ('r', 'v', 'm', 'p', 'f') AND n.nspname NOT IN ('pg_catalog', 'information_schema') AND n.nspname NOT LIKE 'pg\\_toast%'
           AND has_schema_privilege(n.oid, 'USAGE') AND has_table_privilege(c.oid, 'SELECT')
         ORDER BY 1, 2`,
      );
      return rows;
    });
  }

  /** The first rows of a table. */
  sample(connection: string, schema: string, table: string): Promise<TableSample> {
    return this.preview({ connection, text: `SELECT * FROM ${qualified(schema, table)}`, parameters: [] }, SAMPLE_ROWS);
  }

  /**
   * What the data says of a join. Keys are held against each other as texts, whatever their types. Throws ApiError
   * `query-invalid` where a table or column is not there.
   */
  joinCheck(connection: string, { schema, table, column, toSchema, toTable, key }: JoinAsked): Promise<JoinCheck> {
    const [from, to] = [qualified(schema, table), qualified(toSchema, toTable)];
    const [named, own] = [`f.${identifier(column)}::text`, `t.${identifier(key)}::text`];
    return this.connections.ask(connection, async (client) => {
      const { rows } = await client
        .query<JoinCheck>(
          `WITH doubled AS (SELECT ${own} AS key FROM ${to} AS t WHERE ${own} IS NOT NULL GROUP BY 1 HAVING count(*) > 1)
         SELECT (SELECT count(*)::int FROM ${from} AS f WHERE ${named} IS NOT NULL) AS named,
           (SELECT count(*)::int FROM ${from} AS f WHERE ${named} IS NOT NULL AND NOT EXISTS (SELECT FROM ${to} AS t WHERE ${own} = ${named})) AS missing,
           (SELECT count(*)::int FROM doubled) AS doubled,
           coalesce((SELECT array_agg(key) FROM (SELECT key FROM doubled ORDER BY key LIMIT ${EXAMPLES}) AS few), '{}') AS examples`,
        )
        .catch((error: unknown) => {
          const { code, message } = error as { code?: string; message: string };
          // Class 42: a name that is not there, or not open to the connection's user.
          throw code?.startsWith('42') ? new ApiError('query-invalid', `This join cannot be looked at: ${message}.`) : error;
        });
      return rows[0];
    });
  }

  /** The columns of a query, without running it over its records. Throws ApiError `query-invalid` with the place. */
  check(origin: WrittenQuery): Promise<QueryCheck> {
    return this.connections.ask(origin.connection, async (client) => {
      const { fields } = await runWritten(client, origin, 0);
      const columns = fields.map(columnOf);
      const twice = columns.find(({ name }, index) => columns.findIndex((other) => other.name === name) !== index);
      if (twice) throw new ApiError('query-invalid', `Two columns are called “${twice.name}”. Give one of them another name with AS.`);
      return { columns, parameters: bindParameters(origin.text, origin.parameters).names };
    });
  }

  /** The first rows that a query answers, as far as they are not too large: then with what was read, and why it stopped. */
  preview(origin: WrittenQuery, rows = PREVIEW_ROWS): Promise<QueryPreview> {
    return this.connections.ask(origin.connection, async (client) => {
      const { fields } = await runWritten(client, origin, 0);
      const { found, stopped } = await firstRows(client, origin, fields.length, rows);
      return { columns: fields.map(columnOf), rows: found, stopped };
    });
  }
}
