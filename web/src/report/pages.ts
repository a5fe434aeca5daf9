import type { Report } from '@bold-compass/core/model';
import { computed, type ComputedRef } from 'vue';
import { useRoute } from 'vue-router';

const PAGE_KEY = 'report.page';

/** What turns to a page of a report, in the address. */
export const pageQuery = (page: string): Record<string, string> => ({ [PAGE_KEY]: page });

/** The page that is open, and the exhibits on it. */
export function usePages(report: ComputedRef<Report>) {
  const route = useRoute();
  const page = computed(() => {
    const asked = route.query[PAGE_KEY];
    return (report.value.pages.find(({ id }) => id === asked) ?? report.value.pages[0])?.id;
  });
  const exhibits = computed(() => {
    const first = report.value.pages[0]?.id;
    return report.value.exhibits.filter((exhibit) => (exhibit.page ?? first) === page.value || page.value === undefined);
  });
  return { page, exhibits };
}
