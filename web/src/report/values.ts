import { valuesResponseSchema, type ReportView } from '@bold-compass/core/api';
import { dayLabel, parseIsoDate } from '@bold-compass/core/calendar';
import { figureText, type MemberLabel } from '@bold-compass/core/format';
import { kindOf } from '@bold-compass/core/exhibits';
import { findMeasure, type Filter, type Report, type Scope } from '@bold-compass/core/model';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { computed, type ComputedRef } from 'vue';
import { ask } from '../api/client.ts';
import { scopePhrase } from './scope-words.ts';
import { LOCALE } from './state-words.ts';

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
export function scopeWords(view: ReportView, report: Report, scope: Scope, label: MemberLabel): string {
  return report.prompts
    .flatMap((prompt) => prompt.fields)
    .map((field) => scopePhrase(view.dataset, field, scope[field] ?? [], label))
    .join(', ');
}

/**
 * Fills values into titles and texts: `{scope}`, `{data as of}`, `{edition}`, the name of a prompt's field, the name of a
 * measure. What is none of these stays as it was written.
 */
export function useValues(
  view: ComputedRef<ReportView>,
  report: ComputedRef<Report>,
  scope: ComputedRef<Scope>,
  where: ComputedRef<Filter | null>,
  draft: ComputedRef<boolean>,
  label: ComputedRef<MemberLabel>,
): (text: string) => string {
  const measures = computed(() => measuresNamed(view.value, report.value));
  const { data } = useQuery({
    queryKey: computed(() => ['values', report.value.id, view.value.revision, scope.value, where.value, measures.value]),
    queryFn: ({ signal }) =>
      ask(
        valuesResponseSchema,
        'POST',
        `/reports/${report.value.id}/values`,
        { scope: scope.value, where: where.value, draft: draft.value, measures: measures.value },
        signal,
      ),
    enabled: computed(() => measures.value.length > 0),
    placeholderData: keepPreviousData,
  });
  function valueOf(name: string): string | undefined {
    const lower = name.toLowerCase();
    if (lower === 'scope') return scopeWords(view.value, report.value, scope.value, label.value);
    if (lower === 'data as of') return dayLabel(parseIsoDate(view.value.dataTo)!, LOCALE);
    if (lower === 'edition') return view.value.edition === null ? 'draft' : String(view.value.edition);
    const field = report.value.prompts.flatMap((prompt) => prompt.fields).find((one) => one.toLowerCase() === lower);
    if (field) return scopePhrase(view.value.dataset, field, scope.value[field] ?? [], label.value);
    const measure = findMeasure(view.value.dataset, name);
    if (!measure) return undefined;
    return figureText(data.value?.[measure.name]?.value ?? null, measure.format, LOCALE);
  }
  return (text) => text.replaceAll(BRACES, (whole, inner: string) => valueOf(inner.trim()) ?? whole);
}
