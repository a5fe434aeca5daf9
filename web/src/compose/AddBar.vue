<script setup lang="ts">
import { datasetSummarySchema } from '@bold-compass/core/api';
import { datasetSchema, isDataExhibit, type Exhibit, type Report } from '@bold-compass/core/model';
import { copiedExhibit, EXHIBIT_KINDS, newExhibit } from '@bold-compass/core/exhibits';
import { useQuery } from '@tanstack/vue-query';
import { computed, nextTick, ref } from 'vue';
import { z } from 'zod';
import { ask } from '../api/client.ts';
import { withExhibit } from './added-exhibit.ts';
import { useClipboard } from './clipboard.ts';
import { useComposeView } from './compose-view.ts';
import { datasetOf, useCompose } from './context.ts';

/** Adds exhibits to the page: new ones, or what was copied from this or another report. */
const props = defineProps<{ page: string | undefined }>();
const compose = useCompose();
const { report, selection, setReport } = compose;
const { copied } = useClipboard();
const look = useComposeView();

const kinds = Object.values(EXHIBIT_KINDS);
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
  if (exhibit) put(exhibit, withExhibit(report.value, exhibit, dataset));
}
function put(exhibit: Exhibit, added: Report): void {
  setReport(added);
  selection.value = { exhibit: exhibit.id };
  // It stands at the foot of the page, which may be far below.
  void nextTick(() => document.querySelector(`[data-exhibit="${CSS.escape(exhibit.id)}"]`)?.scrollIntoView({ block: 'center' }));
}
function paste(): void {
  if (!copied.value) return;
  const exhibit = copiedExhibit(copied.value.exhibit, copied.value.dataset, report.value, props.page);
  put(exhibit, { ...report.value, exhibits: [...report.value.exhibits, exhibit] });
}
const pastes = computed(() => (copied.value ? (isDataExhibit(copied.value.exhibit) ? copied.value.exhibit.title : 'what was copied') : ''));
</script>

<template>
  <div class="add" role="group" aria-label="Add an exhibit">
    <span class="muted">Add exhibit</span>
    <v-btn v-for="{ kind, label } in kinds" :key="kind" size="small" @click="add(kind)">{{ label }}</v-btn>
    <v-select
      v-if="(datasets?.length ?? 0) > 1"
      v-model="chosen"
      aria-label="Dataset of the next exhibit"
      :items="[
        { value: '', title: `of ${own.label}` },
        ...(datasets?.filter(({ name }) => name !== own.name) ?? []).map((one) => ({ value: one.name, title: `of ${one.label}` })),
      ]"
    />
    <v-btn v-if="copied" variant="text" @click="paste">Paste {{ pastes }}</v-btn>
    <v-btn
      variant="text"
      size="small"
      class="size"
      title="Exhibits as wide as readers have them are made smaller to fit beside the panels"
      @click="look.actualSize = !look.actualSize"
      >{{ look.actualSize ? 'Readers’ width' : 'Actual size' }}</v-btn
    >
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
.size {
  margin-left: auto;
}
</style>
