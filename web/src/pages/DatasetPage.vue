<script setup lang="ts">
import { datasetViewSchema } from '@bold-compass/core/api';
import { useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { ask } from '../api/client.ts';
import DatasetWork from '../dataset/DatasetWork.vue';
import ExhibitState from '../report/ExhibitState.vue';
import ProblemState from '../report/ProblemState.vue';

/** What data means: a dataset's facts and dimensions, measures and fields, and who sees what. */
const props = defineProps<{ dataset: string }>();
const { data, error, refetch, dataUpdatedAt } = useQuery({
  queryKey: computed(() => ['dataset-model', props.dataset]),
  queryFn: ({ signal }) => ask(datasetViewSchema, 'GET', `/datasets/${props.dataset}/model`, undefined, signal),
  gcTime: 0,
  staleTime: Infinity,
});
</script>

<template>
  <div class="page">
    <p class="crumbs"><RouterLink to="/data">Data</RouterLink></p>
    <ProblemState v-if="error" :error="error" @retry="refetch()" />
    <ExhibitState v-else-if="!data" kind="loading" title="Fetching the dataset" />
    <DatasetWork v-else :key="`${dataset} ${dataUpdatedAt}`" :view="data" @reload="refetch()" />
  </div>
</template>

<style scoped>
.page {
  padding: 14px 26px 40px 30px;
}
.crumbs {
  font-size: 13px;
}
</style>
