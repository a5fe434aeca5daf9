/**
 * Least value of a function of several numbers, each within bounds, by the simplex of Nelder and Mead ("A simplex method for
 * function minimization", The Computer Journal 7, 1965). Stops when the simplex is small, or after `steps`.
 */
export function minimise(
  of: (point: readonly number[]) => number,
  start: readonly number[],
  bounds: readonly (readonly [number, number])[],
  steps = 400,
): number[] {
  const inside = (point: readonly number[]): number[] =>
    point.map((value, index) => Math.min(bounds[index][1], Math.max(bounds[index][0], value)));
  const corner = (point: readonly number[]) => {
    const own = inside(point);
    return { point: own, value: of(own) };
  };
  const simplex = [
    corner(start),
    ...start.map((value, index) => {
      const [low, high] = bounds[index];
      const moved = value + (high - low) * 0.15;
      return corner(start.map((own, at) => (at === index ? (moved > high ? value - (high - low) * 0.15 : moved) : own)));
    }),
  ];
  for (let step = 0; step < steps; step++) {
    simplex.sort((a, b) => a.value - b.value);
    const best = simplex[0];
    const worst = simplex[simplex.length - 1];
    if (Math.abs(worst.value - best.value) <= 1e-9 * (Math.abs(best.value) + 1e-9)) break;
    const others = simplex.slice(0, -1);
    const centre = start.map((_, index) => others.reduce((sum, { point }) => sum + point[index], 0) / others.length);
    const along = (by: number) => corner(centre.map((value, index) => value + by * (worst.point[index] - value)));
    const reflected = along(-1);
    if (reflected.value < best.value) {
      const expanded = along(-2);
      simplex[simplex.length - 1] = expanded.value < reflected.value ? expanded : reflected;
    } else if (reflected.value < others[others.length - 1].value) simplex[simplex.length - 1] = reflected;
    else {
      const contracted = along(reflected.value < worst.value ? -0.5 : 0.5);
      if (contracted.value < Math.min(worst.value, reflected.value)) simplex[simplex.length - 1] = contracted;
      else
        simplex.splice(
          1,
          simplex.length - 1,
          ...simplex.slice(1).map(({ point }) => corner(point.map((value, index) => best.point[index] + (value - best.point[index]) / 2))),
        );
    }
  }
  simplex.sort((a, b) => a.value - b.value);
  return simplex[0].point;
}
