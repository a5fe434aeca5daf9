<script setup lang="ts">
import { measureUseSchema } from '@bold-compass/core/api';
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
const search = ref('');
const found = computed(() => {
  const wanted = search.value.trim().toLowerCase();
  return (
    measures.value?.filter((one) =>
      `${one.label} ${one.name} ${one.description} ${one.datasetLabel} ${one.formula}`.toLowerCase().includes(wanted),
    ) ?? []
  );
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
    <div v-else class="scroll" tabindex="0" role="region" aria-label="All measures">
      <table class="ruled">
        <thead>
          <tr>
            <th scope="col">Measure</th>
            <th scope="col">Formula</th>
            <th scope="col">Dataset</th>
            <th scope="col">Used by</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in found" :key="`${one.dataset} ${one.name}`">
            <td>
              <strong>{{ one.label }}</strong>
              <p v-if="one.description" class="muted">{{ one.description }}</p>
            </td>
            <td>
              <code>{{ one.formula }}</code>
            </td>
            <td>
              <RouterLink :to="{ name: 'dataset', params: { dataset: one.dataset } }">{{ one.datasetLabel }}</RouterLink><span
                v-if="one.fact && one.fact !== one.datasetLabel"
                class="muted"
                >, {{ one.fact.toLowerCase() }}</span
              >
            </td>
            <td>
              <template v-for="(report, index) in one.usedBy" :key="report.id"
                >{{ index > 0 ? ', ' : ''
                }}<RouterLink :to="{ name: 'report', params: { report: report.id } }">{{ report.title }}</RouterLink></template
              ><template v-if="one.usedIn.length > 0">{{ one.usedBy.length > 0 ? '; in ' : 'in ' }}{{ one.usedIn.join(', ') }}</template>
              <span v-if="one.usedBy.length + one.usedIn.length === 0" class="muted">nothing yet</span>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </div>
</template>

<style scoped>
.measures {
  padding: 22px 30px 60px;
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
.scroll {
  overflow-x: auto;
  border-top: 2px solid var(--ink);
}
code {
  font-size: 12.5px;
}
</style>
