import { countWords, figureText, listWords } from '../format/index.ts';
import type { ChartSettings } from '../model/index.ts';
import { drawnSeries, type ChartFigure } from './figure.ts';
import { controlLimits, isOutside, type ControlLimits } from './reference.ts';

/** More members than these are counted, not named. */
const NAMED = 6;

/** The control limits of what is drawn first, and the places of the values outside them. */
export interface Control extends ControlLimits {
  outside: readonly number[];
}

/** Null where they are not asked for, or too few values are there; what is not whole yet is not judged. */
export function controlOf(figure: ChartFigure, { lines }: Pick<ChartSettings, 'lines'>): Control | null {
  const [series] = drawnSeries(figure);
  if (!series || !lines.some(({ at }) => at === 'limits')) return null;
  const whole = series.values.map((value, index) => (figure.categories[index]?.isPartial ? null : value));
  const limits = controlLimits(whole);
  if (!limits) return null;
  return { ...limits, outside: whole.flatMap((value, index) => (value !== null && isOutside(limits, value) ? [index] : [])) };
}

/** What control limits say, in a sentence; empty where there are none. */
export function controlWords(figure: ChartFigure, settings: Pick<ChartSettings, 'lines'>): string {
  const control = controlOf(figure, settings);
  const [series] = drawnSeries(figure);
  if (!control || !series) return '';
  const say = (value: number): string => figureText(value, series.format, figure.locale);
  const limits = `the control limits of ${series.label}, ${say(control.low)} to ${say(control.high)}`;
  const names = control.outside.map((index) => figure.categories[index].fullLabel);
  if (names.length === 0) return `All values lie within ${limits}.`;
  const outside = names.length <= NAMED ? listWords(names) : countWords(names.length, { one: 'value', many: 'values' }, figure.locale);
  return `Outside ${limits}: ${outside}.`;
}
