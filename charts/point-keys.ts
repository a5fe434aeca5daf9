/** A point of a chart: its dataset, and its place in it. */
export interface PointAt {
  dataset: number;
  index: number;
}

type Points = readonly (readonly (unknown | null)[])[];

const isPoint = (points: Points, { dataset, index }: PointAt): boolean => points[dataset]?.[index] != null;

/** The next point of the same dataset in a direction. */
function along(points: Points, { dataset, index }: PointAt, step: 1 | -1): PointAt | null {
  for (let to = index + step; to >= 0 && to < points[dataset].length; to += step)
    if (isPoint(points, { dataset, index: to })) return { dataset, index: to };
  return null;
}

/** The nearest point of the next dataset in a direction. */
function across(points: Points, from: PointAt, step: 1 | -1): PointAt | null {
  for (let dataset = from.dataset + step; dataset >= 0 && dataset < points.length; dataset += step) {
    const places = points[dataset].flatMap((point, index) => (point == null ? [] : [index]));
    if (places.length > 0)
      return {
        dataset,
        index: places.reduce((best, index) => (Math.abs(index - from.index) < Math.abs(best - from.index) ? index : best)),
      };
  }
  return null;
}

function end(points: Points, last: boolean): PointAt | null {
  for (const [dataset, own] of points.entries()) {
    const index = last ? own.findLastIndex((point) => point != null) : own.findIndex((point) => point != null);
    if (index >= 0) return { dataset, index };
  }
  return null;
}

/**
 * The point that a key leads to; null where it leads nowhere. The arrows go along the axis, and from series to series across
 * it: where bars lie, the axis goes down.
 */
export function nextPoint(points: Points, from: PointAt | null, key: string, lying: boolean): PointAt | null {
  if (key === 'Home' || key === 'End') return end(points, key === 'End');
  const [on, back, other, otherBack] = lying
    ? ['ArrowDown', 'ArrowUp', 'ArrowRight', 'ArrowLeft']
    : ['ArrowRight', 'ArrowLeft', 'ArrowUp', 'ArrowDown'];
  if (![on, back, other, otherBack].includes(key)) return null;
  if (!from) return end(points, false);
  if (key === on || key === back) return along(points, from, key === on ? 1 : -1) ?? from;
  return across(points, from, key === other ? 1 : -1) ?? from;
}
