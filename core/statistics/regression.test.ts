import fc from 'fast-check';
import { linearRegression, rSquared, linearRegressionLine, sampleCorrelation } from 'simple-statistics';
import { describe, expect, it } from 'vitest';
import { correlation, curveFit, forecastSeries, lineFit, movingAverage, polynomialFit, studentReach } from './index.ts';

const digits = (value: number, certified: number): number => -Math.log10(Math.abs((value - certified) / certified) || 1e-16);

/** NIST, Statistical Reference Datasets, linear least squares: Norris (lower difficulty). Data and certified values from memory; that they agree confirms both. */
const NORRIS =
  '0.1 0.2 338.8 337.4 118.1 118.2 888.0 884.6 9.2 10.1 228.1 226.5 668.5 666.3 998.5 996.3 449.1 448.6 778.9 777.0 559.2 558.2 0.3 0.4 0.1 0.6 778.1 775.5 668.8 666.9 339.3 338.0 448.9 447.5 10.8 11.6 557.7 556.0 228.3 228.1 998.0 995.8 888.8 887.6 119.6 120.2 0.3 0.3 0.6 0.3 557.6 556.8 339.3 339.1 888.0 887.2 998.5 999.0 778.9 779.0 10.2 11.1 117.6 118.3 228.9 229.2 668.4 669.1 449.2 448.9 0.2 0.5';
/** The same, Pontius: a parabola (lower difficulty). */
const PONTIUS =
  '.11019 .21956 .32949 .43899 .54803 .65694 .76562 .87487 .98292 1.09146 1.20001 1.30822 1.41599 1.52399 1.63194 1.73947 1.84646 1.95392 2.06128 2.16844 .11052 .22018 .32939 .43886 .54798 .65739 .76596 .87474 .98300 1.09150 1.20004 1.30818 1.41613 1.52408 1.63159 1.73965 1.84696 1.95445 2.06177 2.16829';
const numbers = (text: string): number[] => text.split(' ').map(Number);
const norris = Array.from({ length: 36 }, (_, index) => ({ x: numbers(NORRIS)[2 * index + 1], y: numbers(NORRIS)[2 * index] }));
const pontius = numbers(PONTIUS).map((y, index) => ({ x: 150_000 * ((index % 20) + 1), y }));

describe('curves by least squares', () => {
  it('reproduce the certified line of Norris to 10 digits', () => {
    const { coefficients, r2 } = curveFit('linear', norris)!;
    expect(digits(coefficients[0], -0.262323073774029)).toBeGreaterThan(10);
    expect(digits(coefficients[1], 1.00211681802045)).toBeGreaterThan(10);
    expect(digits(r2!, 0.999993745883712)).toBeGreaterThan(10);
  });

  it('reproduce the certified parabola of Pontius to 10 digits', () => {
    const { coefficients, r2 } = polynomialFit(pontius, 2)!;
    expect(digits(coefficients[0], 0.673565789473684e-3)).toBeGreaterThan(10);
    expect(digits(coefficients[1], 0.732059160401003e-6)).toBeGreaterThan(10);
    expect(digits(coefficients[2], -0.316081871345029e-14)).toBeGreaterThan(10);
    expect(digits(r2!, 0.999999900178537)).toBeGreaterThan(10);
  });

  it('reproduce Wampler1 and Wampler2 of the same collection: polynomials of degree 5, whose coefficients are known', () => {
    const over = (of: (x: number) => number) => Array.from({ length: 21 }, (_, x) => ({ x, y: of(x) }));
    const first = polynomialFit(
      over((x) => [0, 1, 2, 3, 4, 5].reduce((sum, power) => sum + x ** power, 0)),
      5,
    )!;
    first.coefficients.forEach((coefficient) => expect(digits(coefficient, 1)).toBeGreaterThan(7));
    expect(first.r2).toBeCloseTo(1, 12);
    const second = polynomialFit(
      over((x) => [0, 1, 2, 3, 4, 5].reduce((sum, power) => sum + (x / 10) ** power, 0)),
      5,
    )!;
    second.coefficients.forEach((coefficient, power) => expect(digits(coefficient, 10 ** -power)).toBeGreaterThan(9));
  });

  it('agree with a statistics library on any line', () => {
    const point = fc.record({ x: fc.integer({ min: -500, max: 500 }), y: fc.integer({ min: -500, max: 500 }) });
    fc.assert(
      fc.property(fc.array(point, { minLength: 3, maxLength: 40 }), (points) => {
        fc.pre(new Set(points.map(({ x }) => x)).size > 1 && new Set(points.map(({ y }) => y)).size > 1);
        const pairs = points.map(({ x, y }) => [x, y]);
        const { m, b } = linearRegression(pairs);
        const fit = curveFit('linear', points)!;
        expect(fit.coefficients[0]).toBeCloseTo(b, 6);
        expect(fit.coefficients[1]).toBeCloseTo(m, 6);
        expect(fit.r2!).toBeCloseTo(rSquared(pairs, linearRegressionLine({ m, b })), 6);
        expect(correlation(points)!).toBeCloseTo(
          sampleCorrelation(
            points.map(({ x }) => x),
            points.map(({ y }) => y),
          ),
          6,
        );
      }),
    );
  });

  it('are evaluated where they were fitted: far from zero, too, a curve of degree 6 runs through what it was taken from', () => {
    const parts = fc.array(fc.integer({ min: -9, max: 9 }), { minLength: 7, maxLength: 7 });
    fc.assert(
      fc.property(parts, fc.constantFrom(0, 2_026, 20_000), (coefficients, from) => {
        const points = Array.from({ length: 40 }, (_, index) => {
          const z = (index - 20) / 20;
          return { x: from + index, y: coefficients.reduceRight((sum, own) => sum * z + own, 0) };
        });
        const fit = polynomialFit(points, 6)!;
        for (const { x, y } of points) expect(Math.abs(fit.at(x) - y)).toBeLessThan(1e-8);
      }),
    );
  });

  it('find the curve that points were taken from', () => {
    const over = (of: (x: number) => number) => Array.from({ length: 12 }, (_, index) => ({ x: index + 1, y: of(index + 1) }));
    expect(
      curveFit(
        'exponential',
        over((x) => 3 * Math.exp(0.2 * x)),
      )!.coefficients.map((one) => one.toFixed(8)),
    ).toEqual(['3.00000000', '0.20000000']);
    expect(
      curveFit(
        'power',
        over((x) => 2 * x ** 1.5),
      )!.coefficients.map((one) => one.toFixed(8)),
    ).toEqual(['2.00000000', '1.50000000']);
    expect(
      curveFit(
        'logarithmic',
        over((x) => 5 - 2 * Math.log(x)),
      )!.coefficients.map((one) => one.toFixed(8)),
    ).toEqual(['5.00000000', '-2.00000000']);
  });

  it('fit nothing where nothing can be fitted', () => {
    expect(curveFit('linear', [{ x: 1, y: 2 }])).toBeNull();
    expect(
      curveFit('exponential', [
        { x: 1, y: 2 },
        { x: 2, y: -1 },
      ]),
    ).toBeNull();
    expect(
      curveFit('linear', [
        { x: 1, y: 2 },
        { x: 2, y: 2 },
      ])!.r2,
    ).toBeNull();
    expect(
      correlation([
        { x: 1, y: 2 },
        { x: 2, y: 2 },
      ]),
    ).toBeNull();
  });
});

describe('a moving average', () => {
  it('begins where there are enough values, and has gaps where values are missing', () => {
    expect(movingAverage([1, 2, 3, 4, null, 6, 7, 8], 3)).toEqual([null, null, 2, 3, null, null, null, 7]);
  });
});

describe("Student's distribution", () => {
  it('has the critical values of the usual tables', () => {
    // NIST/SEMATECH e-Handbook of Statistical Methods, table 1.3.6.7.2, from memory: both sides, three decimals.
    const table: [share: number, freedom: number, reach: number][] = [
      [0.95, 1, 12.706],
      [0.8, 10, 1.372],
      [0.9, 10, 1.812],
      [0.95, 10, 2.228],
      [0.99, 10, 3.169],
      [0.95, 30, 2.042],
      [0.95, 100, 1.984],
    ];
    for (const [share, freedom, reach] of table) expect(studentReach(share, freedom)).toBeCloseTo(reach, 3);
    // With one degree of freedom it is Cauchy's, with two it has a closed form.
    fc.assert(
      fc.property(fc.double({ min: 0.01, max: 0.99, noNaN: true }), (share) => {
        expect(studentReach(share, 1)).toBeCloseTo(Math.tan((Math.PI * share) / 2), 6);
        expect(studentReach(share, 2)).toBeCloseTo(share * Math.sqrt(2 / (1 - share ** 2)), 6);
      }),
    );
  });
});

describe('a new value beside a line', () => {
  it('lies in the interval that follows from the certified residuals of Norris', () => {
    const fit = lineFit('linear', norris)!;
    const middle = norris.reduce((sum, { x }) => sum + x, 0) / norris.length;
    // Certified: the residual standard deviation, 0.884796396144373 with 34 degrees of freedom.
    const reach = studentReach(0.95, 34) * 0.884796396144373 * Math.sqrt(1 + 1 / 36);
    const { low, high } = fit.interval(middle, 95)!;
    expect((high - low) / 2).toBeCloseTo(reach, 9);
    expect((high + low) / 2).toBeCloseTo(fit.at(middle), 9);
    expect(lineFit('linear', norris.slice(0, 2))!.interval(1, 80)).toBeNull();
  });

  it('is forecast along straight lines and curves, exactly where these hold, and tested on what was held back', () => {
    const series = (of: (x: number) => number) => Array.from({ length: 20 }, (_, index) => of(index + 1));
    const curves = {
      linear: (x: number) => 3 + 2 * x,
      logarithmic: (x: number) => 3 + 2 * Math.log(x),
      exponential: (x: number) => 3 * Math.exp(0.1 * x),
      power: (x: number) => 3 * x ** 1.5,
    };
    for (const [method, of] of Object.entries(curves)) {
      const { points, tested, model } = forecastSeries(series(of), 1, 3, 80, method as 'linear')!;
      points.forEach(({ value, low, high }, index) => {
        expect(value).toBeCloseTo(of(21 + index), 6);
        expect(low).toBeLessThanOrEqual(value + 1e-9);
        expect(high).toBeGreaterThanOrEqual(value - 1e-9);
      });
      expect(model).toMatchObject({ method, r2: expect.closeTo(1, 9) as number });
      expect(tested!.periods).toBe(5);
      expect(tested!.error).toBeLessThan(1e-9);
    }
    // Logarithms of what has none.
    expect(forecastSeries([1, 2, 0, 4, 5, 6, 7, 8], 1, 3, 80, 'power')).toBeNull();
    expect(forecastSeries([1, 2], 1, 3, 80, 'linear')).toBeNull();
  });

  it('lies in its interval as often as that says', () => {
    // A generator of Park and Miller (1988), and normal deviates by Box and Muller (1958): the same ones each time.
    let seed = 20_261;
    const uniform = (): number => (seed = (seed * 48_271) % 2_147_483_647) / 2_147_483_647;
    const normal = (): number => Math.sqrt(-2 * Math.log(uniform())) * Math.cos(2 * Math.PI * uniform());
    const [trials, length] = [2_000, 12];
    let inside = 0;
    for (let trial = 0; trial < trials; trial++) {
      const points = Array.from({ length }, (_, index) => ({ x: index + 1, y: 5 + 2 * index + normal() }));
      const { low, high } = lineFit('linear', points)!.interval(length + 2, 80)!;
      const next = 5 + 2 * (length + 1) + normal();
      if (next >= low && next <= high) inside++;
    }
    // Three standard deviations of a share of 80 % in so many trials.
    expect(Math.abs(inside / trials - 0.8)).toBeLessThan(3 * Math.sqrt((0.8 * 0.2) / trials));
  });
});
