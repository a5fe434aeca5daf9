<script setup lang="ts">
import { joinCheckSchema, type JoinAsked, type TableSummary } from '@bold-compass/core/api';
import { useQueries } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { ask } from '../api/client.ts';
import { joinWords } from './join-words.ts';
import { joinedQuery, likelyJoin, tableId, type TableJoin } from './joined-query.ts';
import AddChoice from '../shell/AddChoice.vue';
import FoldedPart from '../shell/FoldedPart.vue';

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
const findings = computed(() =>
  joins.value.map((join, index) => {
    const { data, isFetching, error } = checks.value[index] ?? {};
    if (data) return joinWords(data, join);
    return { refused: false, words: isFetching ? 'Looking at the records …' : error ? `It could not be looked at: ${error.message}` : '' };
  }),
);
const sound = computed(() => findings.value.every(({ refused }) => !refused));
function write(): void {
  const start = named(first.value);
  if (start) emit('write', joinedQuery(props.tables, start, joins.value), start.name.replaceAll('_', ' '));
}
</script>

<template>
  <FoldedPart class="join" title="Join tables">
    <v-select
      v-model="first"
      aria-label="First table"
      :items="[{ value: '', title: 'Choose a table' }, ...tables.map((table) => ({ value: tableId(table), title: tableId(table) }))]"
      @update:model-value="joins = []"
    />
    <fieldset v-for="(join, index) in joins" :key="join.table">
      <legend>
        with <strong>{{ join.table }}</strong>
        <v-btn variant="plain" :aria-label="`Remove ${join.table}`" class="inline" @click="joins = joins.slice(0, index)">Remove</v-btn>
      </legend>
      <v-select
        :model-value="join.of ? `${join.of}\n${join.column}` : ''"
        :aria-label="`Column that names rows of ${join.table}`"
        :items="[
          { value: '', title: 'Which column names its rows?' },
          ...columnsBefore(index).map((one) => ({ value: one.value, title: one.words })),
        ]"
        @update:model-value="set(index, { of: $event.split('\n')[0], column: $event.split('\n')[1] ?? '' })"
      />
      <v-select
        :model-value="join.key"
        :aria-label="`Column of ${join.table} that is named`"
        :items="[
          { value: '', title: 'By which of its columns?' },
          ...(named(join.table)?.columns ?? []).map(({ name }) => ({ value: name, title: name })),
        ]"
        @update:model-value="set(index, { key: $event })"
      />
      <p v-if="findings[index].words" :class="findings[index].refused ? 'refused' : 'muted'" role="status">{{ findings[index].words }}</p>
    </fieldset>
    <AddChoice
      v-if="first"
      label="Join a table"
      :items="left.map((table) => ({ value: tableId(table), title: tableId(table) }))"
      @add="add"
    />
    <v-btn v-if="joins.length > 0" :disabled="!complete || !sound" @click="write">Write as query</v-btn>
  </FoldedPart>
</template>

<style scoped>
.join {
  font-size: 13px;
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
</style>
