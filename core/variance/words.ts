import { figureText, listWords, signedPercent } from '../format/index.ts';
import type { NumberFormat } from '../model/index.ts';
import type { Effects } from './effects.ts';

/** What changed, before it is put into words. */
export interface ChangeTold {
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
export function changeSentence({ label, format, before, after, than, locale }: ChangeTold): string {
  const say = (value: number): string => figureText(value, format, locale);
  if (before === null || after === null) {
    const missing = before === null ? than : 'now';
    return before === null && after === null ? `${label} has no value, now or ${than}.` : `${label} has no value ${missing}.`;
  }
  const change = after - before;
  if (change === 0) return `${label} is ${say(after)}, as ${than}.`;
  const percent = before > 0 && format.kind !== 'percent' ? ` (${signedPercent(change / before, locale)})` : '';
  return `${label} ${change > 0 ? 'rose' : 'fell'} by ${say(Math.abs(change))}${percent}, from ${say(before)} ${than} to ${say(after)}.`;
}

/** "Italy, Spain and Portugal fell most; Germany rose most." */
export function moversSentence(named: readonly { label: string; change: number }[], told: Pick<ChangeTold, 'format' | 'locale'>): string {
  const say = ({ label, change }: { label: string; change: number }): string => {
    const sign = change > 0 ? '+' : '−';
    return `${label} (${sign}${figureText(Math.abs(change), told.format, told.locale)})`;
  };
  const fell = named.filter(({ change }) => change < 0).slice(0, LISTED);
  const rose = named.filter(({ change }) => change > 0).slice(0, LISTED);
  const parts = [
    ...(fell.length > 0 ? [`${listWords(fell.map(say))} fell most`] : []),
    ...(rose.length > 0 ? [`${listWords(rose.map(say))} rose most`] : []),
  ];
  return parts.length === 0 ? 'No member changed.' : `${parts.join('; ')}.`;
}

const EFFECT_WORDS: Record<keyof Effects, string> = {
  price: 'prices',
  volume: 'volume',
  mix: 'mix',
  gained: 'new members',
  lost: 'discontinued members',
};

/** "By prices +€ 0.2 M, by volume −€ 1.1 M, by mix −€ 0.3 M." */
export function effectsSentence(effects: Effects, { format, locale }: Pick<ChangeTold, 'format' | 'locale'>): string {
  const said = Object.entries(EFFECT_WORDS).flatMap(([name, words]) => {
    const value = effects[name as keyof Effects];
    if (value === 0) return [];
    return [`${value > 0 ? '+' : '−'}${figureText(Math.abs(value), format, locale)} by ${words}`];
  });
  return said.length === 0 ? '' : `Of the difference: ${listWords(said)}.`;
}
