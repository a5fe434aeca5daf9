<script setup lang="ts">
import { reportViewSchema } from '@bold-compass/core/api';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { ask, isPassing } from '../api/client.ts';
import OpenReport from '../report/OpenReport.vue';
import ExhibitState from '../report/ExhibitState.vue';
import ProblemState from '../report/ProblemState.vue';
import { startingAddress } from '../report/saved-views.ts';

const route = useRoute();
const router = useRouter();
const id = computed(() => String(route.params.report));
const composing = computed(() => route.query.compose !== undefined);

const { data, error, failureReason, refetch } = useQuery({
  queryKey: computed(() => ['report', id.value, composing.value]),
  queryFn: ({ signal }) =>
    ask(reportViewSchema, 'GET', `/reports/${encodeURIComponent(id.value)}${composing.value ? '?draft=true' : ''}`, undefined, signal),
});
/** Counts how often a draft was given up for the stored one: each time the page starts anew. */
const reloads = ref(0);
async function reload(): Promise<void> {
  await refetch();
  reloads.value++;
}
const problem = computed(() => error.value ?? (!data.value && isPassing(failureReason.value) ? failureReason.value : null));
/** The report that was opened with the reader's start, or by an address that said more. */
const started = ref('');
watch(
  [data, id],
  ([view]) => {
    if (!view || started.value === id.value || view.report.id !== id.value) return;
    started.value = id.value;
    const start = startingAddress(view.views, route.query);
    if (start) void router.replace({ query: start });
  },
  { immediate: true },
);
</script>

<template>
  <ProblemState v-if="problem" :error="problem" @retry="refetch()">
    <v-btn to="/reports">Open the list of reports</v-btn>
  </ProblemState>
  <ExhibitState v-else-if="!data" class="opening" kind="loading" title="Opening the report" />
  <OpenReport
    v-else
    :key="`${data.report.id} ${composing} ${reloads}`"
    :loaded="data"
    :composing="composing && data.canCompose"
    @reload="reload"
  />
</template>

<style scoped>
.opening {
  max-width: 900px;
  padding: 60px 30px;
}
</style>
