import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { orderKey } from './natural-order.ts';

describe('the natural order of texts', () => {
  const collator = new Intl.Collator('en-GB', { numeric: true });
  const SIGNS = ' _-,;:!?.\'"()[]{}@*/\\&#%`^+<=>|~$';
  const letter = fc.constantFrom(...'abcxyzABCXYZ0019', ...SIGNS, 'é');
  const text = fc.string({ unit: letter, maxLength: 9 });

  it("is that of the platform's own collation (ICU), wherever two texts have keys that differ", () => {
    fc.assert(
      fc.property(text, text, (a, b) => {
        const [x, y] = [orderKey(a), orderKey(b)];
        if (x === null || y === null || x === y) return;
        expect(x < y ? -1 : 1, `${a} | ${b}`).toBe(Math.sign(collator.compare(a, b)));
      }),
      { numRuns: 20_000, seed: 5 },
    );
  });
  it('puts numbers in their order, signs before digits and digits before letters', () => {
    const byKey = (a: string, b: string): number => (orderKey(a)! < orderKey(b)! ? -1 : 1);
    expect(['Week 10', 'week 9', 'a', '7', '-', ' '].sort(byKey)).toEqual([' ', '-', '7', 'a', 'week 9', 'Week 10']);
    expect([orderKey('Ängelholm'), orderKey('1'.repeat(80))]).toEqual([null, null]);
  });
});
