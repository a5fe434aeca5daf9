import { isoDate } from '@bold-compass/core/calendar';
import type { ArithmeticOperator, RecordCondition, RecordExpression } from '@bold-compass/core/engine';
import { planCalculatedField } from '@bold-compass/core/formula';
import {
  isNumberType,
  type ColumnType,
  type Dataset,
  type Fact,
  type Level,
  type Literal,
  type TableDimension,
} from '@bold-compass/core/model';
import { conditionSql, fieldSql, literalSql, type FieldSql, type ValueType } from './condition.ts';
import { SCALAR_SQL } from './scalars.ts';

/** A name as an SQL identifier. The only way names of tables and columns enter a statement. */
export function identifier(name: string): string {
  return `"${name.replaceAll('"', '""')}"`;
}

/** A table of a schema. */
export function qualified(schema: string, table: string): string {
  return `${identifier(schema)}.${identifier(table)}`;
}

/** Schema of the tables that definitions may name: those that imports and refreshes made. */
export const IMPORTED = 'imported';

/** Schema of tables that are being filled: nothing in it is final. */
export const STAGING = 'staging';

/** A table that is being filled. */
export const staged = (table: string): string => qualified(STAGING, table);

/** A registered table by its id. The one schema stands here and not in definitions, so that none can name another. */
export const registered = (table: string): string => qualified(IMPORTED, table);

/** The table of a fact or a dimension, to be given an alias, with the columns that are calculated; a tree is laid out in levels. */
export function tableOf(dataset: Dataset, part: Fact | TableDimension): string {
  const table = registered(part.table);
  if ('fields' in part) return withCalculated(dataset, part, table);
  if (part.tree) return treeTable(table, part.key, part.tree, part.levels.length);
  const within = part.levels.flatMap((level, depth) =>
    level.within ? [`${memberSql(part.levels, depth)} AS ${identifier(level.column)}`] : [],
  );
  return within.length === 0 ? table : `(SELECT c.*, ${within.join(', ')} FROM ${table} AS c)`;
}

/** What calculated fields are in the database. */
const CALCULATED_TYPES: Record<ColumnType, string> = {
  ...{ integer: 'numeric', decimal: 'numeric', text: 'text', date: 'date', datetime: 'timestamp', boolean: 'boolean' },
};

/** The records of a fact, from a table or a query, with its calculated fields as columns. */
export function withCalculated(dataset: Dataset, fact: Fact, records: string): string {
  const calculated = fact.fields.flatMap((field) => {
    if (!field.formula) return [];
    const find = (name: string): FieldSql => {
      const { column, type } = fact.fields.find((one) => one.name === name)!;
      return fieldSql(`c.${identifier(column)}`, type);
    };
    const valueOf = (expression: RecordExpression, isNumber: boolean): string =>
      expressionSql(
        expression,
        {
          find,
          literal: literalSql,
          condition: (condition) =>
            condition.op === 'test' ? valueOf(condition.expression, false) : conditionSql(condition, find, literalSql),
        },
        isNumber,
      );
    const isNumber = isNumberType(field.type);
    const value = valueOf(planCalculatedField(dataset, fact, field), isNumber);
    const typed = `(${value})::${CALCULATED_TYPES[field.type]}`;
    return [`${isNumber ? `round(${typed}, ${field.scale})` : typed} AS ${identifier(field.column)}`];
  });
  return calculated.length === 0 ? records : `(SELECT c.*, ${calculated.join(', ')} FROM ${records} AS c)`;
}

/** A member's key where words stand below several parents: with its parents' after them. */
function memberSql(levels: Level[], depth: number): string {
  const { within, column } = levels[depth];
  const own = `c.${identifier(within ?? column)}::text`;
  return within && depth > 0 ? `(${own} || coalesce(', ' || ${memberSql(levels, depth - 1)}, ''))` : own;
}

const OPERATIONS: Record<ArithmeticOperator, (left: string, right: string) => string> = {
  '+': (left, right) => `(${left} + ${right})`,
  '-': (left, right) => `(${left} - ${right})`,
  '*': (left, right) => `(${left} * ${right})`,
  '/': (left, right) => `((${left})::float8 / nullif((${right})::float8, 0))`,
  '^': (left, right) => `power((${left})::float8, (${right})::float8)`,
  '%': (left, right) => `(${left} % nullif(${right}, 0))`,
};

/** What an expression needs to be written: its fields, literals, and conditions. */
interface ExpressionParts {
  /** A field; throws QueryError where it has to be a number and is none. */
  find(name: string, isNumber: boolean): FieldSql;
  literal(value: Literal, type: ValueType): string;
  condition(condition: RecordCondition): string;
}

/** A record expression as SQL. */
export function expressionSql(expression: RecordExpression, parts: ExpressionParts, isNumber = true): string {
  const sql = (part: RecordExpression): string => expressionSql(part, parts, isNumber);
  const number = (part: RecordExpression): string => expressionSql(part, parts, true);
  switch (expression.kind) {
    case 'constant':
      return `(${expression.value.toFixed(expression.scale)})::numeric`;
    case 'text':
      return parts.literal(expression.value, 'text');
    case 'date':
      return parts.literal(isoDate(expression.day), 'date');
    case 'boolean':
      return String(expression.value);
    case 'field': {
      const { sql: field, type } = parts.find(expression.name, isNumber);
      return type === 'text' ? `(${field} COLLATE "C")` : field;
    }
    case 'negate':
      return `(-${number(expression.operand)})`;
    case 'arithmetic':
      return OPERATIONS[expression.op](number(expression.left), number(expression.right));
    case 'coalesce':
      return `coalesce(${expression.items.map(sql).join(', ')})`;
    case 'apply':
      return SCALAR_SQL[expression.fn](expression.args.map((arg) => expressionSql(arg, parts, false)));
    case 'choose': {
      const otherwise = expression.otherwise ? sql(expression.otherwise) : 'NULL';
      return `(CASE WHEN ${parts.condition(expression.when)} THEN ${sql(expression.then)} ELSE ${otherwise} END)`;
    }
  }
}

/**
 * A parent–child table with one row a member and its way from the root in columns: a member's own records stand below it
 * with no member at the next level. Rows whose parent is nowhere are roots; rows in a ring cannot be reached and are left
 * out. The depth is cut at the number of levels.
 */
function treeTable(table: string, key: string, { parent, label }: NonNullable<TableDimension['tree']>, depth: number): string {
  const [k, p, l] = [key, parent, label].map(identifier);
  const columns = Array.from({ length: depth }, (_, index) => {
    const level = index + 1;
    return `way[${level}] AS level_${level}, labels[${level}] AS level_${level}_label`;
  });
  return `(WITH RECURSIVE walk AS (
    SELECT c.${k} AS key, ARRAY[c.${k}::text] AS way, ARRAY[c.${l}::text] AS labels
    FROM ${table} AS c WHERE c.${p} IS NULL OR NOT EXISTS (SELECT FROM ${table} AS above WHERE above.${k} = c.${p})
    UNION ALL
    SELECT c.${k}, w.way || c.${k}::text, w.labels || c.${l}::text
    FROM walk AS w JOIN ${table} AS c ON c.${p} = w.key WHERE c.${k}::text <> ALL (w.way)
  ) SELECT c.*, w.way, ${columns.join(', ')} FROM walk AS w JOIN ${table} AS c ON c.${k} = w.key)`;
}
