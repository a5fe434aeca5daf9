import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseFormula, printFormula } from './index.ts';
import type { Syntax } from './syntax.ts';

/** Syntax trees over every kind of node in every position, without the places in a text that they never stood in. */
type Bare = Record<string, unknown>;

const bare = (value: unknown): unknown => {
  if (Array.isArray(value)) return value.map(bare);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(Object.entries(value).flatMap(([key, part]) => (key === 'span' ? [] : [[key, bare(part)]])));
};

const name = fc.constantFrom<Bare>(
  { kind: 'name', name: 'net_sales', quoted: false },
  { kind: 'name', name: 'größe', quoted: false },
  { kind: 'name', name: 'two words', quoted: true },
  { kind: 'name', name: 'between', quoted: true },
  { kind: 'name', name: 'quote"inside', quoted: true },
);
const level = fc.constantFrom<Bare>({ name: 'month', quoted: false }, { name: 'parent', quoted: true }, { name: 'A level', quoted: true });
const duration = fc.record({
  kind: fc.constant('duration'),
  amount: fc.constantFrom('1', '12', '40'),
  unit: fc.constantFrom('year', 'month', 'day'),
});
const text = fc.constantFrom('', "it's", 'a--b', '%_');
const trees = fc.letrec<{ any: Bare }>((tie) => {
  const any = tie('any');
  const node = (kind: string, parts: Record<string, fc.Arbitrary<unknown>>): fc.Arbitrary<Bare> =>
    fc.record({ kind: fc.constant(kind), ...parts });
  const argument = fc.oneof(
    { weight: 4, arbitrary: any },
    { weight: 1, arbitrary: duration },
    { weight: 1, arbitrary: node('per', { operand: fc.option(any), levels: fc.array(level, { minLength: 1, maxLength: 2 }) }) },
  );
  return {
    any: fc.oneof(
      { maxDepth: 5, depthSize: 'medium' },
      name,
      node('number', { text: fc.constantFrom('0', '12', '0.5', '1.25') }),
      node('text', { value: text }),
      node('date', { value: fc.constant('2026-10-31') }),
      node('boolean', { value: fc.boolean() }),
      fc.constant<Bare>({ kind: 'null' }),
      node('negative', { operand: any }),
      node('binary', { op: fc.constantFrom('+', '-', '||', '*', '/', '%', '^'), left: any, right: any }),
      node('comparison', { op: fc.constantFrom('=', '<>', '<', '<=', '>', '>='), left: any, right: any }),
      node('in', { negated: fc.boolean(), operand: any, items: fc.array(any, { minLength: 1, maxLength: 3 }) }),
      node('between', { negated: fc.boolean(), operand: any, low: any, high: any }),
      node('isNull', { negated: fc.boolean(), operand: any }),
      node('like', { negated: fc.boolean(), operand: any, pattern: text }),
      node('not', { operand: any }),
      node('and', { left: any, right: any }),
      node('or', { left: any, right: any }),
      node('at', { operand: any, level }),
      node('back', { operand: any, duration }),
      node('case', {
        branches: fc.array(fc.record({ when: any, then: any }), { minLength: 1, maxLength: 2 }),
        otherwise: fc.option(any),
      }),
      node('call', {
        name: fc.constantFrom('sum', 'share', 'rank'),
        args: fc.array(argument, { maxLength: 2 }),
        named: fc.array(fc.record({ name: fc.constantFrom('of', 'within'), value: any }), { maxLength: 1 }),
        where: fc.option(any),
      }),
    ),
  };
}).any;

describe('a formula that is printed', () => {
  it('is the same when it is read again, whatever stands inside what', () => {
    const kinds = new Set<string>();
    fc.assert(
      fc.property(trees, (tree) => {
        const printed = printFormula(tree as unknown as Syntax);
        const read = bare(parseFormula(printed));
        expect(read, printed).toEqual(tree);
        // What is printed once is printed the same way ever after.
        expect(printFormula(read as Syntax)).toBe(printed);
        kinds.add(String(tree.kind));
      }),
      { numRuns: 3_000, seed: 77 },
    );
    expect(kinds.size).toBeGreaterThan(17);
  });

  it.each([
    ['a between 1 and m back 1 year', 'a between 1 and m back 1 year'],
    ['a between 1 and (m back 1 year)', 'a between 1 and m back 1 year'],
    ['(a between 1 and m) back 1 year', '(a between 1 and m) back 1 year'],
    ['a between b + 1 and c * 2 and d > 0', 'a between b + 1 and c * 2 and d > 0'],
    ['a between (b and c) and (d or e)', 'a between (b and c) and (d or e)'],
    ['a between m at parent and -m ^ 2', 'a between m at parent and -m ^ 2'],
    ['a between (b = c) and 2', 'a between (b = c) and 2'],
  ])('%s has the brackets that it needs: %s', (written, printed) => {
    expect(printFormula(parseFormula(written))).toBe(printed);
  });
});
