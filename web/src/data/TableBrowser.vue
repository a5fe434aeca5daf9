<script setup lang="ts">
import { tableSummarySchema, type ConnectionView, type TableSummary } from '@bold-compass/core/api';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { z } from 'zod';
import { ask } from '../api/client.ts';
import JoinTables from './JoinTables.vue';
import { figure } from './use-import.ts';
import FoldedPart from '../shell/FoldedPart.vue';

/** The tables of a connection: found by name, used in the query, looked into and joined. */
const chosen = defineModel<string>({ required: true });
defineProps<{ connections: readonly ConnectionView[]; fixed: boolean }>();
const emit = defineEmits<{
  use: [table: TableSummary];
  sample: [table: TableSummary];
  write: [text: string, label: string];
}>();
const { data: tables, error } = useQuery({
  queryKey: computed(() => ['tables', chosen.value]),
  queryFn: ({ signal }) => ask(z.array(tableSummarySchema), 'GET', `/connections/${chosen.value}/tables`, undefined, signal),
  enabled: computed(() => chosen.value !== ''),
  retry: false,
});
const search = ref('');
const found = computed(
  () => tables.value?.filter(({ schema, name }) => `${schema}.${name}`.includes(search.value.trim().toLowerCase())) ?? [],
);
</script>

<template>
  <aside aria-label="Tables">
    <v-select
      v-model="chosen"
      label="Connection"
      :disabled="fixed"
      :items="connections.map(({ id: value, label: title }) => ({ value, title }))"
    />
    <v-text-field v-model="search" type="search" placeholder="Find a table" aria-label="Find a table" />
    <p v-if="error" class="failure" role="alert">{{ error.message }}</p>
    <ul>
      <li v-for="table in found" :key="`${table.schema}.${table.name}`">
        <FoldedPart>
          <template #title>
            <span
              >{{ table.schema }}.<strong>{{ table.name }}</strong></span
            >
            <span class="muted rows">{{ figure(table.rows) }}</span>
          </template>
          <div class="table-actions">
            <v-btn class="inline" variant="plain" @click="emit('use', table)">Use table</v-btn>
            <v-btn class="inline" variant="plain" @click="emit('sample', table)">Sample rows</v-btn>
          </div>
          <ul class="fields">
            <li v-for="column in table.columns" :key="column.name">
              {{ column.name }} <span class="muted">{{ column.type }}</span>
            </li>
          </ul>
        </FoldedPart>
      </li>
    </ul>
    <JoinTables :connection="chosen" :tables="tables ?? []" @write="(text, label) => emit('write', text, label)" />
    <p v-if="tables && tables.length === 0" class="muted">This user may read no table.</p>
  </aside>
</template>

<style scoped>
aside {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
ul {
  list-style: none;
  padding: 0;
  margin: 0;
}
.rows {
  margin-left: auto;
  padding: 0 8px;
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
.failure {
  color: var(--off-text);
}
</style>
