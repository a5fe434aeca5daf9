import { valuesResponseSchema, type ReportView } from '@bold-compass/core/api';
import { filledText, measuresInTexts } from '@bold-compass/core/exhibits';
import type { ReaderScope, Report } from '@bold-compass/core/model';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { computed, type ComputedRef } from 'vue';
import { ask } from '../api/client.ts';
import { wordingOf } from './wording.ts';

/** Fills values into a text; `written` says how a value is written there. */
export type FillValues = (text: string, written?: (value: string) => string) => string;

/** Fills values into titles and texts of a report, with the figures that they name asked for once. */
export function useValues(
  view: ComputedRef<ReportView>,
  report: ComputedRef<Report>,
  asked: ComputedRef<ReaderScope>,
  draft: ComputedRef<boolean>,
): FillValues {
  const measures = computed(() => measuresInTexts(view.value.dataset, report.value));
  const { data } = useQuery({
    queryKey: computed(() => ['values', report.value.id, view.value.revision, asked.value, measures.value]),
    queryFn: ({ signal }) =>
      ask(
        valuesResponseSchema,
        'POST',
        `/reports/${report.value.id}/values`,
        { ...asked.value, draft: draft.value, measures: measures.value },
        signal,
      ),
    enabled: computed(() => measures.value.length > 0),
    placeholderData: keepPreviousData,
  });
  const values = computed(() => ({
    ...{ report: report.value, asked: asked.value, wording: wordingOf(view.value) },
    ...{ dataTo: view.value.dataTo, edition: view.value.edition },
    figure: (measure: string) => data.value?.[measure]?.value ?? null,
  }));
  return (text, written) => filledText(text, values.value, written);
}
