import { figureText, limitText } from '../format/index.ts';
import { printName } from '../formula/index.ts';
import { targetName, type State } from '../indicators/index.ts';
import { measureNamed, type CellMeasure, type Dataset, type Indicator, type Measure } from '../model/index.ts';
import type { LegendWording } from './kind.ts';

const PERCENT = { kind: 'percent', decimals: 1, unit: 'one' } as const;
const WORDS: Record<Exclude<State, 'none'>, string> = {
  ahead: 'well on course',
  on: 'on course',
  drifting: 'drifting',
  off: 'off course',
  far: 'far off course',
};

function targetWords({ against, by }: Indicator, { dataset, measure, locale }: LegendWording): string {
  if (by === 'value' || by === 'spread') return '';
  switch (against.kind) {
    case 'measure':
      return measureNamed(dataset, against.measure).label.toLowerCase();
    case 'back':
      return `the same days ${against.amount === 1 ? `a ${against.unit}` : `${against.amount} ${against.unit}s`} before`;
    case 'value':
      // What is a share of its target itself has no other.
      return measure.format.kind === 'percent' && against.value === 1 ? 'target' : figureText(against.value, measure.format, locale);
    case 'average':
      return 'the average of the members beside it';
    case 'none':
      return '';
  }
}

/** When a figure is on course, for the legend: "On course from 100 % of target, drifting from 96 %". */
export function indicatorWords(indicator: Indicator, wording: LegendWording): string {
  const { by, direction, ahead, onCourse, drifting, far } = indicator;
  const { measure, locale } = wording;
  const isShare = by === 'ratio' || by === 'spread';
  const isPercent = isShare || measure.format.kind === 'percent';
  const limit = (value: number): string => limitText(value, isPercent ? PERCENT : measure.format, locale);
  const from = { higher: 'from', lower: 'below', band: 'within' }[direction];
  const of = targetWords(indicator, wording);
  const steps = (
    [
      ['ahead', ahead],
      ['on', onCourse],
      ['drifting', drifting],
      ['off', far],
    ] as const
  ).flatMap(([state, value]) => (value === undefined ? [] : [`${WORDS[state]} ${from} ${limit(value)}`]));
  if (of !== '') steps[0] += by === 'ratio' ? ` of ${of}` : ` from ${of}`;
  if (by === 'spread') steps[0] += ' of the members';
  const text = steps.join(', ');
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/**
 * The measure that members stand in the order of their states by: more is better. Where all members beside each other are held
 * against the same, that is the measure itself, or less of it; else a formula of its own, which is its name.
 */
export function stateMeasure(dataset: Dataset, { measure, indicator }: Pick<CellMeasure, 'measure' | 'indicator'>): Measure | null {
  if (!indicator) return null;
  const own = printName(measure);
  const { by, direction } = indicator;
  const target = by === 'ratio' || by === 'difference' ? targetName(dataset, { measure, indicator }) : null;
  // A measure some periods back is named by its formula.
  const goal = target !== null && indicator.against.kind === 'measure' ? printName(target) : `(${target})`;
  const held = target === null ? own : `${own} ${by === 'ratio' ? '/' : '-'} ${goal}`;
  const distance = by === 'ratio' ? `${held} - 1` : held;
  const formula = { higher: held, lower: `0 - (${held})`, band: `0 - abs(${distance})` }[direction];
  if (formula === own) return measureNamed(dataset, measure);
  return { name: formula, label: `State of ${measureNamed(dataset, measure).label}`, format: PERCENT, direction: 'higher', formula };
}
