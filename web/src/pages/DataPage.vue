<script setup lang="ts">
import { connectionViewSchema, datasetSummarySchema, importViewSchema, sourceViewSchema } from '@bold-compass/core/api';
import { useQuery, useQueryClient } from '@tanstack/vue-query';
import { ref } from 'vue';
import { useRouter } from 'vue-router';
import { z } from 'zod';
import { ApiProblem, ask } from '../api/client.ts';
import ConnectionForm from '../data/ConnectionForm.vue';
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

const { data: sources } = useQuery({
  queryKey: ['sources'],
  queryFn: ({ signal }) => ask(z.array(sourceViewSchema), 'GET', '/sources', undefined, signal),
});
const { data: connections } = useQuery({
  queryKey: ['connections'],
  queryFn: ({ signal }) => ask(z.array(connectionViewSchema), 'GET', '/connections', undefined, signal),
});
const queries = useQueryClient();
const adding = ref(false);
const changing = ref('');
const when = new Intl.DateTimeFormat(LOCALE, { dateStyle: 'medium', timeStyle: 'short' });
async function saved(): Promise<void> {
  adding.value = false;
  changing.value = '';
  await queries.invalidateQueries({ queryKey: ['connections'] });
}
const remove = (id: string): Promise<void> =>
  attempt('Removing the connection …', async () => {
    await ask(z.object({}), 'DELETE', `/connections/${id}`);
    await saved();
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
      <v-btn color="primary" variant="flat" @click="chooser?.click()">Choose a file</v-btn>
      <input
        ref="chooser"
        class="visually-hidden"
        type="file"
        accept=".csv,.tsv,.txt,.xlsx,.xlsm,.json,.jsonl,.ndjson,text/csv"
        aria-label="File to import"
        tabindex="-1"
        @change="take(chooser?.files)"
      />
    </div>
    <h2 id="datasets" class="list-head">Datasets</h2>
    <ProblemState v-if="error" :error="error" @retry="refetch()" />
    <ExhibitState v-else-if="!datasets" kind="loading" title="Fetching the datasets" />
    <table v-else class="ruled" aria-labelledby="datasets">
      <thead>
        <tr>
          <th scope="col">Dataset</th>
          <th scope="col">Holds</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="dataset in datasets" :key="dataset.name">
          <td>
            <RouterLink :to="{ name: 'dataset', params: { dataset: dataset.name } }"
              ><strong>{{ dataset.label }}</strong></RouterLink
            >
            <span v-if="dataset.description" class="muted"> {{ dataset.description }}</span>
            <span v-if="!dataset.accessDecided" class="note">Only you see it: access is not decided.</span>
            <span v-if="dataset.problem" class="trouble" role="note">{{ dataset.problem }}</span>
          </td>
          <td>
            <span v-for="fact in dataset.facts" :key="fact.label" class="fact"
              >{{ fact.rows === null ? '' : count.format(fact.rows) }}
              {{ fact.label === dataset.label ? 'records' : fact.label.toLowerCase() }}</span
            >
          </td>
        </tr>
      </tbody>
    </table>
    <template v-if="sources && sources.length > 0">
      <h2 id="records" class="list-head">Sources</h2>
      <table class="ruled" aria-labelledby="records">
        <thead>
          <tr>
            <th scope="col">Source</th>
            <th scope="col">From</th>
            <th scope="col">Last load</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="source in sources" :key="source.id">
            <td>
              <RouterLink :to="{ name: 'source', params: { source: source.id } }"
                ><strong>{{ source.label }}</strong></RouterLink
              >
              <span class="muted"> {{ source.live ? 'live' : count.format(source.rows) }}</span>
            </td>
            <td>{{ source.origin.kind === 'file' ? source.origin.fileName : 'a query' }}</td>
            <td>
              {{ when.format(new Date(source.load?.finishedAt ?? source.updatedAt)) }}
              <span v-if="source.load && source.load.state !== 'done'" class="trouble">{{ source.load.state }}</span>
            </td>
          </tr>
        </tbody>
      </table>
    </template>
    <div class="list-head with-action">
      <h2 id="connections">Connections</h2>
      <v-btn v-if="!adding" @click="adding = true">Add connection</v-btn>
    </div>
    <ConnectionForm v-if="adding" :known="null" class="form" @saved="saved" @close="adding = false" />
    <table v-if="connections && connections.length > 0" class="ruled" aria-labelledby="connections">
      <tbody>
        <tr v-for="connection in connections" :key="connection.id">
          <td>
            <strong>{{ connection.label }}</strong>
            <span class="muted"> {{ connection.user }} at {{ connection.host }}:{{ connection.port }}/{{ connection.database }}</span>
            <ConnectionForm v-if="changing === connection.id" :known="connection" class="form" @saved="saved" @close="changing = ''" />
          </td>
          <td class="row-actions">
            <v-btn :to="{ name: 'query', params: { connection: connection.id } }">New source</v-btn>
            <v-btn @click="changing = connection.id">Change</v-btn>
            <v-btn variant="text" @click="remove(connection.id)">Remove</v-btn>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else-if="!adding" class="muted">None yet. A connection reads tables of another PostgreSQL database.</p>
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
.note {
  display: block;
  color: var(--ink-2);
}
.trouble {
  display: block;
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
.with-action {
  display: flex;
  justify-content: space-between;
  align-items: end;
}
.form {
  margin: 8px 0;
}
.row-actions {
  text-align: right;
  white-space: nowrap;
}
.trouble {
  color: var(--off-text);
  font-weight: 600;
}
td > strong + .muted,
td > a + .muted {
  margin-left: 8px;
}
.fact:not(:last-child)::after {
  content: ' · ';
}
</style>
