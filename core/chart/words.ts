import { cellText, countWords, figureText, listWords } from '../format/index.ts';
import { axisDrawing } from './axis-series.ts';
import { drawnSeries, periodWords, type ChartFigure } from './figure.ts';
import type { Series } from './series.ts';
import { chartKindOf, type ChartFamily } from './kinds.ts';
import { partsDrawing } from './parts.ts';
import { pointsDrawing } from './points.ts';
import { flowsOf } from './flows.ts';
import { slopesOf } from './slopes.ts';
import { binsOf, boxesOf } from './spread.ts';

const NAMED = 3;

const text = (figure: ChartFigure, series: Series, value: number): string => figureText(value, series.format, figure.locale);

/** The members with the largest and the smallest value; null where there is none. */
function extremesOf({ values }: Series): { highest: number; lowest: number; first: number; last: number } | null {
  const known = values.flatMap((value, index) => (value === null ? [] : [index]));
  if (known.length === 0) return null;
  const by = (better: (a: number, b: number) => boolean): number =>
    known.reduce((best, index) => (better(values[index]!, values[best]!) ? index : best));
  return { highest: by((a, b) => a > b), lowest: by((a, b) => a < b), first: known[0], last: known[known.length - 1] };
}

function seriesWords(figure: ChartFigure, series: Series): string {
  const found = extremesOf(series);
  if (!found) return `${series.label} has no values.`;
  const at = (index: number): string => figure.categories[index].fullLabel;
  const value = (index: number): string => text(figure, series, series.values[index]!);
  const { highest, lowest, first, last } = found;
  if (!figure.shape.isTime || first === last)
    return first === last
      ? `${series.label}: ${figure.shape.members > 1 ? `${at(first)} ` : ''}${value(first)}.`
      : `${series.label} is highest in ${at(highest)} (${value(highest)}) and lowest in ${at(lowest)} (${value(lowest)}).`;
  const change = series.values[last]! - series.values[first]!;
  const moved = change > 0 ? 'rose' : change < 0 ? 'fell' : 'stayed the same';
  const between = change === 0 ? `at ${value(first)}` : `from ${value(first)} in ${at(first)} to ${value(last)} in ${at(last)}`;
  return `${series.label} ${moved} ${between}; highest in ${at(highest)} (${value(highest)}), lowest in ${at(lowest)} (${value(lowest)}).`;
}

function partsWords(figure: ChartFigure): string {
  const { series, parts } = partsDrawing(figure);
  if (!series) return '';
  const largest = [...parts].sort((a, b) => b.value - a.value).slice(0, NAMED);
  const share = (value: number | null): string => figureText(value, { kind: 'percent', decimals: 1, unit: 'one' }, figure.locale);
  return `${series.label}: ${listWords(largest.map((part) => `${part.label} ${share(part.share)}`))} are the largest of ${parts.length} parts.`;
}

function slopesWords(figure: ChartFigure): string {
  const { places, slopes } = slopesOf(figure);
  const count = (way: 'up' | 'down'): number => slopes.filter(({ went }) => went === way).length;
  const members = { one: 'member', many: 'members' };
  return `From ${places[0] ?? ''} to ${places[places.length - 1] ?? ''} ${countWords(count('up'), members, figure.locale)} rose and ${countWords(count('down'), members, figure.locale)} fell.`;
}

function flowsWords(figure: ChartFigure): string {
  const { sources, targets, flows } = flowsOf(figure);
  const largest = [...flows].sort((a, b) => b.value - a.value).slice(0, NAMED);
  const named = largest.map(
    ({ from, to, value, series }) => `${sources[from].label} to ${targets[to].label} ${text(figure, series, value)}`,
  );
  return `${listWords(named)} are the largest of ${flows.length} flows.`;
}

function pointsWords(figure: ChartFigure): string {
  const { series, measures, missing } = pointsDrawing(figure);
  const count = series.reduce((sum, { points }) => sum + points.length, 0);
  const roles = measures.map(({ label }, index) => `${label} ${['along', 'up', 'as size', 'as colour'][index] ?? ''}`.trim());
  const left = missing > 0 ? ` ${countWords(missing, { one: 'member has', many: 'members have' }, figure.locale)} no place.` : '';
  return `${countWords(count, { one: 'point', many: 'points' }, figure.locale)}: ${listWords(roles)}.${left}`;
}

function boxesWords(figure: ChartFigure): string {
  const [series] = drawnSeries(figure);
  if (!series) return '';
  return boxesOf(figure)
    .map(({ label, median, quartiles: [low, high] }) => {
      const [middle, from, to] = [median, low, high].map((value) => text(figure, series, value));
      return `${label}: median ${middle}, half of its members from ${from} to ${to}.`;
    })
    .join(' ');
}

function binsWords(figure: ChartFigure): string {
  const [series] = drawnSeries(figure);
  if (!series) return '';
  const bins = binsOf(figure);
  if (bins.length === 0) return `${series.label} has no values.`;
  const fullest = bins.reduce((best, bin) => (bin.categories.length > best.categories.length ? bin : best));
  const [from, to] = [fullest.from, fullest.to].map((value) => cellText(value, series.format, figure.locale));
  return `${series.label} of ${figure.categories.length} members; most of them, ${fullest.categories.length}, from ${from} to ${to}.`;
}

const MOST_SERIES = 4;

function axisWords(figure: ChartFigure): string {
  const { series, categories } = axisDrawing(figure);
  const shown = series.slice(0, MOST_SERIES).map((own) => seriesWords({ ...figure, categories }, own));
  const rest = series.length - shown.length;
  return [...shown, ...(rest > 0 ? [`${countWords(rest, { one: 'more series', many: 'more series' }, figure.locale)}.`] : [])].join(' ');
}

const FAMILY_WORDS: Record<ChartFamily, (figure: ChartFigure) => string> = {
  axis: axisWords,
  slopes: slopesWords,
  grid: axisWords,
  days: axisWords,
  parts: partsWords,
  flows: flowsWords,
  points: pointsWords,
  boxes: boxesWords,
  bins: binsWords,
  places: axisWords,
  single: axisWords,
};

/** What a chart shows, for those who do not see it: "Net sales rose from … to …; highest in December 2025 (…)". */
export function chartWords(figure: ChartFigure): string {
  const { label, family } = chartKindOf(figure.kind);
  const by = figure.along === '' ? '' : ` by ${figure.along.toLowerCase()}`;
  const period = figure.period ? `, ${periodWords(figure)}` : '';
  return `${label}${by}${period}. ${FAMILY_WORDS[family](figure)}`;
}
