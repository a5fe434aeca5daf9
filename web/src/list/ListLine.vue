<script setup lang="ts">
import type { ListLine, TableColumn } from '@bold-compass/core/table';
import BearingNeedle from '../report/BearingNeedle.vue';
import type { ReadyLink } from '../report/links.ts';

/** A line of a list: a record, or the header or footer of a group; dots until it is there. */
defineProps<{
  line: ListLine | undefined;
  columns: readonly TableColumn[];
  numbered: boolean;
  grouped: boolean;
  /** Links of the record. */
  links?: readonly ReadyLink[];
}>();
defineEmits<{ follow: [link: ReadyLink] }>();
</script>

<template>
  <tr :class="[line?.kind, { band: line?.band }]">
    <td v-if="!line" class="missing" :colspan="columns.length + (numbered ? 1 : 0) + (grouped ? 1 : 0)">…</td>
    <template v-else>
      <td v-if="numbered" class="numeric muted">{{ line.number }}</td>
      <td v-if="grouped" :class="line.kind === 'record' ? 'muted' : 'group'" :style="{ paddingLeft: `${line.depth * 14}px` }">
        {{ line.group }}<small v-if="line.count" class="muted">{{ line.count }}</small>
      </td>
      <td
        v-for="(cell, position) in line.cells"
        :key="columns[position].index"
        :class="{ numeric: columns[position].numeric, missing: cell.isMissing, fitted: columns[position].width }"
      >
        <a v-if="cell.link" :href="cell.link" target="_blank" rel="noopener noreferrer">{{ cell.text }}</a>
        <img v-else-if="cell.image" :src="cell.image" :alt="columns[position].heading" class="in-cell" />
        <template v-else>{{ cell.text }}</template>
        <BearingNeedle v-if="cell.state" :state="cell.state.state" :turn="cell.state.bearing" />
      </td>
      <td v-if="links?.length" class="links">
        <v-btn v-for="link in links" :key="link.label" variant="plain" class="inline" @click="$emit('follow', link)">{{
          link.label
        }}</v-btn>
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
tr.band td {
  background: color-mix(in srgb, var(--rule-2) 55%, transparent);
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
