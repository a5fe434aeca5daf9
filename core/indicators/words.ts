import { limitText } from '../format/index.ts';
import { fieldPlural, findField, findMeasure, type Dataset, type Indicator, type NumberFormat } from '../model/index.ts';

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
