import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  isoDate,
  mergedRanges,
  moveRanges,
  parseIsoDate,
  periodAround,
  periodRange,
  styleOf,
  windowEnding,
  type DateStyle,
  type DayRange,
} from './index.ts';

const day = (iso: string): number => parseIsoDate(iso)!;
const range = (first: string, last: string): DayRange => ({ first: day(first), last: day(last) });
const written = (ranges: DayRange[]): string[][] => ranges.map(({ first, last }) => [isoDate(first), isoDate(last)]);
const back = (ranges: DayRange[], amount: number, unit: 'year' | 'month' | 'week', style: DateStyle = 'plain'): string[][] =>
  written(moveRanges(ranges, -amount, unit, style, 1));

describe('moved dates', () => {
  it('of whole months stay whole, of parts go day by day', () => {
    expect(back([range('2025-02-01', '2025-02-28')], 1, 'year')).toEqual([['2024-02-01', '2024-02-29']]);
    expect(back([range('2025-02-28', '2025-02-28')], 1, 'year')).toEqual([['2024-02-28', '2024-02-28']]);
    expect(back([range('2024-02-29', '2024-02-29')], 1, 'year')).toEqual([['2023-02-28', '2023-02-28']]);
    expect(back([range('2026-01-01', '2026-10-31')], 1, 'year')).toEqual([['2025-01-01', '2025-10-31']]);
    expect(back([range('2026-03-15', '2026-03-31')], 1, 'month')).toEqual([['2026-02-15', '2026-02-28']]);
  });

  // ISO 8601:2019, 5.2.3: 2020 and 2026 have 53 weeks, 2019, 2021 and 2025 have 52.
  it('told by weeks go by year, week and day of the week', () => {
    expect(back([range('2026-01-26', '2026-02-01')], 1, 'year', 'iso_weeks')).toEqual([['2025-01-27', '2025-02-02']]);
    expect(back([range('2026-12-28', '2027-01-03')], 1, 'year', 'iso_weeks')).toEqual([]);
    expect(back([range('2025-12-29', '2027-01-03')], 1, 'year', 'iso_weeks')).toEqual([['2024-12-30', '2025-12-28']]);
    expect(back([range('2026-01-26', '2026-02-01')], 4, 'week', 'iso_weeks')).toEqual([['2025-12-29', '2026-01-04']]);
  });

  it('several runs stay several, and those that meet become one', () => {
    expect(back([range('2026-01-01', '2026-01-31'), range('2026-03-01', '2026-03-31')], 1, 'year')).toEqual([
      ['2025-01-01', '2025-01-31'],
      ['2025-03-01', '2025-03-31'],
    ]);
    expect(
      written(mergedRanges([range('2026-02-01', '2026-02-10'), range('2026-01-01', '2026-01-31'), range('2026-02-05', '2026-02-12')])),
    ).toEqual([['2026-01-01', '2026-02-12']]);
  });

  it('come back where every day has its own', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 15_000, max: 25_000 }),
        fc.integer({ min: 0, max: 400 }),
        fc.integer({ min: 1, max: 60 }),
        (first, length, weeks) => {
          const ranges = [{ first, last: first + length }];
          expect(moveRanges(moveRanges(ranges, -weeks, 'week', 'plain', 1), weeks, 'week', 'plain', 1)).toEqual(ranges);
        },
      ),
    );
  });
});

describe('periods around a day', () => {
  it.each([
    ['2026-05-17', 'year', 'plain', 1, '2026-01-01', '2026-12-31'],
    ['2026-05-17', 'year', 'fiscal', 4, '2026-04-01', '2027-03-31'],
    ['2026-05-17', 'quarter', 'plain', 1, '2026-04-01', '2026-06-30'],
    ['2027-01-02', 'year', 'iso_weeks', 1, '2025-12-29', '2027-01-03'],
    ['2026-05-17', 'month', 'plain', 1, '2026-05-01', '2026-05-31'],
  ] as const)('%s: its %s, %s', (iso, period, style, start, first, last) => {
    expect(written([periodAround(day(iso), period, style, start)])).toEqual([[first, last]]);
  });

  it.each([
    ['2026-02-28', 3, 'month', '2025-12-01'],
    ['2026-10-31', 12, 'month', '2025-11-01'],
    ['2026-10-31', 1, 'year', '2025-11-01'],
    ['2026-10-15', 1, 'month', '2026-09-16'],
    ['2026-10-15', 14, 'day', '2026-10-02'],
    ['2026-10-15', 2, 'week', '2026-10-02'],
  ] as const)('the window that ends %s, %i %s long, begins %s', (last, amount, unit, first) => {
    expect(written([windowEnding(day(last), amount, unit)])).toEqual([[first, last]]);
  });

  it('are told by the most particular of some periods', () => {
    expect(styleOf(['year', 'month'])).toBe('plain');
    expect(styleOf(['year', 'iso_week'])).toBe('iso_weeks');
    expect(styleOf(['week_month'])).toBe('weeks');
    expect(styleOf(['fiscal_year', 'month'])).toBe('fiscal');
  });
});

// The National Retail Federation's 4-5-4 and the 4-4-5 calendars give a 53rd week to the last month: common practice, no source.
describe('dates of week-based years', () => {
  const month = (key: string): DayRange => periodRange('week_month', key)!;
  const weeks = (range: DayRange): number => (range.last - range.first + 1) / 7;
  const moved = (ranges: DayRange[], amount: number, unit: 'year' | 'quarter' | 'month'): DayRange[] =>
    moveRanges(ranges, -amount, unit, 'weeks', 1);

  it('stand whole months against whole months, whatever their lengths', () => {
    // 2026 has 53 weeks, so its twelfth month has six.
    expect(weeks(month('WY2026-M12'))).toBe(6);
    expect(moved([month('WY2026-M12')], 1, 'year')).toEqual([month('WY2025-M12')]);
    expect(moved([month('WY2027-M12')], 1, 'year')).toEqual([month('WY2026-M12')]);
    expect(moved([month('WY2026-M12')], 1, 'month')).toEqual([month('WY2026-M11')]);
    expect(moved([month('WY2027-M01')], 1, 'month')).toEqual([month('WY2026-M12')]);
    expect(moved([month('WY2027-M02')], 1, 'quarter')).toEqual([month('WY2026-M11')]);
  });

  it('move any number of whole months back and forth without a loss', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2015, max: 2035 }),
        fc.integer({ min: 1, max: 12 }),
        fc.integer({ min: 1, max: 40 }),
        (year, number, amount) => {
          const own = month(`WY${year}-M${String(number).padStart(2, '0')}`);
          const total = year * 12 + number - 1 - amount;
          const other = month(`WY${Math.floor(total / 12)}-M${String((total % 12) + 1).padStart(2, '0')}`);
          expect(moved([own], amount, 'month')).toEqual([other]);
          expect(moveRanges([other], amount, 'month', 'weeks', 1)).toEqual([own]);
        },
      ),
      { seed: 445 },
    );
  });

  it('stand parts of months against the same days of other ones, and the week that a year lacks against none', () => {
    const own = month('WY2026-M03');
    const before = month('WY2026-M02');
    expect(moved([{ first: own.first, last: own.first + 9 }], 1, 'month')).toEqual([{ first: before.first, last: before.first + 9 }]);
    const { last } = month('WY2026-M12');
    expect(moved([{ first: last - 6, last }], 1, 'year')).toEqual([]);
  });
});
