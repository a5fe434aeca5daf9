<script setup lang="ts">
import type { DataTable } from '@bold-compass/core/api';
import type { TableDimension } from '@bold-compass/core/model';
import { computed, ref, watch } from 'vue';

/** Adds a dimension over a table: plain levels, or a tree of parents and children. */
const props = defineProps<{ tables: DataTable[] }>();
const emit = defineEmits<{ add: [table: { schema: string; table: string; key: string }, tree: TableDimension['tree']] }>();

const chosen = ref('');
const key = ref('');
const parent = ref('');
const label = ref('');
const table = computed(() => props.tables.find((one) => `${one.schema}.${one.table}` === chosen.value));
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
  emit(
    'add',
    { schema: table.value.schema, table: table.value.table, key: key.value },
    parent.value === '' ? undefined : { parent: parent.value, label: label.value },
  );
  chosen.value = '';
}
</script>

<template>
  <form class="add" aria-label="Add a dimension" @submit.prevent="add">
    <h2 class="part">Add a dimension</h2>
    <select v-model="chosen" class="choice" aria-label="Table">
      <option value="">choose a table</option>
      <option v-for="one in tables" :key="`${one.schema}.${one.table}`" :value="`${one.schema}.${one.table}`">{{ one.label }}</option>
    </select>
    <template v-if="table">
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
      <button class="button" type="submit">Add it</button>
    </template>
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
