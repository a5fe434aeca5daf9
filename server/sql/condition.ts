import { isNumberType, type ColumnType, type Filter, type Literal } from '@bold-compass/core/model';
import { unicodeCase } from './scalars.ts';
import { escapeLiteral } from '../database/index.ts';

export type ValueType = 'text' | 'number' | 'date' | 'boolean';

/** A column as the engine sees it: dates with a time are texts there. */
export function fieldSql(sql: string, type: ColumnType): FieldSql {
  if (type === 'datetime') return { sql: dateTimeText(sql), type: 'text' };
  return { sql, type: isNumberType(type) ? 'number' : type };
}
export interface FieldSql {
  sql: string;
  type: ValueType;
}

/** A column compared as a text. */
export const asText = ({ sql, type }: FieldSql): string => (type === 'text' ? sql : `(${sql})::text`);

const CASTS: Record<ValueType, string> = { text: 'text', number: 'numeric', date: 'date', boolean: 'boolean' };

/** A literal written out, for statements that take no parameters. */
export function literalSql(value: Literal, type: ValueType): string {
  const written = `${escapeLiteral(String(value))}::${CASTS[type]}`;
  return type === 'text' ? `(${written} COLLATE "C")` : `(${written})`;
}

const COMPARISONS = { eq: '=', ne: '<>', lt: '<', le: '<=', gt: '>', ge: '>=' };

/** A condition as SQL, given what fields are and how literals are written. */
export function conditionSql(
  filter: Filter,
  find: (name: string) => FieldSql,
  literal: (value: Literal, type: ValueType) => string,
): string {
  const sql = (part: Filter): string => conditionSql(part, find, literal);
  if ('items' in filter) {
    if (filter.items.length === 0) return filter.op === 'and' ? 'true' : 'false';
    return `(${filter.items.map(sql).join(filter.op === 'and' ? ' AND ' : ' OR ')})`;
  }
  if (filter.op === 'not') return `NOT (${sql(filter.item)})`;
  const field = find(filter.field);
  const value = (own: Literal): string => literal(own, field.type);
  switch (filter.op) {
    case 'in':
    case 'notIn': {
      if (filter.values.length === 0) return String(filter.op === 'notIn');
      return `${field.sql} ${filter.op === 'in' ? 'IN' : 'NOT IN'} (${filter.values.map(value).join(', ')})`;
    }
    case 'between':
      return `${field.sql} BETWEEN ${value(filter.low)} AND ${value(filter.high)}`;
    case 'like':
      return `${asText(field)} LIKE ${literal(filter.value, 'text')}`;
    case 'contains':
      return `strpos(${asText(field)}, ${literal(filter.value, 'text')}) > 0`;
    case 'includes':
      return `strpos(${unicodeCase('lower', asText(field))}, ${unicodeCase('lower', literal(filter.value, 'text'))}) > 0`;
    case 'startsWith':
      return `starts_with(${asText(field)}, ${literal(filter.value, 'text')})`;
    case 'empty':
      return `${field.sql} IS NULL`;
    case 'notEmpty':
      return `${field.sql} IS NOT NULL`;
    default:
      return `${field.sql} ${COMPARISONS[filter.op]} ${value(filter.value)}`;
  }
}

/** A date and time of day as ISO 8601 text. */
export function dateTimeText(sql: string): string {
  return `to_char(${sql}, 'YYYY-MM-DD HH24:MI:SS')`;
}
