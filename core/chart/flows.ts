import { drawnSeries, type ChartFigure } from './figure.ts';
import type { Series } from './series.ts';

/** What goes from one member to another. */
export interface Flow {
  from: number;
  to: number;
  value: number;
  series: Series;
  /** Its place among the members along the axis. */
  category: number;
}

/** The members that flows begin and end at, each with all that it gives or takes. */
export interface FlowsDrawing {
  sources: { label: string; value: number }[];
  targets: { label: string; value: number }[];
  flows: Flow[];
}

/**
 * What goes from the members along the axis to those of the series, by the first measure; or, where there is no field for series,
 * from the groups along the axis to the members in them. What is not above zero does not flow.
 */
export function flowsOf(figure: ChartFigure): FlowsDrawing {
  const series = drawnSeries(figure).filter(({ measure }) => measure === 0);
  const [sources, targets] = [new Map<string, number>(), new Map<string, number>()];
  const numberOf = (map: Map<string, number>, label: string): number => {
    const known = map.get(label) ?? map.size;
    map.set(label, known);
    return known;
  };
  const flows = figure.categories.flatMap(({ label, fullLabel, groups }, category) =>
    series.flatMap((own): Flow[] => {
      const value = own.values[category] ?? 0;
      if (value <= 0) return [];
      const [from, to] = figure.shape.hasSeriesField ? [fullLabel, own.member] : [groups.join(', ') || 'All', label];
      return [{ from: numberOf(sources, from), to: numberOf(targets, to), value, series: own, category }];
    }),
  );
  const ends = (map: Map<string, number>, end: 'from' | 'to'): { label: string; value: number }[] =>
    [...map].map(([label, number]) => ({
      label,
      value: flows.filter((flow) => flow[end] === number).reduce((sum, { value }) => sum + value, 0),
    }));
  return { sources: ends(sources, 'from'), targets: ends(targets, 'to'), flows };
}
