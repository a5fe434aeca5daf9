import { figureText, limitText, signedPercent } from '../format/index.ts';
import { fieldPlural, findField, findMeasure, type Dataset, type Indicator, type Kpi, type NumberFormat } from '../model/index.ts';
import type { State } from './state.ts';

/**
 * What follows how a figure stands, by what it is held against: "of target", "against € 4.0 M", "on last year". Empty where it is
 * held against nothing. `format` is that of the figure.
 */
export function comparisonWords(
  dataset: Dataset,
  { against, by }: Pick<Indicator, 'against' | 'by'>,
  format: NumberFormat,
  locale: string,
): string {
  if (by === 'value' || by === 'spread') return '';
  const than = (what: string): string => `${by === 'ratio' ? 'of' : 'against'} ${what}`;
  switch (against.kind) {
    case 'measure':
      return than((findMeasure(dataset, against.measure)?.label ?? against.measure).toLowerCase());
    case 'value':
      return than(limitText(against.value, format, locale));
    case 'back':
      return against.amount === 1 ? `on last ${against.unit}` : `on ${against.amount} ${against.unit}s before`;
    case 'average': {
      const field = against.field !== undefined && findField(dataset, against.field) ? fieldPlural(dataset, against.field) : '';
      return than(field === '' ? 'the average' : `the average of ${field}`);
    }
    case 'none':
      return '';
  }
}

/** The words of the states. */
export const STATE_WORDS = {
  ahead: 'Well on course',
  on: 'On course',
  drifting: 'Drifting',
  off: 'Off course',
  far: 'Far off course',
  none: 'No reading',
} as const satisfies Record<State, string>;

const PERCENT = { kind: 'percent', decimals: 1, unit: 'one' } as const;

/** What a reading of a KPI says of how it stands. */
interface Standing {
  attainment: number | null;
  reason: string;
}

/** How a KPI stands: "96.6 % of target", "+2.2 pt against 43 %", "+6.2 % on last year"; what is missing where nothing can be said. */
export function readingWords(
  dataset: Dataset,
  { indicator, words: own }: Pick<Kpi, 'indicator' | 'words'>,
  { attainment, reason }: Standing,
  format: NumberFormat,
  locale: string,
): string {
  const words = own || comparisonWords(dataset, indicator, format, locale);
  if (attainment === null) return indicator.by === 'spread' ? 'Judged member by member.' : reason || 'Nothing to hold it against.';
  if (indicator.by === 'value') return words;
  if (indicator.by === 'difference')
    return `${format.kind === 'percent' ? signedPercent(attainment, locale, 'pt') : figureText(attainment, format, locale)} ${words}`;
  if (indicator.against.kind === 'back') return `${signedPercent(attainment - 1, locale)} ${words}`;
  return `${figureText(attainment, PERCENT, locale)} ${words}`;
}
