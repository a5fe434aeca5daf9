<script setup lang="ts">
import type { ImportColumn, ImportPreview } from '@bold-compass/core/api';
import { computed } from 'vue';
import { LOCALE } from '../report/state-words.ts';

/** The first rows of a file as they will be, with a type over each column, and everything that does not fit beside it. */
const props = defineProps<{ preview: ImportPreview }>();
const emit = defineEmits<{ change: [columns: ImportColumn[]] }>();

const TYPES: { value: ImportColumn['type']; words: string }[] = [
  { value: 'text', words: 'Text' },
  { value: 'integer', words: 'Whole number' },
  { value: 'decimal', words: 'Decimal' },
  { value: 'date', words: 'Date' },
  { value: 'boolean', words: 'Yes / no' },
];
const count = new Intl.NumberFormat(LOCALE);
const faulty = computed(() => new Set(props.preview.problems.map((problem) => problem.column)));

const update = (index: number, change: Partial<ImportColumn>): void =>
  emit(
    'change',
    props.preview.columns.map((column, position) => (position === index ? { ...column, ...change } : column)),
  );
const isNumber = (column: ImportColumn): boolean => column.type === 'integer' || column.type === 'decimal';
</script>

<template>
  <div class="import">
    <div class="sample" tabindex="0" role="region" aria-label="First rows of the file">
      <table>
        <thead>
          <tr>
            <th
              v-for="(column, index) in preview.columns"
              :key="index"
              scope="col"
              :class="{ out: !column.include, faulty: faulty.has(column.name) }"
            >
              <input
                class="rename"
                :value="column.name"
                :aria-label="`Name of column ${index + 1}`"
                @change="update(index, { name: ($event.target as HTMLInputElement).value.trim() || column.name })"
              />
              <span class="choices">
                <select
                  :value="column.type"
                  :aria-label="`Type of ${column.name}`"
                  @change="update(index, { type: ($event.target as HTMLSelectElement).value as ImportColumn['type'] })"
                >
                  <option v-for="type in TYPES" :key="type.value" :value="type.value">{{ type.words }}</option>
                </select>
                <label
                  ><input
                    type="checkbox"
                    :checked="column.include"
                    :aria-label="`Bring in ${column.name}`"
                    @change="update(index, { include: !column.include })"
                  />
                  in</label
                >
              </span>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, number) in preview.sample" :key="number">
            <td v-for="(column, index) in preview.columns" :key="index" :class="{ number: isNumber(column), out: !column.include }">
              {{ row[index] === '' || row[index] === undefined ? '–' : row[index] }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <aside aria-label="What does not fit">
      <template v-if="preview.problemCount === 0">
        <h2>Everything fits</h2>
        <p class="muted">
          Each of the {{ count.format(preview.rows) }} rows was held against the types above. Empty cells become missing values.
        </p>
      </template>
      <template v-else>
        <h2>{{ count.format(preview.problemCount) }} {{ preview.problemCount === 1 ? 'cell does' : 'cells do' }} not fit</h2>
        <p class="muted">The file is brought in whole or not at all. Change a type, leave a column out, or mend the file.</p>
        <ul>
          <li v-for="(problem, index) in preview.problems" :key="index">
            <strong>Line {{ count.format(problem.row) }}</strong
            ><template v-if="problem.column">, {{ problem.column }}: “{{ problem.text }}”</template> {{ problem.message }}
          </li>
        </ul>
        <p v-if="preview.problemCount > preview.problems.length" class="muted">These are the first {{ preview.problems.length }}.</p>
      </template>
    </aside>
  </div>
</template>

<style scoped>
.import {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 270px;
  gap: 22px;
}
.sample {
  overflow: auto;
  max-height: 66vh;
  border-top: 2px solid var(--ink);
  border-bottom: 2px solid var(--ink);
}
table {
  border-collapse: separate;
  border-spacing: 0;
  font-size: 13px;
}
th {
  position: sticky;
  top: 0;
  background: var(--paper);
  padding: 6px 14px 6px 0;
  border-bottom: 1px solid var(--ink);
  text-align: left;
}
.rename {
  display: block;
  width: 100%;
  min-width: 120px;
  font: inherit;
  font-weight: 600;
  color: var(--ink);
  background: none;
  border: 0;
  border-bottom: 1px dotted var(--ink-2);
  padding: 2px 0;
}
.choices {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-top: 4px;
  font-weight: 400;
  white-space: nowrap;
}
select {
  font: inherit;
  color: var(--ink);
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 5px;
  padding: 2px 4px;
}
.faulty select {
  border-color: var(--off);
}
td {
  padding: 3px 14px 3px 0;
  border-bottom: 1px solid var(--rule-2);
  max-width: 260px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
td.number {
  text-align: right;
}
td.out,
th.out .rename {
  color: var(--ink-3);
  text-decoration: line-through;
}
aside p {
  margin: 4px 0 10px;
}
ul {
  list-style: none;
  padding: 0 0 0 10px;
  margin: 0;
  border-left: 2px solid var(--off);
  max-height: 50vh;
  overflow-y: auto;
}
li {
  padding: 2px 0;
}
@media (max-width: 900px) {
  .import {
    grid-template-columns: 1fr;
  }
}
</style>
