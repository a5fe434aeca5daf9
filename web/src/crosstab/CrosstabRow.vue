<script setup lang="ts">
import type { Header } from '@bold-compass/core/api';
import type { CrosstabTable } from '@bold-compass/core/table';
import { computed } from 'vue';
import BearingNeedle from '../report/BearingNeedle.vue';
import type { LabelPart } from './layout.ts';
import { hidesFigureOf } from './mark-shapes.ts';
import { rowCells, type ShownColumns } from './row-cells.ts';
import ToggleRing from './ToggleRing.vue';

/**
 * One row of a cross-tab. A component of its own, so that choosing a cell, or waiting for an answer, draws only what
 * changed. `chosen` and `focused` are flattened columns; -1 stands on the label.
 */
const props = defineProps<{
  index: number;
  table: CrosstabTable;
  shown: ShownColumns;
  /** By the measure's position. */
  rooms: readonly { isTight: boolean }[];
  parts: readonly LabelPart[];
  sideWidth: number;
  width: number;
  top: number;
  rowIndex: number;
  chosen: number;
  focused: number;
  idBase: string;
}>();
const emit = defineEmits<{ toggle: [header: Header]; label: []; choose: [column: number]; follow: [column: number] }>();
/** A number that is chosen already leads where its first link does. */
function press({ flat, leads }: { flat: number; leads: boolean }): void {
  if (leads && props.chosen === flat) emit('follow', flat);
  else emit('choose', flat);
}

const line = computed(() => props.table.line(props.index));
const header = computed(() => line.value.header);
/** What a cell shows, calculated once for all its attributes. */
const drawn = computed(() => {
  /** Cells stand in a line one after the other: each keeps its distance from the one before it. */
  let end = 0;
  return rowCells(props.table, props.index, props.shown).map(({ cell, flat, position, place, left, width }) => {
    const gap = left - end;
    end = left + width;
    const { rule, arrow } = cell.marks ?? {};
    const hint = cell.reason || rule?.words || undefined;
    return {
      ...cell,
      flat,
      isSecond: place > 0,
      isTight: props.rooms[position].isTight,
      isHidden: cell.marks !== null && hidesFigureOf(cell.marks),
      // The colour of a bar is painted with it.
      look: rule && rule.look !== 'bar' && [`tone-${rule.tone}`, `look-${rule.look}`],
      hint,
      description: [hint, arrow?.words].filter((words) => words).join('; ') || undefined,
      // As a text, which is only written where it has changed.
      place: `margin-left:${gap}px;width:${width}px`,
    };
  });
});
</script>

<template>
  <div
    role="row"
    class="row"
    :class="[
      `depth-${Math.min(header?.depth ?? 1, 5)}`,
      {
        total: header?.role === 'total' || header?.role === 'subtotal',
        summary: header?.role === 'summary',
        group: line.startsGroup,
        band: line.band,
      },
    ]"
    :aria-rowindex="rowIndex"
    :aria-level="Math.max(header?.depth ?? 1, 1)"
    :aria-expanded="header?.canOpen ? header.open : undefined"
    :style="`top:${top}px;width:${width}px`"
  >
    <div
      :id="`${idBase}--1`"
      role="rowheader"
      class="label"
      :class="{ focused: focused === -1 }"
      :style="`width:${sideWidth}px`"
      @click="emit('label')"
    >
      <span v-for="part in parts" :key="part.left" class="part" :style="`left:${part.left}px;width:${part.width}px`">
        <span class="indent" :style="`width:${part.indent}px`" />
        <ToggleRing v-if="part.toggle" :open="part.toggle.open" :label="part.text" tabindex="-1" @toggle="emit('toggle', part.toggle)" />
        <span v-else-if="part.room" class="no-toggle" />
        <span class="words" :class="{ light: part.light, leads: line.leads && !part.light }" @click="line.leads && emit('follow', -1)">{{
          part.text
        }}</span>
      </span>
    </div>
    <div
      v-for="cell in drawn"
      :id="`${idBase}-${cell.flat}`"
      :key="cell.flat"
      role="gridcell"
      class="cell"
      :aria-colindex="cell.flat + 2"
      :aria-selected="chosen === cell.flat"
      :class="[
        cell.look,
        {
          chosen: chosen === cell.flat,
          focused: focused === cell.flat,
          blank: cell.value === null,
          second: cell.isSecond,
          warns: cell.warns,
          leads: cell.leads,
          unseen: cell.isHidden,
          tight: cell.isTight,
        },
      ]"
      :style="cell.place"
      :title="cell.hint"
      :aria-description="cell.description"
      @click="press(cell)"
    >
      {{ cell.text }}<BearingNeedle v-if="cell.state" :state="cell.state" :turn="cell.bearing" />
    </div>
  </div>
</template>

<style scoped>
/* No cell has a layer of its own: rows are moved, drawn and pointed at by the hundred. */
.row {
  position: absolute;
  left: 0;
  height: 26px;
  display: flex;
  contain: size layout style;
}
.row,
.label {
  box-shadow:
    inset 0 1px 0 var(--rule-above, transparent),
    inset 0 -1px 0 var(--rule-below, transparent);
}
.row.group {
  --rule-above: var(--rule);
}
.row.total {
  --rule-above: var(--ink);
}
.label {
  position: sticky;
  left: 0;
  z-index: 2;
  flex: none;
  height: 26px;
  background: var(--paper);
}
.part {
  position: absolute;
  height: 26px;
  display: flex;
  align-items: center;
  gap: 7px;
  padding-left: 8px;
}
.words.light {
  color: var(--ink-2);
  font-weight: 400 !important;
}
.row.band {
  background: color-mix(in srgb, var(--rule-2) 55%, transparent);
}
.row.band .label {
  background: color-mix(in srgb, var(--rule-2) 55%, var(--paper));
}
.summary .words,
.summary .cell {
  font-style: italic;
  font-weight: 400;
}
.cell.warns {
  color: var(--off-text);
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
.depth-1 .cell,
.total .words,
.total .cell {
  font-weight: 600;
}
.total .words,
.total .cell {
  font-weight: 700;
}
.cell {
  flex: none;
  height: 26px;
  line-height: 26px;
  padding-right: 8px;
  text-align: right;
  white-space: nowrap;
  cursor: pointer;
}
.cell.tight {
  overflow: hidden;
  text-overflow: ellipsis;
}
.cell.second:not(.leads) {
  color: var(--ink-2);
}
.cell.blank {
  color: var(--ink-3);
}
.cell .bearing {
  margin-left: 4px;
}
.words.leads {
  border-bottom: 1.2px dotted var(--brass-line);
  line-height: 18px;
  cursor: pointer;
}
.cell.leads {
  text-decoration: underline dotted var(--brass-line) 1.2px;
  text-underline-offset: 4px;
}
/* The sparkline stands in its place; screen readers still say it. */
.cell.unseen {
  color: transparent !important;
  text-decoration: none;
}
/* Marks lie behind it, and show through. */
.row:hover {
  background: color-mix(in srgb, var(--sea) 6%, transparent);
}
.row:hover .label {
  background: color-mix(in srgb, var(--sea) 6%, var(--paper));
}
[role='treegrid']:focus-visible .focused {
  box-shadow: inset 0 0 0 1.5px var(--sea);
}
.cell.chosen {
  background: color-mix(in srgb, var(--sea) 10%, transparent);
  box-shadow: inset 0 0 0 2px var(--sea);
}
@media (max-width: 700px) {
  .part {
    gap: 5px;
    padding-left: 2px;
  }
}
</style>
