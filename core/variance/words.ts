import { differenceText, figureText, listWords, signedPercent } from '../format/index.ts';
import type { NumberFormat } from '../model/index.ts';
import type { Effects } from './effects.ts';

/** What changed, before it is put into words. */
export interface ChangeFacts {
  label: string;
  format: NumberFormat;
  before: number | null;
  after: number | null;
  /** "in the same days of 2025" */
  than: string;
  locale: string;
}

const LISTED = 3;

/** "Net sales fell from € 35.1 M to € 33.9 M, by € 1.2 M (−3.4 %)." */
export function changeSentence({ label, format, before, after, than, locale }: ChangeFacts): string {
  const say = (value: number): string => figureText(value, format, locale);
  if (before === null || after === null) {
    const missing = before === null ? than : 'now';
    return before === null && after === null ? `${label} has no value, now or ${than}.` : `${label} has no value ${missing}.`;
  }
  const change = after - before;
  if (change === 0) return `${label} is ${say(after)}, as ${than}.`;
  const percent = before > 0 && format.kind !== 'percent' ? ` (${signedPercent(change / before, locale)})` : '';
  return `${label} ${change > 0 ? 'rose' : 'fell'} by ${differenceText(Math.abs(change), format, locale)}${percent}, from ${say(before)} ${than} to ${say(after)}.`;
}

/** Two members before their difference is put into words; a value that is missing has no words of its own. */
interface DifferenceFacts extends Pick<ChangeFacts, 'label' | 'format' | 'locale'> {
  before: { label: string; value: number | null };
  after: { label: string; value: number | null };
}

/** "Net sales is € 5.2 M in Germany, € 1.2 M (+30.0 %) more than € 4.0 M in France." */
export function differenceSentence({ label, format, locale, before, after }: DifferenceFacts): string {
  const say = (value: number): string => figureText(value, format, locale);
  if (before.value === null || after.value === null) {
    const missing = [before, after].filter(({ value }) => value === null).map((member) => member.label);
    return `${label} has no value in ${listWords(missing)}.`;
  }
  const change = after.value - before.value;
  if (change === 0) return `${label} is ${say(after.value)} in ${listWords([before.label, after.label])} alike.`;
  const percent = before.value > 0 && format.kind !== 'percent' ? ` (${signedPercent(change / before.value, locale)})` : '';
  const by = `${differenceText(Math.abs(change), format, locale)}${percent} ${change > 0 ? 'more' : 'less'}`;
  return `${label} is ${say(after.value)} in ${after.label}, ${by} than ${say(before.value)} in ${before.label}.`;
}

/** How figures are formatted in sentences. */
export interface FigureFormatting extends Pick<ChangeFacts, 'format' | 'locale'> {
  /** Two members that are compared in the place of two periods. */
  between?: { before: string; after: string } | null;
}

/** "Italy, Spain and Portugal fell most; Germany rose most." */
export function moversSentence(named: readonly { label: string; change: number }[], formatting: FigureFormatting): string {
  const say = ({ label, change }: { label: string; change: number }): string => {
    const sign = change > 0 ? '+' : '−';
    return `${label} (${sign}${differenceText(Math.abs(change), formatting.format, formatting.locale)})`;
  };
  const { between } = formatting;
  const fell = named.filter(({ change }) => change < 0).slice(0, LISTED);
  const rose = named.filter(({ change }) => change > 0).slice(0, LISTED);
  const [lower, higher] = between
    ? [`furthest below in ${between.after}`, fell.length > 0 ? 'furthest above' : `furthest above in ${between.after}`]
    : ['fell most', 'rose most'];
  const verb = (count: number): string => (between ? (count === 1 ? 'is ' : 'are ') : '');
  const parts = [
    ...(fell.length > 0 ? [`${listWords(fell.map(say))} ${verb(fell.length)}${lower}`] : []),
    ...(rose.length > 0 ? [`${listWords(rose.map(say))} ${verb(rose.length)}${higher}`] : []),
  ];
  return parts.length === 0 ? (between ? 'No member differs.' : 'No member changed.') : `${parts.join('; ')}.`;
}

/** What the parts of a difference are called. */
const effectWords = (between: FigureFormatting['between']): Record<keyof Effects, string> => ({
  price: 'prices',
  volume: 'volume',
  mix: 'mix',
  gained: between ? `members in ${between.after} only` : 'new members',
  lost: between ? `members in ${between.before} only` : 'discontinued members',
});

/** "By prices +€ 0.2 M, by volume −€ 1.1 M, by mix −€ 0.3 M." */
export function effectsSentence(effects: Effects, { format, locale, between }: FigureFormatting): string {
  const said = Object.entries(effectWords(between)).flatMap(([name, words]) => {
    const value = effects[name as keyof Effects];
    if (value === 0) return [];
    return [`${value > 0 ? '+' : '−'}${figureText(Math.abs(value), format, locale)} by ${words}`];
  });
  return said.length === 0 ? '' : `Of the difference: ${listWords(said)}.`;
}
