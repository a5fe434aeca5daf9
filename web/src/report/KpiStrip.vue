<script setup lang="ts">
import { kpiResponseSchema } from '@bold-compass/core/api';
import type { KpiStrip } from '@bold-compass/core/model';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { ask } from '../api/client.ts';
import { useReport } from './context.ts';
import KpiFigure from './KpiFigure.vue';
import ProblemState from './ProblemState.vue';

const props = defineProps<{ exhibit: KpiStrip }>();
const { report, asked, draft, versionOf, resetScope, fill } = useReport();

const { data, error, refetch, isPlaceholderData } = useQuery({
  queryKey: computed(() => ['kpis', report.value.id, versionOf(props.exhibit.id), props.exhibit.id, asked.value]),
  queryFn: async ({ signal }) => {
    // The cross-tab asks first: its answer is what the reader waits for.
    await new Promise((resolve) => setTimeout(resolve, 20));
    return ask(
      kpiResponseSchema,
      'POST',
      `/reports/${report.value.id}/exhibits/${props.exhibit.id}/kpis`,
      { ...asked.value, draft: draft.value },
      signal,
    );
  },
  placeholderData: keepPreviousData,
});

const readings = computed(() => new Map(data.value?.map((reading) => [reading.id, reading])));
</script>

<template>
  <section class="strip" :aria-label="fill(exhibit.title)" :aria-busy="isPlaceholderData">
    <ProblemState v-if="error && !data" :error="error" @retry="refetch()" @reset="resetScope" />
    <dl v-else class="kpis" :class="{ waiting: isPlaceholderData }">
      <KpiFigure v-for="kpi in exhibit.kpis" :key="kpi.id" class="kpi" :exhibit="exhibit" :kpi="kpi" :reading="readings.get(kpi.id)" />
    </dl>
  </section>
</template>

<style scoped>
.strip {
  margin-top: 12px;
}
.kpis {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(165px, 100%), 1fr));
  border-top: 1px solid var(--rule);
  border-bottom: 1px solid var(--rule);
  margin: 0;
}
.kpi {
  padding: 9px 12px 9px 16px;
  border-left: 1px solid var(--rule);
  min-height: 84px;
}
.kpi:first-child {
  border-left: 0;
  padding-left: 0;
}
@media (max-width: 700px) {
  .kpis {
    grid-template-columns: 1fr 1fr;
  }
  .kpi {
    padding: 8px 8px 8px 10px;
    border-top: 1px solid var(--rule-2);
    min-height: 0;
  }
  .kpi.show-large {
    grid-column: 1 / -1;
  }
  .kpi:nth-child(odd),
  .kpi.show-large {
    border-left: 0;
    padding-left: 0;
  }
  .kpi:nth-child(-n + 2) {
    border-top: 0;
  }
}
</style>
