import { controlTotalSchema, type ControlTotal } from '@bold-compass/core/api';
import { LOCALE, figureText } from '@bold-compass/core/format';
import { findMeasure, type Dataset, type NumberFormat } from '@bold-compass/core/model';
import { useQuery } from '@tanstack/vue-query';
import { computed, type Ref } from 'vue';
import { z } from 'zod';
import { ask } from '../api/client.ts';

/** The control totals of a dataset, and whether they tie out. */
export function useControlTotals(dataset: Ref<string>) {
  return useQuery({
    queryKey: computed(() => ['control totals', dataset.value]),
    queryFn: ({ signal }) => ask(z.array(controlTotalSchema), 'GET', `/datasets/${dataset.value}/control-totals`, undefined, signal),
  });
}

/** What a control total is of: "Net sales, Year is 2025". */
export const sliceWords = ({ measure, conditions }: ControlTotal, dataset: Dataset | undefined): string =>
  [(dataset && findMeasure(dataset, measure)?.label) ?? measure, ...conditions].join(', ');

/** A figure with as many digits as the one it is held against, in its whole. */
function exactText(value: number, expected: string, format: NumberFormat | undefined): string {
  const decimals = expected.split('.')[1]?.length ?? 0;
  const kind = format?.kind === 'currency' ? format : { kind: 'number' as const };
  return figureText(value, { ...kind, unit: 'one', decimals: Math.min(decimals, 6) }, LOCALE);
}

/** How a control total stands, in a sentence. */
export function stateWords(total: ControlTotal, dataset: Dataset | undefined): string {
  const { state, value, difference, expected, reason } = total;
  if (expected === '') return state === 'ties' ? 'ties out' : 'does not tie out';
  if (state === 'unknown' || value === null || difference === null) return `cannot be calculated: ${reason}`;
  const format = dataset && findMeasure(dataset, total.measure)?.format;
  const text = (number: number): string => exactText(number, expected, format);
  if (state === 'ties') return `ties out at ${text(Number(expected))}`;
  return `does not tie out: ${text(Number(expected))} was expected and it is ${text(value)}, a difference of ${difference > 0 ? '+' : ''}${text(difference)}`;
}
