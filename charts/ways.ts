import { pointsDrawing, type ChartFigure, type Point } from '@bold-compass/core/chart';
import { samePath } from '@bold-compass/core/table';
import type { DrawnWith } from './drawing.ts';

/** So many ways through the periods before can be told apart, each through so many of these; one that is chosen goes through all. */
const [MOST_WAYS, TRAIL] = [40, 4];

/** The way of a member from the periods before to the one that is shown. */
interface Way {
  category: number;
  /** The place of its series among those that are drawn. */
  series: number;
  colour: number;
  /** Where it was, the last one where it is. */
  points: Point[];
}

const seriesPoints = (figure: ChartFigure) => pointsDrawing(figure).series;

/** The ways of all members, or of the chosen one alone, where one is chosen; none where the chart leaves no trails. */
export function waysOf({ figure, settings, chosen }: Pick<DrawnWith, 'figure' | 'settings' | 'chosen'>): Way[] {
  const { among } = figure;
  if (!among || !settings.through?.trails) return [];
  const shown = seriesPoints(figure).reduce((count, { points }) => count + points.length, 0);
  if (!chosen && shown > MOST_WAYS) return [];
  const until = among.series
    .slice(chosen ? 0 : Math.max(0, among.at - TRAIL), among.at + 1)
    .map((series) => seriesPoints({ ...figure, series }));
  const ways = (until.at(-1) ?? []).flatMap(({ points, colour, path }, member) =>
    points
      .filter(
        ({ category }) => !chosen || (samePath(figure.categories[category].header?.path ?? [], chosen.side) && samePath(path, chosen.top)),
      )
      .map(({ category }) => ({
        ...{ category, series: member, colour },
        points: until.flatMap((series) => series[member]?.points.find((point) => point.category === category) ?? []),
      })),
  );
  return ways.filter(({ points }) => points.length > 1);
}
