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
</script>

<template>
  <form class="add" aria-label="Add a table" @submit.prevent="add">
    <h2 class="part">Add a table</h2>
    <select v-model="chosen" class="choice" aria-label="Table">
      <option value="">choose a table</option>
      <option v-for="one in tables" :key="one.table" :value="one.table">{{ one.label }}</option>
    </select>
    <label v-if="table"
      >as
      <select v-model="role" class="choice">
        <option value="dimension">Dimension</option>
        <option value="fact">Fact</option>
      </select>
    </label>
    <template v-if="table && role === 'dimension'">
      <label
        >Key
        <select v-model="key" class="choice">
          <option v-for="one in table.columns" :key="one.column" :value="one.column">{{ one.label }}</option>
        </select></label
      >
      <label
        >Parent
        <select v-model="parent" class="choice">
          <option value="">none: no tree</option>
          <option v-for="one in parents" :key="one.column" :value="one.column">{{ one.label }}</option>
        </select>
      </label>
      <label v-if="parent"
        >Words
        <select v-model="label" class="choice">
          <option v-for="one in table.columns" :key="one.column" :value="one.column">{{ one.label }}</option>
        </select></label
      >
    </template>
    <button v-if="table" class="button" type="submit">Add it</button>
  </form>
</template>

<style scoped>
.add {
  display: grid;
  gap: 8px;
  margin-top: 18px;
  justify-items: start;
}
label {
  display: grid;
  font-size: 13px;
  color: var(--ink-2);
}
</style>
