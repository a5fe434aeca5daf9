<script setup lang="ts">
import {
  connectionViewSchema,
  queryCheckSchema,
  queryPreviewSchema,
  sourceViewSchema,
  tableSummarySchema,
  type QueryCheck,
  type QueryPreview,
  type TableSummary,
} from '@bold-compass/core/api';
import { useQuery, useQueryClient } from '@tanstack/vue-query';
import { watchDebounced } from '@vueuse/core';
import { computed, defineAsyncComponent, ref, shallowRef, useTemplateRef, watch } from 'vue';
import { z } from 'zod';
import { ApiProblem, ask } from '../api/client.ts';
import {} from '../data/joined-query.ts';
import { quoted } from '../data/sql-names.ts';
import { exampleQuery } from '../data/example-query.ts';
import { useQueryDraft } from '../data/query-draft.ts';
import QueryParameters from '../data/QueryParameters.vue';
import TableBrowser from '../data/TableBrowser.vue';
import PreviewTable from '../data/PreviewTable.vue';
import { TYPE_NAMES } from '../data/type-names.ts';
import ProblemState from '../report/ProblemState.vue';
import { useGoOn } from '../shell/go-on.ts';

const SqlEditor = defineAsyncComponent(() => import('../data/SqlEditor.vue'));

/** A source from another database: its tables at the left, the query in the middle, what it answers below. */
const props = defineProps<{ connection?: string; source?: string }>();
const goOn = useGoOn();
const queries = useQueryClient();

const { data: connections, error } = useQuery({
  queryKey: ['connections'],
  queryFn: ({ signal }) => ask(z.array(connectionViewSchema), 'GET', '/connections', undefined, signal),
});
/** The source whose query is being changed; none while a new one is made. */
const { data: sources } = useQuery({
  queryKey: ['sources'],
  queryFn: ({ signal }) => ask(z.array(sourceViewSchema), 'GET', '/sources', undefined, signal),
  enabled: props.source !== undefined,
});
const known = computed(() => sources.value?.find(({ id }) => id === props.source));
const chosen = ref(props.connection ?? '');
watch(connections, (now) => !props.source && (chosen.value ||= now?.[0]?.id ?? ''), { immediate: true });

const { data: tables } = useQuery({
  queryKey: computed(() => ['tables', chosen.value]),
  queryFn: ({ signal }) => ask(z.array(tableSummarySchema), 'GET', `/connections/${chosen.value}/tables`, undefined, signal),
  enabled: computed(() => chosen.value !== ''),
  retry: false,
});
const schema = computed(() => {
  const names: Record<string, Record<string, string[]>> = {};
  for (const table of tables.value ?? []) (names[table.schema] ??= {})[table.name] = table.columns.map(({ name }) => name);
  return names;
});

const live = ref(false);
const place = computed(() => (props.source ? `source ${props.source}` : chosen.value));
const { draft, change, text, label, isBegun, forget } = useQueryDraft(place);
watch(
  known,
  (source) => {
    if (source?.origin.kind !== 'sql') return;
    chosen.value = source.origin.connection;
    live.value = source.live;
    const { text: written, parameters } = source.origin;
    if (!isBegun()) change({ text: written, parameters, label: source.label });
  },
  { immediate: true },
);
const checked = shallowRef<QueryCheck | null>(null);
const fault = shallowRef<{ message: string; position: number | null } | null>(null);
const preview = shallowRef<{ title: string; rows: QueryPreview } | null>(null);
const busy = ref('');
const origin = computed(() => ({ connection: chosen.value, text: text.value, parameters: draft.value.parameters }));

function refuse(problem: unknown): void {
  const position = problem instanceof ApiProblem ? problem.problem.about?.position : undefined;
  fault.value = {
    message: problem instanceof ApiProblem ? problem.message : 'This did not work. Try again.',
    position: typeof position === 'number' ? position : null,
  };
}
let asked = 0;
async function check(): Promise<boolean> {
  const own = ++asked;
  if (text.value.trim() === '') {
    checked.value = null;
    fault.value = null;
    return false;
  }
  try {
    const answer = await ask(queryCheckSchema, 'POST', '/queries/check', origin.value);
    if (own !== asked) return false;
    checked.value = answer;
    fault.value = null;
    return true;
  } catch (problem) {
    if (own === asked) refuse(problem);
    return false;
  }
}
watchDebounced([text, chosen, () => draft.value.parameters], () => void check(), { debounce: 500, immediate: true });

async function attempt(what: string, action: () => Promise<void>): Promise<void> {
  busy.value = what;
  try {
    await action();
  } catch (problem) {
    refuse(problem);
  } finally {
    busy.value = '';
  }
}
const run = (): Promise<void> =>
  attempt('Asking for the first rows …', async () => {
    const rows = await ask(queryPreviewSchema, 'POST', '/queries/preview', origin.value);
    fault.value = null;
    preview.value = { title: `The first ${rows.rows.length} rows of the query`, rows };
  });
const sample = ({ schema: of, name }: TableSummary): Promise<void> =>
  attempt(`Looking into ${name} …`, async () => {
    const rows = await ask(queryPreviewSchema, 'POST', `/connections/${chosen.value}/sample`, { schema: of, table: name });
    preview.value = { title: `The first rows of ${of}.${name}`, rows };
  });
const editor = useTemplateRef<{ insert(word: string): void }>('editor');
function use({ schema: of, name }: TableSummary): void {
  const table = `${quoted(of)}.${quoted(name)}`;
  if (text.value.trim() === '') change({ text: `SELECT *\nFROM ${table}\n`, label: label.value || name.replaceAll('_', ' ') });
  else editor.value?.insert(table);
}

const canImport = computed(() => checked.value !== null && !fault.value && label.value.trim() !== '' && busy.value === '');
const importSource = (): Promise<void> =>
  attempt('Starting …', async () => {
    const { source } = await ask(z.object({ source: z.string() }), 'POST', '/sources', {
      label: label.value,
      origin: { kind: 'sql', ...origin.value },
      live: live.value,
    });
    await goOn({ name: 'source', params: { source } });
  });
const rewrite = (): Promise<void> =>
  attempt('Saving …', async () => {
    const { text: written, parameters } = draft.value;
    // Where someone else changed the source, saving once more puts this query in the place of theirs.
    await ask(z.object({}), 'PUT', `/sources/${props.source}/query`, { text: written, parameters, revision: known.value!.revision }).catch(
      async (problem: unknown) => {
        await queries.invalidateQueries({ queryKey: ['sources'] });
        throw problem;
      },
    );
    forget();
    await queries.invalidateQueries();
    await goOn({ name: 'source', params: { source: props.source! } });
  });
const example = computed(() => exampleQuery(tables.value ?? []));
</script>

<template>
  <div class="query">
    <p class="crumbs"><RouterLink to="/data">Data</RouterLink></p>
    <div class="head">
      <h1>{{ source ? `The query of ${known?.label ?? '…'}` : 'New database source' }}</h1>
      <div v-if="source" class="keep">
        <v-btn :to="{ name: 'source', params: { source } }">Back</v-btn>
        <v-btn color="primary" variant="flat" :disabled="!canImport" @click="rewrite">
          {{ live ? 'Save' : 'Save and refresh' }}
        </v-btn>
      </div>
      <div v-else class="keep new">
        <v-text-field v-model="label" label="Name" maxlength="80" />
        <v-select
          v-model="live"
          label="Records"
          :items="[
            { value: false, title: 'Imported, refreshed on demand or on a schedule' },
            { value: true, title: 'Live: queried at the source' },
          ]"
        />
        <v-btn color="primary" variant="flat" :disabled="!canImport" @click="importSource">
          {{ live ? 'Create dataset' : 'Import' }}
        </v-btn>
      </div>
    </div>
    <ProblemState v-if="error" :error="error" />
    <div v-else class="columns">
      <TableBrowser
        v-model="chosen"
        :connections="connections ?? []"
        :fixed="source !== undefined"
        @use="use"
        @sample="sample"
        @write="(written, called) => change({ text: written, label: label || called })"
      />
      <div class="work">
        <SqlEditor ref="editor" v-model="text" :schema="schema" :fault="fault" label="Query" @run="run" />
        <div class="bar">
          <v-btn :disabled="text.trim() === '' || busy !== ''" @click="check()">Check</v-btn>
          <v-btn :disabled="text.trim() === '' || busy !== ''" @click="run">Show the first 100 rows</v-btn>
          <span class="muted" role="status">{{ busy }}</span>
        </div>
        <p v-if="fault" class="failure" role="alert">{{ fault.message }}</p>
        <p v-else-if="checked" class="answers">
          <span class="muted">Answers</span>
          <span v-for="column in checked.columns" :key="column.name" class="column"
            >{{ column.name }} <span class="muted">{{ TYPE_NAMES[column.type] }}</span></span
          >
        </p>
        <QueryParameters
          v-if="draft.parameters.length > 0"
          :parameters="draft.parameters"
          :live="live"
          :columns="checked?.columns ?? []"
          @change="change({ parameters: $event })"
        />
        <template v-if="preview">
          <h2 class="part preview-title">{{ preview.title }}</h2>
          <p v-if="preview.rows.stopped" class="muted" role="status">{{ preview.rows.stopped }}</p>
          <PreviewTable :preview="preview.rows" :label="preview.title" />
        </template>
        <template v-else>
          <section v-if="text.trim() === '' && example" class="example" aria-labelledby="example-heading">
            <h2 id="example-heading" class="part">An example for this connection</h2>
            <pre>{{ example }}</pre>
            <v-btn @click="text = example">Use example</v-btn>
          </section>
          <p class="muted hint">
            Queries only read, in a transaction that changes nothing, for 20 seconds at most. Write <code>:name</code> for a parameter.
          </p>
        </template>
      </div>
    </div>
  </div>
</template>

<style scoped>
.query {
  padding: 14px 26px 40px 30px;
}
.crumbs {
  font-size: 13px;
}
.head {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: end;
  gap: 8px 20px;
  margin-bottom: 14px;
}
.keep {
  display: flex;
  gap: 10px;
  align-items: center;
}
.columns {
  display: grid;
  grid-template-columns: 250px minmax(0, 1fr);
  gap: 26px;
  align-items: start;
}
.new {
  align-items: end;
}
.new .v-text-field {
  width: 220px;
}
.new .v-select {
  width: 330px;
}
.example pre {
  margin: 4px 0 10px;
  padding: 10px 14px;
  border: 1px solid var(--rule);
  border-radius: 6px;
  background: var(--sheet);
  font-family: ui-monospace, 'DejaVu Sans Mono', monospace;
  font-size: 13px;
}
.example {
  margin-top: 14px;
}
.work {
  min-width: 0;
}
.bar {
  display: flex;
  gap: 10px;
  align-items: center;
  margin: 10px 0;
}
.failure {
  border-left: 3px solid var(--off);
  background: var(--brass-tint);
  padding: 6px 12px;
}
.answers {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 16px;
}
.preview-title {
  margin: 16px 0 6px;
}
.hint {
  margin-top: 14px;
}
@media (max-width: 900px) {
  .columns {
    grid-template-columns: 1fr;
  }
}
</style>
