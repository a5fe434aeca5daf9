<script setup lang="ts">
import type { Header } from '@bold-compass/core/api';
import type { CrosstabTable } from '@bold-compass/core/table';
import { computed } from 'vue';
import BearingNeedle from '../report/BearingNeedle.vue';
import CellDrawing from './CellDrawing.vue';
import { ROW_HEIGHT, type LabelPart } from './layout.ts';
import ToggleRing from './ToggleRing.vue';

/**
 * One row of a cross-tab. A component of its own, so that choosing a cell, or waiting for an answer, draws only what
 * changed. `chosen` and `focused` are flattened columns; -1 stands on the label.
 */
const props = defineProps<{
  index: number;
  table: CrosstabTable;
  columns: readonly { index: number }[];
  offsets: readonly { left: number; width: number }[];
  parts: readonly LabelPart[];
  sideWidth: number;
  columnWidth: number;
  width: number;
  top: number;
  rowIndex: number;
  chosen: number;
  focused: number;
  idBase: string;
}>();
const emit = defineEmits<{ toggle: [header: Header]; label: []; choose: [column: number]; follow: [column: number] }>();
/** The number of a cell that is chosen already leads where its first link does. */
function press(event: MouseEvent, { flat, leads }: { flat: number; leads: boolean }): void {
  const isNumber = (event.target as HTMLElement).closest('.figure, .sparkline') !== null;
  if (leads && isNumber && props.chosen === flat) emit('follow', flat);
  else emit('choose', flat);
}

const line = computed(() => props.table.line(props.index));
const header = computed(() => line.value.header);
/** What a cell shows, worked out once for all its attributes. */
const drawn = computed(() => {
  const { table, columns, offsets, sideWidth, columnWidth } = props;
  const { row, measure } = line.value;
  const positions = measure === null ? table.measures.map((_, position) => position) : [measure];
  return columns.flatMap(({ index: column }) =>
    positions.map((position, place) => {
      const cell = table.cell(row, column, position);
      const { rule, shade } = cell.marks ?? {};
      return {
        ...cell,
        flat: column * positions.length + place,
        second: place > 0,
        look: rule && [`tone-${rule.tone}`, `look-${rule.look}`],
        hidden: cell.marks?.sparkline?.hasFigure === false,
        hint: cell.reason || rule?.words || undefined,
        // As a text, which is only written where it has changed.
        place: `left:${sideWidth + column * columnWidth + offsets[place].left}px;width:${offsets[place].width}px${shade ? `;background:${groundOf(shade)}` : ''}`,
      };
    }),
  );
});
/** Dark enough to tell, pale enough to read on. */
const DARKEST = 40;
function groundOf({ amount }: { amount: number }): string {
  return `color-mix(in srgb,var(--${amount < 0 ? 'off' : 'sea'}) ${Math.round(Math.abs(amount) * DARKEST)}%,var(--paper))`;
}
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
    :style="`transform:translateY(${top}px);width:${width}px;height:${ROW_HEIGHT}px`"
  >
    <div
      :id="`${idBase}-${index}--1`"
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
        <span
          class="words"
          :class="{ light: part.light, leads: line.leads && !part.light }"
          :title="part.text"
          @click="line.leads && emit('follow', -1)"
          >{{ part.text }}</span
        >
      </span>
    </div>
    <div
      v-for="cell in drawn"
      :id="`${idBase}-${index}-${cell.flat}`"
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
          second: cell.second,
          warns: cell.warns,
        },
      ]"
      :style="cell.place"
      :title="cell.hint"
      @click="press($event, cell)"
    >
      <CellDrawing v-if="cell.marks" :marks="cell.marks" />
      <span class="figure" :class="{ leads: cell.leads, 'for-readers': cell.hidden }">{{ cell.text }}</span>
      <BearingNeedle v-if="cell.state" :state="cell.state" :turn="cell.bearing" />
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
.band .label,
.band .cell {
  background: color-mix(in srgb, var(--rule-2) 55%, var(--paper));
}
.summary .words,
.summary .figure {
  font-style: italic;
  font-weight: 400;
}
.cell.warns .figure {
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
.words.leads {
  border-bottom: 1.2px dotted var(--brass-line);
  line-height: 18px;
  cursor: pointer;
}
.figure.leads {
  border-bottom: 1.2px dotted var(--brass-line);
  line-height: 17px;
}
/* The sparkline stands in its place; screen readers still say it. */
.figure.for-readers {
  position: absolute;
  width: 1px;
  height: 1px;
  overflow: hidden;
  clip-path: inset(50%);
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
  .part {
    gap: 5px;
    padding-left: 2px;
  }
}
</style>
