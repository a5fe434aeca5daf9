import { pageSetupSchema } from '@bold-compass/core/model';
import { computed, type ComputedRef } from 'vue';
import { useRoute } from 'vue-router';
import { viewStates, type ReportView } from '../export/view-states.ts';
import { useReport } from '../report/context.ts';
import type { PagesRequest } from './printed-pages.ts';

/** What is asked for the pages of an open report, as its reader has it before them. */
export function usePagesRequest(): ComputedRef<PagesRequest> {
  const route = useRoute();
  const { report, view, asked, draft } = useReport();
  return computed(() => {
    const shown: ReportView = {
      report: report.value,
      datasetOf: (name) => (name === undefined ? view.value.dataset : (view.value.datasets[name] ?? view.value.dataset)),
      asked: asked.value,
      query: route.query,
      inEachSection: true,
    };
    const { expandedTo } = report.value.pageSetup ?? pageSetupSchema.parse({});
    return { report: report.value.id, draft: draft.value, ...asked.value, sections: 'each', exhibits: viewStates(shown, [], expandedTo) };
  });
}
