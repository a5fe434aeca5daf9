import { axisDrawing, chartKindOf, dayGridOf, flowsOf, isLying, partsDrawing, type ChartFigure } from '@bold-compass/core/chart';

/** In pixels. */
const [USUAL, LOWEST, HIGHEST] = [250, 130, 1_600];
const [BAR, ROW, STEP, SLOPE, BAND] = [23, 26, 34, 22, 30];
/** A year of days, and what stands above them. */
const [YEAR, TOP] = [148, 24];
/** What stands above and below the drawing of an exhibit with a height of its own: title, margins; a legend; and the way through periods. */
const [AROUND, LEGEND, PLAYER] = [66, 30, 44];

/** How high a chart is drawn: as its members need, or as high as its exhibit leaves room. */
export function chartHeight(figure: ChartFigure, height: number | undefined, hasLegend: boolean): number {
  if (height !== undefined) return Math.max(LOWEST, height - AROUND - (hasLegend ? LEGEND : 0) - (figure.period ? PLAYER : 0));
  const { kind, shape } = figure;
  const lines = (count: number, each: number): number => Math.min(HIGHEST, Math.max(LOWEST, count * each + 34));
  if (kind === 'slope') return lines(shape.members, SLOPE);
  if (kind === 'days') return dayGridOf(figure).years.length * YEAR + TOP;
  if (kind === 'flow') {
    const { sources, targets } = flowsOf(figure);
    return Math.max(USUAL, lines(Math.max(sources.length, targets.length), BAND));
  }
  if (isLying(figure)) {
    const perMember =
      shape.arrangement === 'grouped' && !chartKindOf(kind).inOneLine ? Math.max(1, axisDrawing(figure).series.length * 0.7) : 1;
    return lines(shape.members * perMember, BAR);
  }
  if (kind === 'heat') return lines(shape.members, ROW);
  if (kind === 'funnel') return lines(partsDrawing(figure).parts.length, STEP);
  if (kind === 'map') return USUAL + 130;
  return kind === 'pie' || kind === 'ring' || kind === 'treemap' || kind === 'packed' ? USUAL + 50 : USUAL;
}
