<script setup lang="ts">
import { LOCALE } from '@bold-compass/core/format';
import { driftSchema, loadSchema, sourceViewSchema, type Drift, type Load, type RefreshChoice } from '@bold-compass/core/api';
import type { Choice } from '@bold-compass/core/imports';
import { useQuery, useQueryClient } from '@tanstack/vue-query';
import { computed, ref, shallowRef, watch } from 'vue';
import { z } from 'zod';
import { ApiProblem, ask } from '../api/client.ts';
import WorkProgress from '../data/WorkProgress.vue';
import { TYPE_NAMES } from '../data/type-names.ts';
import { figure } from '../data/use-import.ts';
import ExhibitState from '../report/ExhibitState.vue';
import ProblemState from '../report/ProblemState.vue';
import { useGoOn } from '../shell/go-on.ts';

/** Records that were brought in: where from, when, and what happened each time. */
const props = defineProps<{ source: string }>();
const queries = useQueryClient();
const goOn = useGoOn();

const {
  data: sources,
  error,
  refetch,
} = useQuery({
  queryKey: ['sources'],
  queryFn: ({ signal }) => ask(z.array(sourceViewSchema), 'GET', '/sources', undefined, signal),
});
const view = computed(() => sources.value?.find(({ id }) => id === props.source));
const { data: loads } = useQuery({
  queryKey: computed(() => ['loads', props.source]),
  queryFn: ({ signal }) => ask(z.array(loadSchema), 'GET', `/sources/${props.source}/loads`, undefined, signal),
  refetchInterval: (query) => (query.state.data?.[0]?.state === 'running' ? 400 : false),
});
const running = computed(() => loads.value?.[0]?.state === 'running');
const { data: progress } = useQuery({
  queryKey: computed(() => ['progress', props.source]),
  queryFn: ({ signal }) => ask(z.object({ share: z.number().nullable() }), 'GET', `/sources/${props.source}/progress`, undefined, signal),
  enabled: running,
  refetchInterval: 400,
});
watch(running, (now, before) => {
  if (before && !now) void queries.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] !== 'loads' });
});

const message = ref('');
const drift = shallowRef<Drift | null>(null);
const mapping = ref<Record<string, string>>({});
const added = ref<RefreshChoice['added']>();

async function attempt(action: () => Promise<unknown>): Promise<void> {
  message.value = '';
  try {
    await action();
  } catch (problem) {
    message.value = problem instanceof ApiProblem ? problem.message : 'This did not work. Try again.';
    // Someone else changed it in the meantime: what they saved is shown.
    if (problem instanceof ApiProblem && problem.code === 'stale-revision') await refetch();
  }
}
const again = (): Promise<void> => queries.invalidateQueries({ queryKey: ['loads', props.source] });
const refresh = (choice: RefreshChoice): Promise<void> =>
  attempt(async () => {
    await ask(z.object({}), 'POST', `/sources/${props.source}/refresh`, choice);
    drift.value = null;
    await again();
  });
const cancel = (): Promise<void> =>
  attempt(async () => {
    await ask(z.object({}), 'POST', `/sources/${props.source}/cancel`, {});
    await again();
  });
const compare = (): Promise<void> =>
  attempt(async () => {
    drift.value = await ask(driftSchema, 'GET', `/sources/${props.source}/drift`);
    mapping.value = {};
    added.value = undefined;
  });
// A refresh that stopped shows at once what has changed.
watch(
  () => loads.value?.[0],
  (load, before) => {
    if (load?.state === 'stopped' && load.id !== before?.id) void compare();
    else if (load?.state === 'stopped' && before?.state === 'running') void compare();
  },
);
const decided = computed(
  () =>
    drift.value !== null &&
    [...drift.value.missing].every((name) => mapping.value[name]) &&
    drift.value.retyped.every(({ column }) => mapping.value[column]) &&
    (drift.value.added.every((name) => Object.values(mapping.value).includes(name)) || added.value !== undefined),
);
const remove = (): Promise<void> =>
  attempt(async () => {
    await ask(z.object({}), 'DELETE', `/sources/${props.source}`);
    await goOn({ name: 'data' });
    await queries.invalidateQueries({ queryKey: ['sources'] });
  });
const schedule = computed(() => view.value?.schedule ?? '');
const setSchedule = (value: string): Promise<void> =>
  attempt(async () => {
    await ask(z.object({}), 'PUT', `/sources/${props.source}/schedule`, {
      schedule: value === '' ? null : value,
      revision: view.value!.revision,
    });
    await refetch();
  });
const SCHEDULES = [
  { value: '', words: 'On demand' },
  { value: '0 * * * *', words: 'Hourly' },
  { value: '0 5 * * *', words: 'Daily at 05:00 (UTC)' },
  { value: '0 5 * * 1', words: 'Weekly, Mondays at 05:00 (UTC)' },
  { value: '0 5 1 * *', words: 'Monthly, on the first' },
];
const DATE_FORMATS = { ymd: '2026-10-31', dmy: '31.10.2026', mdy: '10/31/2026' };
const ACTIONS: Partial<Record<Choice, string>> = {
  empty: 'left empty',
  skip: 'rows skipped',
  round: 'rounded',
  widen: 'kept with all digits',
};
/** The recipe of the first file, line by line. */
const recipeWords = computed((): [string, string][] => {
  const recipe = view.value?.recipe;
  if (!recipe) return [];
  const { reading, columns, bindings, duplicate, ragged } = recipe;
  const label = (column: string): string => view.value!.columns.find((one) => one.column === column)?.label ?? column;
  const left = columns.filter(({ include }) => !include).map(({ header }) => header);
  const markers = [...new Set(columns.flatMap(({ empties }) => empties))];
  const actions = columns.flatMap(({ name, misfit, rounded }) => [
    ...(misfit && ACTIONS[misfit] ? [`${name}: what is no value of the type is ${ACTIONS[misfit]}`] : []),
    ...(rounded && ACTIONS[rounded] ? [`${name}: more decimal places are ${ACTIONS[rounded]}`] : []),
  ]);
  const lines: [string, string][] = [
    ['Decimal separator', reading.decimalSign],
    ['Date format', DATE_FORMATS[reading.dateOrder]],
    ...(markers.length > 0 ? [['Missing-value markers', markers.join(', ')] as [string, string]] : []),
    ...(left.length > 0 ? [['Not included', left.join(', ')] as [string, string]] : []),
    ...(bindings.length > 0
      ? [
          ['Bindings', bindings.map(({ column, level, by }) => `${label(column)} names members of ${level} by ${by}`).join('; ')] as [
            string,
            string,
          ],
        ]
      : []),
    ...(actions.length > 0 ? [['Problems', actions.join('; ')] as [string, string]] : []),
    ...(duplicate === 'skip' ? [['Duplicate keys', 'later rows skipped'] as [string, string]] : []),
    ...(ragged && ragged !== 'stop'
      ? [['Rows of another width', ragged === 'skip' ? 'skipped' : 'cut or filled'] as [string, string]]
      : []),
  ];
  return lines;
});
const when = new Intl.DateTimeFormat(LOCALE, { dateStyle: 'medium', timeStyle: 'short' });
const STATES: Record<Load['state'], string> = {
  running: 'running',
  done: 'done',
  stopped: 'stopped',
  failed: 'failed',
  cancelled: 'cancelled',
};
const KINDS: Record<Load['kind'], string> = {
  import: 'Imported',
  refresh: 'Refreshed',
  replace: 'Replaced',
  append: 'Appended',
  update: 'Updated',
};

const LOAD_HEADERS = [
  { key: 'startedAt', title: 'When' },
  { key: 'kind', title: 'What' },
  { key: 'rows', title: 'Records', align: 'end' },
  { key: 'state', title: 'Outcome' },
] as const;
const COLUMN_HEADERS = [
  { key: 'label', title: 'Name' },
  { key: 'from', title: 'At the source' },
  { key: 'type', title: 'Type' },
];
</script>

<template>
  <div class="source">
    <p class="crumbs"><RouterLink to="/data">Data</RouterLink></p>
    <ProblemState v-if="error" :error="error" @retry="refetch()" />
    <ExhibitState v-else-if="!sources" kind="loading" title="Fetching the records" />
    <ExhibitState v-else-if="!view" kind="empty" title="These records are not here any more" />
    <template v-else>
      <div class="head">
        <div>
          <h1>{{ view.label }}</h1>
          <p class="muted">
            {{ view.live ? 'Live: queried at the source' : `${figure(view.rows)} records` }},
            {{ view.origin.kind === 'file' ? `from ${view.origin.fileName}` : 'from a query' }}.
            <template v-if="view.datasets.length > 0">
              Read by
              <template v-for="(dataset, index) in view.datasets" :key="dataset.name"
                >{{ index > 0 ? ', ' : ''
                }}<RouterLink :to="{ name: 'dataset', params: { dataset: dataset.name } }">{{ dataset.label }}</RouterLink></template
              >.
            </template>
          </p>
        </div>
        <div v-if="view.origin.kind === 'sql' && !view.live" class="actions">
          <v-select
            label="Refreshed"
            :model-value="schedule"
            :items="[
              ...SCHEDULES.map((one) => ({ value: one.value, title: one.words })),
              ...(!SCHEDULES.some(({ value }) => value === schedule) ? [{ value: schedule, title: schedule }] : []),
            ]"
            @update:model-value="setSchedule($event)"
          />
          <v-btn color="primary" variant="flat" :disabled="running" @click="refresh({ mapping: {} })">Refresh now</v-btn>
        </div>
      </div>
      <WorkProgress v-if="running" what="Importing the records" :share="progress?.share ?? 0" @cancel="cancel" />
      <p v-if="message" class="failure" role="alert">{{ message }}</p>

      <section
        v-if="drift && (drift.missing.length || drift.retyped.length || drift.added.length)"
        class="drift"
        aria-label="What has changed at the source"
      >
        <h2>The source has changed</h2>
        <p>Nothing was harmed: the last good records stay in use until you say what is meant.</p>
        <p v-if="drift.touches.length > 0">
          This touches
          <template v-for="(one, index) in drift.touches" :key="index"
            >{{ index > 0 ? ', ' : '' }}the {{ one.kind }} <strong>{{ one.label }}</strong></template
          >.
        </p>
        <ul>
          <li v-for="name in [...drift.missing, ...drift.retyped.map(({ column }) => column)]" :key="name">
            <p class="drifted">
              <strong>{{ name }}</strong>
              {{
                drift.missing.includes(name)
                  ? 'is missing'
                  : `is ${TYPE_NAMES[drift.retyped.find(({ column }) => column === name)!.is]} now`
              }}. Use instead
              <v-select
                v-model="mapping[name]"
                :aria-label="`${name} is now`"
                :items="[{ value: '', title: 'Not decided yet' }, ...drift.added.map((one) => ({ value: one, title: one }))]"
              />
            </p>
          </li>
        </ul>
        <p v-if="drift.added.length > 0">
          New: {{ drift.added.join(', ') }}. Those that stand for nothing above are
          <v-select
            v-model="added"
            aria-label="New columns are"
            :items="[
              { value: undefined, title: 'Not decided yet' },
              { value: 'take', title: 'Imported too' },
              { value: 'leave', title: 'Left at the source' },
            ]"
          />
        </p>
        <v-btn color="primary" variant="flat" :disabled="!decided || running" @click="refresh({ mapping, added: added ?? 'leave' })">
          Refresh so
        </v-btn>
        <p class="muted">Or change the query at the source so that it answers as before, and refresh again.</p>
      </section>

      <h2 class="list-head">History</h2>
      <v-data-table :headers="LOAD_HEADERS" :items="loads" item-value="id" aria-label="History">
        <template #[`item.startedAt`]="{ item }">{{ when.format(new Date(item.startedAt)) }}</template>
        <template #[`item.kind`]="{ item }">{{ KINDS[item.kind] }}</template>
        <template #[`item.rows`]="{ item }">{{ item.rows === null ? '–' : figure(item.rows) }}</template>
        <template #[`item.state`]="{ item }">
          <strong :class="item.state">{{ STATES[item.state] }}</strong> {{ item.message }}
        </template>
      </v-data-table>
      <h2 class="list-head">Columns</h2>
      <v-data-table :headers="COLUMN_HEADERS" :items="view.columns" item-value="column" aria-label="Columns">
        <template #[`item.label`]="{ item }">
          {{ item.label }}<span v-if="view.key.includes(item.column)" class="muted"> · key</span>
        </template>
        <template #[`item.type`]="{ item }">
          {{ TYPE_NAMES[item.type] }}{{ item.type === 'decimal' ? `, ${item.scale} digits` : '' }}
        </template>
      </v-data-table>
      <template v-if="view.recipe">
        <h2 class="list-head">Recipe</h2>
        <p class="muted">How the first file was read. Every later file goes through the same.</p>
        <dl class="recipe">
          <template v-for="[term, words] in recipeWords" :key="term">
            <dt>{{ term }}</dt>
            <dd>{{ words }}</dd>
          </template>
        </dl>
      </template>
      <template v-if="view.origin.kind === 'sql'">
        <div class="list-head query-head">
          <h2>Query</h2>
          <v-btn :to="{ name: 'source-query', params: { source } }">Change the query</v-btn>
        </div>
        <pre>{{ view.origin.text }}</pre>
        <ul v-if="view.origin.parameters.length > 0" class="parameters" aria-label="Parameters">
          <li v-for="parameter in view.origin.parameters" :key="parameter.name">
            <code>:{{ parameter.name }}</code> is {{ parameter.value === '' ? 'empty' : `“${parameter.value}”`
            }}{{ parameter.filledBy ? `, or what the prompt on ${parameter.filledBy} chooses` : '' }}
          </li>
        </ul>
      </template>
      <v-btn variant="text" class="remove" @click="remove">Delete source</v-btn>
    </template>
  </div>
</template>

<style scoped>
.source {
  padding: 14px 26px 60px 30px;
  max-width: 1180px;
}
.crumbs {
  font-size: 13px;
}
.head,
.actions {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: end;
  gap: 8px 20px;
}
.failure {
  border-left: 3px solid var(--off);
  background: var(--brass-tint);
  padding: 6px 12px;
  margin: 8px 0;
}
.drift {
  margin: 14px 0;
  padding: 12px 16px;
  border-left: 3px solid var(--drift);
  background: var(--sheet);
  display: grid;
  gap: 8px;
  justify-items: start;
}
.drift ul {
  padding-left: 18px;
  margin: 0;
}
.list-head {
  margin: 26px 0 0;
  padding-bottom: 6px;
}
.number {
  font-variant-numeric: tabular-nums;
}
.failed,
.stopped {
  color: var(--off-text);
}
.query-head {
  display: flex;
  justify-content: space-between;
  align-items: end;
}
.parameters {
  padding-left: 18px;
}
.recipe {
  display: grid;
  grid-template-columns: 190px minmax(0, 1fr);
  gap: 3px 14px;
  margin: 6px 0 0;
}
.recipe dt {
  color: var(--ink-2);
}
.recipe dd {
  margin: 0;
}
.remove {
  margin-top: 28px;
}
pre {
  margin: 8px 0 0;
  white-space: pre-wrap;
  font-size: 13px;
}
</style>
