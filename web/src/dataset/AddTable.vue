<script setup lang="ts">
import type { DataTable } from '@bold-compass/core/api';
import type { TableDimension } from '@bold-compass/core/model';
import { computed, ref, watch } from 'vue';

/** Adds a table to the dataset: as a fact, or as a dimension with plain levels or a tree of parents and children. */
const props = defineProps<{ tables: DataTable[] }>();
const emit = defineEmits<{ dimension: [table: DataTable, key: string, tree: TableDimension['tree']]; fact: [table: DataTable] }>();

const chosen = ref('');
const role = ref<'dimension' | 'fact'>('dimension');
const key = ref('');
const parent = ref('');
const label = ref('');
const table = computed(() => props.tables.find((one) => one.table === chosen.value));
watch(table, (now) => {
  key.value = now?.columns[0]?.column ?? '';
  parent.value = '';
  label.value = now?.columns.find(({ type }) => type === 'text')?.column ?? '';
});
const parents = computed(() => {
  const type = table.value?.columns.find(({ column }) => column === key.value)?.type;
  return table.value?.columns.filter((one) => one.column !== key.value && one.type === type) ?? [];
});
function add(): void {
  if (!table.value) return;
  if (role.value === 'fact') emit('fact', table.value);
  else emit('dimension', table.value, key.value, parent.value === '' ? undefined : { parent: parent.value, label: label.value });
  chosen.value = '';
}
const columnChoices = computed(() => (table.value?.columns ?? []).map(({ column: value, label: title }) => ({ value, title })));
</script>

<template>
  <form class="add" aria-label="Add a table" @submit.prevent="add">
    <v-autocomplete
      v-model="chosen"
      label="Add table"
      placeholder="Choose a table"
      :items="tables.map(({ table: value, label: title }) => ({ value, title }))"
    />
    <v-select
      v-if="table"
      v-model="role"
      label="Use as"
      :items="[
        { value: 'dimension', title: 'Dimension' },
        { value: 'fact', title: 'Fact' },
      ]"
    />
    <template v-if="table && role === 'dimension'">
      <v-select v-model="key" label="Key" :items="columnChoices" />
      <v-select
        v-model="parent"
        label="Parent"
        :items="[{ value: '', title: 'None: no tree' }, ...parents.map(({ column: value, label: title }) => ({ value, title }))]"
      />
      <v-select v-if="parent" v-model="label" label="Label" :items="columnChoices" />
    </template>
    <v-btn v-if="table" type="submit">Add table</v-btn>
  </form>
</template>

<style scoped>
.add {
  display: grid;
  gap: 10px;
  margin-top: 22px;
}
.add > .v-btn {
  justify-self: start;
}
</style>
