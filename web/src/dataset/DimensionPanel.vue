<script setup lang="ts">
import type { DataTable, Finding } from '@bold-compass/core/api';
import type { Dimension } from '@bold-compass/core/model';
import { computed } from 'vue';
import CalendarPeriods from './CalendarPeriods.vue';
import FindingList from './FindingList.vue';
import MemberTree from './MemberTree.vue';
import TableLevels from './TableLevels.vue';
import TreeLevels from './TreeLevels.vue';

/** A dimension: its levels in order, and its members as these put them. */
const props = defineProps<{
  dimension: Dimension;
  dataset: string;
  revision: number;
  tables: DataTable[];
  findings: Finding[];
  taken: Set<string>;
}>();
const emit = defineEmits<{ change: [dimension: Dimension]; remove: [] }>();

const columns = computed(() => {
  const { dimension } = props;
  return dimension.kind === 'table' ? (props.tables.find(({ table }) => table === dimension.table)?.columns ?? []) : [];
});
const change = (part: object): void => emit('change', { ...props.dimension, ...part } as Dimension);
</script>

<template>
  <section class="panel" :aria-label="dimension.label">
    <p class="muted kind">Dimension</p>
    <v-text-field
      label="Label"
      :model-value="dimension.label"
      @change="change({ label: ($event.target as HTMLInputElement).value.trim() || dimension.label })"
    />
    <CalendarPeriods v-if="dimension.kind === 'calendar'" :dimension="dimension" :taken="taken" @change="change" />
    <TreeLevels v-else-if="dimension.tree" :dimension="dimension" :tree="dimension.tree" :columns="columns" @change="change" />
    <TableLevels v-else :dimension="dimension" :columns="columns" :taken="taken" @change="change" />
    <FindingList :findings="findings" />
    <MemberTree v-if="dimension.kind === 'table'" :dataset="dataset" :dimension="dimension.name" :revision="revision" />
    <v-btn class="remove" variant="text" color="error" @click="emit('remove')">Remove dimension</v-btn>
  </section>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 10px;
}
.kind {
  font-size: 12.5px;
}
.remove {
  justify-self: start;
}
</style>
