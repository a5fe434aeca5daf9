<script setup lang="ts">
import { cellValue, MOST_SCALE, roomFor, type Analysis, type ImportColumn, type Problem, type Reading } from '@bold-compass/core/imports';
import { isNumberType } from '@bold-compass/core/model';
import { mdiKeyOutline, mdiKeyVariant } from '@mdi/js';
import { computed } from 'vue';
import { figure } from './use-import.ts';

/** The first rows of a file as they will be, with name, type and meaning over each column. */
const props = defineProps<{ analysis: Analysis; reading: Reading; columns: ImportColumn[]; keyColumns: number[]; problems: Problem[] }>();
const emit = defineEmits<{ change: [columns: ImportColumn[]]; key: [key: number[]] }>();

const TYPES: { value: ImportColumn['type']; words: string }[] = [
  { value: 'text', words: 'Text' },
  { value: 'integer', words: 'Whole number' },
  { value: 'decimal', words: 'Decimal' },
  { value: 'date', words: 'Date' },
  { value: 'datetime', words: 'Date and time' },
  { value: 'boolean', words: 'Yes / no' },
];
const faulty = computed(() => new Set(props.problems.filter(({ choice }) => choice === 'stop').map(({ column }) => column)));

function update(index: number, change: Partial<ImportColumn>): void {
  emit(
    'change',
    props.columns.map((column, position) => (position === index ? { ...column, ...change } : column)),
  );
}
function retype(index: number, type: ImportColumn['type']): void {
  const scales = props.analysis.columns[index].scales[props.reading.decimalSign === '.' ? 0 : 1];
  const scale =
    type === 'decimal'
      ? Math.max(
          0,
          Math.min(
            roomFor(props.analysis.columns[index], props.reading),
            scales.findLastIndex((count) => count > 0),
          ),
        )
      : 0;
  const empties = type === 'text' ? [] : props.analysis.columns[index].words.map(({ word }) => word);
  update(index, { type, scale, empties });
}
const toggleEmpty = (index: number, word: string): void => {
  const { empties } = props.columns[index];
  update(index, { empties: empties.includes(word) ? empties.filter((one) => one !== word) : [...empties, word] });
};
const toggleKey = (index: number): void =>
  emit(
    'key',
    props.keyColumns.includes(index) ? props.keyColumns.filter((one) => one !== index) : [...props.keyColumns, index].sort((a, b) => a - b),
  );

interface Shown {
  text: string;
  state: 'fits' | 'empty' | 'misfit';
}
function show(cell: string, column: ImportColumn): Shown {
  const value = cellValue(column, props.reading, cell);
  if (value === undefined) return { text: cell, state: 'misfit' };
  if (value === null) return { text: '–', state: 'empty' };
  if (column.type === 'decimal') return { text: Number(value).toFixed(column.scale), state: 'fits' };
  return { text: column.type === 'boolean' ? (value === 'true' ? 'Yes' : 'No') : value, state: 'fits' };
}
const rows = computed(() =>
  props.analysis.sample.map((cells) =>
    props.columns.map((column, index) => (column.include ? show(cells[index], column) : { text: cells[index], state: 'fits' as const })),
  ),
);
const SCALES = Array.from({ length: MOST_SCALE + 1 }, (_, value) => ({ value, title: `.${'0'.repeat(value) || '–'}` }));
</script>

<template>
  <div class="sample" tabindex="0" role="region" aria-label="First rows as they will be">
    <table>
      <thead>
        <tr>
          <th
            v-for="(column, index) in columns"
            :key="index"
            scope="col"
            :class="{ out: !column.include, faulty: faulty.has(column.name) }"
          >
            <span class="named">
              <v-text-field
                class="rename"
                :model-value="column.name"
                :aria-label="`Name of column ${index + 1}`"
                maxlength="60"
                @change="update(index, { name: ($event.target as HTMLInputElement).value.trim() || column.name })"
              />
              <v-btn
                class="key"
                :icon="keyColumns.includes(index) ? mdiKeyVariant : mdiKeyOutline"
                variant="text"
                size="small"
                :class="{ on: keyColumns.includes(index) }"
                :aria-pressed="keyColumns.includes(index)"
                :aria-label="`${column.name} is part of the key`"
                :title="keyColumns.includes(index) ? 'Part of the key: each record has its own' : 'Make it the key, or a part of it'"
                @click="toggleKey(index)"
              />
            </span>
            <span class="choices">
              <v-select
                :model-value="column.type"
                :aria-label="`Type of ${column.name}`"
                :items="TYPES.map(({ value, words: title }) => ({ value, title }))"
                @update:model-value="retype(index, $event)"
              />
              <v-select
                v-if="column.type === 'decimal'"
                class="scale"
                :model-value="column.scale"
                :aria-label="`Decimal places of ${column.name}`"
                title="Decimal places"
                :items="SCALES"
                @update:model-value="update(index, { scale: $event })"
              />
              <v-checkbox
                label="Include"
                :model-value="column.include"
                :aria-label="`Include ${column.name}`"
                @update:model-value="update(index, { include: !column.include })"
              />
            </span>
            <span v-if="analysis.columns[index].words.length > 0" class="empties">
              <v-checkbox
                v-for="{ word, count } in analysis.columns[index].words"
                :key="word"
                :title="`${figure(count)} cells`"
                :label="`${word} is missing`"
                :model-value="column.empties.includes(word)"
                :aria-label="`${word} in ${column.name} is missing`"
                @update:model-value="toggleEmpty(index, word)"
              />
            </span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, number) in rows" :key="number">
          <td
            v-for="(cell, index) in row"
            :key="index"
            :class="[cell.state, { number: isNumberType(columns[index].type), out: !columns[index].include }]"
            :title="cell.text"
          >
            {{ cell.text }}
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.sample {
  overflow: auto;
  max-height: calc(100vh - 250px);
  border-top: 2px solid var(--ink);
  border-bottom: 2px solid var(--ink);
}
table {
  border-collapse: separate;
  border-spacing: 0;
  font-size: 13px;
}
th {
  min-width: 196px;
  position: sticky;
  top: 0;
  z-index: 1;
  background: var(--paper);
  padding: 6px 16px 6px 0;
  border-bottom: 1px solid var(--ink);
  text-align: left;
  vertical-align: top;
}
.named {
  display: flex;
  align-items: center;
  gap: 4px;
}
.rename {
  min-width: 112px;
  font-weight: 600;
}
.choices .v-select {
  min-width: 108px;
  flex: 1;
}
.choices .v-select.scale {
  min-width: 66px;
  flex: none;
}
.key {
  width: 26px;
  height: 26px;
  flex: none;
  display: grid;
  place-items: center;
  border-radius: 5px;
  color: var(--ink-2);
}
.key.on {
  color: var(--brass);
  background: var(--brass-tint);
}
.choices,
.empties {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 6px;
  align-items: center;
  margin-top: 4px;
  font-weight: 400;
  white-space: nowrap;
}
.empties {
  font-size: 12.5px;
  color: var(--ink-2);
}
.faulty .choices :deep(.v-field__outline) {
  color: var(--off);
}
tr {
  content-visibility: auto;
  contain-intrinsic-height: 25px;
}
td {
  padding: 3px 16px 3px 0;
  border-bottom: 1px solid var(--rule-2);
  max-width: 260px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
td.number {
  text-align: right;
}
td.empty {
  color: var(--ink-3);
}
td.misfit {
  color: var(--off-text);
  text-decoration: underline wavy var(--off);
  text-underline-offset: 3px;
}
td.out,
th.out .rename :deep(input) {
  color: var(--ink-3);
  text-decoration: line-through;
}
</style>
