<script setup lang="ts">
import type { DataTable } from '@bold-compass/core/api';
import type { Level, TableDimension } from '@bold-compass/core/model';
import { computed } from 'vue';

/** A parent–child tree: the column that names the row above, that of the labels, and how deep it goes. */
const props = defineProps<{ dimension: TableDimension; tree: NonNullable<TableDimension['tree']>; columns: DataTable['columns'] }>();
const emit = defineEmits<{ change: [part: Partial<TableDimension>] }>();
const MOST_LEVELS = 12;
const choices = computed(() => props.columns.map(({ column: value, label: title }) => ({ value, title })));

/** Levels from the top down, in columns that are derived from the tree. */
function setDepth(depth: number): void {
  const { name, label, levels } = props.dimension;
  const next = Array.from({ length: Math.max(1, Math.min(MOST_LEVELS, Math.round(depth) || 1)) }, (_, index): Level => {
    const number = index + 1;
    return (
      levels[index] ?? {
        ...{ name: `${name}_${number}`, label: `${label}, level ${number}`, plural: `members at level ${number}` },
        ...{ column: `level_${number}`, labelColumn: `level_${number}_label`, type: 'text', scale: 0 },
      }
    );
  });
  emit('change', { levels: next });
}
</script>

<template>
  <p class="muted">A parent–child tree: each row names the row above it.</p>
  <v-select
    label="Parent"
    :model-value="tree.parent"
    :items="choices"
    @update:model-value="emit('change', { tree: { ...tree, parent: $event } })"
  />
  <v-select
    label="Label"
    :model-value="tree.label"
    :items="choices"
    @update:model-value="emit('change', { tree: { ...tree, label: $event } })"
  />
  <v-text-field
    label="Levels"
    type="number"
    min="1"
    :max="MOST_LEVELS"
    :model-value="dimension.levels.length"
    @change="setDepth(Number(($event.target as HTMLInputElement).value))"
  />
</template>
