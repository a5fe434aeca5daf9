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
import type { QueryParameter } from '@bold-compass/core/model';
import { parameterNames } from '@bold-compass/core/written';
import { useQuery, useQueryClient } from '@tanstack/vue-query';
import { useStorage, watchDebounced } from '@vueuse/core';
import { computed, defineAsyncComponent, ref, shallowRef, useTemplateRef, watch } from 'vue';
import { useRouter } from 'vue-router';
import { z } from 'zod';
import { ApiProblem, ask } from '../api/client.ts';
import { quoted } from '../data/joined-query.ts';
import JoinTables from '../data/JoinTables.vue';
import PreviewTable from '../data/PreviewTable.vue';
import { TYPE_NAMES } from '../data/type-names.ts';
import { figure } from '../data/use-import.ts';
import ProblemState from '../report/ProblemState.vue';

const SqlEditor = defineAsyncComponent(() => import('../data/SqlEditor.vue'));

/** A source from another database: its tables at the left, the query in the middle, what it answers below. */
const props = defineProps<{ connection?: string; source?: string }>();
const router = useRouter();
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

const { data: tables, error: tablesError } = useQuery({
  queryKey: computed(() => ['tables', chosen.value]),
  queryFn: ({ signal }) => ask(z.array(tableSummarySchema), 'GET', `/connections/${chosen.value}/tables`, undefined, signal),
  enabled: computed(() => chosen.value !== ''),
  retry: false,
});
const search = ref('');
const found = computed(
  () => tables.value?.filter(({ schema, name }) => `${schema}.${name}`.includes(search.value.trim().toLowerCase())) ?? [],
);
const schema = computed(() => {
  const names: Record<string, Record<string, string[]>> = {};
  for (const table of tables.value ?? []) (names[table.schema] ??= {})[table.name] = table.columns.map(({ name }) => name);
  return names;
});

const live = ref(false);
/** What is written stays over a reload, for each connection. */
const drafts = useStorage<Record<string, { text: string; label: string; parameters: QueryParameter[] }>>('written queries', {});
const place = computed(() => (props.source ? `source ${props.source}` : chosen.value));
const draft = computed(() => drafts.value[place.value] ?? { text: '', label: '', parameters: [] });
const change = (part: Partial<(typeof drafts.value)[string]>): void =>
  void (drafts.value = { ...drafts.value, [place.value]: { ...draft.value, ...part } });
watch(
  known,
  (source) => {
    if (source?.origin.kind !== 'sql') return;
    chosen.value = source.origin.connection;
    live.value = source.live;
    const { text: written, parameters } = source.origin;
    if (!(place.value in drafts.value)) change({ text: written, parameters, label: source.label });
  },
  { immediate: true },
);
/** A parameter is there as soon as it is written; what was said about it before stays. */
function write(value: string): void {
  const known = draft.value.parameters;
  change({
    text: value,
    parameters: parameterNames(value).map((name) => known.find((one) => one.name === name) ?? { name, type: 'any', value: '' }),
  });
}
const text = computed({ get: () => draft.value.text, set: write });
const label = computed({ get: () => draft.value.label, set: (value) => change({ label: value }) });

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

const canBringIn = computed(() => checked.value !== null && !fault.value && label.value.trim() !== '' && busy.value === '');
const bringIn = (): Promise<void> =>
  attempt('Starting …', async () => {
    const { source } = await ask(z.object({ source: z.string() }), 'POST', '/sources', {
      label: label.value,
      origin: { kind: 'sql', ...origin.value },
      live: live.value,
    });
    await router.push({ name: 'source', params: { source } });
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
    drafts.value = Object.fromEntries(Object.entries(drafts.value).filter(([of]) => of !== place.value));
    await queries.invalidateQueries();
    await router.push({ name: 'source', params: { source: props.source! } });
  });
const setParameter = (name: string, part: Partial<QueryParameter>): void =>
  change({ parameters: draft.value.parameters.map((one) => (one.name === name ? { ...one, ...part } : one)) });
</script>

<template>
  <div class="query">
    <p class="crumbs"><RouterLink to="/data">Data</RouterLink></p>
    <div class="head">
      <h1>{{ source ? `The query of ${known?.label ?? '…'}` : 'New database source' }}</h1>
      <div v-if="source" class="keep">
        <RouterLink class="button" :to="{ name: 'source', params: { source } }">Back</RouterLink>
        <button class="button primary" type="button" :disabled="!canBringIn" @click="rewrite">
          {{ live ? 'Save' : 'Save and refresh' }}
        </button>
      </div>
      <div v-else class="keep">
        <label>Name <input v-model="label" class="entry" maxlength="80" aria-label="Name of the source" /></label>
        <select v-model="live" class="choice" aria-label="Where the records are">
          <option :value="false">Imported, refreshed on demand or on a schedule</option>
          <option :value="true">Live: queried at the source</option>
        </select>
        <button class="button primary" type="button" :disabled="!canBringIn" @click="bringIn">
          {{ live ? 'Create dataset' : 'Import' }}
        </button>
      </div>
    </div>
    <ProblemState v-if="error" :error="error" />
    <div v-else class="columns">
      <aside aria-label="Tables">
        <label class="small"
          >Connection
          <select v-model="chosen" class="choice" :disabled="source !== undefined">
            <option v-for="one in connections" :key="one.id" :value="one.id">{{ one.label }}</option>
          </select>
        </label>
        <input v-model="search" class="entry" type="search" placeholder="Find a table" aria-label="Find a table" />
        <p v-if="tablesError" class="failure" role="alert">{{ tablesError.message }}</p>
        <ul>
          <li v-for="table in found" :key="`${table.schema}.${table.name}`">
            <details>
              <summary>
                <span
                  >{{ table.schema }}.<strong>{{ table.name }}</strong></span
                >
                <span class="muted rows">{{ figure(table.rows) }}</span>
              </summary>
              <div class="table-actions">
                <button type="button" class="link" @click="use(table)">Use it</button>
                <button type="button" class="link" @click="sample(table)">Sample rows</button>
              </div>
              <ul class="fields">
                <li v-for="column in table.columns" :key="column.name">
                  {{ column.name }} <span class="muted">{{ column.type }}</span>
                </li>
              </ul>
            </details>
          </li>
        </ul>
        <JoinTables
          :connection="chosen"
          :tables="tables ?? []"
          @write="(written, called) => change({ text: written, label: label || called })"
        />
        <p v-if="tables && tables.length === 0" class="muted">This user may read no table.</p>
      </aside>
      <div class="work">
        <SqlEditor ref="editor" v-model="text" :schema="schema" :fault="fault" label="Query" @run="run" />
        <div class="bar">
          <button class="button" type="button" :disabled="text.trim() === '' || busy !== ''" @click="check()">Check</button>
          <button class="button" type="button" :disabled="text.trim() === '' || busy !== ''" @click="run">Show the first 100 rows</button>
          <span class="muted" role="status">{{ busy }}</span>
        </div>
        <p v-if="fault" class="failure" role="alert">{{ fault.message }}</p>
        <p v-else-if="checked" class="answers">
          <span class="muted">Answers</span>
          <span v-for="column in checked.columns" :key="column.name" class="column"
            >{{ column.name }} <span class="muted">{{ TYPE_NAMES[column.type] }}</span></span
          >
        </p>
        <fieldset v-if="draft.parameters.length > 0" class="parameters">
          <legend>Parameters</legend>
          <div v-for="parameter in draft.parameters" :key="parameter.name" class="parameter">
            <code>:{{ parameter.name }}</code>
            <select
              class="choice"
              :value="parameter.type"
              :aria-label="`Type of ${parameter.name}`"
              @change="setParameter(parameter.name, { type: ($event.target as HTMLSelectElement).value as QueryParameter['type'] })"
            >
              <option value="any">as the query needs</option>
              <option value="text">text</option>
              <option value="number">number</option>
              <option value="date">date</option>
            </select>
            <input
              class="entry"
              :value="parameter.value"
              :aria-label="`Value of ${parameter.name}`"
              :type="parameter.type === 'date' ? 'date' : 'text'"
              @change="setParameter(parameter.name, { value: ($event.target as HTMLInputElement).value })"
            />
            <label v-if="live" class="small"
              >filled by the prompt on
              <select
                class="choice"
                :value="parameter.filledBy ?? ''"
                @change="setParameter(parameter.name, { filledBy: ($event.target as HTMLSelectElement).value || undefined })"
              >
                <option value="">none</option>
                <option v-for="column in checked?.columns" :key="column.name" :value="column.name">{{ column.name }}</option>
              </select>
            </label>
          </div>
        </fieldset>
        <template v-if="preview">
          <h2 class="part preview-title">{{ preview.title }}</h2>
          <p v-if="preview.rows.stopped" class="muted" role="status">{{ preview.rows.stopped }}</p>
          <PreviewTable :preview="preview.rows" :label="preview.title" />
        </template>
        <p v-else class="muted hint">
          Only what reads is run, in a transaction that changes nothing, for 20 seconds at most. Write <code>:name</code> where a value is
          to be asked for.
        </p>
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
aside {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.small {
  font-size: 13px;
  color: var(--ink-2);
}
.small .choice {
  width: 100%;
}
ul {
  list-style: none;
  padding: 0;
  margin: 0;
}
summary {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  cursor: pointer;
  padding: 4px 0;
  border-bottom: 1px solid var(--rule-2);
  overflow-wrap: anywhere;
}
.rows {
  font-size: 12.5px;
}
.table-actions {
  display: flex;
  gap: 14px;
}
.fields {
  font-size: 13px;
  padding: 0 0 8px 10px;
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
.parameters {
  border: 0;
  padding: 0;
  margin: 10px 0 0;
}
legend {
  font-size: 13px;
  color: var(--ink-2);
}
.parameter {
  display: flex;
  gap: 10px;
  align-items: center;
  margin-top: 4px;
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
