import fc from 'fast-check';
import { linearRegression, rSquared, linearRegressionLine, sampleCorrelation } from 'simple-statistics';
import { describe, expect, it } from 'vitest';
import { correlation, curveFit, movingAverage, polynomialFit } from './index.ts';

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
