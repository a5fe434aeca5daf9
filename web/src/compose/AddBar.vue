<script setup lang="ts">
import { datasetSummarySchema } from '@bold-compass/core/api';
import { datasetSchema, isDataExhibit, type Exhibit } from '@bold-compass/core/model';
import { copiedExhibit, newExhibit } from '@bold-compass/core/exhibits';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { z } from 'zod';
import { ask } from '../api/client.ts';
import { useClipboard } from './clipboard.ts';
import { datasetOf, useCompose } from './context.ts';

/** Adds exhibits to the page: new ones, or what was copied from this or another report. */
const props = defineProps<{ page: string | undefined }>();
const compose = useCompose();
const { report, selection, setReport } = compose;
const { copied } = useClipboard();

const KINDS: { kind: Exhibit['kind']; words: string }[] = [
  { kind: 'crosstab', words: 'Cross-tab' },
  { kind: 'list', words: 'List' },
  { kind: 'kpis', words: 'KPI strip' },
  { kind: 'text', words: 'Text' },
  { kind: 'image', words: 'Picture' },
  { kind: 'divider', words: 'Divider' },
];
const { data: datasets } = useQuery({
  queryKey: ['datasets'],
  queryFn: ({ signal }) => ask(z.array(datasetSummarySchema), 'GET', '/datasets', undefined, signal),
});
const chosen = ref('');
const own = computed(() => datasetOf(compose, undefined));

async function add(kind: Exhibit['kind']): Promise<void> {
  const other = chosen.value !== '' && chosen.value !== own.value.name;
  const dataset = other
    ? (await ask(z.object({ dataset: datasetSchema, version: z.number() }), 'GET', `/datasets/${chosen.value}`)).dataset
    : own.value;
  const exhibit = newExhibit(kind, report.value, dataset, props.page);
  if (exhibit) put(exhibit);
}
function put(exhibit: Exhibit): void {
  setReport({ ...report.value, exhibits: [...report.value.exhibits, exhibit] });
  selection.value = { exhibit: exhibit.id };
}
function paste(): void {
  if (copied.value) put(copiedExhibit(copied.value.exhibit, copied.value.dataset, report.value, props.page));
}
const pastes = computed(() => (copied.value ? (isDataExhibit(copied.value.exhibit) ? copied.value.exhibit.title : 'what was copied') : ''));
</script>

<template>
  <div class="add" role="group" aria-label="Add an exhibit">
    <span class="muted">Add exhibit</span>
    <button v-for="{ kind, words } in KINDS" :key="kind" type="button" class="button" @click="add(kind)">{{ words }}</button>
    <select v-if="(datasets?.length ?? 0) > 1" v-model="chosen" class="choice" aria-label="Dataset of the next exhibit">
      <option value="">of {{ own.label }}</option>
      <option v-for="one in datasets?.filter(({ name }) => name !== own.name)" :key="one.name" :value="one.name">of {{ one.label }}</option>
    </select>
    <button v-if="copied" type="button" class="button quiet" @click="paste">Paste {{ pastes }}</button>
  </div>
</template>

<style scoped>
.add {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
  margin-top: 10px;
  font-size: 13px;
}
.add .button {
  min-height: 28px;
  padding: 2px 10px;
}
.choice {
  max-width: 190px;
}
</style>
