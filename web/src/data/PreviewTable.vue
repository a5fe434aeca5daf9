<script setup lang="ts">
import type { QueryPreview } from '@bold-compass/core/api';
import { TYPE_NAMES } from './type-names.ts';

/** The first rows of a query or a table, as the server writes them. */
defineProps<{ preview: QueryPreview; label: string }>();
</script>

<template>
  <div class="rows" tabindex="0" role="region" :aria-label="label">
    <table>
      <thead>
        <tr>
          <th v-for="column in preview.columns" :key="column.name" scope="col">
            {{ column.name }}<span class="type">{{ TYPE_NAMES[column.type] }}</span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, number) in preview.rows" :key="number">
          <td v-for="(value, index) in row" :key="index" :class="preview.columns[index].type" :title="value ?? ''">{{ value ?? '–' }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.rows {
  overflow: auto;
  max-height: 380px;
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
  text-align: left;
  padding: 5px 18px 5px 0;
  border-bottom: 1px solid var(--ink);
}
.type {
  display: block;
  font-weight: 400;
  font-size: 12px;
  color: var(--ink-2);
}
td {
  padding: 3px 18px 3px 0;
  border-bottom: 1px solid var(--rule-2);
  max-width: 280px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
td.integer,
td.decimal {
  text-align: right;
}
</style>
