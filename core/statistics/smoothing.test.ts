import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bestSmoothing, fitSmoothing, forecastSeries } from './index.ts';

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

describe('exponential smoothing', () => {
  it('reproduces the simple smoothing of the textbook', () => {
    const fit = fitSmoothing(OIL, { trend: 'none', season: 1, onLogarithms: false })!;
    expect(fit.alpha).toBeCloseTo(0.8339, 2);
    expect(fit.level).toBeCloseTo(446.6, 0);
    expect(fit.forecast(1, 80).value).toBeCloseTo(542.68, 1);
    expect(fit.forecast(5, 80).value).toBe(fit.forecast(1, 80).value);
    // Given there too: the 95 % interval one year ahead, from 484.2 to 601.1.
    expect(fit.forecast(1, 95).low).toBeCloseTo(484.2, -0.5);
    expect(fit.forecast(1, 95).high).toBeCloseTo(601.1, -0.5);
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
        for (const ahead of [1, 2, 5, 9]) {
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
