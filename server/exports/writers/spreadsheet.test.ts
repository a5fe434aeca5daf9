import fc from 'fast-check';
import { cellText } from '@bold-compass/core/format';
import { numberFormatSchema } from '@bold-compass/core/model';
import { describe, expect, it } from 'vitest';
import { formatCode, sheetName } from './spreadsheet.ts';

/** Names and formats by the rules of ECMA-376. */
describe('names of sheets', () => {
  it('are what the format takes, each once whatever the case', () => {
    const taken = new Set<string>();
    const names = ['Sales', 'SALES', 'a/b\\c?d*e[f]g:h', "'quoted'", '', '  ', 'x'.repeat(40), 'x'.repeat(40)].map((title) =>
      sheetName(title, taken),
    );
    expect(names).toEqual(['Sales', 'SALES 2', 'a b c d e f g h', 'quoted', 'Sheet', 'Sheet 2', 'x'.repeat(31), `${'x'.repeat(29)} 2`]);
  });
  it('are so for any titles', () => {
    fc.assert(
      fc.property(fc.array(fc.string({ unit: 'binary', maxLength: 60 }), { maxLength: 12 }), (titles) => {
        const taken = new Set<string>();
        const names = titles.map((title) => sheetName(title, taken));
        expect(new Set(names.map((name) => name.toLowerCase())).size).toBe(names.length);
        for (const name of names) {
          expect(name.length).toBeGreaterThan(0);
          expect(name.length).toBeLessThanOrEqual(31);
          expect(name).not.toMatch(/[\p{Cc}[\]:*?/\\]|^'|'$/u);
        }
      }),
    );
  });
});

describe('formats of numbers', () => {
  it.each([
    [{ kind: 'number' }, '#,##0'],
    [{ kind: 'number', decimals: 2 }, '#,##0.00'],
    [{ kind: 'currency', currency: 'EUR', unit: 'thousand' }, '#,##0,'],
    [{ kind: 'currency', currency: 'EUR', unit: 'million', decimals: 1 }, '#,##0.0,,'],
    [{ kind: 'percent', decimals: 1 }, '0.0%'],
    [{ kind: 'duration' }, '[h]:mm:ss'],
  ])('%j is %s', (format, code) => {
    const parsed = numberFormatSchema.parse(format);
    expect(formatCode(parsed)).toBe(code);
    // As many digits are shown there as here.
    if (parsed.kind !== 'duration')
      expect(code.match(/\.(0*)/)?.[1].length ?? 0).toBe(cellText(1, parsed, 'en-GB').split('.')[1]?.length ?? 0);
  });
});
