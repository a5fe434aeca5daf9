import { valuesResponseSchema, type ReportView } from '@bold-compass/core/api';
import { dayLabel, parseIsoDate } from '@bold-compass/core/calendar';
import { capitalised, figureText } from '@bold-compass/core/format';
import { kindOf } from '@bold-compass/core/exhibits';
import { findMeasure, type ReaderScope, type Report } from '@bold-compass/core/model';
import { promptName, promptWords, scopePhrase, type PromptWording } from '@bold-compass/core/prompts';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { computed, type ComputedRef } from 'vue';
import { ask } from '../api/client.ts';
import { LOCALE } from './state-words.ts';
import { wordingOf } from './wording.ts';

/** Fills values into a text; `written` says how a value is written there. */
export type FillValues = (text: string, written?: (value: string) => string) => string;

/** What stands between braces in titles and texts. */
const BRACES = /\{([^{}\n]{1,80})\}/g;

/** Everything in a report that may hold values. */
export function textsOf(report: Report): string[] {
  return [report.title, report.subtitle, report.note, ...report.exhibits.flatMap((exhibit) => kindOf(exhibit).texts(exhibit))];
}

/** The measures that texts name: `{net_sales}`. */
export function measuresNamed(view: ReportView, report: Report): string[] {
  const names = textsOf(report).flatMap((text) => [...text.matchAll(BRACES)].map(([, inner]) => inner.trim()));
  return [...new Set(names.flatMap((name) => findMeasure(view.dataset, name)?.name ?? []))];
}

/** The scope in words: "2026, Nordic, every channel". */
export function scopeWords(report: Report, asked: ReaderScope, wording: PromptWording): string {
  return report.prompts
    .filter(({ hidden }) => !hidden)
    .map((prompt) => promptWords(prompt, asked, wording))
    .join(', ');
}

/**
 * Fills values into titles and texts: `{scope}`, `{data as of}`, `{edition}`, the name of a prompt or its field, the name
 * of a measure. What is none of these stays as it was written.
 */
export function useValues(
  view: ComputedRef<ReportView>,
  report: ComputedRef<Report>,
  asked: ComputedRef<ReaderScope>,
  draft: ComputedRef<boolean>,
): FillValues {
  const measures = computed(() => measuresNamed(view.value, report.value));
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
  function valueOf(name: string): string | undefined {
    const lower = name.toLowerCase();
    const wording = wordingOf(view.value);
    if (lower === 'scope') return scopeWords(report.value, asked.value, wording);
    if (lower === 'data as of') return dayLabel(parseIsoDate(view.value.dataTo)!, LOCALE);
    if (lower === 'edition') return view.value.edition === null ? 'draft' : String(view.value.edition);
    const named = report.value.prompts.find((prompt) => prompt.name?.toLowerCase() === lower);
    const fields = report.value.prompts.flatMap((prompt) => (prompt.kind === 'members' ? prompt.fields : []));
    const field = fields.find((one) => one.toLowerCase() === lower);
    if (!named && field) return scopePhrase(wording, field, asked.value.scope[field] ?? []);
    const prompt = named ?? report.value.prompts.find((one) => promptName(one).toLowerCase() === lower);
    if (prompt) return promptWords(prompt, asked.value, wording);
    const measure = findMeasure(view.value.dataset, name);
    if (!measure) return undefined;
    return figureText(data.value?.[measure.name]?.value ?? null, measure.format, LOCALE);
  }
  return (text, written = (value) => value) =>
    text.replaceAll(BRACES, (whole, inner: string, at: number) => {
      const value = valueOf(inner.trim());
      if (value === undefined) return whole;
      // What begins a title begins with a capital.
      return written(at === 0 ? capitalised(value) : value);
    });
}
