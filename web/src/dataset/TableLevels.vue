<script setup lang="ts">
import type { DataTable } from '@bold-compass/core/api';
import type { Level, TableDimension } from '@bold-compass/core/model';
import { mdiArrowDown, mdiArrowUp, mdiDragVertical } from '@mdi/js';
import { computed, ref } from 'vue';
import { movedBy } from '../drag/landing.ts';
import OrderedList from '../drag/OrderedList.vue';
import AddChoice from '../shell/AddChoice.vue';

/** The levels of a dimension in a table, from coarse to fine: a list to read, the chosen one open below its name. */
const props = defineProps<{ dimension: TableDimension; columns: DataTable['columns']; taken: Set<string> }>();
const emit = defineEmits<{ change: [part: Partial<TableDimension>] }>();

const choices = computed(() => props.columns.map(({ column: value, label: title }) => ({ value, title })));
const labelOf = (column: string): string => props.columns.find((one) => one.column === column)?.label ?? column;
const setLevels = (levels: Level[]): void => emit('change', { levels });
const setLevel = (name: string, part: Partial<Level>): void =>
  setLevels(props.dimension.levels.map((level) => (level.name === name ? { ...level, ...part } : level)));
const move = (index: number, by: -1 | 1): void => setLevels(movedBy(props.dimension.levels, index, by));
/** Columns that are no level yet. */
const unused = computed(() =>
  props.columns.filter(
    ({ column }) => !props.dimension.levels.some((level) => [level.column, level.labelColumn, level.within].includes(column)),
  ),
);
const opened = ref('');
function addLevel(column: string): void {
  const found = props.columns.find((one) => one.column === column);
  if (!found) return;
  let name = column;
  for (let number = 2; props.taken.has(name); number++) name = `${column}_${number}`;
  const level: Level = { name, label: found.label, plural: `${found.label.toLowerCase()}s`, column, type: found.type, scale: found.scale };
  setLevels([level, ...props.dimension.levels]);
  opened.value = name;
}
/** Makes the members of a level unique by adding the parent to each, or takes that back. */
function toggleWithin({ name, column, within }: Level): void {
  const stored = props.columns.find((one) => one.column === within);
  if (within) setLevel(name, { column: within, within: undefined, type: stored?.type ?? 'text', scale: stored?.scale ?? 0 });
  else setLevel(name, { column: `${column}, told with its parent`, within: column, type: 'text', scale: 0 });
}
/** What a level is, in a line. */
function summary(level: Level, index: number): string {
  const { labelColumn, orderBy, within } = level;
  const parent = props.dimension.levels[index - 1]?.label.toLowerCase();
  return [
    `Column ${labelOf(within ?? level.column)}`,
    ...(labelColumn ? [`label ${labelOf(labelColumn)}`] : []),
    ...(orderBy ? [`sorted by ${props.dimension.attributes.find(({ name }) => name === orderBy)?.label ?? orderBy}`] : []),
    ...(within && parent ? [`unique within ${parent}`] : []),
  ].join(' · ');
}
const textOf = (event: Event): string => (event.target as HTMLInputElement).value.trim();
</script>

<template>
  <v-select label="Key" :model-value="dimension.key" :items="choices" @update:model-value="emit('change', { key: $event })" />
  <h2 class="part">Levels, from coarse to fine</h2>
  <OrderedList
    v-slot="{ item: level, index, grip }"
    :items="dimension.levels"
    :key-of="({ name }) => name"
    tag="ol"
    class="levels"
    @order="setLevels($event)"
  >
    <div class="line">
      <v-icon class="handle" v-bind="grip" :icon="mdiDragVertical" size="18" aria-hidden="true" />
      <v-btn variant="text" class="name" :aria-expanded="opened === level.name" @click="opened = opened === level.name ? '' : level.name">
        <strong>{{ level.label }}</strong>
        <span class="muted">{{ summary(level, index) }}</span>
      </v-btn>
      <v-btn
        :icon="mdiArrowUp"
        variant="text"
        size="x-small"
        :aria-label="`Move ${level.label} up`"
        :disabled="index === 0"
        @click="move(index, -1)"
      />
      <v-btn
        :icon="mdiArrowDown"
        variant="text"
        size="x-small"
        :aria-label="`Move ${level.label} down`"
        :disabled="index === dimension.levels.length - 1"
        @click="move(index, 1)"
      />
    </div>
    <div v-if="opened === level.name" class="form">
      <v-text-field label="Label" :model-value="level.label" @change="setLevel(level.name, { label: textOf($event) || level.label })" />
      <v-text-field label="Plural" :model-value="level.plural" @change="setLevel(level.name, { plural: textOf($event) || level.plural })" />
      <v-select
        label="Label column"
        :model-value="level.labelColumn ?? ''"
        :items="[{ value: '', title: 'The same column' }, ...choices]"
        @update:model-value="setLevel(level.name, { labelColumn: $event || undefined })"
      />
      <v-select
        label="Sort by"
        :model-value="level.orderBy ?? ''"
        :items="[{ value: '', title: 'Label' }, ...dimension.attributes.map(({ name: value, label: title }) => ({ value, title }))]"
        @update:model-value="setLevel(level.name, { orderBy: $event || undefined })"
      />
      <v-checkbox
        v-if="index > 0"
        :label="`Unique within ${dimension.levels[index - 1].label.toLowerCase()}`"
        :model-value="level.within !== undefined"
        @update:model-value="toggleWithin(level)"
      />
      <v-btn
        class="inline"
        variant="plain"
        :aria-label="`Remove ${level.label}`"
        :disabled="dimension.levels.length === 1"
        @click="setLevels(dimension.levels.filter(({ name }) => name !== level.name))"
      >
        Remove level
      </v-btn>
    </div>
  </OrderedList>
  <AddChoice
    v-if="unused.length > 0"
    label="Add level"
    :items="unused.map(({ column: value, label: title }) => ({ value, title }))"
    @add="addLevel"
  />
</template>

<style scoped>
.levels :deep(> li) {
  border-top: 1px solid var(--rule-2);
  padding: 4px 0;
}
.line {
  display: flex;
  align-items: center;
}
.handle {
  cursor: grab;
  color: var(--ink-2);
}
.name {
  flex: 1;
  height: auto;
  min-height: 40px;
  padding: 2px 4px;
  justify-content: start;
  text-align: left;
  line-height: 1.3;
}
.name :deep(.v-btn__content) {
  display: grid;
  justify-items: start;
  white-space: normal;
}
.name .muted {
  font-weight: 400;
  font-size: 12.5px;
}
.form {
  display: grid;
  gap: 8px;
  justify-items: start;
  padding: 2px 0 10px 22px;
}
.form > .v-input {
  width: 100%;
}
</style>
