<script setup lang="ts">
import { datasetSummarySchema, madeReportSchema } from '@bold-compass/core/api';
import { LAYOUTS, type LayoutId } from '@bold-compass/core/modelling';
import { useQuery, useQueryClient } from '@tanstack/vue-query';
import { useFileDialog } from '@vueuse/core';
import { ref, watch } from 'vue';
import { z } from 'zod';
import { ApiProblem, ask } from '../api/client.ts';
import { useGoOn } from '../shell/go-on.ts';

/** Begins a report: its title, what data it is about, and how it begins; or takes a document in. */
defineProps<{ folders: string[] }>();
const open = defineModel<boolean>({ required: true });
const goOn = useGoOn();
const queries = useQueryClient();

const title = ref('');
const folder = ref('');
const dataset = ref('');
const layout = ref<LayoutId>('empty');
const message = ref('');
const { data: datasets } = useQuery({
  queryKey: ['datasets'],
  queryFn: ({ signal }) => ask(z.array(datasetSummarySchema), 'GET', '/datasets', undefined, signal),
  enabled: open,
});
watch([datasets, open], () => (dataset.value ||= datasets.value?.[0]?.name ?? ''));

async function attempt(path: string, body: () => Promise<unknown>): Promise<void> {
  message.value = '';
  try {
    const { id } = await ask(madeReportSchema, 'POST', path, await body());
    open.value = false;
    void queries.invalidateQueries({ queryKey: ['reports'] });
    await goOn({ name: 'report', params: { report: id }, query: { compose: '' } });
  } catch (problem) {
    message.value = problem instanceof ApiProblem ? problem.message : 'This file holds no report. Choose a document that was saved here.';
  }
}
const make = (): Promise<void> =>
  attempt('/reports', () =>
    Promise.resolve({ title: title.value.trim() || 'New report', folder: folder.value, dataset: dataset.value, layout: layout.value }),
  );
const { open: chooseFile, onChange: onFile } = useFileDialog({ accept: '.json,application/json', multiple: false, reset: true });
onFile((files) => {
  if (files?.length) void attempt('/reports/import', async () => ({ report: JSON.parse(await files[0].text()) as unknown }));
});
</script>

<template>
  <v-dialog v-model="open" max-width="600" aria-label="New report">
    <v-card tag="form" class="sheet" @submit.prevent="make">
      <h2>New report</h2>
      <div class="two">
        <v-text-field v-model="title" label="Title" maxlength="200" placeholder="New report" />
        <v-combobox v-model="folder" label="Folder" maxlength="200" :items="folders" />
      </div>
      <v-select v-model="dataset" label="Dataset" :items="(datasets ?? []).map((one) => ({ value: one.name, title: one.label }))" />
      <v-radio-group v-model="layout" label="Layout">
        <v-radio v-for="one in LAYOUTS" :key="one.id" :value="one.id">
          <template #label>
            <span
              ><strong>{{ one.words }}</strong> <span class="muted">{{ one.about }}</span></span
            >
          </template>
        </v-radio>
      </v-radio-group>
      <p v-if="message" class="failure" role="alert">{{ message }}</p>
      <div class="actions">
        <v-btn class="file" variant="text" @click="chooseFile()">Import report file</v-btn>
        <v-btn @click="open = false">Cancel</v-btn>
        <v-btn color="primary" variant="flat" type="submit" :disabled="dataset === ''">Create</v-btn>
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.sheet {
  gap: 12px;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px;
}
.sheet label {
  display: grid;
  gap: 3px;
  font-size: 13px;
  color: var(--ink-2);
}
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
}
legend {
  font-size: 13px;
  color: var(--ink-2);
}
.sheet .layout {
  grid-template-columns: auto 1fr;
  gap: 8px;
  align-items: baseline;
  color: var(--ink);
  padding: 4px 0;
  font-size: 13.5px;
}
.failure {
  color: var(--off-text);
  margin: 0;
}
.actions {
  display: flex;
  justify-content: end;
  gap: 8px;
}
.sheet .file {
  margin-right: auto;
  color: var(--sea);
  cursor: pointer;
}
</style>
