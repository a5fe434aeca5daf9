import { reportSummarySchema } from '@bold-compass/core/api';
import { linksOf } from '@bold-compass/core/exhibits';
import { linkKind, type Report } from '@bold-compass/core/model';
import { useQuery } from '@tanstack/vue-query';
import { computed, type ComputedRef } from 'vue';
import { z } from 'zod';
import { ask } from '../api/client.ts';

/** A link that leads nowhere, with the exhibit that it stands at. */
interface BrokenLink {
  exhibit: string;
  label: string;
  reason: string;
}

/** The links of a report that lead nowhere; `reports` are the ids of those that there are. */
export const brokenLinks = (report: Report, reports: ReadonlySet<string>): BrokenLink[] =>
  report.exhibits.flatMap((exhibit) =>
    linksOf(exhibit).flatMap((link) => {
      const kind = linkKind(link);
      const own = { exhibit: exhibit.id, label: link.label };
      if (kind === null) return [{ ...own, reason: 'It does not say where it leads.' }];
      if (kind === 'report' && !reports.has(link.report!)) return [{ ...own, reason: 'Its report is not there any more.' }];
      if (kind === 'page' && !report.pages.some(({ id }) => id === link.page))
        return [{ ...own, reason: 'Its page is not there any more.' }];
      return [];
    }),
  );

/** The links of the report that is composed which lead nowhere. */
export function useBrokenLinks(report: ComputedRef<Report>) {
  const { data } = useQuery({
    queryKey: ['reports'],
    queryFn: ({ signal }) => ask(z.array(reportSummarySchema), 'GET', '/reports', undefined, signal),
  });
  return computed(() => (data.value ? brokenLinks(report.value, new Set(data.value.map(({ id }) => id))) : []));
}
