import { axisDrawing, chartKindOf, partsDrawing, type ChartFigure } from '@bold-compass/core/chart';

/** In pixels. */
const [USUAL, LOWEST, HIGHEST] = [250, 130, 1_600];
const [BAR, ROW, STEP] = [23, 26, 34];
/** What stands above and below the drawing of an exhibit with a height of its own: title, margins; a legend; and the way through periods. */
const [AROUND, LEGEND, PLAYER] = [66, 30, 44];

/** How high a chart is drawn: as its members need, or as high as its exhibit leaves room. */
export function chartHeight(figure: ChartFigure, height: number | undefined, hasLegend: boolean): number {
  if (height !== undefined) return Math.max(LOWEST, height - AROUND - (hasLegend ? LEGEND : 0) - (figure.period ? PLAYER : 0));
  const { kind, shape } = figure;
  const lines = (count: number, each: number): number => Math.min(HIGHEST, Math.max(LOWEST, count * each + 34));
  if (chartKindOf(kind).lying) {
    const perMember = shape.arrangement === 'grouped' ? Math.max(1, axisDrawing(figure).series.length * 0.7) : 1;
    return lines(shape.members * perMember, BAR);
  }
  if (kind === 'heat') return lines(shape.members, ROW);
  if (kind === 'funnel') return lines(partsDrawing(figure).parts.length, STEP);
  if (kind === 'map') return USUAL + 130;
  return kind === 'pie' || kind === 'ring' || kind === 'treemap' || kind === 'packed' ? USUAL + 50 : USUAL;
}
