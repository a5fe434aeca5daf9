import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bestSmoothing, fitSmoothing, forecastSeries, type SmoothingModel } from './index.ts';
import { hasSeason } from './smoothing.ts';
import { fisherAbove } from './student.ts';

/**
 * Annual oil production of Saudi Arabia, 1996 to 2013, million tonnes: Hyndman and Athanasopoulos, "Forecasting: Principles and
 * Practice", 2nd edition, section 7.1, which gives alpha 0.83, a first level of 446.6 and forecasts of 542.68. From memory.
 */
const OIL = [
  445.36, 453.2, 454.41, 422.38, 456.04, 440.39, 425.19, 486.21, 500.43, 521.28, 508.95, 488.89, 509.87, 456.72, 473.82, 525.95, 549.83,
  542.34,
];

/**
 * Monthly totals of international airline passengers, thousands, January 1949 to December 1960: Box and Jenkins, "Time Series
 * Analysis", series G. From memory.
 */
const PASSENGERS = [
  112, 118, 132, 129, 121, 135, 148, 148, 136, 119, 104, 118, 115, 126, 141, 135, 125, 149, 170, 170, 158, 133, 114, 140, 145, 150, 178,
  163, 172, 178, 199, 199, 184, 162, 146, 166, 171, 180, 193, 181, 183, 218, 230, 242, 209, 191, 172, 194, 196, 196, 236, 235, 229, 243,
  264, 272, 237, 211, 180, 201, 204, 188, 235, 227, 234, 264, 302, 293, 259, 229, 203, 229, 242, 233, 267, 269, 270, 315, 364, 347, 312,
  274, 237, 278, 284, 277, 317, 313, 318, 374, 413, 405, 355, 306, 271, 306, 315, 301, 356, 348, 355, 422, 465, 467, 404, 347, 305, 336,
  340, 318, 362, 348, 363, 435, 491, 505, 404, 359, 310, 337, 360, 342, 406, 396, 420, 472, 548, 559, 463, 407, 362, 405, 417, 391, 419,
  461, 472, 535, 622, 606, 508, 461, 390, 432,
];

interface Case extends SmoothingModel {
  series: string;
  values: number[];
  squares: number;
  forecast: number[];
}
/** Made by fixtures/smoothing.R, which says how. */
const { cases } = JSON.parse(readFileSync(new URL('./fixtures/smoothing.json', import.meta.url), 'utf8')) as { cases: Case[] };

/** Numbers that look drawn from the standard normal distribution, the same in every run (Park and Miller 1988, Box and Muller 1958). */
function normals(seed: number): () => number {
  let state = seed;
  const uniform = (): number => (state = (state * 48_271) % 2_147_483_647) / 2_147_483_647;
  return () => Math.sqrt(-2 * Math.log(uniform())) * Math.cos(2 * Math.PI * uniform());
}
const MONTHS = [10, -4, 3, 8, -12, 5, 0, -6, 2, 9, -8, -7];

describe('exponential smoothing', () => {
  it.each(cases)('is as likely as R has $series, trend $trend, season $season, or likelier', (one) => {
    const fit = fitSmoothing(one.values, one)!;
    expect(fit.squares).toBeLessThanOrEqual(one.squares * (1 + 1e-5));
    // R searches for the seasons too, and stops sooner where they are many; further off they were different models.
    expect(fit.squares).toBeGreaterThan(one.squares * 0.75);
    one.forecast.forEach((value, index) => {
      const own = fit.forecast(index + 1, 80).value;
      expect(Math.abs((one.onLogarithms ? Math.log(own) : own) / value - 1)).toBeLessThan(0.015);
    });
  });

  it.each([
    { name: 'a level', trend: 'none' as const, season: 1, of: (next: () => number) => (_: number) => 100 + 10 * next() },
    {
      ...{ name: 'a line', trend: 'additive' as const, season: 1 },
      of: (next: () => number) => (index: number) => 100 + 2 * index + 8 * next(),
    },
    {
      ...{ name: 'a season', trend: 'none' as const, season: 12 },
      of: (next: () => number) => (index: number) => 200 + 2 * MONTHS[index % 12] + 8 * next(),
    },
    {
      ...{ name: 'a level that moves', trend: 'none' as const, season: 1 },
      of: (next: () => number) => {
        let level = 100;
        return () => {
          const error = 5 * next();
          level += 0.5 * error;
          return level + 0.5 * error;
        };
      },
    },
  ])('has intervals that hold as often as they say for $name', ({ trend, season, of }) => {
    const [length, ahead, runs] = [48, 6, 150];
    const next = normals(20_261);
    const inside = { 80: 0, 95: 0 };
    for (let run = 0; run < runs; run++) {
      const process = of(next);
      const values = Array.from({ length: length + ahead }, (_, index) => process(index));
      const fit = fitSmoothing(values.slice(0, length), { trend, season, onLogarithms: false })!;
      for (let step = 1; step <= ahead; step++)
        for (const confidence of [80, 95] as const) {
          const { low, high } = fit.forecast(step, confidence);
          if (values[length + step - 1] >= low && values[length + step - 1] <= high) inside[confidence]++;
        }
    }
    expect(inside[80] / runs / ahead).toBeGreaterThan(0.76);
    expect(inside[80] / runs / ahead).toBeLessThan(0.86);
    expect(inside[95] / runs / ahead).toBeGreaterThan(0.92);
    expect(inside[95] / runs / ahead).toBeLessThan(0.985);
  });

  it('finds a season in two years of months where it explains enough, and none where it does not', () => {
    const next = normals(7);
    const [plain, seasonal] = [0, 1].map((share) =>
      Array.from({ length: 24 }, (_, index) => 100 + share * 3 * MONTHS[index % 12] + 8 * next()),
    );
    expect([hasSeason(plain, 12), hasSeason(seasonal, 12)]).toEqual([false, true]);
    expect(bestSmoothing(seasonal, 12)!.model.season).toBe(12);
    expect(bestSmoothing(plain, 12)!.model.season).toBe(1);
    expect(hasSeason(seasonal.slice(0, 13), 12)).toBe(false);
  });

  it('judges by the F distribution as tables have it', () => {
    // Upper one-percent points of F, NIST/SEMATECH e-Handbook of Statistical Methods, 1.3.6.7.3: (11, 11), (3, 10), (1, 20).
    for (const [between, within, point] of [
      [11, 11, 4.462],
      [3, 10, 6.552],
      [1, 20, 8.096],
    ])
      expect(fisherAbove(point, between, within)).toBeCloseTo(0.01, 4);
    expect(fisherAbove(0, 3, 10)).toBe(1);
  });

  it('tests the model that it shows', () => {
    const held = PASSENGERS.slice(0, -6);
    const { model, tested } = forecastSeries(PASSENGERS, 12, 6, 80)!;
    if (model.method !== 'smoothing') throw new Error('smoothing was asked for');
    const same = fitSmoothing(held, model)!;
    const errors = PASSENGERS.slice(-6).map((value, index) => Math.abs(same.forecast(index + 1, 80).value / value - 1));
    expect(tested!.error).toBeCloseTo(errors.reduce((sum, error) => sum + error, 0) / 6, 12);
  });

  it('reproduces the simple smoothing of the textbook', () => {
    const fit = fitSmoothing(OIL, { trend: 'none', season: 1, onLogarithms: false })!;
    expect(fit.alpha).toBeCloseTo(0.8339, 2);
    expect(fit.level).toBeCloseTo(446.6, 0);
    expect(fit.forecast(1, 80).value).toBeCloseTo(542.68, 1);
    expect(fit.forecast(5, 80).value).toBe(fit.forecast(1, 80).value);
    // Given there too: the 95 % interval one year ahead, from 484.2 to 601.1, as if all numbers of the model were known. Ours
    // allows for their estimates, and so is wider, by a tenth at most.
    const { low, high } = fit.forecast(1, 95);
    expect(low).toBeLessThan(484.2);
    expect(high).toBeGreaterThan(601.1);
    expect(high - low).toBeLessThan((601.1 - 484.2) * 1.1);
  });

  it('chooses a multiplicative season and a trend for the passengers, and forecasts the year that was held back', () => {
    const fit = bestSmoothing(PASSENGERS.slice(0, -12), 12)!;
    expect(fit.model).toMatchObject({ season: 12, onLogarithms: true });
    expect(fit.model.trend).not.toBe('none');
    const errors = PASSENGERS.slice(-12).map((value, index) => Math.abs(fit.forecast(index + 1, 95).value / value - 1));
    expect(errors.reduce((sum, error) => sum + error, 0) / 12).toBeLessThan(0.06);
    const inside = PASSENGERS.slice(-12).filter((value, index) => {
      const { low, high } = fit.forecast(index + 1, 95);
      return value >= low && value <= high;
    });
    expect(inside.length).toBeGreaterThanOrEqual(11);
  });

  it('goes on with a line as a line, and with a season as that season', () => {
    const line = Array.from({ length: 24 }, (_, index) => 100 + 3 * index);
    const ahead = forecastSeries(line, 1, 3, 80)!;
    ahead.points.forEach(({ value }, index) => expect(value).toBeCloseTo(100 + 3 * (24 + index), 0));
    const seasons = Array.from({ length: 32 }, (_, index) => [10, 20, 40, 5][index % 4] + 0.001 * (index % 3));
    const next = forecastSeries(seasons, 4, 4, 80)!;
    next.points.forEach(({ value }, index) => expect(value).toBeCloseTo([10, 20, 40, 5][index], 0));
  });

  it('holds the last values back and says how far off it was', () => {
    const { tested } = forecastSeries(PASSENGERS, 12, 6, 80)!;
    expect(tested!.periods).toBe(6);
    expect(tested!.error).toBeGreaterThan(0);
    expect(tested!.error).toBeLessThan(0.06);
  });

  it('has intervals that hold its values, widen with the distance, and are wider the surer they are', () => {
    const values = fc.array(fc.integer({ min: 1, max: 1_000 }), { minLength: 12, maxLength: 30 });
    fc.assert(
      fc.property(values, (series) => {
        const fit = bestSmoothing(series, 4);
        if (!fit) return;
        let width = 0;
        // Whole seasons apart: of two times of a season the one with a value more is known better, so that the later of two
        // neighbours can have the narrower interval.
        for (const ahead of fit.model.season > 1 ? [1, 5, 9] : [1, 2, 5, 9]) {
          const [narrow, wide] = [fit.forecast(ahead, 80), fit.forecast(ahead, 95)];
          expect(narrow.low).toBeLessThanOrEqual(narrow.value);
          expect(narrow.high).toBeGreaterThanOrEqual(narrow.value);
          expect(wide.low).toBeLessThanOrEqual(narrow.low);
          expect(wide.high).toBeGreaterThanOrEqual(narrow.high);
          const own = fit.model.onLogarithms ? Math.log(narrow.high / narrow.low) : narrow.high - narrow.low;
          expect(own).toBeGreaterThanOrEqual(width * (1 - 1e-9));
          width = own;
        }
      }),
      { numRuns: 30 },
    );
  });

  it('forecasts nothing from too few values', () => {
    expect(forecastSeries([1, 2], 12, 6, 80)).toBeNull();
    expect(forecastSeries([], 1, 6, 80)).toBeNull();
  });
});
