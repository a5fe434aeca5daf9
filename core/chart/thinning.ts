/**
 * The places of a line that are drawn where it has more points than there is room for: of each of so many stretches the first
 * and last, the lowest and the highest, so that no peak is lost, and one without a value, so that gaps stay. All places where
 * there are few enough of them.
 */
export function thinned(values: readonly (number | null)[], stretches: number): number[] {
  if (values.length <= 2 * stretches) return values.map((_, index) => index);
  const length = values.length / stretches;
  const kept: number[] = [];
  for (let stretch = 0; stretch < stretches; stretch++) {
    const [from, to] = [Math.floor(stretch * length), Math.min(values.length, Math.floor((stretch + 1) * length))];
    let [least, most, gap, first, last] = [-1, -1, -1, -1, -1];
    for (let index = from; index < to; index++) {
      const value = values[index];
      if (value === null) {
        if (gap < 0) gap = index;
        continue;
      }
      if (first < 0) first = index;
      last = index;
      if (least < 0 || value < values[least]!) least = index;
      if (most < 0 || value > values[most]!) most = index;
    }
    const own = new Set([gap, first, least, most, last].filter((index) => index >= 0));
    kept.push(...[...own].sort((a, b) => a - b));
  }
  return kept;
}
