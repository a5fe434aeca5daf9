<script setup lang="ts">
import { joinCheckSchema, type JoinAsked, type TableSummary } from '@bold-compass/core/api';
import { useQueries } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { ask } from '../api/client.ts';
import { joinWords } from './join-words.ts';
import { joinedQuery, likelyJoin, tableId, type TableJoin } from './joined-query.ts';
import AddChoice from '../shell/AddChoice.vue';

/**
 * Joins tables to one source: which, and by which columns, each held against the data; they are then written as a query
 * that can be changed.
 */
const props = defineProps<{ connection: string; tables: TableSummary[] }>();
const emit = defineEmits<{ write: [text: string, label: string] }>();

const first = ref('');
const joins = ref<TableJoin[]>([]);
watch(
  () => props.tables,
  () => {
    first.value = '';
    joins.value = [];
  },
);
const named = (id: string): TableSummary | undefined => props.tables.find((table) => tableId(table) === id);
/** Tables that stand before the join at a position. */
const before = (index: number): TableSummary[] =>
  [first.value, ...joins.value.slice(0, index).map(({ table }) => table)].flatMap((id) => named(id) ?? []);
const columnsBefore = (index: number): { value: string; words: string }[] =>
  before(index).flatMap((table) =>
    table.columns.map(({ name }) => ({ value: `${tableId(table)}\n${name}`, words: `${table.name}.${name}` })),
  );
const left = computed(() => props.tables.filter((table) => !before(joins.value.length).includes(table)));

function add(id: string): void {
  const table = named(id);
  if (!table) return;
  joins.value = [...joins.value, likelyJoin(before(joins.value.length), table)];
}
const set = (index: number, part: Partial<TableJoin>): void =>
  void (joins.value = joins.value.map((join, position) => (position === index ? { ...join, ...part } : join)));
const complete = computed(() => joins.value.length > 0 && joins.value.every(({ of, column, key }) => of && column && key));

/** What is asked about a join; null until its columns are chosen. */
function asked({ table, of, column, key }: TableJoin): JoinAsked | null {
  const [from, to] = [named(of), named(table)];
  return from && to && column && key ? { schema: from.schema, table: from.name, column, toSchema: to.schema, toTable: to.name, key } : null;
}
const checks = useQueries({
  queries: computed(() =>
    joins.value.map((join) => ({
      queryKey: ['join check', props.connection, asked(join)],
      queryFn: ({ signal }: { signal: AbortSignal }) =>
        ask(joinCheckSchema, 'POST', `/connections/${props.connection}/join-check`, asked(join), signal),
      enabled: asked(join) !== null,
      staleTime: 60_000,
    })),
  ),
});
const told = computed(() =>
  joins.value.map((join, index) => {
    const { data, isFetching, error } = checks.value[index] ?? {};
    if (data) return joinWords(data, join);
    return { refused: false, words: isFetching ? 'Looking at the records …' : error ? `It could not be looked at: ${error.message}` : '' };
  }),
);
const sound = computed(() => told.value.every(({ refused }) => !refused));
function write(): void {
  const start = named(first.value);
  if (start) emit('write', joinedQuery(props.tables, start, joins.value), start.name.replaceAll('_', ' '));
}
const valueOf = (event: Event): string => (event.target as HTMLSelectElement).value;
</script>

<template>
  <details class="join">
    <summary>Join tables</summary>
    <select v-model="first" class="choice" aria-label="First table" @change="joins = []">
      <option value="">begin with a table</option>
      <option v-for="table in tables" :key="tableId(table)" :value="tableId(table)">{{ tableId(table) }}</option>
    </select>
    <fieldset v-for="(join, index) in joins" :key="join.table">
      <legend>
        with <strong>{{ join.table }}</strong>
        <button type="button" class="link" :aria-label="`Leave ${join.table} out`" @click="joins = joins.slice(0, index)">leave out</button>
      </legend>
      <select
        class="choice"
        :value="join.of ? `${join.of}\n${join.column}` : ''"
        :aria-label="`Column that names rows of ${join.table}`"
        @change="set(index, { of: valueOf($event).split('\n')[0], column: valueOf($event).split('\n')[1] ?? '' })"
      >
        <option value="">which column names its rows?</option>
        <option v-for="one in columnsBefore(index)" :key="one.value" :value="one.value">{{ one.words }}</option>
      </select>
      <select
        class="choice"
        :value="join.key"
        :aria-label="`Column of ${join.table} that is named`"
        @change="set(index, { key: valueOf($event) })"
      >
        <option value="">by which of its columns?</option>
        <option v-for="{ name } in named(join.table)?.columns" :key="name" :value="name">{{ name }}</option>
      </select>
      <p v-if="told[index].words" :class="told[index].refused ? 'refused' : 'muted'" role="status">{{ told[index].words }}</p>
    </fieldset>
    <AddChoice v-if="first" label="Join a table" words="join a table" @add="add">
      <option v-for="table in left" :key="tableId(table)" :value="tableId(table)">{{ tableId(table) }}</option>
    </AddChoice>
    <button v-if="joins.length > 0" type="button" class="button" :disabled="!complete || !sound" @click="write">Write it as a query</button>
  </details>
</template>

<style scoped>
.join {
  font-size: 13px;
}
summary {
  cursor: pointer;
  color: var(--sea);
  min-height: 26px;
}
.choice,
.button {
  box-sizing: border-box;
  display: block;
  width: 100%;
  margin-top: 4px;
  padding-top: 2px;
  padding-bottom: 2px;
}
p {
  margin: 4px 0 0;
  font-size: 12.5px;
}
.refused {
  color: var(--off-text);
}
fieldset {
  min-width: 0;
  border: 0;
  border-left: 3px solid var(--brass-line);
  padding: 2px 0 2px 8px;
  margin: 6px 0 0;
}
.link {
  margin-left: 6px;
}
</style>
