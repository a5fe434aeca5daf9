<script setup lang="ts">
import type { Header } from '@bold-compass/core/api';
import type { Crosstab } from '@bold-compass/core/model';
import { canToggle, samePath, segmentHeader, type CrosstabTable, type HeadSegment } from '@bold-compass/core/table';
import { mdiPencilOutline } from '@mdi/js';
import { computed, ref } from 'vue';
import type { CrosstabState, Orders } from '../report/url-state.ts';
import { GROUP_GAP, HEAD_ROW_HEIGHT } from './layout.ts';
import type { Sizes } from './sizes.ts';
import ToggleRing from './ToggleRing.vue';
import type { useWidthDrawing } from '../report/width-drawing.ts';
import WidthHandle from '../report/WidthHandle.vue';
import type { Cells } from './windows.ts';

/** The headings over the columns, which order the rows and carry the toggles and widths of the top edge. */
const props = defineProps<{
  exhibit: Crosstab;
  cells: Cells;
  state: CrosstabState;
  composing: boolean;
  table: CrosstabTable;
  sizes: Sizes;
  columns: readonly { index: number }[];
  /** Measures whose width was drawn, by position. */
  drawnWidth(what: string): number | undefined;
  drawing: ReturnType<typeof useWidthDrawing>;
}>();
const emit = defineEmits<{
  toggle: [header: Header];
  order: [order: Orders];
  fit: [what: string];
  rename: [measure: number, heading: string];
  /** Follows the link of a column's label. */
  follow: [header: Header];
  /** The menu of a measure's heading, by its position. */
  menu: [measure: number, event: MouseEvent];
  /** The menu of a member across the top, while composing. */
  memberMenu: [header: Header, event: MouseEvent];
}>();

const { labelWidth, sideWidth, headHeight, measuresHeight, spans, columnWidth, levels, levelColumns, measureOffsets, measureWidths, left } =
  props.sizes;
const hasTop = computed(() => props.exhibit.top.fields.length > 0);
const headings = computed(() => props.table.headings);
const measures = computed(() => props.table.measures);
const stacked = computed(() => props.table.stacked);
const shownSegments = computed(() => {
  const first = props.columns[0]?.index ?? 0;
  const last = props.columns.at(-1)?.index ?? 0;
  return props.table.segments.filter((segment) => segment.start <= last && segment.start + segment.count > first);
});

/** Whether the label of a member leads somewhere; totals and lines of what is shown do not. */
function leads(segment: HeadSegment): boolean {
  const { role } = segmentHeader(segment);
  return role === 'member' && !props.composing && props.table.leadsFrom('top', segmentHeader(segment));
}

/** The order of the rows: the reader's, or that of the outermost level. */
const order = computed(() => {
  const { fields, levels: settings, order: usual } = props.exhibit.side;
  return props.state.side.order ?? settings[fields[0]]?.order ?? usual;
});
const ARIA_SORT = { asc: 'ascending', desc: 'descending' } as const;
const labelOrder = computed(() => (order.value.by === 'label' ? order.value.direction : null));
function orderByLabel(): void {
  emit('order', { by: 'label', direction: labelOrder.value === 'asc' ? 'desc' : 'asc' });
}
/** Which way a column orders the rows now; null when it does not. */
function orderOf(header: Header | undefined, measure: string): 'asc' | 'desc' | null {
  const now = order.value;
  if (now.by !== 'measure' || now.measure !== measure || !header || header.summary) return null;
  return samePath(header.path, now.at) ? now.direction : null;
}
function orderBy(header: Header, measure: string): void {
  const now = orderOf(header, measure);
  const at = header.path.filter((member): member is string => member !== null);
  emit(
    'order',
    now === 'asc' ? { by: 'label', direction: 'asc' } : { by: 'measure', measure, at, direction: now === 'desc' ? 'asc' : 'desc' },
  );
}
// Headings of measures are renamed where they stand, in the first column. --------------------------------------------
const renaming = ref<number | null>(null);
const vFocus = { mounted: (input: HTMLInputElement) => input.select() };
function rename(event: Event): void {
  const [position, heading] = [renaming.value, (event.target as HTMLInputElement).value.trim()];
  renaming.value = null;
  if (position !== null && heading !== measures.value[position].heading) emit('rename', position, heading);
}

/** What keeps headings over measures apart, in pixels. */
const SPAN_GAP = 8;
const spanWidth = (from: number, count: number): number => {
  const last = measureOffsets.value[from + count - 1];
  return last.left + last.width - measureOffsets.value[from].left;
};

/** The headings of measures over the columns in view; one below the other, they stand before the rows instead. */
const measureHeads = computed(() =>
  props.columns.flatMap(({ index: column }) =>
    measures.value.slice(0, stacked.value ? 1 : undefined).map((measure, position) => {
      const header = props.cells.columns[column];
      return { key: `${column}/${position}`, column, position, measure, header, direction: orderOf(header, measure.name) };
    }),
  ),
);
</script>

<template>
  <div class="grid-head" role="rowgroup" :style="{ height: `${headHeight}px` }">
    <div class="corner" :style="{ width: `${sideWidth}px` }" aria-hidden="true" />
    <div v-for="level in hasTop ? levels : 0" :key="level" role="row" class="head-row">
      <div
        v-for="segment in shownSegments.filter((one) => one.level === level)"
        :key="segment.key"
        role="columnheader"
        class="segment"
        :class="{
          wide: segment.count > 1,
          total: segment.sample.role === 'total' || (segment.own && segment.sample.role === 'subtotal'),
        }"
        :aria-colspan="segment.count * (stacked ? 1 : measures.length)"
        :style="{
          left: `${left(segment.start)}px`,
          width: `${segment.count * columnWidth - GROUP_GAP}px`,
          top: `${(level - 1) * HEAD_ROW_HEIGHT}px`,
        }"
        @contextmenu.stop="composing && segmentHeader(segment).role === 'member' && emit('memberMenu', segmentHeader(segment), $event)"
      >
        <span class="segment-label" :style="{ left: `${sideWidth}px` }">
          <ToggleRing
            v-if="canToggle(segment)"
            :open="segmentHeader(segment).open"
            :label="headings.segment(segment)"
            :aria-expanded="segmentHeader(segment).open"
            @toggle="emit('toggle', segmentHeader(segment))"
          />
          <button v-if="leads(segment)" type="button" class="leads" @click="emit('follow', segmentHeader(segment))">
            {{ headings.segment(segment) }}
          </button>
          <template v-else>{{ ` ${headings.segment(segment)}` }}</template>
        </span>
      </div>
    </div>
    <div v-if="spans.length > 0" role="row" class="head-row">
      <template v-for="column in columns" :key="column.index">
        <div
          v-for="{ words, from, count } in spans"
          :key="from"
          role="columnheader"
          class="segment span"
          :aria-colspan="count"
          :title="words"
          :style="{
            left: `${left(column.index) + measureOffsets[from].left + SPAN_GAP}px`,
            width: `${spanWidth(from, count) - SPAN_GAP}px`,
            top: `${headHeight - measuresHeight - HEAD_ROW_HEIGHT}px`,
          }"
        >
          <span class="span-words">{{ words }}</span>
        </div>
      </template>
    </div>
    <div role="row" class="head-row">
      <div
        role="columnheader"
        class="side-title"
        :style="{
          width: `${sideWidth}px`,
          height: `${measuresHeight}px`,
          marginTop: `${-measuresHeight}px`,
          paddingBottom: `${measuresHeight - HEAD_ROW_HEIGHT}px`,
        }"
        :aria-sort="labelOrder ? ARIA_SORT[labelOrder] : undefined"
      >
        <button type="button" class="order" title="Order the rows by their labels" @click="orderByLabel">
          {{ levelColumns ? levelColumns[0].heading : headings.side }} <span v-if="labelOrder === 'desc'" aria-hidden="true">↑</span>
        </button>
        <template v-if="levelColumns">
          <span v-for="column in levelColumns.slice(1)" :key="column.left" class="level-title" :style="{ left: `${column.left + 8}px` }">{{
            column.heading
          }}</span>
        </template>
        <WidthHandle
          v-if="!levelColumns"
          words="the labels"
          :width="labelWidth"
          @begin="drawing.begin('label', labelWidth, $event)"
          @key="drawing.byKey('label', labelWidth, $event)"
          @fit="emit('fit', 'label')"
        />
      </div>
      <div
        v-for="{ key, column, position, measure, header, direction } in measureHeads"
        :key="key"
        role="columnheader"
        class="measure"
        :class="{ wrapped: drawnWidth(String(position)) !== undefined }"
        :style="{
          left: `${left(column) + measureOffsets[position].left}px`,
          width: `${measureOffsets[position].width}px`,
          top: `${headHeight - measuresHeight}px`,
          height: `${measuresHeight}px`,
          paddingBottom: `${measuresHeight - HEAD_ROW_HEIGHT}px`,
        }"
        :aria-sort="direction ? ARIA_SORT[direction] : undefined"
        @contextmenu.stop="composing && !stacked && emit('menu', position, $event)"
      >
        <input
          v-if="composing && renaming === position && column === 0"
          v-focus
          class="entry heading"
          maxlength="60"
          :value="measure.heading"
          :aria-label="`Heading of ${measure.label}`"
          @keydown.stop
          @keydown.enter="rename"
          @keydown.escape="renaming = null"
          @blur="rename"
        />
        <button
          v-else-if="header && !stacked"
          type="button"
          class="order"
          :title="`Order the rows by ${measure.label}, ${headings.column(header)}, inside their parents`"
          @click="orderBy(header, measure.name)"
        >
          {{ measure.heading }} <small v-if="measure.unit" class="unit">{{ measure.unit }}</small><span
            v-if="direction"
            class="arrow"
            aria-hidden="true"
            >{{ direction === 'desc' ? '↓' : '↑' }}</span
          >
        </button>
        <button
          v-if="composing && column === 0 && !stacked && renaming !== position"
          type="button"
          class="rename"
          :aria-label="`Rename ${measure.heading}`"
          @click="renaming = position"
        >
          <v-icon :icon="mdiPencilOutline" size="13" />
        </button>
        <WidthHandle
          v-if="column === 0"
          :words="measure.heading"
          :width="measureWidths[position]"
          @begin="drawing.begin(String(position), measureWidths[position], $event)"
          @key="drawing.byKey(String(position), measureWidths[position], $event)"
          @fit="emit('fit', String(position))"
        />
      </div>
    </div>
    <template v-for="column in columns" :key="column.index">
      <span
        v-for="edge in ['top', 'bottom']"
        :key="edge"
        class="group-rule"
        :class="edge"
        :style="{ left: `${left(column.index)}px`, width: `${columnWidth - GROUP_GAP}px` }"
        aria-hidden="true"
      />
    </template>
  </div>
</template>

<style scoped>
.grid-head {
  position: sticky;
  top: 0;
  z-index: 3;
  background: var(--paper);
}
.corner {
  position: sticky;
  left: 0;
  height: 100%;
  background: var(--paper);
  border-top: 2px solid var(--ink);
  border-bottom: 1px solid var(--ink);
  z-index: 4;
}
.head-row {
  display: contents;
}
.segment,
.measure,
.side-title {
  position: absolute;
  height: 29px;
  display: flex;
  align-items: center;
}
.segment {
  justify-content: center;
}
.segment.wide {
  justify-content: flex-start;
}
.segment {
  border-bottom: 1px solid var(--rule);
  font-weight: 600;
  white-space: nowrap;
}
.segment.span {
  justify-content: center;
}
.span-words {
  overflow: hidden;
  text-overflow: ellipsis;
}
.segment.total {
  font-weight: 700;
}
.segment-label {
  position: sticky;
  display: inline-flex;
  align-items: center;
  gap: 6px;
  padding: 0 4px;
}
button.leads {
  font: inherit;
  color: inherit;
  background: none;
  border: 0;
  border-bottom: 1.2px dotted var(--brass-line);
  line-height: 18px;
  padding: 0;
  cursor: pointer;
}
.measure {
  justify-content: flex-end;
  padding-right: 8px;
  color: var(--ink-2);
  font-size: 12.5px;
}
.side-title {
  position: sticky;
  left: 0;
  z-index: 5;
  padding-left: 8px;
  color: var(--ink-2);
  font-size: 12.5px;
}
.measure.wrapped .order {
  white-space: normal;
  line-height: 1.05;
  max-height: 28px;
  overflow: hidden;
  text-align: right;
}
.heading {
  width: 100%;
  min-height: 24px;
  padding: 0 4px;
  font-size: 12.5px;
  text-align: right;
}
.rename {
  position: absolute;
  left: 0;
  min-width: 24px;
  min-height: 24px;
  background: var(--paper);
  color: var(--sea);
  opacity: 0;
}
.measure:hover .rename,
.rename:focus-visible {
  opacity: 1;
}
.level-title {
  position: absolute;
}
.order {
  white-space: nowrap;
  min-height: 24px;
}
.unit {
  position: absolute;
  right: 8px;
  bottom: 3px;
  font-size: 10.5px;
  line-height: 11px;
  color: var(--ink-2);
}
.order:hover {
  color: var(--sea);
  text-decoration: underline;
}
.arrow {
  margin-left: 2px;
  color: var(--sea);
  font-weight: 700;
}
.group-rule {
  position: absolute;
  height: 0;
}
.group-rule.top {
  top: 0;
  border-top: 2px solid var(--ink);
}
.group-rule.bottom {
  bottom: 0;
  border-top: 1px solid var(--ink);
}
</style>
