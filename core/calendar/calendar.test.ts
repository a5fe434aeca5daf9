import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { periodSchema } from '../model/index.ts';
import {
  civilOf,
  dayOf,
  isoDate,
  parseIsoDate,
  periodKey,
  periodLabel,
  periodRange,
  periodsOfDays,
  shiftDay,
  shiftRange,
} from './index.ts';

const anyDay = fc.integer({ min: -200_000, max: 200_000 });
const day = (iso: string): number => parseIsoDate(iso)!;

describe('days', () => {
  it('agree with the proleptic Gregorian calendar of ECMAScript', () => {
    fc.assert(
      fc.property(anyDay, (number) => {
        const date = new Date(number * 86_400_000);
        expect(civilOf(number)).toEqual({ year: date.getUTCFullYear(), month: date.getUTCMonth() + 1, day: date.getUTCDate() });
        const { year, month, day: dayOfMonth } = civilOf(number);
        expect(dayOf(year, month, dayOfMonth)).toBe(number);
      }),
      { seed: 1 },
    );
  });

  it.each(['2026-02-29', '2026-13-01', '2026-00-10', '2026-1-1', '31.10.2026', ''])('refuse %j', (text) => {
    expect(parseIsoDate(text)).toBeUndefined();
  });
});

describe('ISO 8601 weeks', () => {
  // ISO 8601:2004, 3.2.2 and the examples commonly printed with it: weeks belong to the year of their Thursday.
  it.each([
    ['2005-01-01', '2004-W53'],
    ['2005-01-02', '2004-W53'],
    ['2005-12-31', '2005-W52'],
    ['2006-01-01', '2005-W52'],
    ['2006-01-02', '2006-W01'],
    ['2007-01-01', '2007-W01'],
    ['2007-12-31', '2008-W01'],
    ['2008-12-28', '2008-W52'],
    ['2008-12-29', '2009-W01'],
    ['2009-12-31', '2009-W53'],
    ['2010-01-03', '2009-W53'],
    ['2026-10-31', '2026-W44'],
  ])('%s lies in %s', (iso, week) => {
    expect(periodKey('iso_week', day(iso))).toBe(week);
  });

  it('refuse a week 53 in a year that has 52', () => {
    expect(periodRange('iso_week', '2025-W53')).toBeUndefined();
    expect(periodRange('iso_week', '2026-W53')).toEqual({ first: day('2026-12-28'), last: day('2027-01-03') });
  });
});

describe('periods', () => {
  it('hold exactly the days whose key they are', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...periodSchema.options.filter((period) => period !== 'weekday')),
        // From the year 1 on: keys have four digits.
        fc.integer({ min: -700_000, max: 200_000 }),
        fc.integer({ min: 1, max: 12 }),
        (period, number, start) => {
          const key = periodKey(period, number, start);
          const { first, last } = periodRange(period, key, start)!;
          expect(first).toBeLessThanOrEqual(number);
          expect(last).toBeGreaterThanOrEqual(number);
          expect(periodKey(period, first, start)).toBe(key);
          expect(periodKey(period, last, start)).toBe(key);
          expect(periodKey(period, first - 1, start)).not.toBe(key);
          expect(periodKey(period, last + 1, start)).not.toBe(key);
        },
      ),
      { seed: 2, numRuns: 500 },
    );
  });
  it('of a fiscal year are called by the year it ends in', () => {
    expect(['2025-03-31', '2025-04-01', '2026-03-31'].map((iso) => periodKey('fiscal_year', day(iso), 4))).toEqual([
      'FY2025',
      'FY2026',
      'FY2026',
    ]);
    expect(periodKey('fiscal_quarter', day('2025-07-01'), 4)).toBe('FY2026-Q2');
    expect(periodKey('fiscal_half_year', day('2026-01-15'), 4)).toBe('FY2026-H2');
    expect(periodKey('fiscal_quarter', day('2026-11-23'))).toBe('FY2026-Q4');
    expect(periodLabel('fiscal_quarter', 'FY2026-Q2', 'en-GB')).toBe('Q2, fiscal 2026');
    expect(periodLabel('fiscal_year', 'FY2026', 'en-GB')).toBe('Fiscal 2026');
  });
  it.each(['FY2026-Q5', 'FY2026-H3', 'FY26', '2026', 'WY2026-M13', 'WY2026-M1', 'WY2025-W53', 'WY2026-Q0'])('refuse the key %s', (key) => {
    for (const period of periodSchema.options.slice(7)) expect(periodRange(period, key)).toBeUndefined();
  });
  it('of weeks are those of ISO 8601 where the year begins in January', () => {
    fc.assert(
      fc.property(fc.integer({ min: -700_000, max: 200_000 }), (number) => {
        expect(periodKey('week', number)).toBe(`WY${periodKey('iso_week', number)}`);
      }),
      { seed: 4 },
    );
  });
  it('of weeks are four, four and five, and a fifty-third week lengthens the last', () => {
    const weeks = (key: string): number => {
      const { first, last } = periodRange('week_month', key)!;
      return (last - first + 1) / 7;
    };
    const months = Array.from({ length: 12 }, (_, index) => `M${String(index + 1).padStart(2, '0')}`);
    // 2025 has 52 weeks and 2026 has 53, by ISO 8601.
    expect(months.map((month) => weeks(`WY2025-${month}`))).toEqual([4, 4, 5, 4, 4, 5, 4, 4, 5, 4, 4, 5]);
    expect(months.map((month) => weeks(`WY2026-${month}`))).toEqual([4, 4, 5, 4, 4, 5, 4, 4, 5, 4, 4, 6]);
    expect(periodLabel('week_month', 'WY2026-M03', 'en-GB')).toBe('Month 3, weeks of 2026');
    expect(periodLabel('week', 'WY2026-W05', 'en-GB', true)).toBe('Week 5');
  });

  it('are worded for people', () => {
    expect(periodLabel('quarter', '2026-Q2', 'en-GB')).toBe('Q2 2026');
    expect(periodLabel('quarter', '2026-Q2', 'en-GB', true)).toBe('Q2');
    expect(periodLabel('month', '2026-04', 'en-GB')).toBe('April 2026');
    expect(periodLabel('month', '2026-04', 'sv-SE', true)).toBe('april');
    expect(periodLabel('iso_week', '2026-W05', 'en-GB')).toBe('Week 5, 2026');
    expect(periodLabel('weekday', '1', 'en-GB')).toBe('Monday');
  });
});

describe('moving dates', () => {
  it('clamps to the end of a month', () => {
    expect(isoDate(shiftDay(day('2024-02-29'), -1, 'year'))).toBe('2023-02-28');
    expect(isoDate(shiftDay(day('2026-03-31'), -1, 'month'))).toBe('2026-02-28');
    expect(isoDate(shiftDay(day('2026-05-31'), -1, 'quarter'))).toBe('2026-02-28');
    expect(isoDate(shiftDay(day('2026-01-03'), -1, 'week'))).toBe('2025-12-27');
  });

  it('keeps whole months whole', () => {
    const moved = shiftRange({ first: day('2025-02-01'), last: day('2025-02-28') }, -1, 'year');
    expect([moved.first, moved.last].map(isoDate)).toEqual(['2024-02-01', '2024-02-29']);
    // A day alone, or a part of a month, is no whole month: it moves day by day (formulas.md, "Dates of a cell").
    for (const [first, last, wanted] of [
      ['2025-02-28', '2025-02-28', ['2024-02-28', '2024-02-28']],
      ['2025-02-15', '2025-02-28', ['2024-02-15', '2024-02-28']],
      ['2024-02-29', '2024-02-29', ['2023-02-28', '2023-02-28']],
      ['2025-02-01', '2025-02-28', ['2024-02-01', '2024-02-29']],
    ] as const) {
      const parts = shiftRange({ first: day(first), last: day(last) }, -1, 'year');
      expect([isoDate(parts.first), isoDate(parts.last)]).toEqual(wanted);
    }
    const ten = shiftRange({ first: day('2026-01-01'), last: day('2026-10-31') }, -1, 'year');
    expect([ten.first, ten.last].map(isoDate)).toEqual(['2025-01-01', '2025-10-31']);
  });

  it('comes back when the day exists in both months', () => {
    fc.assert(
      fc.property(
        anyDay,
        fc.integer({ min: -40, max: 40 }),
        fc.constantFrom('year' as const, 'quarter' as const, 'month' as const, 'week' as const, 'day' as const),
        (number, amount, unit) => {
          fc.pre(civilOf(number).day <= 28);
          expect(shiftDay(shiftDay(number, amount, unit), -amount, unit)).toBe(number);
        },
      ),
      { seed: 3 },
    );
  });
});

describe('the periods of days in a row', () => {
  it('are those of each day by itself, keys in their order', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...periodSchema.options),
        fc.integer({ min: day('0001-01-01'), max: day('9990-01-01') }),
        fc.integer({ min: 1, max: 900 }),
        fc.integer({ min: 1, max: 12 }),
        (period, first, days, start) => {
          const { codes, keys } = periodsOfDays(period, first, days, start);
          const each = Array.from({ length: days }, (_, index) => periodKey(period, first + index, start));
          expect(Array.from(codes, (code) => keys[code - 1])).toEqual(each);
          expect(keys).toEqual([...new Set(each)].sort());
        },
      ),
      { numRuns: 300, seed: 11 },
    );
  });
  it('are quickly told of ten thousand years', () => {
    const { keys, codes } = periodsOfDays('month', day('0001-01-01'), day('9999-12-31') - day('0001-01-01') + 1);
    expect([keys.length, keys[0], keys.at(-1), codes.at(-1)]).toEqual([9_999 * 12, '0001-01', '9999-12', 9_999 * 12]);
  });
});
