<script setup lang="ts">
import { importDoneSchema, sourceViewSchema, type ImportTarget as Target } from '@bold-compass/core/api';
import { useQuery, useQueryClient } from '@tanstack/vue-query';
import { computed, ref, shallowRef, watch } from 'vue';
import { z } from 'zod';
import { ApiProblem, ask } from '../api/client.ts';
import ImportTable from '../data/ImportTable.vue';
import ImportTarget from '../data/ImportTarget.vue';
import ProblemList from '../data/ProblemList.vue';
import ReadingPanel from '../data/ReadingPanel.vue';
import UnmatchedList from '../data/UnmatchedList.vue';
import WorkProgress from '../data/WorkProgress.vue';
import { figure, useImport } from '../data/use-import.ts';
import ExhibitState from '../report/ExhibitState.vue';
import ProblemState from '../report/ProblemState.vue';
import { useGoOn } from '../shell/go-on.ts';

/** One screen for a file on its way in: how it is read, what it will be, what does not fit. */
const props = defineProps<{ id: string }>();
const goOn = useGoOn();
const queries = useQueryClient();
const { view, failure, message, chosen, problems, stopping, change, read, follow, stage, cancel, refresh, forget } = useImport(props.id);

const { data: sources } = useQuery({
  queryKey: ['sources'],
  queryFn: ({ signal }) => ask(z.array(sourceViewSchema), 'GET', '/sources', undefined, signal),
});
const target = shallowRef<Target | null>(null);
const busy = ref(false);
const waitingForRows = ref(false);
const analysis = computed(() => view.value?.analysis ?? null);
const canStage = computed(
  () => analysis.value !== null && !view.value!.work && stopping.value.length === 0 && target.value !== null && analysis.value.rows > 0,
);
const isNew = computed(() => target.value?.kind === 'dataset');
const staged = computed(() => (view.value?.work ? null : (view.value?.staged ?? null)));
// A later file goes through what the first one did.
watch(
  () => (target.value && 'source' in target.value ? target.value.source : null),
  (source) => void follow(source),
);
/** What was staged no longer is what is chosen. */
watch([target, chosen], () => (waitingForRows.value = false), { deep: true });

async function importRows(): Promise<void> {
  waitingForRows.value = true;
  await stage(target.value!);
  if (message.value) waitingForRows.value = false;
}
/** A dataset of its own changes nothing that is here: its rows become real as soon as they are in. */
watch(staged, (now) => {
  if (!now || !waitingForRows.value) return;
  if (isNew.value || (target.value?.kind === 'fact' && now.unmatched.every(({ total }) => total === 0))) void commit();
});

async function attempt(action: () => Promise<void>): Promise<void> {
  busy.value = true;
  message.value = '';
  try {
    await action();
  } catch (error) {
    message.value = error instanceof ApiProblem ? error.message : 'This did not work. Try again; the file is still here.';
  } finally {
    busy.value = false;
  }
}
/** Why the records seem to be here already, until the analyst says what is meant. */
const alreadyHere = ref('');
const commit = (agreed = false): Promise<void> =>
  attempt(async () => {
    alreadyHere.value = '';
    const done = await ask(importDoneSchema, 'POST', `/imports/${props.id}/commit`, { agreed }).catch((error: unknown) => {
      if (error instanceof ApiProblem && error.code === 'already-here') alreadyHere.value = error.message;
      throw error;
    });
    forget();
    void queries.invalidateQueries();
    if (done.report) await goOn({ name: 'report', params: { report: done.report }, query: { compose: '' } });
    else await goOn({ name: 'data' });
  });
const discard = (): Promise<void> =>
  attempt(async () => {
    await ask(z.object({}), 'DELETE', `/imports/${props.id}`);
    forget();
    await goOn({ name: 'data' });
  });
/** The dataset whose members the columns of a later file name. */
const followedDataset = computed(() => sources.value?.find(({ id }) => id === view.value?.follows?.source)?.recipe?.bindings[0]?.dataset);
const correct = (level: string, corrections: { text: string; member: string }[]): Promise<void> =>
  attempt(async () => {
    const dataset = target.value?.kind === 'fact' ? target.value.dataset : followedDataset.value;
    if (dataset === undefined) return;
    await ask(z.object({}), 'PUT', '/corrections', { dataset, level, corrections });
    await importRows();
  });
const choose = (id: string, choice: (typeof chosen.value.choices)[string]): void =>
  change({ choices: { ...chosen.value.choices, [id]: choice } });
</script>

<template>
  <div class="import">
    <p class="crumbs"><RouterLink to="/data">Data</RouterLink></p>
    <ProblemState v-if="failure" :error="failure" @retry="refresh()" />
    <ExhibitState v-else-if="!view" kind="loading" title="Fetching the file" />
    <template v-else>
      <div class="head">
        <div>
          <h1>{{ view.fileName }}</h1>
          <p class="muted">
            <template v-if="analysis">{{ figure(analysis.rows) }} rows, {{ figure(analysis.header.length) }} columns. </template>
            Nothing is kept until you import it.
            <template v-if="view.follows"
              >It is read as the first file of {{ view.follows.label }} was: types, formats, bindings and value mappings.</template
            >
          </p>
        </div>
        <div class="actions">
          <span v-if="stopping.length > 0" class="muted"
            >{{ figure(stopping.length) }} {{ stopping.length === 1 ? 'problem' : 'problems' }} to decide first</span
          >
          <v-btn variant="text" @click="discard">Discard</v-btn>
          <v-btn v-if="analysis" color="primary" variant="flat" :disabled="!canStage || busy" @click="importRows">
            {{ isNew || target?.kind === 'fact' ? 'Import' : 'Preview changes' }}
          </v-btn>
        </div>
      </div>
      <WorkProgress v-if="view.work" :what="view.work.what" :share="view.work.share" @cancel="cancel" />
      <p v-if="message || view.problem" class="failure" role="alert">
        {{ message || view.problem }}
        <v-btn v-if="alreadyHere" :disabled="busy" @click="commit(true)">Append anyway</v-btn>
      </p>
      <section v-if="staged && waitingForRows && !isNew" class="staged" aria-label="What would change">
        <p v-if="staged.changes">
          <strong>{{ figure(staged.changes.added) }}</strong> records are new, <strong>{{ figure(staged.changes.changed) }}</strong> change,
          {{ figure(staged.changes.unchanged) }} stay as they are, <strong>{{ figure(staged.changes.removed) }}</strong> are removed.
          <template v-if="staged.rounded > 0">{{ figure(staged.rounded) }} numbers are rounded.</template>
        </p>
        <p v-for="one in staged.changes?.doubled" :key="one.key.join()" class="failure">
          {{ figure(one.keys) }} {{ one.keys === 1 ? 'key stands' : 'keys stand' }} in several rows:
          {{ one.examples.slice(0, 5).join('; ') }}. Each must stand once, so this file cannot be imported as it is.
        </p>
        <p v-if="staged.changes && staged.changes.keysHere > 0" class="failure">
          {{ figure(staged.changes.keysHere) }} rows have keys that are here already: choose Update to change those records.
        </p>
        <UnmatchedList
          v-for="one in staged.unmatched.filter(({ total }) => total > 0)"
          :key="one.column"
          :unmatched="one"
          :column="chosen.columns[one.column].name"
          @correct="correct"
        />
        <v-btn color="primary" variant="flat" :disabled="busy" @click="commit()">
          {{ staged.changes ? 'Import' : 'Import without those members' }}
        </v-btn>
      </section>
      <div v-if="analysis && view.reading" class="columns">
        <div>
          <ReadingPanel :view="view" :reading="view.reading" @change="read" />
          <ImportTarget :columns="chosen.columns" :file-name="view.fileName" class="becomes" @change="target = $event" />
        </div>
        <ImportTable
          v-if="chosen.columns.length === analysis.header.length"
          :analysis="analysis"
          :reading="view.reading"
          :columns="chosen.columns"
          :key-columns="chosen.key"
          :problems="problems"
          @change="change({ columns: $event })"
          @key="change({ key: $event })"
        />
        <ProblemList :problems="problems" :rows="analysis.rows" @choose="choose" />
      </div>
      <ExhibitState v-else-if="view.work" kind="loading" title="Reading the file" />
      <div v-else-if="view.reading" class="columns"><ReadingPanel :view="view" :reading="view.reading" @change="read" /></div>
    </template>
  </div>
</template>

<style scoped>
.import {
  padding: 14px 26px 40px 30px;
}
.crumbs {
  font-size: 13px;
}
.head {
  display: flex;
  justify-content: space-between;
  align-items: end;
  gap: 20px;
}
.failure {
  padding: 8px 12px;
  border-left: 3px solid var(--off);
  background: var(--brass-tint);
  margin: 8px 0;
}
.becomes {
  margin-top: 22px;
}
.actions {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: flex-end;
  gap: 10px;
}
.staged {
  margin: 0 0 16px;
  padding: 10px 14px;
  border: 1px solid var(--rule);
  background: var(--sheet);
  display: grid;
  gap: 8px;
  justify-items: start;
}
.columns {
  display: grid;
  grid-template-columns: 210px minmax(0, 1fr) 260px;
  margin-top: 14px;
  align-items: start;
  gap: 24px;
}
@media (max-width: 1000px) {
  .columns {
    grid-template-columns: 1fr;
  }
}
</style>
