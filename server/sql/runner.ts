import { isoDate } from '@bold-compass/core/calendar';
import {
  compareText,
  isFramed,
  QueryError,
  refuseTooLarge,
  TooManyGroupsError,
  typeOfExpression,
  type AggregateCall,
  type AggregateValues,
  type DateFrame,
  type Query,
  type QueryResult,
  type RecordCondition,
  type RecordExpression,
  type RecordPage,
  type RecordQuery,
  type RecordValue,
} from '@bold-compass/core/engine';
import {
  AGGREGATES,
  factKnows,
  factNamed,
  fieldPlace,
  linkTo,
  type Dataset,
  type Fact,
  type Filter,
  type Literal,
  type Period,
} from '@bold-compass/core/model';
import { AGGREGATE_SQL } from './aggregates.ts';
import { finiteDate } from './finite-date.ts';
import { asText, conditionSql, fieldSql, type FieldSql, type ValueType } from './condition.ts';
import { expressionSql, identifier, tableOf, withCalculated } from './quote.ts';

/** Something that answers statements of PostgreSQL's SQL. */
export interface Queryable {
  query(text: string, values?: unknown[]): Promise<{ rows: Record<string, unknown>[] }>;
}

/** A statement with its bound values. */
export interface Statement {
  text: string;
  values: unknown[];
}

/** First day of the fiscal year that a date lies in, and of the year it is named by; `lead` months lie between. */
const named = (date: string, lead: number): string => `date_trunc('year', (${date})::timestamp + interval '${lead} months')`;
const YEAR = `'"FY"YYYY'`;

/**
 * A week belongs to the fiscal year of its Thursday, which makes the year begin on the Monday nearest its first day.
 * `part` makes the part's words of the number of weeks before, which stands in it as w.
 */
function ofWeeks(date: string, lead: number, part: string): string {
  const thursday = `((${date})::date - extract(isodow FROM ${date})::int + 4)`;
  const first = `(${named(thursday, lead)} - interval '${lead} months')::date`;
  return `(SELECT to_char(y, '"WY"YYYY') || ${part} FROM (SELECT ${named(thursday, lead)} AS y, (${thursday} - ${first}) / 7 AS w) AS weeks)`;
}
const WEEK_QUARTER = 'least(w / 13, 3)';

const PERIODS: Record<Period, (date: string, lead: number) => string> = {
  year: (date) => `to_char(${date}, 'YYYY')`,
  half_year: (date) => `to_char(${date}, 'YYYY') || '-H' || CASE WHEN extract(month FROM ${date}) <= 6 THEN 1 ELSE 2 END`,
  quarter: (date) => `to_char(${date}, 'YYYY"-Q"Q')`,
  month: (date) => `to_char(${date}, 'YYYY-MM')`,
  iso_week: (date) => `to_char(${date}, 'IYYY"-W"IW')`,
  day: (date) => `to_char(${date}, 'YYYY-MM-DD')`,
  weekday: (date) => `to_char(${date}, 'ID')`,
  fiscal_year: (date, lead) => `to_char(${named(date, lead)}, ${YEAR})`,
  fiscal_half_year: (date, lead) =>
    `to_char(${named(date, lead)}, ${YEAR}) || '-H' || CASE WHEN extract(month FROM (${date}) + interval '${lead} months') <= 6 THEN 1 ELSE 2 END`,
  fiscal_quarter: (date, lead) => `to_char((${date}) + interval '${lead} months', '"FY"YYYY"-Q"Q')`,
  week_year: (date, lead) => ofWeeks(date, lead, `''`),
  week_quarter: (date, lead) => ofWeeks(date, lead, `'-Q' || (${WEEK_QUARTER} + 1)`),
  week_month: (date, lead) =>
    ofWeeks(
      date,
      lead,
      `'-M' || to_char(${WEEK_QUARTER} * 3 + CASE WHEN w - ${WEEK_QUARTER} * 13 < 4 THEN 1 WHEN w - ${WEEK_QUARTER} * 13 < 8 THEN 2 ELSE 3 END, 'FM00')`,
    ),
  week: (date, lead) => ofWeeks(date, lead, `'-W' || to_char(w + 1, 'FM00')`),
};

/** The levels that some set groups by: only these may stand in grouping() and in the output. */
const levelsUsed = ({ levels, sets }: Query): number[] =>
  levels.map((_, level) => level).filter((level) => sets.some((set) => set.includes(level)));

/** A query that stands in the place of a fact's table: its placeholders come first. */
export interface Relation {
  sql: string;
  values: unknown[];
}

/** Compiles a query to one statement with GROUPING SETS, every literal bound. */
class Compiler {
  readonly values: unknown[];
  private readonly joins = new Map<string, string>();
  private readonly fact: Fact;

  constructor(
    private readonly dataset: Dataset,
    private readonly query: Query,
    private readonly relation?: Relation,
  ) {
    this.fact = factNamed(dataset, query.fact);
    this.values = [...(relation?.values ?? [])];
  }

  /** A page of single records, in the order asked for, missing values last. */
  records({ filter, columns, order, offset, limit, keys = [] }: RecordQuery): Statement {
    const plain = columns.length - keys.length;
    const outputs = columns.map((column, index) => `${index < plain ? this.output(column) : asText(this.field(column))} AS v${index}`);
    const where = filter ? `WHERE ${this.condition(filter)}` : '';
    const by = order.map(({ field, direction }) => {
      const { sql, type } = this.shown(field);
      return `${sql}${type === 'text' ? ' COLLATE "C"' : ''} ${direction === 'desc' ? 'DESC' : 'ASC'} NULLS LAST`;
    });
    return {
      text: `SELECT ${[...outputs, 'count(*) OVER () AS total'].join(', ')} FROM ${this.from()} ${where} ${by.length > 0 ? `ORDER BY ${by.join(', ')}` : ''} LIMIT ${Number(limit)} OFFSET ${Number(offset)}`,
      values: this.values,
    };
  }

  /** A field, or the words of its members where a level has some. */
  private shown(name: string): FieldSql {
    const field = this.field(name);
    const place = fieldPlace(this.dataset, name);
    if (place.kind !== 'level' || !place.level.labelColumn) return field;
    return { sql: `d${this.dataset.dimensions.indexOf(place.dimension)}.${identifier(place.level.labelColumn)}`, type: 'text' };
  }

  /** A field as a record shows it: numbers as numbers, dates as ISO 8601. */
  private output(name: string): string {
    const { sql, type } = this.shown(name);
    return type === 'number' ? `(${sql})::float8` : type === 'date' ? `to_char(${sql}, 'YYYY-MM-DD')` : sql;
  }

  statement(): Statement {
    const { query } = this;
    const used = levelsUsed(query).filter((level) => !this.framed(level));
    const levels = used.map((level) => `(${asText(this.field(query.levels[level]))}) COLLATE "C" AS l${level}`);
    const aggregates = query.aggregates.map((call, index) => `${this.aggregate(call)} AS a${index}`);
    const where = query.filter ? `WHERE ${this.condition(query.filter)}` : '';
    const day = query.frame ? [`${this.day(query.frame)} AS d`] : [];
    // Levels are computed in a first step, so that grouping sets name plain columns.
    const inner = `SELECT ${[...levels, ...day, ...this.columnsUsed()].join(', ') || '1 AS one'} FROM ${this.from()} ${where}`;
    if (query.frame) return { text: this.framedText(query.frame, inner, used, aggregates), values: this.values };
    const sets = query.sets.map((set) => `(${set.map((level) => `l${level}`).join(', ')})`);
    const names = used.map((level) => `l${level}`);
    const outputs = [names.length > 0 ? `grouping(${names.join(', ')}) AS g` : '0 AS g', ...names, 'count(*) AS records', ...aggregates];
    return { text: `SELECT ${outputs.join(', ')} FROM (${inner}) AS r GROUP BY GROUPING SETS (${sets.join(', ')})`, values: this.values };
  }

  private framed(level: number): boolean {
    const { frame, levels } = this.query;
    return frame !== undefined && isFramed(this.dataset, frame, levels[level]);
  }

  /** The date by which a record is linked to the calendar of a frame. */
  private day({ calendar }: DateFrame): string {
    const link = this.fact.links.find(({ dimension }) => dimension === calendar);
    if (!link) throw new QueryError('field-not-known', calendar, `${this.fact.label} have no dates of "${calendar}".`);
    return finiteDate(`f.${identifier(link.column)}`);
  }

  /** Joins each record to every target that its day counts in: one part of a union for each set. */
  private framedText({ sets: framedSets }: DateFrame, inner: string, used: number[], aggregates: string[]): string {
    const parts = this.query.sets.map((set, index) => {
      const ranges = framedSets[index].flatMap(({ ranges: own, within }, number) => own.map((range) => ({ ...range, number, within })));
      const bound = framedSets[index][0]?.within?.map(({ field }) => this.query.levels.indexOf(field)) ?? [];
      const bind = (list: unknown[]): string => `$${this.values.push(list)}`;
      const columns = [
        { name: 'first', sql: `${bind(ranges.map((range) => isoDate(range.first)))}::date[]` },
        { name: 'last', sql: `${bind(ranges.map((range) => isoDate(range.last)))}::date[]` },
        { name: 'target', sql: `${bind(ranges.map(({ number }) => number))}::int[]` },
        ...bound.map((level, at) => ({ name: `w${level}`, sql: `${bind(ranges.map(({ within }) => within![at].member))}::text[]` })),
      ];
      const days = `unnest(${columns.map(({ sql }) => sql).join(', ')}) AS days (${columns.map(({ name }) => name).join(', ')})`;
      const on = ['r.d BETWEEN days.first AND days.last', ...bound.map((level) => `r.l${level} IS NOT DISTINCT FROM days.w${level}`)];
      const names = used.map((level) => (set.includes(level) ? `l${level}` : `NULL::text AS l${level}`));
      const by = ['target', ...used.filter((level) => set.includes(level)).map((level) => `l${level}`)];
      return `SELECT ${[`${index} AS g`, 'target', ...names, 'count(*) AS records', ...aggregates].join(', ')} FROM r JOIN ${days} ON ${on.join(' AND ')} GROUP BY ${by.join(', ')}`;
    });
    return `WITH r AS (${inner}) SELECT * FROM (${parts.join(' UNION ALL ')}) AS parts`;
  }

  private readonly columns = new Map<string, string>();
  private columnsUsed(): string[] {
    return [...this.columns].map(([sql, alias]) => `${sql} AS ${alias}`);
  }

  /** Inside aggregates, fields are columns of the first step. */
  private column(name: string): FieldSql {
    const { sql, type } = this.field(name);
    let alias = this.columns.get(sql);
    if (!alias) this.columns.set(sql, (alias = `c${this.columns.size}`));
    return { sql: alias, type };
  }

  private from(): string {
    const records = this.relation
      ? withCalculated(this.dataset, this.fact, `(\n${this.relation.sql}\n)`)
      : tableOf(this.dataset, this.fact);
    return `${records} AS f ${[...this.joins.values()].join(' ')}`;
  }

  private field(name: string): FieldSql {
    if (!factKnows(this.dataset, this.fact, name)) throw new QueryError('field-not-known', name, `${this.fact.label} have no "${name}".`);
    const place = fieldPlace(this.dataset, name);
    if (place.kind === 'fact') return fieldSql(`f.${identifier(place.field.column)}`, place.field.type);
    const link = linkTo(this.fact, place.dimension)!;
    if (place.kind === 'period') {
      const lead = (13 - (place.dimension.yearStart ?? 1)) % 12;
      return { sql: PERIODS[place.level.period](finiteDate(`f.${identifier(link.column)}`), lead), type: 'text' };
    }
    const field = place.kind === 'level' ? place.level : place.field;
    const alias = `d${this.dataset.dimensions.indexOf(place.dimension)}`;
    if (!this.joins.has(alias)) {
      const table = tableOf(this.dataset, place.dimension);
      const kept = place.dimension.levels.find((level) => level.name === link.level);
      const known = place.dimension.levels
        .slice(0, kept ? place.dimension.levels.indexOf(kept) + 1 : 0)
        .flatMap((level) => [identifier(level.column), ...(level.labelColumn ? [identifier(level.labelColumn)] : [])]);
      const source = kept
        ? `(SELECT DISTINCT ON (${identifier(kept.column)}) ${known.join(', ')} FROM ${table} AS t ORDER BY ${identifier(kept.column)})`
        : table;
      const key = identifier(kept ? kept.column : place.dimension.key);
      this.joins.set(alias, `LEFT JOIN ${source} AS ${alias} ON ${alias}.${key} = f.${identifier(link.column)}`);
    }
    return fieldSql(`${alias}.${identifier(field.column)}`, field.type);
  }

  private bind(value: Literal, type: ValueType): string {
    this.values.push(type === 'text' ? String(value) : value);
    const cast = { text: 'text', number: 'numeric', date: 'date', boolean: 'boolean' }[type];
    const bound = `$${this.values.length}::${cast}`;
    return type === 'text' ? `(${bound} COLLATE "C")` : bound;
  }

  private condition(filter: Filter, find: (name: string) => FieldSql = (name) => this.field(name)): string {
    return conditionSql(filter, find, (literal, type) => this.bind(literal, type));
  }

  private expression(expression: RecordExpression): string {
    const isNumber = typeOfExpression(this.dataset, expression) === 'number';
    return expressionSql(
      expression,
      {
        find: (name, isCalculated) => {
          const field = this.column(name);
          if (isCalculated && (field.type === 'text' || field.type === 'date'))
            throw new QueryError('not-a-number', name, `${name} holds no numbers, so it cannot be calculated with.`);
          return field;
        },
        literal: (literal, type) => this.bind(literal, type),
        condition: (condition) => this.recordCondition(condition),
      },
      isNumber,
    );
  }

  /** A condition inside an aggregate. */
  private recordCondition(condition: RecordCondition): string {
    return condition.op === 'test' ? this.expression(condition.expression) : this.condition(condition, (name) => this.column(name));
  }

  /** What an aggregate reads: a plain field may also be a text or a date. */
  private argument(call: AggregateCall): string {
    if (!call.argument) return '*';
    if (call.argument.kind === 'field') {
      const { sql, type } = this.column(call.argument.name);
      return type === 'text' ? `${sql} COLLATE "C"` : sql;
    }
    return this.expression(call.argument);
  }

  private aggregate(call: AggregateCall): string {
    const argument = this.argument(call);
    const filter = call.where ? ` FILTER (WHERE ${this.recordCondition(call.where)})` : '';
    return AGGREGATE_SQL[call.fn]({ argument, filter, fraction: Number(call.fraction ?? 0.5) });
  }

  /** What the values of an aggregate are, and their scale where it is known. */
  valueType(call: AggregateCall): AggregateValues['type'] {
    if (!call.argument || !AGGREGATES[call.fn].keepsType) return 'number';
    const type = typeOfExpression(this.dataset, call.argument);
    return type === 'boolean' ? 'number' : type;
  }
}

/** Compiles a query for a PostgreSQL-protocol database. Throws QueryError where it does not fit the dataset. */
export function compileQuery(dataset: Dataset, query: Query, relation?: Relation): Statement {
  return new Compiler(dataset, query, relation).statement();
}

/** Lists records by asking a PostgreSQL-protocol database, as `listRecords` of core does from columns. */
export async function listRecordsInDatabase(
  client: Queryable,
  dataset: Dataset,
  query: RecordQuery,
  relation?: Relation,
): Promise<RecordPage> {
  const whole: Query = { fact: query.fact, filter: query.filter, levels: [], sets: [[]], aggregates: [] };
  const { text, values } = new Compiler(dataset, whole, relation).records(query);
  const { rows } = (await client.query(text, values)) as { rows: Record<string, RecordValue>[] };
  // Past the last page there is no row to tell how many there are.
  const total = rows.length > 0 ? Number(rows[0].total) : (await runQueryInDatabase(client, dataset, whole, relation)).sets[0].records[0];
  return { total, rows: rows.map((row) => query.columns.map((_, index) => row[`v${index}`])) };
}

/** Codes the members of one level in natural order; numbers among them by value. */
function codeMembers(texts: Set<string>): { members: string[]; codes: Map<string, number> } {
  const numeric = [...texts].every((text) => /^-?\d+(\.\d+)?$/.test(text));
  const members = [...texts].sort(numeric ? (a, b) => Number(a) - Number(b) || compareText(a, b) : compareText);
  return { members, codes: new Map(members.map((member, index) => [member, index + 1])) };
}

const dayNumber = (value: unknown): number =>
  value instanceof Date ? Math.round((value.getTime() - value.getTimezoneOffset() * 60_000) / 86_400_000) : Number.NaN;

/** Groups that are taken from a database at most. */
const MOST_GROUPS = 1_000_000;

/**
 * The SQL runner: answers a query by asking a PostgreSQL-protocol database, with the same result as the columnar
 * runner in core, for data that stays where it is or is too big.
 */
export async function runQueryInDatabase(client: Queryable, dataset: Dataset, query: Query, relation?: Relation): Promise<QueryResult> {
  const compiler = new Compiler(dataset, query, relation);
  const statement = compiler.statement();
  const limited = `${statement.text} LIMIT ${MOST_GROUPS + 1}`;
  const { rows } = (await client.query(limited, statement.values)) as { rows: Record<string, unknown>[] };
  if (rows.length > MOST_GROUPS) throw new TooManyGroupsError(MOST_GROUPS);
  const { frame } = query;
  if (frame) nameTargets(dataset, query, frame, rows);
  const coded = query.levels.map((_, level) =>
    codeMembers(new Set(rows.map((row) => row[`l${level}`]).filter((text): text is string => typeof text === 'string'))),
  );
  // grouping() sets a bit for each level that a set leaves out, the first level being the highest bit.
  const used = levelsUsed(query);
  const maskOf = (set: number[]): number => used.reduce((mask, level) => mask * 2 + (set.includes(level) ? 0 : 1), 0);
  const sizes = new Map<number, number>();
  for (const { g } of rows) sizes.set(Number(g), (sizes.get(Number(g)) ?? 0) + 1);
  const groupsOf = (set: number): Record<string, unknown>[] => {
    const groups = rows.filter((row) => Number(row.g) === (frame ? set : maskOf(query.sets[set])));
    // The grand total exists even when no record is left; a frame joins nothing then.
    return frame && groups.length === 0 && query.sets[set].length === 0 ? [emptyTotal(query)] : groups;
  };
  refuseTooLarge(query.bounds, (set) => Math.max(1, sizes.get(maskOf(query.sets[set])) ?? 0));
  return {
    members: coded.map(({ members }) => members),
    sets: query.sets.map((set, index) => {
      const groups = groupsOf(index);
      return {
        levels: set,
        size: groups.length,
        keys: set.map((level) =>
          Int32Array.from(groups, (row) => {
            const text = row[`l${level}`];
            return text === null ? 0 : coded[level].codes.get(text as string)!;
          }),
        ),
        records: Float64Array.from(groups, (row) => Number(row.records)),
        values: query.aggregates.map((call, aggregate) =>
          valuesOf(
            compiler.valueType(call),
            groups.map((row) => row[`a${aggregate}`]),
          ),
        ),
      };
    }),
  };
}

/** Writes the members of each row's target where those of its levels stand. */
function nameTargets(dataset: Dataset, { levels, sets }: Query, frame: DateFrame, rows: Record<string, unknown>[]): void {
  const framed = sets.map((set) => set.filter((level) => isFramed(dataset, frame, levels[level])));
  for (const row of rows) {
    const { keys } = frame.sets[Number(row.g)][Number(row.target)];
    framed[Number(row.g)].forEach((level, index) => (row[`l${level}`] = keys[index]));
  }
}

const emptyTotal = ({ aggregates }: Query): Record<string, unknown> => ({
  records: 0,
  ...Object.fromEntries(aggregates.map(({ fn }, index) => [`a${index}`, AGGREGATES[fn].counts ? 0 : null])),
});

function valuesOf(type: AggregateValues['type'], column: unknown[]): AggregateValues {
  if (type === 'date') return { type, values: Float64Array.from(column, dayNumber) };
  if (type === 'number') {
    return { type, values: Float64Array.from(column, (value) => (value === null ? Number.NaN : Number(value))), scale: null };
  }
  const { members, codes } = codeMembers(new Set(column.filter((value): value is string => value !== null)));
  return { type, values: Float64Array.from(column, (value) => (value === null ? Number.NaN : codes.get(value as string)!)), members };
}
