<script setup lang="ts">
import { LOCALE } from '@bold-compass/core/format';
import { measureUseSchema, type MeasureUse } from '@bold-compass/core/api';
import { dayLabel, parseIsoDate } from '@bold-compass/core/calendar';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { z } from 'zod';
import { ask } from '../api/client.ts';
import ExhibitState from '../report/ExhibitState.vue';
import ProblemState from '../report/ProblemState.vue';

/** All measures of all datasets, and where each is used. */
const {
  data: measures,
  error,
  refetch,
} = useQuery({
  queryKey: ['measures'],
  queryFn: ({ signal }) => ask(z.array(measureUseSchema), 'GET', '/measures', undefined, signal),
});
const HEADERS = [
  { key: 'label', title: 'Measure' },
  { key: 'formula', title: 'Formula', sortable: false },
  { key: 'datasetLabel', title: 'Dataset' },
  { key: 'uses', title: 'Used by' },
  { key: 'changedAt', title: 'Last changed' },
  { key: 'controlTotals', title: 'Control totals' },
];
const search = ref('');
const found = computed(() => {
  const wanted = search.value.trim().toLowerCase();
  return (measures.value ?? [])
    .filter((one) => `${one.label} ${one.name} ${one.description} ${one.datasetLabel} ${one.formula}`.toLowerCase().includes(wanted))
    .map((one) => ({ ...one, uses: one.usedBy.length + one.usedIn.length }));
});
</script>

<template>
  <div class="measures">
    <div class="head">
      <h1>Measures</h1>
      <v-text-field v-model="search" type="search" placeholder="Find by label, name, formula or dataset" aria-label="Find a measure" />
    </div>
    <ProblemState v-if="error" :error="error" @retry="refetch()" />
    <ExhibitState v-else-if="!measures" kind="loading" title="Fetching the measures" />
    <ExhibitState v-else-if="found.length === 0" kind="empty" title="No measure matches" message="Try another word, or clear the search." />
    <v-data-table-virtual
      v-else
      :headers="HEADERS"
      :items="found"
      :item-value="({ dataset, name }: MeasureUse) => `${dataset} ${name}`"
      item-height="44"
      height="calc(100vh - 90px)"
      aria-label="All measures"
    >
      <template #[`item.label`]="{ item }">
        <strong>{{ item.label }}</strong>
        <p v-if="item.description" class="muted">{{ item.description }}</p>
      </template>
      <template #[`item.formula`]="{ item }">
        <code>{{ item.formula }}</code>
      </template>
      <template #[`item.datasetLabel`]="{ item }">
        <RouterLink :to="{ name: 'dataset', params: { dataset: item.dataset } }">{{ item.datasetLabel }}</RouterLink><span
          v-if="item.fact && item.fact !== item.datasetLabel"
          class="muted"
          >, {{ item.fact.toLowerCase() }}</span
        >
      </template>
      <template #[`item.uses`]="{ item }">
        <template v-for="(report, index) in item.usedBy" :key="report.id"
          >{{ index > 0 ? ', ' : ''
          }}<RouterLink :to="{ name: 'report', params: { report: report.id } }">{{ report.title }}</RouterLink></template
        ><template v-if="item.usedIn.length > 0">{{ item.usedBy.length > 0 ? '; in ' : 'in ' }}{{ item.usedIn.join(', ') }}</template>
        <span v-if="item.uses === 0" class="muted">nothing yet</span>
      </template>
      <template #[`item.changedAt`]="{ item }">
        <template v-if="item.changedAt"
          >{{ dayLabel(parseIsoDate(item.changedAt.slice(0, 10))!, LOCALE, 'short')
          }}<template v-if="item.changedBy">, {{ item.changedBy }}</template></template
        >
      </template>
      <template #[`item.controlTotals`]="{ item }">
        <RouterLink
          v-if="item.controlTotals > 0"
          :to="{ name: 'dataset', params: { dataset: item.dataset }, query: { part: 'control' } }"
          :class="{ untied: item.untied > 0 }"
          >{{ item.untied > 0 ? `${item.untied} of ${item.controlTotals} not tied out` : `${item.controlTotals} tied out` }}</RouterLink
        >
      </template>
    </v-data-table-virtual>
  </div>
</template>

<style scoped>
.measures {
  padding: 22px 30px 20px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: end;
  gap: 10px;
  margin-bottom: 12px;
}
.head .v-text-field {
  max-width: 380px;
}

.untied {
  color: var(--off-text);
}
code {
  font-size: 12.5px;
}
</style>
