import { drawnSeries, type ChartFigure } from './figure.ts';
import { niceStep } from './scale.ts';

/** How the values of a group are spread. */
export interface Box {
  label: string;
  count: number;
  median: number;
  /** First and third quartile, as PostgreSQL's percentile_cont has them. */
  quartiles: readonly [number, number];
  /** The furthest values within one and a half times the distance of the quartiles from these (Tukey 1977). */
  whiskers: readonly [number, number];
  /** Members beyond. */
  outliers: readonly { category: number; value: number }[];
}

/** The value below which a part of some sorted values lies, between two of them by their distance (percentile_cont). */
export function quantile(sorted: readonly number[], part: number): number {
  const at = (sorted.length - 1) * part;
  const [low, high] = [sorted[Math.floor(at)], sorted[Math.ceil(at)]];
  return low + (high - low) * (at - Math.floor(at));
}

const TUKEY = 1.5;

function boxOf(label: string, members: { category: number; value: number }[]): Box {
  const sorted = members.map(({ value }) => value).sort((a, b) => a - b);
  const quartiles = [quantile(sorted, 0.25), quantile(sorted, 0.75)] as const;
  const reach = (quartiles[1] - quartiles[0]) * TUKEY;
  const isNear = (value: number): boolean => value >= quartiles[0] - reach && value <= quartiles[1] + reach;
  const near = sorted.filter(isNear);
  return {
    ...{ label, count: sorted.length, median: quantile(sorted, 0.5), quartiles },
    whiskers: [near[0], near[near.length - 1]],
    outliers: members.filter(({ value }) => !isNear(value)),
  };
}

/** The values of the first series with their members; those without one are left out. */
const membersOf = (figure: ChartFigure): { category: number; value: number }[] =>
  (drawnSeries(figure)[0]?.values ?? []).flatMap((value, category) => (value === null ? [] : [{ category, value }]));

/** A box for each group along the axis, over the members in it. */
export function boxesOf(figure: ChartFigure): Box[] {
  const groups = new Map<string, { category: number; value: number }[]>();
  for (const member of membersOf(figure)) {
    const label = figure.categories[member.category].groups.join(', ') || 'All';
    groups.set(label, [...(groups.get(label) ?? []), member]);
  }
  return [...groups].map(([label, members]) => boxOf(label, members));
}

/** A range of values with the members that fall into it: from its lower bound on, below its upper one. */
export interface Bin {
  from: number;
  to: number;
  categories: readonly number[];
}

const MOST_BINS = 40;

/**
 * Ranges of a round width, as many as the values call for: twice the distance of the quartiles over the cube root of their
 * number (Freedman and Diaconis 1981).
 */
export function binsOf(figure: ChartFigure): Bin[] {
  const members = membersOf(figure);
  if (members.length === 0) return [];
  const sorted = members.map(({ value }) => value).sort((a, b) => a - b);
  const [least, most] = [sorted[0], sorted[sorted.length - 1]];
  const spread = quantile(sorted, 0.75) - quantile(sorted, 0.25);
  const wanted = (2 * spread) / Math.cbrt(sorted.length);
  const width = niceStep(Math.max(wanted, (most - least) / MOST_BINS) || Math.abs(most) || 1);
  const first = Math.floor(least / width);
  // Without what binary fractions leave at their ends, so that a value on a bound is the bound: 3 × 0.1 is no 0.3.
  const bound = (index: number): number => Number(((first + index) * width).toPrecision(12));
  const bins = Array.from({ length: Math.floor(most / width) - first + 2 }, (_, index) => ({
    from: bound(index),
    to: bound(index + 1),
    categories: [] as number[],
  }));
  for (const { category, value } of members) {
    let at = Math.floor(value / width) - first;
    if (value < bins[at].from) at--;
    else if (value >= bins[at].to) at++;
    bins[at].categories.push(category);
  }
  return bins[bins.length - 1].categories.length > 0 ? bins : bins.slice(0, -1);
}
