import { derivedOf, findMeasure, type Dataset, type Measure } from '../model/index.ts';
import { namesIn } from './mentions.ts';

/** What a measure stands on: how many measures name each other below it, itself included; or the ring that it leads into. */
type MeasureChain = { depth: number } | { ring: string[] };

interface Visit {
  measure: Measure;
  /** Measures that it names and that were not looked at yet. */
  left: Measure[];
  depth: number;
  ring: string[] | null;
}

/**
 * How a measure hangs on others. Depth-first search that looks at each measure of a dataset once (Tarjan, "Depth-first
 * search and linear graph algorithms", SIAM J. Comput. 1972), without recursion: chains may be as long as a dataset has measures.
 */
export function chainOf(dataset: Dataset, name: string): MeasureChain {
  const known = derivedOf(dataset, 'chains of measures', () => new Map<string, MeasureChain>());
  const first = findMeasure(dataset, name);
  if (!first) return { depth: 0 };
  const open: Visit[] = [];
  const places = new Map<string, number>();
  const begin = (measure: Measure): void => {
    places.set(measure.name, open.length);
    const left = [...namesIn(measure.formula)].map((one) => findMeasure(dataset, one)).filter((one) => one !== undefined);
    open.push({ measure, left, depth: 1, ring: null });
  };
  const take = (visit: Visit, below: MeasureChain): void => {
    if ('ring' in below) visit.ring ??= below.ring;
    else visit.depth = Math.max(visit.depth, below.depth + 1);
  };
  if (!known.has(first.name)) begin(first);
  while (open.length > 0) {
    const visit = open[open.length - 1];
    const next = visit.left.pop();
    if (next === undefined) {
      open.pop();
      places.delete(visit.measure.name);
      const chain: MeasureChain = visit.ring ? { ring: visit.ring } : { depth: visit.depth };
      known.set(visit.measure.name, chain);
      if (open.length > 0) take(open[open.length - 1], chain);
      continue;
    }
    const below = known.get(next.name);
    const place = places.get(next.name);
    if (below) take(visit, below);
    else if (place === undefined) begin(next);
    else visit.ring ??= [...open.slice(place).map(({ measure }) => measure.name), next.name];
  }
  return known.get(first.name)!;
}
