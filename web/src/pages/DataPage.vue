<script setup lang="ts">
import { LOCALE } from '@bold-compass/core/format';
import { connectionViewSchema, datasetSummarySchema, SIMULATED_TILES, importViewSchema, sourceViewSchema } from '@bold-compass/core/api';
import { useQuery, useQueryClient } from '@tanstack/vue-query';
import { useFileDialog } from '@vueuse/core';
import { computed, ref } from 'vue';
import { z } from 'zod';
import { ApiProblem, ask } from '../api/client.ts';
import { useSession } from '../api/session.ts';
import { tileServerQuestion } from '../chart/tile-server-query.ts';
import ConnectionForm from '../data/ConnectionForm.vue';
import TileServerForm from '../data/TileServerForm.vue';
import ExhibitState from '../report/ExhibitState.vue';
import ProblemState from '../report/ProblemState.vue';
import { useGoOn } from '../shell/go-on.ts';

const goOn = useGoOn();
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

const session = useSession();
const isAnalyst = computed(() => session.person?.role === 'analyst');
const isSteward = computed(() => session.person?.role === 'steward');
const { data: tileServer } = useQuery({ ...tileServerQuestion, enabled: isSteward });
const settingTiles = ref(false);
const tileWords = computed(() => {
  const { address, attribution } = tileServer.value ?? { address: null, attribution: '' };
  if (address === null) return 'None. Maps are drawn with their shapes alone.';
  return [address === SIMULATED_TILES ? 'Simulated tiles' : address, attribution].filter(Boolean).join(' · ');
});

const message = ref('');
const busy = ref('');
const over = ref(false);
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
    await goOn({ name: 'import', params: { id } });
  });
}

const { open: chooseFile, onChange: onFile } = useFileDialog({
  accept: '.csv,.tsv,.txt,.xlsx,.xlsm,.json,.jsonl,.ndjson,text/csv',
  multiple: false,
  reset: true,
});
onFile(take);

const DATASET_HEADERS = [
  { key: 'label', title: 'Dataset' },
  { key: 'facts', title: 'Holds', sortable: false },
];
const SOURCE_HEADERS = [
  { key: 'label', title: 'Source' },
  { key: 'rows', title: 'Records', align: 'end' },
  { key: 'from', title: 'From' },
  { key: 'loadedAt', title: 'Last load' },
] as const;
const CONNECTION_HEADERS = [
  { key: 'label', title: 'Connection' },
  { key: 'host', title: 'Database' },
  { key: 'actions', title: 'Actions', sortable: false, align: 'end' },
] as const;
const loadedSources = computed(() =>
  (sources.value ?? []).map((source) => ({
    ...source,
    from: source.origin.kind === 'file' ? source.origin.fileName : 'a query',
    loadedAt: source.load?.finishedAt ?? source.updatedAt,
  })),
);
</script>

<template>
  <div class="data">
    <h1>Data</h1>
    <p class="status" role="status">{{ busy }}</p>
    <p v-if="message" class="failure" role="alert">{{ message }}</p>

    <div
      v-if="isAnalyst"
      class="drop"
      :class="{ over }"
      @dragover.prevent="over = true"
      @dragleave="over = false"
      @drop.prevent="take($event.dataTransfer?.files)"
    >
      <p class="serif">Drop a file here</p>
      <p class="muted">CSV, XLSX or JSON. Nothing is kept until you have seen what is in it.</p>
      <v-btn color="primary" variant="flat" @click="chooseFile()">Choose a file</v-btn>
    </div>
    <h2 id="datasets" class="list-head">Datasets</h2>
    <ProblemState v-if="error" :error="error" @retry="refetch()" />
    <ExhibitState v-else-if="!datasets" kind="loading" title="Fetching the datasets" />
    <v-data-table v-else :headers="DATASET_HEADERS" :items="datasets" item-value="name" aria-label="Datasets">
      <template #[`item.label`]="{ item }">
        <RouterLink :to="{ name: 'dataset', params: { dataset: item.name } }"
          ><strong>{{ item.label }}</strong></RouterLink
        >
        <span v-if="item.description" class="muted"> {{ item.description }}</span>
        <span v-if="!item.accessDecided" class="note">Only you see it: access is not decided.</span>
        <span v-if="item.problem" class="trouble" role="note">{{ item.problem }}</span>
      </template>
      <template #[`item.facts`]="{ item }">
        <span v-for="fact in item.facts" :key="fact.label" class="fact"
          >{{ fact.rows === null ? '' : count.format(fact.rows) }}
          {{ fact.label === item.label ? 'records' : fact.label.toLowerCase() }}</span
        >
      </template>
    </v-data-table>
    <template v-if="sources && sources.length > 0">
      <h2 id="records" class="list-head">Sources</h2>
      <v-data-table :headers="SOURCE_HEADERS" :items="loadedSources" item-value="id" aria-label="Sources">
        <template #[`item.label`]="{ item }">
          <RouterLink :to="{ name: 'source', params: { source: item.id } }"
            ><strong>{{ item.label }}</strong></RouterLink
          >
        </template>
        <template #[`item.rows`]="{ item }">{{ item.live ? 'live' : count.format(item.rows) }}</template>
        <template #[`item.loadedAt`]="{ item }">
          {{ when.format(new Date(item.loadedAt)) }}
          <span v-if="item.load && item.load.state !== 'done'" class="trouble">{{ item.load.state }}</span>
        </template>
      </v-data-table>
    </template>
    <div class="list-head with-action">
      <h2 id="connections">Connections</h2>
      <v-btn v-if="!adding" @click="adding = true">Add connection</v-btn>
    </div>
    <ConnectionForm v-if="adding" :known="null" class="form" @saved="saved" @close="adding = false" />
    <v-data-table
      v-if="connections && connections.length > 0"
      :headers="CONNECTION_HEADERS"
      :items="connections"
      item-value="id"
      aria-label="Connections"
    >
      <template #[`item.label`]="{ item }">
        <strong>{{ item.label }}</strong>
        <ConnectionForm v-if="changing === item.id" :known="item" class="form" @saved="saved" @close="changing = ''" />
      </template>
      <template #[`item.host`]="{ item }">{{ item.user }} at {{ item.host }}:{{ item.port }}/{{ item.database }}</template>
      <template #[`item.actions`]="{ item }">
        <span class="row-actions">
          <v-btn v-if="isAnalyst" :to="{ name: 'query', params: { connection: item.id } }">New source</v-btn>
          <v-btn @click="changing = item.id">Change</v-btn>
          <v-btn variant="text" @click="remove(item.id)">Remove</v-btn>
        </span>
      </template>
    </v-data-table>
    <p v-else-if="!adding" class="muted">None yet. A connection reads tables of another PostgreSQL database.</p>
    <template v-if="isSteward && tileServer">
      <div class="list-head with-action">
        <h2 id="tile-server">Tile server</h2>
        <v-btn v-if="!settingTiles" @click="settingTiles = true">{{ tileServer.isSet ? 'Change' : 'Set' }}</v-btn>
      </div>
      <TileServerForm v-if="settingTiles" :known="tileServer" @close="settingTiles = false" />
      <p v-else class="muted">{{ tileWords }}</p>
    </template>
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
