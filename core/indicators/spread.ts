/**
 * The value that a share of all values lies below, between two of them by distance: PostgreSQL's percentile_cont, the
 * definition 7 of Hyndman and Fan, Sample Quantiles in Statistical Packages (1996). NaN of nothing. `values` is sorted.
 */
export function quantileOf(sorted: ArrayLike<number>, share: number): number {
  if (sorted.length === 0) return Number.NaN;
  const place = Math.min(1, Math.max(0, share)) * (sorted.length - 1);
  const below = Math.floor(place);
  const above = Math.min(sorted.length - 1, below + 1);
  return sorted[below] + (sorted[above] - sorted[below]) * (place - below);
}
