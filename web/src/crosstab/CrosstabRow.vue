<script setup lang="ts">
import { cellText } from '@bold-compass/core/format';
import type { NumberFormat } from '@bold-compass/core/model';
import { computed } from 'vue';
import BearingNeedle from '../report/BearingNeedle.vue';
import { LOCALE } from '../report/state-words.ts';
import { ROW_HEIGHT } from './layout.ts';
import ToggleRing from './ToggleRing.vue';
import type { Cells } from './windows.ts';

/**
 * One row of a cross-tab. A component of its own, so that choosing a cell, or waiting for an answer, draws only what
 * changed. `chosen` and `focused` are flattened columns; -1 stands on the label.
 */
const props = defineProps<{
  index: number;
  cells: Cells;
  columns: readonly { index: number }[];
  measures: readonly { name: string; format: NumberFormat; leads: boolean }[];
  offsets: readonly { left: number; width: number }[];
  label: string;
  indent: number;
  sideWidth: number;
  columnWidth: number;
  width: number;
  top: number;
  rowIndex: number;
  startsGroup: boolean;
  chosen: number;
  focused: number;
  idBase: string;
}>();
const emit = defineEmits<{ toggle: []; label: []; choose: [column: number] }>();

const header = computed(() => props.cells.rows[props.index]);
/** What a cell shows, worked out once for all its attributes. */
const drawn = computed(() => {
  const { index, cells, columns, measures, offsets, sideWidth, columnWidth } = props;
  return columns.flatMap(({ index: column }) =>
    measures.map((measure, position) => {
      const value = cells.value(index, column, position);
      return {
        flat: column * measures.length + position,
        text: value === undefined ? '' : cellText(value, measure.format, LOCALE),
        blank: value === null,
        leads: measure.leads && value != null,
        second: position > 0,
        state: cells.state(index, column, position),
        reason: value === null ? blankReason(column, position) : undefined,
        left: sideWidth + column * columnWidth + offsets[position].left,
        width: offsets[position].width,
      };
    }),
  );
});

function blankReason(column: number, measure: number): string {
  const limits = props.cells.measures[measure];
  const top = props.cells.columns[column];
  if (!limits.available || (header.value?.depth ?? 0) > limits.side || (top?.depth ?? 0) > limits.top) return limits.reason;
  return 'There are no records here.';
}
</script>

<template>
  <div
    role="row"
    class="row"
    :class="[`depth-${Math.min(header?.depth ?? 1, 5)}`, { total: header?.role === 'total', group: startsGroup }]"
    :aria-rowindex="rowIndex"
    :aria-level="Math.max(header?.depth ?? 1, 1)"
    :aria-expanded="header?.canOpen ? header.open : undefined"
    :style="{ transform: `translateY(${top}px)`, width: `${width}px`, height: `${ROW_HEIGHT}px` }"
  >
    <div
      :id="`${idBase}-${index}--1`"
      role="rowheader"
      class="label"
      :class="{ focused: focused === -1 }"
      :style="{ width: `${sideWidth}px` }"
      @click="emit('label')"
    >
      <span class="indent" :style="{ width: `${indent}px` }" />
      <ToggleRing v-if="header?.canOpen" :open="header.open" :label="label" tabindex="-1" @toggle="emit('toggle')" />
      <span v-else-if="header && header.role !== 'total'" class="no-toggle" />
      <span class="words" :title="label">{{ label }}</span>
    </div>
    <div
      v-for="cell in drawn"
      :id="`${idBase}-${index}-${cell.flat}`"
      :key="cell.flat"
      role="gridcell"
      class="cell"
      :aria-colindex="cell.flat + 2"
      :aria-selected="chosen === cell.flat"
      :class="{ chosen: chosen === cell.flat, focused: focused === cell.flat, blank: cell.blank, second: cell.second }"
      :style="{ left: `${cell.left}px`, width: `${cell.width}px` }"
      :title="cell.reason"
      @click="emit('choose', cell.flat)"
    >
      <span class="figure" :class="{ leads: cell.leads }">{{ cell.text }}</span>
      <BearingNeedle v-if="cell.state" :state="cell.state" />
    </div>
  </div>
</template>

<style scoped>
.row {
  position: absolute;
  top: 0;
  left: 0;
  height: 26px;
  contain: layout size style;
}
.row.group::before,
.row.total::before {
  content: '';
  position: absolute;
  inset: 0 0 auto;
  border-top: 1px solid var(--rule);
  z-index: 3;
  pointer-events: none;
}
.row.total::before {
  border-color: var(--ink);
}
.label {
  position: sticky;
  left: 0;
  z-index: 2;
  height: 26px;
  display: flex;
  align-items: center;
  gap: 7px;
  padding-left: 8px;
  background: var(--paper);
}
.indent {
  flex: none;
  margin-right: -7px;
}
.words {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.no-toggle {
  flex: none;
  width: 15px;
}
.depth-1 .words,
.depth-1 .figure,
.total .words,
.total .figure {
  font-weight: 600;
}
.total .words,
.total .figure {
  font-weight: 700;
}
.cell {
  position: absolute;
  top: 0;
  height: 26px;
  contain: strict;
  display: flex;
  align-items: center;
  justify-content: flex-end;
  gap: 4px;
  padding-right: 8px;
  cursor: pointer;
  white-space: nowrap;
}
.cell.second .figure:not(.leads) {
  color: var(--ink-2);
}
.cell.blank .figure {
  color: var(--ink-3);
}
.figure.leads {
  border-bottom: 1.2px dotted var(--brass-line);
  line-height: 17px;
}
.row:hover .cell,
.row:hover .label {
  background: color-mix(in srgb, var(--sea-tint) 45%, var(--paper));
}
[role='treegrid']:focus-visible .focused {
  box-shadow: inset 0 0 0 1.5px var(--sea);
}
.cell.chosen {
  background: var(--sea-tint);
  box-shadow: inset 0 0 0 2px var(--sea);
}
@media (max-width: 700px) {
  .label {
    gap: 5px;
    padding-left: 2px;
  }
}
</style>
