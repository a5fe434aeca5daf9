import type { ChartSettings } from '../model/index.ts';
import { controlWords } from './control.ts';
import { drawnSeries, misfitOf, type ChartFigure, type ChartPeriod } from './figure.ts';
import { chartKindOf } from './kinds.ts';
import { logarithmMisfit } from './logarithm.ts';
import { correlationWords, pointsTrend } from './points.ts';
import { chartsOfPeriods, firstShown, isPastColours, panelsOf, type Panel } from './small-charts.ts';

/** What a reader chose of a chart. */
export interface ChartView {
  /** Series that are hidden, by their keys. */
  hidden: ReadonlySet<string>;
  /** The member of the period that is shown; the one that is shown first where it is not said. */
  period?: string | null;
}

/** A chart as it is drawn for a reader. */
export interface ShownChart {
  misfit: ReturnType<typeof misfitOf>;
  logarithm: ReturnType<typeof logarithmMisfit>;
  /** The settings that it is drawn with: another kind, or other scales, where those chosen cannot show the figures. */
  settings: ChartSettings;
  periods: readonly ChartPeriod[];
  /** Which of them is shown. */
  periodAt: number;
  /** The chart of each period as it was composed, whatever the reader hid. */
  composed: readonly ChartFigure[];
  figure: ChartFigure;
  /** A chart for each member, where there are several; null where all are drawn in one. */
  panels: readonly Panel[] | null;
}

/** A chart over its whole figure as a reader sees it; `periodAt` is the period that is shown where the view names none. */
export function shownChart(whole: ChartFigure, chart: ChartSettings, view: ChartView, playedTo: number | null = null): ShownChart {
  const composed = chartsOfPeriods(whole);
  const misfit = misfitOf(composed[0] ?? whole);
  const fitting: ChartSettings = misfit?.isImpossible ? { ...chart, ...misfit.better } : chart;
  // Where only those are left that the reader hid, under another scope, they are shown again.
  const isAnyLeft = whole.series.some(({ key, hidden }) => !hidden && !view.hidden.has(key));
  const series = whole.series.map((one) => ({ ...one, hidden: one.hidden || (isAnyLeft && view.hidden.has(one.key)) }));
  const { kind, arrangement } = fitting;
  const shown: ChartFigure = { ...whole, kind, series, shape: { ...whole.shape, arrangement } };
  const logarithm = logarithmMisfit(shown, fitting);
  const settings: ChartSettings = { ...fitting, ...logarithm?.drawn };
  const periods = whole.periods ?? [];
  const named = view.period === undefined ? -1 : periods.findIndex(({ member }) => (member ?? '') === (view.period ?? ''));
  const periodAt = playedTo !== null && playedTo < periods.length ? playedTo : named >= 0 ? named : firstShown(periods);
  const figure = chartsOfPeriods(shown)[periodAt] ?? shown;
  const isApart = !figure.period && figure.shape.hasSeriesField && (settings.panels || isPastColours(figure));
  return { misfit, logarithm, settings, periods, periodAt, composed, figure, panels: isApart ? panelsOf(figure) : null };
}

/** The measures that are shown by colour and by size, by their positions, −1 for none; null where a chart has no key to them. */
export function shadeKey({ kind, map }: ChartSettings, hasSeriesField: boolean): { size: number; shade: number } | null {
  const { family, shades } = chartKindOf(kind);
  if (family === 'points' || (family === 'places' && map.points)) return { size: 2, shade: 3 };
  if (family === 'places') return { shade: map.marks === 'rings' || !hasSeriesField ? 0 : -1, size: map.marks === 'rings' ? 1 : -1 };
  return shades ? { shade: 0, size: -1 } : null;
}

/** What is said under a chart: of trends, forecasts, control limits and marks. */
export function notesBelow({ figure, settings, periods, periodAt, panels }: ShownChart): string[] {
  const { family, correlates } = chartKindOf(figure.kind);
  if (family === 'points')
    return [pointsTrend(figure, settings.trend)?.words, correlates ? correlationWords(figure) : ''].filter(
      (line): line is string => !!line,
    );
  const before = periods[periodAt - 1];
  const isMarked = settings.through?.trails && before !== undefined && figure.period !== null;
  const marks = isMarked && family === 'axis' && drawnSeries(figure).length === 1 ? [`Mark: ${before.label}`] : [];
  const key = shadeKey(settings, figure.shape.hasSeriesField);
  if (isMarked && family === 'places' && key && key.size > 0 && figure.shape.measures > key.size) marks.push(`Pale ring: ${before.label}`);
  const apart = panels && !settings.panels ? ['More series than colours: a chart for each, on common scales'] : [];
  const control = family === 'axis' && !panels ? [controlWords(figure, settings)].filter((line) => line !== '') : [];
  return [...figure.notes, ...marks, ...control, ...apart];
}
