<script setup lang="ts">
import { memberNodeSchema, type DataTable, type Finding } from '@bold-compass/core/api';
import { PERIOD_WORDS } from '@bold-compass/core/calendar';
import { periodSchema, type Dimension, type Level, type Period, type TableDimension } from '@bold-compass/core/model';
import { mdiArrowDown, mdiArrowUp, mdiClose, mdiDragVertical } from '@mdi/js';
import { computed, ref, shallowRef, watch } from 'vue';
import { VueDraggable } from 'vue-draggable-plus';
import { z } from 'zod';
import { ask } from '../api/client.ts';
import { figure } from '../data/use-import.ts';
import { LOCALE } from '../report/state-words.ts';
import FindingList from './FindingList.vue';
import AddChoice from '../shell/AddChoice.vue';

/** A dimension: its levels in order, its members as a tree. */
const props = defineProps<{
  dimension: Dimension;
  dataset: string;
  revision: number;
  tables: DataTable[];
  findings: Finding[];
  taken: Set<string>;
}>();
const emit = defineEmits<{ change: [dimension: Dimension]; remove: [] }>();

const table = computed(() => (props.dimension.kind === 'table' ? props.dimension : null));
const columns = computed(() => {
  const own = table.value;
  return own ? (props.tables.find((one) => one.table === own.table)?.columns ?? []) : [];
});
const change = (part: object): void => emit('change', { ...props.dimension, ...part } as Dimension);
const setLevels = (levels: Level[]): void => change({ levels });
const setLevel = (name: string, part: Partial<Level>): void =>
  change({ levels: props.dimension.levels.map((level) => (level.name === name ? { ...level, ...part } : level)) });
function move(index: number, by: number): void {
  const levels = [...(props.dimension as TableDimension).levels];
  const [level] = levels.splice(index, 1);
  levels.splice(index + by, 0, level);
  setLevels(levels);
}
/** Columns that are no level yet. */
const unused = computed(() =>
  columns.value.filter(
    ({ column }) => !table.value?.levels.some((level) => [level.column, level.labelColumn, level.within].includes(column)),
  ),
);
function addLevel(column: string): void {
  const found = columns.value.find((one) => one.column === column);
  if (!found || !table.value) return;
  let name = column;
  for (let number = 2; props.taken.has(name); number++) name = `${column}_${number}`;
  const level: Level = { name, label: found.label, plural: `${found.label.toLowerCase()}s`, column, type: found.type, scale: found.scale };
  setLevels([level, ...table.value.levels]);
}
/** Makes the members of a level unique by telling each with its parent, or takes that back. */
function tellWithParent({ name, column, within }: Level): void {
  const stored = columns.value.find((one) => one.column === within);
  if (within) setLevel(name, { column: within, within: undefined, type: stored?.type ?? 'text', scale: stored?.scale ?? 0 });
  else setLevel(name, { column: `${column}, told with its parent`, within: column, type: 'text', scale: 0 });
}
const calendar = computed(() => (props.dimension.kind === 'calendar' ? props.dimension : null));
/** Adds a period to those that dates are grouped by, in its place, or takes it out. */
function togglePeriod(period: Period): void {
  if (!calendar.value) return;
  const { levels, label } = calendar.value;
  if (levels.some((level) => level.period === period)) return change({ levels: levels.filter((level) => level.period !== period) });
  const base = `${label.toLowerCase().replaceAll(/[^a-z0-9]+/g, '_')}_${period}`;
  let name = props.taken.has(period) ? base : period;
  for (let number = 2; props.taken.has(name); number++) name = `${base}_${number}`;
  const words = PERIOD_WORDS[period];
  const added = [...levels, { name, label: `${label}, ${words.label}`, plural: words.plural, period }];
  change({ levels: PERIODS.flatMap((one) => added.filter((level) => level.period === one)) });
}
const PERIODS = periodSchema.options;
const MONTHS = Array.from({ length: 12 }, (_, index) =>
  new Intl.DateTimeFormat(LOCALE, { month: 'long', timeZone: 'UTC' }).format(Date.UTC(2024, index, 1)),
);
/** Levels of a tree, from the top down; their columns are worked out. */
function setDepth(depth: number): void {
  if (!table.value) return;
  const levels = Array.from({ length: depth }, (_, index): Level => {
    const number = index + 1;
    return (
      table.value!.levels[index] ?? {
        name: `${table.value!.name}_${number}`,
        label: `${table.value!.label}, level ${number}`,
        plural: `members at level ${number}`,
        ...{ column: `level_${number}`, labelColumn: `level_${number}_label`, type: 'text', scale: 0 },
      }
    );
  });
  setLevels(levels);
}

const members = shallowRef<z.infer<typeof memberNodeSchema>[] | null>(null);
const failed = ref('');
async function preview(): Promise<void> {
  failed.value = '';
  try {
    members.value = await ask(z.array(memberNodeSchema), 'GET', `/datasets/${props.dataset}/dimensions/${props.dimension.name}/members`);
  } catch (error) {
    failed.value = error instanceof Error ? error.message : '';
  }
}
watch([() => props.dimension.name, () => props.revision], () => (members.value = null));
</script>

<template>
  <section class="panel" :aria-label="dimension.label">
    <label class="field"
      >Dimension
      <input
        class="entry"
        :value="dimension.label"
        @change="change({ label: ($event.target as HTMLInputElement).value.trim() || dimension.label })"
    /></label>
    <template v-if="table && !table.tree">
      <label class="field"
        >Key that each row has once
        <select class="choice" :value="table.key" @change="change({ key: ($event.target as HTMLSelectElement).value })">
          <option v-for="column in columns" :key="column.column" :value="column.column">{{ column.label }}</option>
        </select>
      </label>
      <h2 class="part">Levels, from coarse to fine</h2>
      <VueDraggable
        :model-value="table.levels"
        tag="ul"
        handle=".handle"
        class="levels"
        :animation="120"
        @update:model-value="setLevels($event as Level[])"
      >
        <li v-for="(level, index) in table.levels" :key="level.name">
          <v-icon class="handle" :icon="mdiDragVertical" size="18" aria-hidden="true" />
          <input
            class="entry"
            :value="level.label"
            :aria-label="`Name of level ${index + 1}`"
            @change="setLevel(level.name, { label: ($event.target as HTMLInputElement).value.trim() || level.label })"
          />
          <button type="button" class="tool" :aria-label="`Move ${level.label} up`" :disabled="index === 0" @click="move(index, -1)">
            <v-icon :icon="mdiArrowUp" size="16" />
          </button>
          <button
            type="button"
            class="tool"
            :aria-label="`Move ${level.label} down`"
            :disabled="index === table.levels.length - 1"
            @click="move(index, 1)"
          >
            <v-icon :icon="mdiArrowDown" size="16" />
          </button>
          <button
            type="button"
            class="tool"
            :aria-label="`Remove ${level.label}`"
            :disabled="table.levels.length === 1"
            @click="setLevels(table.levels.filter(({ name }) => name !== level.name))"
          >
            <v-icon :icon="mdiClose" size="16" />
          </button>
          <label class="more"
            >words from
            <select
              class="choice"
              :value="level.labelColumn ?? ''"
              @change="setLevel(level.name, { labelColumn: ($event.target as HTMLSelectElement).value || undefined })"
            >
              <option value="">itself</option>
              <option v-for="column in columns" :key="column.column" :value="column.column">{{ column.label }}</option>
            </select>
          </label>
          <label class="more"
            >in the order of
            <select
              class="choice"
              :value="level.orderBy ?? ''"
              @change="setLevel(level.name, { orderBy: ($event.target as HTMLSelectElement).value || undefined })"
            >
              <option value="">Label</option>
              <option v-for="field in table.attributes" :key="field.name" :value="field.name">{{ field.label }}</option>
            </select>
          </label>
          <label v-if="index > 0" class="check">
            <input type="checkbox" :checked="level.within !== undefined" @change="tellWithParent(level)" />
            Unique within {{ table.levels[index - 1].label.toLowerCase() }}
          </label>
        </li>
      </VueDraggable>
      <label v-if="unused.length > 0" class="field"
        >Add a level
        <AddChoice words="choose a column" @add="addLevel">
          <option v-for="column in unused" :key="column.column" :value="column.column">{{ column.label }}</option>
        </AddChoice>
      </label>
    </template>
    <template v-else-if="table?.tree">
      <p class="muted">A parent–child tree: each row names the row above it.</p>
      <label class="field"
        >Parent
        <select
          class="choice"
          :value="table.tree.parent"
          @change="change({ tree: { ...table.tree, parent: ($event.target as HTMLSelectElement).value } })"
        >
          <option v-for="column in columns" :key="column.column" :value="column.column">{{ column.label }}</option>
        </select>
      </label>
      <label class="field"
        >Words
        <select
          class="choice"
          :value="table.tree.label"
          @change="change({ tree: { ...table.tree, label: ($event.target as HTMLSelectElement).value } })"
        >
          <option v-for="column in columns" :key="column.column" :value="column.column">{{ column.label }}</option>
        </select>
      </label>
      <label class="field"
        >Levels
        <input
          class="entry"
          type="number"
          min="1"
          max="12"
          :value="table.levels.length"
          @change="setDepth(Math.max(1, Math.min(12, Number(($event.target as HTMLInputElement).value))))"
      /></label>
    </template>
    <template v-else>
      <label class="field"
        >The fiscal year begins in
        <select
          class="choice"
          :value="calendar?.yearStart ?? 1"
          @change="change({ yearStart: Number(($event.target as HTMLSelectElement).value) })"
        >
          <option v-for="(month, index) in MONTHS" :key="month" :value="index + 1">{{ month }}</option>
        </select>
      </label>
      <h2 class="part">Dates can be grouped by</h2>
      <ul>
        <li v-for="period in PERIODS" :key="period">
          <label class="check">
            <input
              type="checkbox"
              :checked="dimension.levels.some((level) => 'period' in level && level.period === period)"
              :disabled="dimension.levels.length === 1 && 'period' in dimension.levels[0] && dimension.levels[0].period === period"
              @change="togglePeriod(period)"
            />
            {{ PERIOD_WORDS[period].label }}
          </label>
        </li>
      </ul>
      <p class="muted">
        Fiscal years are called by the year they end in. A year of weeks begins on the Monday nearest its first day; its quarters have
        thirteen weeks, as months of four, four and five.
      </p>
    </template>
    <FindingList :findings="findings" />
    <template v-if="table">
      <button type="button" class="button" @click="preview">Show the members</button>
      <p v-if="failed" class="failure" role="alert">{{ failed }}</p>
      <ul v-if="members" class="members" aria-label="Members">
        <li v-for="(member, index) in members" :key="index" :class="`d${Math.min(member.path.length, 7)}`">
          <span>{{ member.label }}</span><span class="muted">{{ figure(member.rows) }}</span>
        </li>
      </ul>
    </template>
    <button type="button" class="button quiet" @click="emit('remove')">Remove dimension</button>
  </section>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 10px;
  justify-items: start;
}
.field {
  display: grid;
  font-size: 13px;
  color: var(--ink-2);
  width: 100%;
}
ul {
  list-style: none;
  padding: 0;
  margin: 0;
  width: 100%;
}
.levels li {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 4px;
  padding: 5px 0;
  border-bottom: 1px solid var(--rule-2);
}
.levels .entry {
  flex: 1;
  min-width: 90px;
}
.handle {
  cursor: grab;
}
.more {
  flex-basis: 45%;
  font-size: 12px;
  color: var(--ink-2);
  padding-left: 22px;
}
.more .choice {
  width: 100%;
  font-size: 13px;
}
.check {
  display: flex;
  gap: 6px;
  align-items: center;
  font-size: 13px;
  min-height: 24px;
}
.levels .check {
  flex-basis: 100%;
  padding-left: 22px;
  color: var(--ink-2);
}
.tool {
  width: 26px;
  height: 26px;
  display: grid;
  place-items: center;
  color: var(--sea);
}
.tool:disabled {
  color: var(--ink-3);
}
.members {
  max-height: 300px;
  overflow-y: auto;
  font-size: 13px;
}
.members li {
  display: flex;
  justify-content: space-between;
  padding: 1px 6px 1px 0;
}
.d2 span:first-child {
  padding-left: 14px;
}
.d3 span:first-child {
  padding-left: 28px;
}
.d4 span:first-child {
  padding-left: 42px;
}
.d5 span:first-child {
  padding-left: 56px;
}
.d6 span:first-child {
  padding-left: 70px;
}
.d7 span:first-child {
  padding-left: 84px;
}
.failure {
  color: var(--off-text);
}
</style>
