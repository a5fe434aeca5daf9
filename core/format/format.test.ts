import { describe, expect, it } from 'vitest';
import { workedDataset } from '../testing/worked-example.ts';
import {
  accountText,
  cellText,
  conditionWords,
  countWords,
  differenceText,
  figureText,
  limitText,
  listWords,
  plainMemberLabel,
  signedPercent,
  unitsWhereTheyDiffer,
  unitWords,
} from './index.ts';

const euro = { kind: 'currency', currency: 'EUR', decimals: 0, unit: 'thousand' } as const;
const percent = { kind: 'percent', decimals: 1, unit: 'one' } as const;

describe('figures', () => {
  it('stand bare in cells, with their unit when alone', () => {
    expect(cellText(7_904_400, euro, 'en-GB')).toBe('7,904');
    expect(cellText(1.0309, percent, 'en-GB')).toBe('103.1');
    expect(figureText(38_420_000, { ...euro, unit: 'million', decimals: 2 }, 'en-GB')).toBe('€\u00a038.42\u00a0M');
    expect(figureText(0.416, percent, 'en-GB')).toBe('41.6\u00a0%');
    expect(unitWords(euro, 'en-GB')).toBe('thousand euro');
  });
  it('use a real minus sign, and none before a rounded zero', () => {
    expect(cellText(-1_234_567, { ...euro, unit: 'one' }, 'en-GB')).toBe('−1,234,567');
    expect(cellText(-0.4, { ...euro, unit: 'one' }, 'en-GB')).toBe('0');
    expect(signedPercent(-0.014, 'en-GB', 'pt')).toBe('−1.4\u00a0pt');
    expect(signedPercent(0.059, 'en-GB')).toBe('+5.9\u00a0%');
    expect(signedPercent(0.00001, 'en-GB')).toBe('±0.0\u00a0%');
  });
  it('differ in points where they are percents', () => {
    expect(differenceText(0.014, percent, 'en-GB')).toBe('1.4\u00a0pt');
    expect(differenceText(7_904_400, euro, 'en-GB')).toBe(figureText(7_904_400, euro, 'en-GB'));
  });
  it('have limits without decimals where these are whole', () => {
    expect([1, 0.96, 0.07, 0.975, -0.05].map((limit) => limitText(limit, percent, 'en-GB').replace('\u00a0', ' '))).toEqual([
      ...['100 %', '96 %', '7 %', '97.5 %', '−5 %'],
    ]);
    expect(limitText(2.5, { kind: 'number', decimals: 1, unit: 'one' }, 'en-GB')).toBe('2.5');
  });
  it('stand in parentheses where accounts want it', () => {
    expect([-1_234, 5, -0.2, null].map((value) => accountText(value, { ...euro, unit: 'one' }, 'en-GB'))).toEqual([
      '(1,234)',
      '5',
      '0',
      '–',
    ]);
  });
  it('show an en dash where there is no value', () => {
    expect(cellText(null, euro, 'en-GB')).toBe('–');
    expect(figureText(Number.NaN, euro, 'en-GB')).toBe('–');
  });
  it('write durations of seconds as hours, minutes and seconds', () => {
    const duration = { kind: 'duration', decimals: 0, unit: 'one' } as const;
    expect([0, 59.6, 3_661, 93_789, -75, -0.2, null].map((seconds) => cellText(seconds, duration, 'en-GB'))).toEqual([
      '0:00:00',
      '0:01:00',
      '1:01:01',
      '26:03:09',
      '−0:01:15',
      '0:00:00',
      '–',
    ]);
    expect(figureText(60, duration, 'en-GB')).toBe('0:01:00');
    expect(unitWords(duration, 'en-GB')).toBe('hours:minutes:seconds');
  });
  it('follow the locale', () => {
    expect(cellText(1234.5, { kind: 'number', decimals: 1, unit: 'one' }, 'de-DE')).toBe('1.234,5');
  });
});

describe('words', () => {
  const words = (filter: Parameters<typeof conditionWords>[1]): string[] =>
    conditionWords(workedDataset, filter, plainMemberLabel(workedDataset, 'en-GB'));
  it('list and count', () => {
    expect(listWords(['a', 'b', 'c'])).toBe('a, b and c');
    expect(countWords(1, { one: 'order line', many: 'order lines' }, 'en-GB')).toBe('1 order line');
    expect(countWords(8114, { one: 'order line', many: 'order lines' }, 'en-GB')).toBe('8,114 order lines');
  });
  it('say conditions as sentences', () => {
    expect(
      words({
        op: 'and',
        items: [
          { op: 'in', field: 'country', values: ['Sweden', 'France'] },
          { op: 'in', field: 'quarter', values: ['2026-Q2'] },
        ],
      }),
    ).toEqual(['Country is Sweden or France', 'Quarter is Q2 2026']);
    expect(words({ op: 'notIn', field: 'channel', values: ['Online'] })).toEqual(['Channel is not Online']);
    expect(words({ op: 'empty', field: 'city' })).toEqual(['City is missing']);
    expect(words({ op: 'in', field: 'city', values: ['a', 'b', 'c', 'd', 'e', 'f', 'g'] })).toEqual(['City is a, b, c, d, e and 2 more']);
    expect(words({ op: 'or', items: [] })).toEqual(['Nothing you may see']);
  });
});

describe('units of figures beside each other', () => {
  const euro = { kind: 'currency', decimals: 0, unit: 'thousand', currency: 'EUR' } as const;
  const plain = { kind: 'number', decimals: 0, unit: 'one' } as const;
  const percent = { kind: 'percent', decimals: 1, unit: 'one' } as const;
  const duration = { kind: 'duration', decimals: 0, unit: 'one' } as const;

  it('are said of each where they differ, and of none where one line says them', () => {
    expect(unitsWhereTheyDiffer([euro, null, percent, plain], 'en-GB')).toEqual(['€\u00a0k', '', '%', '']);
    expect(unitsWhereTheyDiffer([euro, { ...euro, unit: 'million' }], 'en-GB')).toEqual(['€\u00a0k', '€\u00a0M']);
    expect(unitsWhereTheyDiffer([euro, null, { ...euro, decimals: 2 }], 'en-GB')).toEqual(['', '', '']);
    expect(unitsWhereTheyDiffer([duration, percent], 'en-GB')).toEqual(['', '%']);
  });
});
