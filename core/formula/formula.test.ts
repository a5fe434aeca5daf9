import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cubeOf, withFormulas } from '../testing/formulas.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';
import { datasetSchema, type Dataset } from '../model/index.ts';
import { FormulaError, parseFormula, planFormula, planMeasure, printFormula, type Syntax } from './index.ts';

/** The value of a formula over all records of the worked example. */
async function valueOf(formula: string): Promise<number> {
  const cube = await cubeOf(withFormulas(workedDataset, [formula], 'sales'), workedStore(), { side: [], top: [], measures: [formula] });
  return cube.value(formula, 0, 0);
}

const span = { from: 0, to: 0 };
/** A formula without its places in the text. */
const bare = (node: Syntax): unknown =>
  JSON.parse(JSON.stringify(node, (key, value: unknown) => (key === 'span' || key === 'quoted' ? undefined : value)));

const text = fc.string({ maxLength: 6 }).filter((value) => !value.includes('\u0000'));
const name = fc.constantFrom('quantity', 'net sales', 'Order', 'date', 'über', 'x1');
const written = name.map((value) => ({ name: value, quoted: false, span }));
type Duration = Extract<Syntax, { kind: 'duration' }>;
const duration: fc.Arbitrary<Duration> = fc.record({
  ...{ kind: fc.constant('duration' as const), amount: fc.constantFrom('1', '12') },
  ...{ unit: fc.constantFrom('year', 'months'), span: fc.constant(span) },
});
const syntax: fc.Arbitrary<Syntax> = fc.letrec<{ node: Syntax; per: Syntax }>((tie) => ({
  per: fc.record({
    ...{ kind: fc.constant('per' as const), operand: fc.option(tie('node')) as fc.Arbitrary<Syntax | null> },
    ...{ levels: fc.array(written, { minLength: 1, maxLength: 2 }), span: fc.constant(span) },
  }),
  node: fc.oneof(
    { maxDepth: 4, depthSize: 'small' },
    fc.constantFrom('0', '12', '1.50').map((value): Syntax => ({ kind: 'number', text: value, span })),
    text.map((value): Syntax => ({ kind: 'text', value, span })),
    fc.constant<Syntax>({ kind: 'date', value: '2026-10-31', span }),
    fc.boolean().map((value): Syntax => ({ kind: 'boolean', value, span })),
    fc.constant<Syntax>({ kind: 'null', span }),
    name.map((value): Syntax => ({ kind: 'name', name: value, quoted: false, span })),
    fc.record({ kind: fc.constant('at' as const), operand: tie('node'), level: written, span: fc.constant(span) }),
    fc.record({ kind: fc.constant('back' as const), operand: tie('node'), duration, span: fc.constant(span) }),
    fc.record({
      kind: fc.constant('call' as const),
      named: fc.array(fc.record({ name: fc.constantFrom('of', 'along'), value: tie('node'), span: fc.constant(span) }), { maxLength: 1 }),
      name: fc.constantFrom('sum', 'if', 'count'),
      args: fc.array(fc.oneof({ arbitrary: tie('node'), weight: 4 }, duration, tie('per')), { maxLength: 3 }),
      where: fc.option(tie('node')),
      span: fc.constant(span),
    }),
    fc.record({ kind: fc.constantFrom('negative' as const, 'not' as const), operand: tie('node'), span: fc.constant(span) }),
    fc.record({
      kind: fc.constant('binary' as const),
      op: fc.constantFrom('^' as const, '*' as const, '/' as const, '%' as const, '+' as const, '-' as const, '||' as const),
      left: tie('node'),
      right: tie('node'),
      span: fc.constant(span),
    }),
    fc.record({
      kind: fc.constant('comparison' as const),
      op: fc.constantFrom('=' as const, '<>' as const, '<=' as const, '>' as const),
      left: tie('node'),
      right: tie('node'),
      span: fc.constant(span),
    }),
    fc.record({ kind: fc.constantFrom('and' as const, 'or' as const), left: tie('node'), right: tie('node'), span: fc.constant(span) }),
    fc.record({
      kind: fc.constant('in' as const),
      negated: fc.boolean(),
      operand: tie('node'),
      items: fc.array(tie('node'), { minLength: 1, maxLength: 3 }),
      span: fc.constant(span),
    }),
    fc.record({ kind: fc.constant('isNull' as const), negated: fc.boolean(), operand: tie('node'), span: fc.constant(span) }),
    fc.record({ kind: fc.constant('like' as const), negated: fc.boolean(), operand: tie('node'), pattern: text, span: fc.constant(span) }),
    fc.record({
      kind: fc.constant('between' as const),
      negated: fc.boolean(),
      operand: tie('node'),
      low: name.map((value): Syntax => ({ kind: 'name', name: value, quoted: false, span })),
      high: fc.constant<Syntax>({ kind: 'number', text: '5', span }),
      span: fc.constant(span),
    }),
    fc.record({
      kind: fc.constant('case' as const),
      branches: fc.array(fc.record({ when: tie('node'), then: tie('node') }), { minLength: 1, maxLength: 2 }),
      otherwise: fc.option(tie('node')),
      span: fc.constant(span),
    }),
  ),
})).node;

describe('reading and writing formulas', () => {
  it('come back the same after printing and parsing', () => {
    fc.assert(
      fc.property(syntax, (node) => {
        expect(bare(parseFormula(printFormula(node)))).toEqual(bare(node));
      }),
      { numRuns: 1_500, seed: 4 },
    );
  });

  it.each([
    ['1 + 2 * 3 ^ 2 ^ 2', 163],
    ['-2 ^ 2', -4],
    ['(1 + 2) * 3 - 4 / 2', 7],
    ['10 % 4 + 1', 3],
    ['2 - 3 - 4', -5],
  ])('%s is %d by the strength of its operators', async (formula, value) => {
    expect(await valueOf(formula)).toBe(value);
  });

  it('takes comments, and names and keywords in any case', () => {
    expect(planFormula(workedDataset, "SUM(Quantity WHERE Channel = 'Online') -- pieces").aggregates).toEqual([
      {
        fact: 'sales',
        call: { fn: 'sum', argument: { kind: 'field', name: 'quantity' }, where: { op: 'eq', field: 'channel', value: 'Online' } },
      },
    ]);
  });

  it('is parsed by the grammar as it is written down', () => {
    const output = join(mkdtempSync(join(tmpdir(), 'grammar-')), 'parser.js');
    const folder = new URL('.', import.meta.url).pathname;
    execFileSync(join(folder, '../../node_modules/.bin/lezer-generator'), [join(folder, 'formula.grammar'), '-o', output], {
      stdio: 'pipe',
    });
    expect(readFileSync(join(folder, 'grammar/parser.js'), 'utf8')).toBe(readFileSync(output, 'utf8'));
  });
});

/** The problem that a formula is refused with, and the text it points at. */
function problemOf(formula: string, dataset: Dataset = workedDataset): { code: string; at: string; message: string } {
  try {
    planFormula(dataset, formula);
  } catch (error) {
    if (error instanceof FormulaError) {
      const { from, to } = error.problem.span;
      return { code: error.problem.code, at: formula.slice(from, to), message: error.message };
    }
    throw error;
  }
  throw new Error(`"${formula}" was not refused.`);
}

describe('refusing formulas', () => {
  it.each([
    ['', 'empty', ''],
    ['sum(quantity', 'syntax', ''],
    ['sum(quantity))', 'syntax', ')'],
    ['sum(quantity) +', 'syntax', ''],
    ['sum(quantty)', 'unknown-name', 'quantty'],
    ['summ(quantity)', 'unknown-function', 'summ(quantity)'],
    ['quantity / 2', 'record-value-in-measure', 'quantity'],
    ['sum(net)', 'aggregate-in-record', 'net'],
    ['sum(avg(quantity))', 'aggregate-in-record', 'avg(quantity)'],
    ['percentile(quantity, 2)', 'fraction-out-of-range', '2'],
    ['percentile(quantity)', 'argument-count', 'percentile(quantity)'],
    ['coalesce(net where quantity > 1)', 'condition-outside-aggregate', 'quantity > 1'],
    ['sum(quantity where 1 + 2)', 'not-a-condition', '1 + 2'],
    ['sum(quantity + target)', 'several-facts', 'sum(quantity + target)'],
    ['count()', 'no-fact', 'count()'],
    ['max(channel) + 1', 'not-a-number', 'max(channel)'],
    ["'text' * 2", 'not-a-number', "'text'"],
  ])('%j: %s at %j', (formula, code, at) => {
    const problem = problemOf(formula);
    expect(problem).toMatchObject({ code, at });
    expect(problem.message).toMatch(/[.?]$/);
  });

  it('offers the nearest known name', () => {
    expect(problemOf('sum(quantty)').message).toContain('Did you mean quantity?');
    expect(problemOf('cuont(city)').message).toContain('Did you mean count?');
  });

  it('names a cycle among measures in full', () => {
    const dataset = datasetSchema.parse({
      ...workedDataset,
      measures: [
        { name: 'a', label: 'A', formula: 'b + 1' },
        { name: 'b', label: 'B', formula: 'c * 2' },
        { name: 'c', label: 'C', formula: 'a' },
      ],
    });
    expect(() => planMeasure(dataset, 'b')).toThrow('These measures need each other: b → c → a → b.');
  });
});

describe('arithmetic over measures', () => {
  // Net is 3250 over both years; there is no record in the channel "Mail".
  it.each([
    ['net / (goal - 2000)', Number.NaN],
    ["sum(quantity where channel = 'Mail') + net", Number.NaN],
    ["coalesce(sum(quantity where channel = 'Mail'), 0) + net", 3250],
    ['if(net > 3000, 1, 2)', 1],
    ['if(net > 4000, 1, 2)', 2],
    // Where a condition is unknown there is no value, whatever "else" says.
    ["if(sum(quantity where channel = 'Mail') > 0, 1, 2)", Number.NaN],
    ["case when sum(quantity where channel = 'Mail') > 0 then 1 when net > 4000 then 2 else 3 end", 3],
    ['case when net > 4000 then 2 end', Number.NaN],
    ['if(net in (1, 3250) and not (net between 1 and 2), 1, 0)', 1],
    ["if('Nordic' like 'No%' and contains('Nordic', 'ord') and starts_with('Nordic', 'No'), length('Åre'), 0)", 3],
    ["if(date '2026-02-28' < date '2026-03-01', 1, 0)", 1],
    ['round(2.675, 2)', 2.68],
    ['round(-2.5)', -3],
    ['abs(-3) + floor(2.7) + ceil(2.1) + sign(-9) + power(2, 3) + sqrt(16)', 19],
    ['least(3, 1, 2) + greatest(3, 1, 2)', 4],
    ['least(3, null)', Number.NaN],
    ['ln(exp(2))', 2],
    ['sqrt(-1)', Number.NaN],
    ['avg(unit_price, weight: quantity)', 162.5],
    // Stockholm 500, Malmö 900, Aarhus 450, Lyon 1400.
    ["sum(quantity * unit_price where starts_with(upper(city), 'MAL') or length(city) = 4)", 2300],
    ['sum(if(unit_price * quantity >= 500, 1, 0))', 3],
    ["count_distinct(if(channel = 'Online', left(city, 1), 'rest'))", 4],
    ["sum(case when city = replace('Xyon', 'X', 'L') then round(unit_price / 7, 2) end)", 135.72],
    ['sum(greatest(quantity, 2) * least(unit_price, 100))', 1_750],
    ['sum(quantity where channel > city)', 15],
  ])('%s is %d', async (formula, value) => {
    expect(await valueOf(formula)).toBe(value);
  });

  it('asks for each aggregate once', () => {
    expect(planFormula(workedDataset, '(net - sum(target)) / net + net').aggregates).toHaveLength(2);
  });
});
