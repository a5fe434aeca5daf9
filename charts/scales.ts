import type { Ends } from '@bold-compass/core/chart';
import { LOCALE, cellText } from '@bold-compass/core/format';
import type { ChartScale, NumberFormat } from '@bold-compass/core/model';
import type { ScaleOptionsByType } from 'chart.js';
import { CHART_FONT, type CanvasTokens } from './tokens.ts';
import { fitsWords, LETTER, textWidth, wrappedWords } from './wrapped-words.ts';

const FONT = { family: CHART_FONT, size: 12 } as const;

/** Ticks are as short as they can be: no more decimals than tell them apart. */
function tickText(value: number, step: number, format: NumberFormat): string {
  const scaled = format.kind === 'percent' ? step * 100 : step / { one: 1, thousand: 1_000, million: 1_000_000 }[format.unit];
  const decimals = Math.min(6, Math.max(0, -Math.floor(Math.log10(Math.abs(scaled) || 1) + 1e-9)));
  return cellText(value, { ...format, decimals }, LOCALE);
}

interface ValueScale {
  format: NumberFormat;
  scale: ChartScale;
  fromZero: boolean;
  title?: string;
  /** Ends that several charts have in common. */
  ends?: Ends | null;
  grid?: boolean;
}

/** A scale of values: thin, with few ticks, and a dark line at zero. */
export function valueScale(tokens: CanvasTokens, { format, scale, fromZero, title, ends, grid = true }: ValueScale) {
  return {
    type: scale.logarithmic ? 'logarithmic' : 'linear',
    beginAtZero: fromZero && !scale.logarithmic,
    // Ends in common may lie at zero or below it, which has no logarithm.
    min: scale.min ?? (scale.logarithmic ? undefined : ends?.min),
    max: scale.max ?? ends?.max,
    border: { display: false },
    grid: {
      drawTicks: false,
      drawOnChartArea: grid,
      color: ({ tick }: { tick?: { value: number } }) => (tick?.value === 0 ? tokens.ink : tokens.hairline),
    },
    title: { display: title !== undefined, text: title, color: tokens.quiet, font: FONT },
    ticks: {
      color: tokens.quiet,
      font: FONT,
      padding: 6,
      // Ends in common are a few round steps apart, which are all to be named.
      maxTicksLimit: ends ? 12 : 6,
      stepSize: ends?.step,
      callback: (value: string | number, _index: number, ticks: readonly { value: number }[]) =>
        tickText(Number(value), ticks.length > 1 ? ticks[1].value - ticks[0].value : Number(value), format),
    },
  } as unknown as ScaleOptionsByType<'linear'>;
}

/** The least width that a label needs beside others, in pixels. */
const LABEL_WIDTH = 46;
/** Names that are too wide beside each other stand on so many lines at most, by turns. */
const MOST_LINES = 4;

/** On how many lines names stand by turns, so that none reaches into another; null where these would be too many. */
export function linesByTurns(names: readonly string[], share: number): number | null {
  const widest = Math.max(0, ...names.map(textWidth)) + LETTER;
  const lines = Math.max(1, Math.ceil(widest / share));
  return lines <= MOST_LINES ? lines : null;
}

/** A name on its line of several. */
export const onLine = (name: string, index: number, lines: number): string[] =>
  Array.from({ length: lines }, (_, line) => (line === index % lines ? name : ''));

/** A scale of members: their labels, under these the groups they are in; groups alone where there are too many members. */
export function memberScale(
  tokens: CanvasTokens,
  categories: readonly { label: string; groups: readonly string[] }[],
  { lying, width, stacked }: { lying: boolean; width: number; stacked: boolean },
) {
  const group = (index: number): string => categories[index]?.groups.join(', ') ?? '';
  const begins = (index: number): boolean => group(index) !== '' && (index === 0 || group(index - 1) !== group(index));
  const hasGroups = categories.some((_, index) => begins(index));
  const isCrowded = hasGroups && !lying && categories.length * LABEL_WIDTH > width;
  const share = width / Math.max(1, categories.length) - 4;
  const isRoomy = !hasGroups && !lying && categories.every(({ label: own }) => fitsWords(own, share));
  const lines =
    hasGroups || lying || isRoomy
      ? null
      : linesByTurns(
          categories.map(({ label: own }) => own),
          share,
        );
  const label = (index: number): string | string[] => {
    if (isCrowded) return begins(index) ? group(index) : '';
    if (lying || (!hasGroups && !isRoomy && lines === null))
      return begins(index) ? `${group(index)} · ${categories[index].label}` : (categories[index]?.label ?? '');
    if (isRoomy) return wrappedWords(categories[index]?.label ?? '', share);
    if (lines !== null) return onLine(categories[index]?.label ?? '', index, lines);
    return [categories[index]?.label ?? '', begins(index) ? group(index) : ''];
  };
  return {
    type: 'category',
    stacked,
    border: { color: tokens.quiet, display: !lying },
    grid: {
      drawOnChartArea: false,
      drawTicks: !lying,
      tickLength: lying ? 0 : 5,
      offset: false,
      color: ({ index }: { index: number }) => (!isCrowded || begins(index) ? tokens.quiet : 'transparent'),
    },
    ticks: {
      color: lying ? tokens.ink : tokens.quiet,
      font: lying ? { ...FONT, size: 12.5 } : FONT,
      padding: lying ? 8 : 2,
      autoSkip: !isCrowded && !lying && !isRoomy && lines === null,
      autoSkipPadding: 10,
      maxRotation: 0,
      align: isCrowded ? 'start' : 'center',
      callback: (_value: string | number, index: number) => label(index),
    },
  } as unknown as ScaleOptionsByType<'category'>;
}

/** A scale of places in a row of many points, which only the library's thinning of lines needs. */
export function placeScale(tokens: CanvasTokens, categories: readonly { fullLabel: string }[]) {
  return {
    type: 'linear',
    min: 0,
    max: Math.max(0, categories.length - 1),
    border: { color: tokens.quiet },
    grid: { drawOnChartArea: false, color: tokens.quiet },
    ticks: {
      color: tokens.quiet,
      font: FONT,
      maxRotation: 0,
      precision: 0,
      maxTicksLimit: 8,
      callback: (value: string | number) => categories[Math.round(Number(value))]?.fullLabel ?? '',
    },
  } as unknown as ScaleOptionsByType<'linear'>;
}
