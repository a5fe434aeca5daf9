<script setup lang="ts">
import { datasetSummarySchema, importViewSchema } from '@bold-compass/core/api';
import { useQuery } from '@tanstack/vue-query';
import { ref } from 'vue';
import { useRouter } from 'vue-router';
import { z } from 'zod';
import { ApiProblem, ask } from '../api/client.ts';
import ExhibitState from '../report/ExhibitState.vue';
import ProblemState from '../report/ProblemState.vue';
import { LOCALE } from '../report/state-words.ts';

const router = useRouter();
const {
  data: datasets,
  error,
  refetch,
} = useQuery({
  queryKey: ['datasets'],
  queryFn: ({ signal }) => ask(z.array(datasetSummarySchema), 'GET', '/datasets', undefined, signal),
});

const message = ref('');
const busy = ref('');
const over = ref(false);
const chooser = ref<HTMLInputElement | null>(null);
const count = new Intl.NumberFormat(LOCALE);

async function attempt(what: string, action: () => Promise<void>): Promise<void> {
  busy.value = what;
  message.value = '';
  try {
    await action();
  } catch (problem) {
    message.value = problem instanceof ApiProblem ? problem.message : 'This did not work. Try again; the file is still here.';
  } finally {
    busy.value = '';
  }
}

function take(files: FileList | null | undefined): void {
  const file = files?.[0];
  over.value = false;
  if (!file) return;
  if ((files?.length ?? 0) > 1) {
    message.value = 'One file at a time: drop them one after the other.';
    return;
  }
  void attempt(`Reading ${file.name} …`, async () => {
    const form = new FormData();
    form.append('file', file);
    const { id } = await ask(importViewSchema, 'POST', '/imports', form);
    await router.push({ name: 'import', params: { id } });
  });
}
</script>

<template>
  <div class="data">
    <h1>Data</h1>
    <p class="status" role="status">{{ busy }}</p>
    <p v-if="message" class="failure" role="alert">{{ message }}</p>

    <div
      class="drop"
      :class="{ over }"
      @dragover.prevent="over = true"
      @dragleave="over = false"
      @drop.prevent="take($event.dataTransfer?.files)"
    >
      <p class="serif">Drop a file here</p>
      <p class="muted">CSV, XLSX or JSON. Nothing is kept until you have seen what is in it.</p>
      <button class="button primary" type="button" @click="chooser?.click()">Choose a file</button>
      <input
        ref="chooser"
        class="visually-hidden"
        type="file"
        accept=".csv,.tsv,.txt,.xlsx,.xlsm,.json,.jsonl,.ndjson,text/csv"
        aria-label="A file to bring in"
        tabindex="-1"
        @change="take(chooser?.files)"
      />
    </div>
    <h2 class="list-head">Datasets</h2>
    <ProblemState v-if="error" :error="error" @retry="refetch()" />
    <ExhibitState v-else-if="!datasets" kind="loading" title="Fetching the datasets" />
    <table v-else>
      <thead>
        <tr>
          <th scope="col">Dataset</th>
          <th scope="col">Holds</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="dataset in datasets" :key="dataset.name">
          <td>
            <strong>{{ dataset.label }}</strong>
            <span v-if="dataset.description" class="muted"> {{ dataset.description }}</span>
          </td>
          <td>
            <span v-for="fact in dataset.facts" :key="fact.label" class="fact"
              >{{ count.format(fact.rows) }} {{ fact.label === dataset.label ? 'records' : fact.label.toLowerCase() }}</span
            >
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.data {
  padding: 22px 30px 60px;
  max-width: 1280px;
}
.status {
  min-height: 20px;
  margin: 2px 0 6px;
  color: var(--ink-2);
}
.failure {
  padding: 8px 12px;
  border-left: 3px solid var(--off);
  background: var(--brass-tint);
  margin: 0 0 12px;
}
.drop {
  border: 1.5px dashed var(--ink-2);
  border-radius: 10px;
  padding: 34px 20px;
  text-align: center;
  background: var(--sheet);
}
.drop.over {
  border-color: var(--sea);
  background: var(--sea-tint);
}
.drop .serif {
  font-size: 20px;
  margin: 0;
}
.drop .muted {
  margin: 4px 0 14px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: end;
  gap: 10px 24px;
  margin-bottom: 12px;
}
.head p {
  margin: 2px 0 0;
}
.actions {
  display: flex;
  align-items: center;
  gap: 10px;
}
.name {
  min-width: 240px;
}
.list-head {
  margin-top: 34px;
  padding-bottom: 6px;
  border-bottom: 2px solid var(--ink);
}
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  text-align: left;
  font-weight: 400;
  color: var(--ink-2);
  padding: 5px 8px 5px 0;
  border-bottom: 1px solid var(--ink);
}
td {
  padding: 8px 8px 8px 0;
  border-bottom: 1px solid var(--rule);
  vertical-align: top;
}
.fact:not(:last-child)::after {
  content: ' · ';
}
</style>
