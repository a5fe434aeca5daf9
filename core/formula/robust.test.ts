import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { datasetSchema } from '../model/index.ts';
import { workedDataset } from '../testing/worked-example.ts';
import { FormulaError, FUNCTION_HELP, parseFormula, planFormula, printFormula, stepsOf } from './index.ts';

const demo = {
  ...datasetSchema.parse(JSON.parse(readFileSync(new URL('../../demo/documents/dataset.json', import.meta.url), 'utf8'))),
  promptValues: { discount: { type: 'number' as const, value: 0.1 } },
};

/** The problem of a formula over the worked example; throws where there is none. */
function problemOf(formula: string): { code: string; at: string; message: string } {
  try {
    planFormula(workedDataset, formula, 'sales');
  } catch (error) {
    if (!(error instanceof FormulaError)) throw error;
    const { code, span } = error.problem;
    return { code, at: formula.slice(span.from, span.to), message: error.message };
  }
  throw new Error(`"${formula}" was not refused.`);
}

describe('the functions of the language', () => {
  it.each(FUNCTION_HELP.map(({ name, example }) => [name, example]))('%s: its example is a formula over the demo', (_name, example) => {
    expect(planFormula(demo, example, 'orders').cell).toBeDefined();
  });

  it.each(FUNCTION_HELP.map(({ name, signature, about, group }) => [name, signature, about, group]))(
    '%s says what it takes and gives',
    (name, signature, about, group) => {
      expect(signature).toContain(name);
      expect(about).toMatch(/\.$/);
      expect(group).not.toBe('');
    },
  );
});

describe('wrong formulas', () => {
  it.each([
    // Places
    ['net at', 'syntax', ''],
    ['net at 3', 'syntax', '3'],

    ['net at contry', 'unknown-name', 'contry'],
    ['net at quantity', 'not-a-level', 'quantity'],
    ['share(net, of: quantity)', 'not-a-level', 'quantity'],
    ['share(net, of: 3)', 'name-expected', '3'],
    ['share(net, to: total)', 'unknown-argument', 'to: total'],
    ['share()', 'argument-count', 'share()'],
    ['share(net, goal)', 'argument-count', 'share(net, goal)'],
    ['share(quantity)', 'record-value-in-measure', 'quantity'],
    ["share('x')", 'not-a-number', "'x'"],
    ['level_is(unit_price)', 'not-a-level', 'unit_price'],
    ['if(is_total(side), 1, 2)', 'word-expected', 'side'],
    ['is_total()', 'condition-as-value', 'is_total()'],
    // Periods
    ['net back', 'syntax', ''],
    ['net back year', 'syntax', 'year'],
    ['net back 1', 'syntax', ''],
    ['net back 1 yaer', 'duration-expected', '1 yaer'],
    ['net back 0 years', 'duration-expected', '0 years'],
    ['net back 1.5 years', 'duration-expected', '1.5 years'],
    ['net back 99999 years', 'duration-expected', '99999 years'],
    ['growth(net)', 'argument-count', 'growth(net)'],
    ['growth(net, 1)', 'duration-expected', '1'],
    ['growth(net, year)', 'duration-expected', 'year'],
    ['change(net, 1 year, 2)', 'argument-count', 'change(net, 1 year, 2)'],
    ['to_date(net)', 'argument-count', 'to_date(net)'],
    ['to_date(net, 1 year)', 'name-expected', '1 year'],
    ['to_date(net, week_day)', 'not-a-period', 'week_day'],
    ['to_date(net, region)', 'not-a-period', 'region'],
    ['rolling(net, 3)', 'duration-expected', '3'],
    ['rolling(quantity, 3 months)', 'record-value-in-measure', 'quantity'],
    ['periods()', 'argument-count', 'periods()'],
    ['periods(city)', 'not-a-period', 'city'],
    // Members
    ['avg(net per)', 'syntax', ')'],
    ['avg(net per quantity)', 'not-a-level', 'quantity'],
    ['avg(net per (month, quantity))', 'not-a-level', 'quantity'],
    ['avg(quantity per month)', 'record-value-in-measure', 'quantity'],
    ['mode(net per month)', 'not-a-member-aggregate', 'mode(net per month)'],
    ['avg(per month)', 'not-a-member-aggregate', 'avg(per month)'],
    ['percentile(net per month)', 'argument-count', 'percentile(net per month)'],
    ['percentile(net per month, 2)', 'fraction-out-of-range', '2'],
    ['count(per city where net)', 'not-a-condition', 'net'],
    ["count(per city where channel = 'Online')", 'record-value-in-measure', 'channel'],
    ['net per month', 'syntax', 'per'],
    // Positions
    ['rank()', 'argument-count', 'rank()'],
    ['rank(net, within: row)', 'word-expected', 'row'],
    ['rank(net, order: down)', 'word-expected', 'down'],
    ['rank(net, along: down)', 'unknown-argument', 'along: down'],
    ['moving_avg(net)', 'argument-count', 'moving_avg(net)'],
    ['moving_avg(net, 0)', 'whole-number-expected', '0'],
    ['moving_avg(net, 2.5)', 'whole-number-expected', '2.5'],
    ['running(median(quantity * 2))', 'running-aggregate', 'median(quantity * 2)'],
    ['running(mode(channel))', 'not-a-number', 'mode(channel)'],
    ['running(rank(net))', 'running-aggregate', 'rank(net)'],
    ['previous(net, along: parent)', 'word-expected', 'parent'],
    // Types
    ["net + 'x'", 'not-a-number', "'x'"],
    ["net = 'x'", 'types-differ', "net = 'x'"],
    ['if(net, 1, 2)', 'not-a-condition', 'net'],
    ["if(net > 1, 1, 'x')", 'types-differ', "if(net > 1, 1, 'x')"],
    ["case when net > 1 then 'a' else 2 end", 'types-differ', "case when net > 1 then 'a' else 2 end"],
    ["coalesce(net, 'x')", 'types-differ', "coalesce(net, 'x')"],
    ['not net', 'not-a-condition', 'net'],
    ['net and goal', 'not-a-condition', 'net'],
    ['net > 1', 'condition-as-value', 'net > 1'],
    ['upper(net)', 'value-expected', 'net'],
    ["'a' || net", 'value-expected', 'net'],
    ["date '2026-02-30'", 'value-expected', "date '2026-02-30'"],
    ["net like 'x'", 'value-expected', 'net'],
    ['sum(upper(channel))', 'not-a-number', 'upper(channel)'],
    // Conditions on fields
    ["sum(quantity where quantity = '1')", 'types-differ', "quantity = '1'"],
    ["sum(quantity where '1' < quantity)", 'types-differ', "'1' < quantity"],
    ['sum(quantity where channel = 1)', 'types-differ', 'channel = 1'],
    ["sum(quantity where channel in ('Online', 1))", 'types-differ', "channel in ('Online', 1)"],
    ["sum(quantity where quantity between 1 and 'x')", 'types-differ', "quantity between 1 and 'x'"],
    ['sum(quantity where day = 20260101)', 'types-differ', 'day = 20260101'],
    ["sum(quantity where quantity like '1%')", 'value-expected', 'quantity'],
    ["sum(quantity where contains(quantity, '1'))", 'value-expected', 'quantity'],
    // Values of records
    ['sum(quantity + channel)', 'not-a-number', 'channel'],
    ['count_distinct(upper(quantity))', 'value-expected', 'quantity'],
    ['sum(year(channel))', 'value-expected', 'channel'],
    ['sum(if(channel, 1, 0) * quantity)', 'not-a-condition', 'channel'],
    ["sum(if(channel = 'Online', 1, 'x'))", 'types-differ', "if(channel = 'Online', 1, 'x')"],
    ["count_distinct(date_trunc('yaer', date '2026-01-01'))", 'word-expected', "'yaer'"],
    ["count_distinct(date_trunc(channel, date '2026-01-01'))", 'word-expected', 'channel'],
    ['sum(quantity where channel = quantity)', 'types-differ', 'channel = quantity'],
    ['sum(quantity where channel)', 'not-a-condition', 'channel'],
    ['sum(coalesce())', 'argument-count', 'coalesce()'],
    ['sum(left(channel))', 'argument-count', 'left(channel)'],
    // Counts of arguments
    ['abs()', 'argument-count', 'abs()'],
    ['abs(net, 1)', 'argument-count', 'abs(net, 1)'],
    ['if(net > 1, 2)', 'argument-count', 'if(net > 1, 2)'],
    ['round(net, 1, 2)', 'argument-count', 'round(net, 1, 2)'],
    ['avg(unit_price, 2)', 'argument-count', 'avg(unit_price, 2)'],
    ['sum(quantity, weight: 2)', 'unknown-argument', 'weight: 2'],
    ['abs(net where quantity > 1)', 'condition-outside-aggregate', 'quantity > 1'],
    // Names
    ['nett', 'unknown-name', 'nett'],
    ['avrage(quantity)', 'unknown-function', 'avrage(quantity)'],
    ['growht(net, 1 year)', 'unknown-function', 'growht(net, 1 year)'],
    // Writing
    ['net net', 'syntax', 'net'],
    ['net +* goal', 'syntax', '*'],
    ['(net', 'syntax', ''],
    ['net)', 'syntax', ')'],
    ["'abc", 'syntax', "'"],
    ['"net', 'syntax', '"'],
    ['case net end', 'syntax', 'net'],
    ['case when net > 1 end', 'syntax', 'end'],
    ['where net > 1', 'syntax', 'where'],
    [';', 'syntax', ';'],
    ['net; drop table x', 'syntax', ';'],
  ])('%j: %s at %j', (formula, code, at) => {
    const problem = problemOf(formula);
    expect(problem).toMatchObject({ code, at });
    expect(problem.message).toMatch(/[.?]$/);
  });
});

describe('whatever is written', () => {
  const pieces = [
    ...[
      'net',
      'goal',
      'quantity',
      'city',
      'region',
      'month',
      'year',
      'channel',
      '"net"',
      '1',
      '2.50',
      "'x'",
      "date '2026-01-01'",
      'null',
      'true',
    ],
    ...[
      'sum(',
      'avg(',
      'share(',
      'rank(',
      'growth(',
      'if(',
      'count(',
      'case ',
      'when ',
      'then ',
      'else ',
      'end',
      '(',
      ')',
      ',',
      ':',
      ';',
      '"',
      "'",
    ],
    ...[
      ' + ',
      ' - ',
      ' * ',
      ' / ',
      ' ^ ',
      ' % ',
      ' || ',
      ' = ',
      ' < ',
      ' and ',
      ' or ',
      ' not ',
      ' at ',
      ' back ',
      ' per ',
      ' where ',
      ' in ',
      ' is null',
    ],
    ...[' of: ', ' within: ', ' 1 year', ' between ', ' like ', '--', '\n', 'é', '𝄞', '\u0000', '-', '.', '…'],
  ];
  const text = fc.oneof(
    { arbitrary: fc.array(fc.constantFrom(...pieces), { maxLength: 24 }).map((parts) => parts.join('')), weight: 4 },
    { arbitrary: fc.string({ maxLength: 60 }), weight: 1 },
    // A sound formula with something cut out of it.
    {
      arbitrary: fc
        .tuple(fc.constantFrom(...FUNCTION_HELP.map(({ example }) => example)), fc.nat(40), fc.nat(8), fc.constantFrom(...pieces))
        .map(([example, at, length, piece]) => example.slice(0, at) + piece + example.slice(at + length)),
      weight: 2,
    },
  );

  const RUNS = 30_000;
  it('is read, or refused with a place in it', () => {
    let sound = 0;
    fc.assert(
      fc.property(text, (formula) => {
        try {
          planFormula(demo, formula, 'orders');
          sound++;
          // What is sound is so too when it is printed, and has steps that end with itself.
          const printed = printFormula(parseFormula(formula));
          planFormula(demo, printed, 'orders');
          expect(printFormula(parseFormula(printed))).toBe(printed);
        } catch (error) {
          if (!(error instanceof FormulaError)) throw error;
          const { from, to } = error.problem.span;
          expect(from).toBeGreaterThanOrEqual(0);
          expect(to).toBeLessThanOrEqual(formula.length);
          expect(error.message.length).toBeGreaterThan(5);
        }
      }),
      { numRuns: RUNS, seed: 11 },
    );
    expect(sound / RUNS).toBeGreaterThan(0.01);
  }, 180_000);

  it('of ten thousand characters, or nested without end, answers at once', () => {
    const started = performance.now();
    const sum = Array.from({ length: 3_000 }, () => 'net').join('+');
    for (const formula of [
      sum,
      '('.repeat(5_000) + '1' + ')'.repeat(5_000),
      '-'.repeat(9_999) + '1',
      'not '.repeat(2_500) + 'true',
      'abs('.repeat(2_500),
    ])
      expect(() => planFormula(workedDataset, formula)).toThrow(FormulaError);
    const wide = `coalesce(${Array.from({ length: 19 }, () => `(${Array.from({ length: 120 }, () => 'net').join(' + ')})`).join(', ')})`;
    expect(wide.length).toBeGreaterThan(10_000);
    expect(planFormula(workedDataset, wide).aggregates).toHaveLength(1);
    // What uses its parts several times is refused before it is recalculated and again.
    const nested = (depth: number, wrap: (inner: string) => string): string => (depth === 0 ? 'net' : wrap(nested(depth - 1, wrap)));
    for (const wrap of [
      (inner: string) => `growth(${inner}, 1 year)`,
      (inner: string) => `cumulative_share(${inner})`,
      (inner: string) => `if(${inner} between 1 and 2, 1, 0)`,
      (inner: string) => `if(${inner} in (1, 2, 3), 1, 0)`,
    ])
      expect(() => planFormula(workedDataset, nested(60, wrap))).toThrow(/steps for each cell|running cannot/);
    const doubled = {
      ...workedDataset,
      measures: [
        ...workedDataset.measures,
        ...Array.from({ length: 60 }, (_, index) => ({
          ...{ ...workedDataset.measures[0], name: `m${index}`, fact: 'sales' },
          formula: index === 0 ? 'net' : `m${index - 1} + m${index - 1}`,
        })),
      ],
    };
    expect(() => planFormula(doubled, 'm59')).toThrow(/steps for each cell/);
    // A hundredfold of what it takes here.
    expect(performance.now() - started).toBeLessThan(20_000);
  });
});

describe('the steps of a formula', () => {
  it.each([
    ['growth(net, 1 year)', ['net back 1 year', 'net', 'growth(net, 1 year)']],
    ['share(net, of: total)', ['net at total', 'net', 'share(net, of: total)']],
    ['(net - goal) / goal', ['net', 'goal', 'net - goal', '(net - goal) / goal']],
    ["case when net >= goal then 'reached' else 'missed' end", ['goal', 'net', "case when net >= goal then 'reached' else 'missed' end"]],
    ['cumulative_share(net)', ['net', 'running(net)', 'cumulative_share(net)']],
    ['sum(quantity * unit_price)', ['sum(quantity * unit_price)']],
  ])('of %s', (formula, steps) => {
    expect([...stepsOf(parseFormula(formula))].sort()).toEqual([...steps].sort());
    expect(stepsOf(parseFormula(formula)).at(-1)).toBe(formula);
  });
});
