/** The logarithm of the gamma function, by Lanczos' approximation (SIAM J. Numer. Anal. B 1, 1964; coefficients for g = 7, n = 9). */
function logGamma(x: number): number {
  const coefficients = [
    676.5203681218851, -1259.1392167224028, 771.32342877765313, -176.61502916214059, 12.507343278686905, -0.13857109526572012,
    9.9843695780195716e-6, 1.5056327351493116e-7,
  ];
  const sum = coefficients.reduce((total, coefficient, index) => total + coefficient / (x + index), 0.99999999999980993);
  const base = x + 6.5;
  return 0.5 * Math.log(2 * Math.PI) + (x - 0.5) * Math.log(base) - base + Math.log(sum);
}

const [STEPS, PRECISION, TINY] = [300, 1e-15, 1e-300];

/** The regularised incomplete beta function, by its continued fraction (DLMF 8.17.22), evaluated by Lentz's method. */
function incompleteBeta(x: number, a: number, b: number): number {
  if (x <= 0) return 0;
  if (x >= 1) return 1;
  // The fraction converges quickly on this side only.
  if (x > (a + 1) / (a + b + 2)) return 1 - incompleteBeta(1 - x, b, a);
  const front = Math.exp(logGamma(a + b) - logGamma(a) - logGamma(b) + a * Math.log(x) + b * Math.log(1 - x)) / a;
  let [c, d, fraction] = [1, 0, 1];
  for (let step = 0; step < STEPS; step++) {
    const m = Math.floor(step / 2);
    const term =
      step === 0
        ? 1
        : step % 2 === 0
          ? (m * (b - m) * x) / ((a + 2 * m - 1) * (a + 2 * m))
          : (-(a + m) * (a + b + m) * x) / ((a + 2 * m) * (a + 2 * m + 1));
    d = 1 + term * d;
    d = 1 / (Math.abs(d) < TINY ? TINY : d);
    c = 1 + term / c;
    if (Math.abs(c) < TINY) c = TINY;
    fraction *= c * d;
    if (Math.abs(1 - c * d) < PRECISION) break;
  }
  return front * (fraction - 1);
}

/** How much of Student's distribution lies below `t`, which is not negative. */
const below = (t: number, freedom: number): number => 1 - incompleteBeta(freedom / (freedom + t * t), freedom / 2, 0.5) / 2;

/**
 * How far from its middle the ends of an interval lie that holds a share of Student's distribution, such as 0.95: its critical
 * value for both sides. `freedom` are its degrees of freedom, at least 1.
 */
export function studentReach(share: number, freedom: number): number {
  const wanted = (1 + share) / 2;
  let [low, high] = [0, 1];
  while (below(high, freedom) < wanted) high *= 2;
  for (let step = 0; step < 100; step++) {
    const middle = (low + high) / 2;
    if (below(middle, freedom) < wanted) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/** How much of Fisher's distribution lies above a value, by its degrees of freedom. */
export const fisherAbove = (value: number, between: number, within: number): number =>
  value <= 0 ? 1 : incompleteBeta(within / (within + between * value), within / 2, between / 2);
