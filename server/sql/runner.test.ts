import {
  canSplit,
  countShared,
  planQuery,
  runQuery,
  runSplitQuery,
  type AggregateCall,
  type Query,
  type QueryResult,
  type RecordExpression,
  type RecordScalarName,
  type RecordRange,
  type Store,
} from '@bold-compass/core/engine';
import { datasetSchema, periodSchema, type Dataset, type Filter } from '@bold-compass/core/model';
import fc from 'fast-check';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { testDatabase, type TestDatabase } from '../../demo/testing/database.ts';
import { loadStore } from '../data/loader.ts';
import { runQueryInDatabase } from './runner.ts';

/**
 * The columnar runner against PostgreSQL's own GROUPING SETS, percentile_cont, mode, stddev and the others, on random
 * records with missing values, duplicates, Unicode texts, unmatched keys and empty groups.
 */

const dataset: Dataset = datasetSchema.parse({
  schemaVersion: 1,
  name: 'random',
  label: 'Random records',
  dimensions: [
    {
      kind: 'table',
      name: 'places',
      label: 'Places',
      table: 'places',
      key: 'place_id',
      levels: [
        { name: 'region', label: 'Region', plural: 'regions', column: 'region', type: 'text' },
        { name: 'told', label: 'Place, told', plural: 'places', column: 'told', type: 'text', within: 'place' },
        { name: 'place', label: 'Place', plural: 'places', column: 'place', type: 'text' },
      ],
      attributes: [{ name: 'rent', label: 'Rent', column: 'rent', type: 'decimal', scale: 1 }],
    },
    {
      kind: 'calendar',
      name: 'calendar',
      label: 'Calendar',
      yearStart: 4,
      levels: periodSchema.options.map((period) => ({
        name: period,
        label: period,
        plural: period,
        period,
      })),
    },
  ],
  facts: [
    {
      name: 'facts',
      label: 'Facts',
      record: { one: 'fact', many: 'facts' },
      table: 'facts',
      links: [
        { dimension: 'places', column: 'place_id' },
        { dimension: 'calendar', column: 'happened' },
      ],
      fields: [
        { name: 'word', label: 'Word', column: 'word', type: 'text' },
        { name: 'happened', label: 'Happened', column: 'happened', type: 'date' },
        { name: 'number', label: 'Number', column: 'number', type: 'integer' },
        { name: 'price', label: 'Price', column: 'price', type: 'decimal', scale: 2 },
        { name: 'sure', label: 'Sure', column: 'sure', type: 'boolean' },
        {
          ...{ name: 'worked_out', label: 'Calculated', column: 'calculated', type: 'decimal', scale: 2 },
          formula: 'price * 1.5 - coalesce(number, 0)',
        },
      ],
    },
  ],
  measures: [],
});

interface RandomFact {
  place: number | null;
  happened: string | null;
  word: string | null;
  number: number | null;
  price: number | null;
  sure: boolean | null;
}

// Twice one of the long ones is longer than a formula's text may be, twice the other is just not.
const LONG = ['å'.repeat(5_001), '𝄞'.repeat(5_000)];
const WORDS = ['a', 'A', 'ä', 'aa', 'Åre', 'émile', '', ' ', '東京', '𝄞', '\uffee', "it's", '50%', 'under_score', 'back\\slash', ...LONG];
const orNull = <Value>(arbitrary: fc.Arbitrary<Value>): fc.Arbitrary<Value | null> => fc.option(arbitrary, { freq: 5, nil: null });
const dayText = fc
  .integer({ min: -400, max: 800 })
  .map((offset) => new Date(Date.UTC(2024, 11, 25) + offset * 86_400_000).toISOString().slice(0, 10));
const randomFact: fc.Arbitrary<RandomFact> = fc.record({
  // Key 99 matches no place.
  place: orNull(fc.constantFrom(1, 2, 3, 4, 5, 99)),
  happened: orNull(dayText),
  word: orNull(fc.constantFrom(...WORDS)),
  number: orNull(fc.integer({ min: -50, max: 3_000_000_000 })),
  price: orNull(fc.integer({ min: -99_999, max: 9_999_999 })),
  sure: orNull(fc.boolean()),
});

const field = (name: string): RecordExpression => ({ kind: 'field', name });
const constant = (value: number, scale: number): RecordExpression => ({ kind: 'constant', value, scale });
const applied = (fn: RecordScalarName, scale: number | null, ...args: fc.Arbitrary<RecordExpression>[]): fc.Arbitrary<RecordExpression> =>
  fc.tuple(...args).map((own): RecordExpression => ({ kind: 'apply', fn, args: own, scale }));
const text = (...values: string[]): fc.Arbitrary<RecordExpression> =>
  fc.constantFrom(...values).map((value): RecordExpression => ({ kind: 'text', value }));
/** Texts of records, calculated. */
const texts: fc.Arbitrary<RecordExpression> = fc.letrec<{ text: RecordExpression }>((tie) => ({
  text: fc.oneof(
    { maxDepth: 2, depthSize: 'small' },
    fc.constantFrom(field('word'), field('place'), field('month')),
    text('a', '', 'Å', '50%'),
    ...(['upper', 'lower', 'trim'] as const).map((fn) => applied(fn, null, tie('text'))),
    ...(['left', 'right'] as const).map((fn) =>
      applied(fn, null, tie('text'), fc.constantFrom(constant(1, 0), constant(2, 0), constant(-1, 0))),
    ),
    applied('||', null, tie('text'), tie('text')),
    applied('replace', null, tie('text'), text('a', '', 'Ort', 'å'), text('b', '', 'åa')),
    applied('coalesce', null, tie('text'), text('none')),
  ),
})).text;
const dates: fc.Arbitrary<RecordExpression> = fc.oneof(
  fc.constant(field('happened')),
  fc.constantFrom(19_700, 20_085).map((day): RecordExpression => ({ kind: 'date', day })),
  applied('date_trunc', 0, text('year', 'quarter', 'month', 'week', 'day'), fc.constant(field('happened'))),
  applied('add_days', 0, fc.constant(field('happened')), fc.constantFrom(constant(40, 0), constant(-7, 0))),
  applied('add_months', 0, fc.constant(field('happened')), fc.constantFrom(constant(1, 0), constant(-13, 0))),
);
/** Conditions that no document could hold. */
const tested: fc.Arbitrary<RecordExpression> = fc.letrec<{ test: RecordExpression }>((tie) => ({
  test: fc.oneof(
    { maxDepth: 2, depthSize: 'small' },
    fc.constantFrom('=', '<>', '<', '<=', '>', '>=').chain((op) => fc.oneof(applied(op, 0, texts, texts), applied(op, 0, dates, dates))),
    applied('>', 0, fc.constant(field('number')), fc.constant(field('price'))),
    ...(['contains', 'starts_with'] as const).map((fn) => applied(fn, 0, texts, texts)),
    applied('like', 0, texts, text('%a%', '_', 'A%')),
    applied('missing', 0, fc.constantFrom(field('word'), field('number'), field('happened'))),
    applied('not', 0, tie('test')),
    ...(['and', 'or'] as const).map((fn) => applied(fn, 0, tie('test'), tie('test'))),
  ),
})).test;
const numbers: fc.Arbitrary<RecordExpression> = fc.letrec<{ expression: RecordExpression }>((tie) => ({
  expression: fc.oneof(
    { maxDepth: 2, depthSize: 'small' },
    fc.constantFrom(field('number'), field('price'), field('worked_out'), field('rent'), constant(1.5, 1), constant(0, 0)),
    fc.record({ kind: fc.constant('negate' as const), operand: tie('expression') }),
    fc.record({
      kind: fc.constant('arithmetic' as const),
      op: fc.constantFrom('+' as const, '-' as const),
      left: tie('expression'),
      right: tie('expression'),
    }),
    fc.record({
      kind: fc.constant('arithmetic' as const),
      op: fc.constant('*' as const),
      left: tie('expression'),
      right: fc.constant(field('rent')),
    }),
    fc.record({
      kind: fc.constant('arithmetic' as const),
      op: fc.constant('/' as const),
      left: tie('expression'),
      right: fc.constantFrom(field('rent'), constant(0, 0), constant(4, 0)),
    }),
    fc.record({ kind: fc.constant('coalesce' as const), items: fc.tuple(field2('price'), tie('expression')).map((pair) => [...pair]) }),
    applied('abs', null, tie('expression')),
    applied('floor', 0, tie('expression')),
    applied('sign', 0, tie('expression')),
    applied('round', 1, tie('expression'), fc.constant(constant(1, 0))),
    applied('greatest', null, tie('expression'), tie('expression')),
    applied('least', null, tie('expression'), fc.constant(field('number'))),
    applied('length', 0, texts),
    ...(['year', 'quarter', 'month', 'day', 'iso_week', 'iso_year', 'weekday'] as const).map((fn) => applied(fn, 0, dates)),
    applied('days_between', 0, dates, dates),
    fc.record({
      kind: fc.constant('choose' as const),
      when: fc.oneof(
        fc.constant<Filter>({ op: 'eq', field: 'sure', value: true }),
        fc.record({ op: fc.constant('test' as const), expression: tested }),
      ),
      then: tie('expression'),
      otherwise: orNull(tie('expression')),
    }),
  ),
})).expression;
function field2(name: string): fc.Arbitrary<RecordExpression> {
  return fc.constant(field(name));
}

const leaf: fc.Arbitrary<Filter> = fc.oneof(
  fc.record({
    op: fc.constantFrom('eq' as const, 'ne' as const, 'lt' as const, 'le' as const, 'gt' as const, 'ge' as const),
    field: fc.constantFrom('word', 'region'),
    value: fc.constantFrom(...WORDS),
  }),
  fc.record({
    op: fc.constantFrom('eq' as const, 'ne' as const, 'lt' as const, 'ge' as const),
    field: fc.constantFrom('number', 'price', 'rent'),
    value: fc.constantFrom(0, -3, 12.5, 20_000),
  }),
  fc.record({
    op: fc.constantFrom('in' as const, 'notIn' as const),
    field: fc.constantFrom('word', 'place', 'year', 'month'),
    values: fc.array(fc.constantFrom('a', 'Åre', '𝄞', '2024', '2025-01', 'Ort 3'), { maxLength: 3 }),
  }),
  fc.record({ op: fc.constant('between' as const), field: fc.constant('happened'), low: dayText, high: dayText }),
  fc.record({ op: fc.constant('between' as const), field: fc.constant('price'), low: fc.constant(-10), high: fc.constant(500) }),
  fc.record({
    op: fc.constant('like' as const),
    field: fc.constant('word'),
    value: fc.constantFrom('%a%', '_', 'A%', '50\\%', 'under\\_%', '%\\\\%'),
  }),
  fc.record({
    op: fc.constantFrom('contains' as const, 'includes' as const, 'startsWith' as const),
    field: fc.constantFrom('word', 'place', 'happened'),
    value: fc.constantFrom('a', 'O', '', '%', 'Å', '2025', '-0'),
  }),
  fc.record({
    op: fc.constantFrom('empty' as const, 'notEmpty' as const),
    field: fc.constantFrom('word', 'number', 'region', 'month', 'sure'),
  }),
  fc.record({ op: fc.constant('eq' as const), field: fc.constant('sure'), value: fc.boolean() }),
);
const filter: fc.Arbitrary<Filter> = fc.letrec<{ filter: Filter }>((tie) => ({
  filter: fc.oneof(
    { maxDepth: 3, depthSize: 'small' },
    leaf,
    fc.record({ op: fc.constantFrom('and' as const, 'or' as const), items: fc.array(tie('filter'), { maxLength: 3 }) }),
    fc.record({ op: fc.constant('not' as const), item: tie('filter') }),
  ),
})).filter;

const aggregate: fc.Arbitrary<AggregateCall> = fc.oneof(
  fc.record({
    fn: fc.constantFrom(
      'sum' as const,
      'avg' as const,
      'min' as const,
      'max' as const,
      'median' as const,
      'stddev' as const,
      'stddev_pop' as const,
      'variance' as const,
      'var_pop' as const,
    ),
    argument: numbers,
    where: orNull(leaf),
  }),
  fc.record({
    fn: fc.constant('percentile' as const),
    argument: numbers,
    where: orNull(leaf),
    fraction: fc.constantFrom(0, 0.1, 0.5, 0.9, 1),
  }),
  fc.record({
    fn: fc.constantFrom('count' as const, 'count_distinct' as const, 'min' as const, 'max' as const, 'mode' as const),
    argument: fc.oneof(fc.constantFrom(field('word'), field('happened'), field('price'), field('number')), texts, dates),
    where: orNull(fc.oneof(leaf, fc.record({ op: fc.constant('test' as const), expression: tested }))),
  }),
  fc.record({
    fn: fc.constant('count_distinct' as const),
    argument: fc.constantFrom(field('region'), field('month')),
    where: orNull(leaf),
  }),
  fc.record({ fn: fc.constant('count' as const), argument: fc.constant(null), where: orNull(leaf) }),
);

const LEVELS = ['region', 'told', 'place', 'word', 'sure', 'number', ...periodSchema.options];
const query: fc.Arbitrary<Query> = fc
  .record({
    filter: orNull(filter),
    levels: fc.uniqueArray(fc.constantFrom(...LEVELS), { maxLength: 4 }),
    aggregates: fc.array(aggregate, { minLength: 1, maxLength: 5 }),
  })
  .chain((parts) =>
    fc
      .uniqueArray(fc.subarray(parts.levels.map((_, level) => level)), { minLength: 1, maxLength: 5, selector: (set) => set.join() })
      .map((sets) => ({ fact: 'facts', ...parts, sets })),
  );

const dayNumber = (iso: string): number => Date.parse(iso) / 86_400_000;
/** Disjoint ranges of days, in order. */
const ranges = fc.uniqueArray(dayText, { maxLength: 6 }).map((days) => {
  const sorted = days.map(dayNumber).sort((a, b) => a - b);
  return sorted.flatMap((first, index) => (index % 2 === 0 && index + 1 < sorted.length ? [{ first, last: sorted[index + 1] }] : []));
});

/** The same question with days that count in other periods than their own, in several or in none. */
const framedQuery: fc.Arbitrary<Query> = query.chain((one) => {
  const calendar = 'calendar';
  const framedIn = (set: number[]): number =>
    set.filter((level) => periodSchema.options.some((period) => period === one.levels[level] && period !== 'weekday')).length;
  const targets = one.sets.map((set) => {
    const periods = framedIn(set);
    return fc
      .array(ranges, { maxLength: periods === 0 ? 1 : 4 })
      .map((all) =>
        all.map((own, target) => ({ keys: Array.from({ length: periods }, (_, at) => `${at === 0 ? target : target % 2}`), ranges: own })),
      );
  });
  return fc.tuple(...targets).map((sets) => ({ ...one, frame: { calendar, sets } }));
});

/** A result as texts that do not depend on codes or order: per set, per group, the records and values. */
function readable(result: QueryResult): { set: number[]; groups: Map<string, (number | string | null)[]> }[] {
  return result.sets.map((set) => ({
    set: set.levels,
    groups: new Map(
      Array.from({ length: set.size }, (_, group) => {
        const members = set.keys.map((codes, position) =>
          codes[group] === 0 ? null : result.members[set.levels[position]][codes[group] - 1],
        );
        const values = set.values.map((column) => {
          const value = column.values[group];
          if (Number.isNaN(value)) return null;
          return column.type === 'text' ? column.members[value - 1] : value;
        });
        return [JSON.stringify(members), [set.records[group], ...values]] as const;
      }),
    ),
  }));
}

/** Exact for whole numbers and texts; floats to 11 digits of the largest value that went into them. */
function agree(ours: number | string | null, theirs: number | string | null): boolean {
  if (typeof ours !== 'number' || typeof theirs !== 'number') return ours === theirs;
  return ours === theirs || Math.abs(ours - theirs) <= 1e-11 * Math.max(Math.abs(ours), Math.abs(theirs)) + 1e-6;
}

describe('the two runners', () => {
  let database: TestDatabase;
  let client: pg.Client;

  beforeAll(async () => {
    database = await testDatabase('empty');
    client = new pg.Client({ connectionString: database.url });
    await client.connect();
    await client.query(`
      CREATE SCHEMA imported;
      CREATE TABLE imported.places (place_id integer PRIMARY KEY, region text, place text, rent numeric(10,1));
      INSERT INTO imported.places VALUES (1, 'a', 'Ort 1', 10.5), (2, 'a', 'Ort 2', NULL), (3, 'Åre', 'Ort 3', 0), (4, NULL, 'Ort 3', -2.5), (5, 'leer', NULL, 7);
      CREATE TABLE imported.facts (place_id integer, happened date, word text, number bigint, price numeric(12,2), sure boolean);`);
  });
  afterAll(async () => {
    await client.end();
    await database.drop();
  });

  async function storeOf(facts: RandomFact[]): Promise<Store> {
    await client.query('TRUNCATE imported.facts');
    const column = <Key extends keyof RandomFact>(key: Key): unknown[] =>
      facts.map((fact) => (key === 'price' && fact.price !== null ? (fact.price / 100).toFixed(2) : fact[key]));
    await client.query(
      'INSERT INTO imported.facts SELECT * FROM unnest($1::int[], $2::date[], $3::text[], $4::bigint[], $5::numeric[], $6::boolean[])',
      [column('place'), column('happened'), column('word'), column('number'), column('price'), column('sure')],
    );
    return loadStore(client, dataset, 'random@1');
  }

  it('agree on random questions about random records', async () => {
    let split = 0;
    await fc.assert(
      fc.asyncProperty(
        fc.array(randomFact, { maxLength: 60 }),
        fc.array(fc.oneof(query, framedQuery), { minLength: 4, maxLength: 8 }),
        async (facts, queries) => {
          const store = await storeOf(facts);
          for (const one of queries) {
            const answer = runQuery(dataset, store, one);
            const plan = planQuery(dataset, store, one);
            // Counted in parts that are put together, every digit and every group stands where it stood.
            if (canSplit(plan)) {
              const elsewhere = (range: RecordRange) => Promise.resolve(countShared(dataset, store, one, range));
              expect(await runSplitQuery(plan, elsewhere, 3)).toEqual(answer);
              split++;
            }
            const ours = readable(answer);
            const theirs = readable(await runQueryInDatabase(client, dataset, one));
            expect(ours.map(({ set }) => set)).toEqual(theirs.map(({ set }) => set));
            ours.forEach(({ set, groups }, index) => {
              const expected = theirs[index].groups;
              expect([...groups.keys()].sort(), `groups of set [${set.join()}]`).toEqual([...expected.keys()].sort());
              for (const [key, values] of groups) {
                values.forEach((value, position) => {
                  if (!agree(value, expected.get(key)![position])) {
                    const what = position === 0 ? 'records' : JSON.stringify(one.aggregates[position - 1]);
                    expect.fail(`${what} in ${key} of set [${set.join()}]: columnar ${value}, PostgreSQL ${expected.get(key)![position]}`);
                  }
                });
              }
            });
          }
        },
      ),
      { numRuns: 120, seed: 20261031 },
    );
    expect(split).toBeGreaterThan(200);
  });

  it('know no day where PostgreSQL has infinity', async () => {
    await storeOf([{ place: 1, happened: '2025-05-05', word: 'a', number: 1, price: 100, sure: true }]);
    await client.query(`INSERT INTO imported.facts SELECT 1, d::date, 'b', 2, 2, true FROM unnest(ARRAY['infinity', '-infinity']) AS d`);
    const store = await loadStore(client, dataset, 'random@infinity');
    expect(store.calendar.days).toBe(1);
    const one: Query = {
      fact: 'facts',
      filter: null,
      levels: ['month'],
      sets: [[0], []],
      aggregates: [{ fn: 'count', argument: null, where: null }],
    };
    const expected = new Map([
      ['["2025-05"]', [1, 1]],
      ['[null]', [2, 2]],
    ]);
    expect(readable(runQuery(dataset, store, one))[0].groups).toEqual(expected);
    expect(readable(await runQueryInDatabase(client, dataset, one))[0].groups).toEqual(expected);
  });

  it('gives the grand total one group even when no record is left', async () => {
    const store = await storeOf([]);
    const one: Query = {
      fact: 'facts',
      filter: null,
      levels: [],
      sets: [[]],
      aggregates: [
        { fn: 'sum', argument: field('price'), where: null },
        { fn: 'count', argument: null, where: null },
      ],
    };
    expect(readable(runQuery(dataset, store, one))[0].groups.get('[]')).toEqual([0, null, 0]);
    expect(readable(await runQueryInDatabase(client, dataset, one))[0].groups.get('[]')).toEqual([0, null, 0]);
  });

  it('binds what users write and never pastes it in', async () => {
    await storeOf([{ place: 1, happened: null, word: "x'; DROP TABLE imported.facts; --", number: 1, price: 1, sure: null }]);
    const one: Query = {
      fact: 'facts',
      filter: { op: 'eq', field: 'word', value: "x'; DROP TABLE imported.facts; --" },
      levels: ['word'],
      sets: [[0]],
      aggregates: [],
    };
    expect((await runQueryInDatabase(client, dataset, one)).sets[0].records[0]).toBe(1);
    expect((await client.query('SELECT count(*)::int AS n FROM imported.facts')).rows[0].n).toBe(1);
  });
});
