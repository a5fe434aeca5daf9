<script setup lang="ts">
import type { ListRow } from '@bold-compass/core/api';
import { countWords } from '@bold-compass/core/format';
import type { Fact, List } from '@bold-compass/core/model';
import { LOCALE } from '../report/state-words.ts';
import { totalText, valueText, type DrawnColumn } from './columns.ts';

/** A line of a list: a record, or the header or footer of a group; dots until it is there. */
defineProps<{ exhibit: List; row: ListRow | undefined; columns: DrawnColumn[]; fact: Fact; span: number }>();
const numbers = new Intl.NumberFormat(LOCALE);
const isLink = (value: unknown): value is string => typeof value === 'string' && /^(https?:|mailto:)/.test(value);
const isPicture = (value: unknown): value is string => typeof value === 'string' && /^(data:image\/|\/)/.test(value);
</script>

<template>
  <tr :class="row?.kind">
    <td v-if="!row" class="missing" :colspan="span">…</td>
    <template v-else-if="row.kind === 'record'">
      <td v-if="exhibit.rowNumbers" class="numeric muted">{{ numbers.format(row.number) }}</td>
      <td v-if="exhibit.groups.length > 0" class="muted">{{ exhibit.repeatLabels ? row.groups.join(' › ') : '' }}</td>
      <td
        v-for="column in columns"
        :key="column.index"
        :class="{ numeric: column.numeric, missing: row.values[column.index] === null, fitted: column.width }"
      >
        <a
          v-if="column.as === 'link' && isLink(row.values[column.index])"
          :href="String(row.values[column.index])"
          target="_blank"
          rel="noopener noreferrer"
          >{{ row.values[column.index] }}</a
        >
        <img
          v-else-if="column.as === 'image' && isPicture(row.values[column.index])"
          :src="String(row.values[column.index])"
          :alt="column.heading"
          class="in-cell"
        />
        <template v-else>{{ valueText(row.values[column.index], column) }}</template>
      </td>
    </template>
    <template v-else>
      <td v-if="exhibit.rowNumbers" />
      <td class="group" :style="{ paddingLeft: `${(row.depth - 1) * 14}px` }">
        {{ row.groups.at(-1) }}<template v-if="row.kind === 'footer'"> total</template>
        <small v-if="row.kind !== 'footer'" class="muted">{{ countWords(row.records, fact.record, LOCALE) }}</small>
      </td>
      <td v-for="column in columns" :key="column.index" :class="{ numeric: column.numeric }">
        {{ row.kind === 'header' && exhibit.groups[row.depth - 1]?.footer ? '' : totalText(row.totals[column.index], column) }}
      </td>
    </template>
  </tr>
</template>

<style scoped>
td {
  padding: 3px 18px 3px 0;
  white-space: nowrap;
  border-bottom: 1px solid var(--rule-2);
}
.numeric {
  text-align: right;
}
td.group small {
  margin-left: 8px;
  font-weight: 400;
}
tr.header td,
tr.footer td,
tr.group td {
  font-weight: 600;
}
tr.header td {
  border-bottom-color: var(--rule);
}
tr.footer td {
  border-bottom: 1px solid var(--rule);
}
tr {
  height: 27px;
}
.fitted {
  max-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
}
.in-cell {
  display: block;
  height: 22px;
}
td a {
  color: var(--sea);
}
.missing {
  color: var(--ink-3);
}
</style>
