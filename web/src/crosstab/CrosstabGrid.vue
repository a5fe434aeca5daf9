<script setup lang="ts">
import type { Header } from '@bold-compass/core/api';
import { periodRange, parseIsoDate } from '@bold-compass/core/calendar';
import { cellText } from '@bold-compass/core/format';
import { fieldPlace, fieldPlural, measureNamed, type Crosstab } from '@bold-compass/core/model';
import { useVirtualizer } from '@tanstack/vue-virtual';
import { useResizeObserver } from '@vueuse/core';
import { computed, nextTick, ref, useId, watch } from 'vue';
import { useReport } from '../report/context.ts';
import { LOCALE } from '../report/state-words.ts';
import type { ChosenCell, CrosstabState, Orders } from '../report/url-state.ts';
import CrosstabRow from './CrosstabRow.vue';
import ToggleRing from './ToggleRing.vue';
import { GROUP_GAP, GrowingWidths, HEAD_ROW_HEIGHT, headLevels, headSegments, ROW_HEIGHT, type HeadSegment } from './layout.ts';
import type { Cells, Viewport } from './windows.ts';

/** Draws the part of a cross-tab that is in view, as a WAI-ARIA treegrid. */
const props = defineProps<{ exhibit: Crosstab; cells: Cells; state: CrosstabState }>();
const emit = defineEmits<{
  toggle: [which: 'side' | 'top', header: Header];
  choose: [cell: ChosenCell | null];
  order: [which: 'side' | 'top', order: Orders];
  viewport: [viewport: Viewport];
  key: [event: KeyboardEvent, at: { row: Header | undefined; column: Header | undefined; measure: string | null }];
}>();

const { view } = useReport();
const id = useId();
const scroller = ref<HTMLElement | null>(null);
const narrow = matchMedia('(max-width: 700px)').matches;

const dataset = computed(() => view.value.dataset);
const measures = computed(() =>
  props.exhibit.cells.map((cell) => {
    const measure = measureNamed(dataset.value, cell.measure);
    return {
      name: measure.name,
      heading: cell.heading ?? measure.heading ?? measure.label,
      label: measure.label,
      format: cell.format ?? measure.format,
      indicated: cell.indicator !== undefined,
      leads: props.exhibit.drills.some((drill) => !drill.measures || drill.measures.includes(measure.name)),
    };
  }),
);

// Sizes ----------------------------------------------------------------------------------------------------------
const widths = new GrowingWidths();
const measureWidths = computed(() =>
  widths.fit(
    measures.value.map(({ format }, index) => {
      const { least, most } = props.cells.extremes[index];
      return [least, most].map((value) => (Number.isFinite(value) ? cellText(value, format, LOCALE) : ''));
    }),
    measures.value.map((measure) => measure.heading),
    measures.value.map((measure) => (measure.indicated ? 18 : 0)),
  ),
);
const columnWidth = computed(() => {
  const own = measureWidths.value.reduce((sum, width) => sum + width, 0);
  const longest = props.cells.columns.reduce(
    (most, header) => Math.max(most, header ? columnLabel(header).length * 7.4 + (header.canOpen ? 34 : 14) : 0),
    0,
  );
  return Math.max(own, longest, 70) + GROUP_GAP;
});
/** Room that a long heading adds is given to the first measure. */
const spare = computed(() => columnWidth.value - GROUP_GAP - measureWidths.value.reduce((sum, width) => sum + width, 0));
const measureOffsets = computed(() => {
  let at = 0;
  return measureWidths.value.map((width, index) => {
    const own = width + (index === 0 ? spare.value : 0);
    const place = { left: at, width: own };
    at += own;
    return place;
  });
});
const indent = narrow ? 12 : 19;
const sideWidth = computed(() => {
  const longest = props.cells.rows
    .slice(0, 400)
    .reduce((most, header) => Math.max(most, header ? rowLabel(header).length * 7 + Math.max(0, header.depth - 1) * indent : 0), 60);
  return Math.min(narrow ? 148 : 330, Math.ceil(longest) + 46);
});
const levels = computed(() => headLevels(props.cells.columns));
const hasTop = computed(() => props.exhibit.top.fields.length > 0);
const headHeight = computed(() => (hasTop.value ? levels.value : 0) * HEAD_ROW_HEIGHT + HEAD_ROW_HEIGHT);

// Virtual rows and columns -----------------------------------------------------------------------------------------
const rowVirtualizer = useVirtualizer(
  computed(() => ({
    count: props.cells.rowCount,
    getScrollElement: () => scroller.value,
    estimateSize: () => ROW_HEIGHT,
    overscan: 6,
    paddingStart: headHeight.value,
    scrollPaddingStart: headHeight.value,
  })),
);
const columnVirtualizer = useVirtualizer(
  computed(() => ({
    count: props.cells.columnCount,
    getScrollElement: () => scroller.value,
    estimateSize: () => columnWidth.value,
    overscan: 2,
    horizontal: true,
    paddingStart: sideWidth.value,
    scrollPaddingStart: sideWidth.value,
  })),
);
watch([columnWidth, sideWidth], () => columnVirtualizer.value.measure());
watch(headHeight, () => rowVirtualizer.value.measure());
const shownRows = computed(() => rowVirtualizer.value.getVirtualItems());
const shownColumns = computed(() => columnVirtualizer.value.getVirtualItems());
const totalHeight = computed(() => headHeight.value + props.cells.rowCount * ROW_HEIGHT);
const totalWidth = computed(() => sideWidth.value + props.cells.columnCount * columnWidth.value - GROUP_GAP);

watch(
  [shownRows, shownColumns],
  ([rows, columns]) => {
    if (rows.length === 0 || columns.length === 0) return;
    emit('viewport', {
      firstRow: rows[0].index,
      lastRow: rows.at(-1)!.index,
      firstColumn: columns[0].index,
      lastColumn: columns.at(-1)!.index,
    });
  },
  { deep: false },
);

// Headings ---------------------------------------------------------------------------------------------------------
const segments = computed(() => (hasTop.value ? headSegments(props.cells.columns) : []));
const shownSegments = computed(() => {
  const first = shownColumns.value[0]?.index ?? 0;
  const last = shownColumns.value.at(-1)?.index ?? 0;
  return segments.value.filter((segment) => segment.start <= last && segment.start + segment.count > first);
});
const left = (column: number): number => sideWidth.value + column * columnWidth.value;

function totalWords(which: 'side' | 'top'): string {
  const [field] = props.exhibit[which].fields;
  return field ? `All ${fieldPlural(dataset.value, field)}` : 'All';
}
function rowLabel(header: Header): string {
  return header.role === 'total' ? totalWords('side') : (header.labels.at(-1) ?? '');
}
/** A total over a period that is not over yet is "to date". */
function columnLabel(header: Header): string {
  if (header.role === 'total') return totalWords('top');
  const label = header.labels.at(-1) ?? '';
  if (header.role !== 'subtotal') return label;
  const place = fieldPlace(dataset.value, props.exhibit.top.fields[header.depth - 1]);
  const range = place.kind === 'period' && header.path.at(-1) ? periodRange(place.level.period, header.path.at(-1)!) : undefined;
  return range && range.last > parseIsoDate(view.value.dataTo)! ? `${label} to date` : `${label} total`;
}
const segmentLabel = (segment: HeadSegment): string =>
  segment.own ? columnLabel(segment.sample) : segment.sample.labels[segment.level - 1];
/** The header that a heading's toggle opens or closes. */
function segmentHeader(segment: HeadSegment): Header {
  if (segment.own) return segment.sample;
  const depth = segment.level;
  return {
    ...segment.sample,
    path: segment.sample.path.slice(0, depth),
    labels: segment.sample.labels.slice(0, depth),
    depth,
    role: 'member',
    open: true,
    canOpen: true,
  };
}
const canToggle = (segment: HeadSegment): boolean =>
  segmentHeader(segment).canOpen && segment.sample.role !== 'total' && !(segment.own && segment.sample.role === 'subtotal');

/** Which way a column orders the rows now; null when it does not. */
function orderOf(header: Header | undefined, measure: string): 'asc' | 'desc' | null {
  const { order } = props.state.side;
  if (order.by !== 'measure' || order.measure !== measure || !header) return null;
  return header.path.join('/') === order.at.join('/') ? order.direction : null;
}
function orderBy(header: Header, measure: string): void {
  const now = orderOf(header, measure);
  const at = header.path.filter((member): member is string => member !== null);
  emit(
    'order',
    'side',
    now === 'asc' ? { by: 'label', direction: 'asc' } : { by: 'measure', measure, at, direction: now === 'desc' ? 'asc' : 'desc' },
  );
}
function orderByLabel(): void {
  const { order } = props.state.side;
  emit('order', 'side', { by: 'label', direction: order.by === 'label' && order.direction === 'asc' ? 'desc' : 'asc' });
}
const labelOrder = computed(() => (props.state.side.order.by === 'label' ? props.state.side.order.direction : null));
const sideTitle = computed(() => {
  const places = props.exhibit.side.fields.map((field) => fieldPlace(dataset.value, field));
  const [first] = places;
  if (!first) return '';
  return first.kind === 'fact' ? first.field.label : first.dimension.label;
});

// The chosen cell, and the one that has the keyboard -------------------------------------------------------------------
/** Row, and flattened column: -1 stands on the row's label. */
const focus = ref({ row: 0, column: -1 });
const width = computed(() => measures.value.length);
const lastColumn = computed(() => props.cells.columnCount * width.value - 1);
const active = computed(() => `${id}-${focus.value.row}-${focus.value.column}`);

const samePath = (a: readonly (string | null)[], b: readonly (string | null)[]): boolean =>
  a.length === b.length && a.every((member, index) => member === b[index]);
/** Stands for "the keyboard, or the choice, is in another row". */
const NOT_HERE = -2;
/** The flattened column of the chosen cell in a row. */
function chosenIn(row: number): number {
  const { cell } = props.state;
  const header = props.cells.rows[row];
  if (!cell || !header || !samePath(cell.side, header.path)) return NOT_HERE;
  const column = props.cells.columns.findIndex((one) => one && samePath(one.path, cell.top));
  const measure = measures.value.findIndex(({ name }) => name === cell.measure);
  return column < 0 || measure < 0 ? NOT_HERE : column * width.value + measure;
}
function choose(row: number, column: number): void {
  focus.value = { row, column };
  const [header, top] = [props.cells.rows[row], props.cells.columns[Math.floor(column / width.value)]];
  if (header && top && column >= 0)
    emit('choose', { side: header.path, top: top.path, measure: measures.value[column % width.value].name });
}

/** After the rows changed, the keyboard stays on the member it was on. */
let focusedPath: readonly (string | null)[] = [];
watch(focus, ({ row }) => (focusedPath = props.cells.rows[row]?.path ?? []));
watch(
  () => props.cells,
  (cells, before) => {
    if (cells.key === before.key) return;
    const row = cells.rows.findIndex((header) => header && samePath(header.path, focusedPath));
    focus.value = {
      row: row >= 0 ? row : Math.min(focus.value.row, cells.rowCount - 1),
      column: Math.min(focus.value.column, lastColumn.value),
    };
  },
);

/** Brings the chosen cell into view: it may come from the address, or the margin may have narrowed the page. */
function showChosen(): void {
  const { cell } = props.state;
  if (!cell) return;
  const row = props.cells.rows.findIndex((header) => header && samePath(header.path, cell.side));
  const column = props.cells.columns.findIndex((header) => header && samePath(header.path, cell.top));
  if (row >= 0) rowVirtualizer.value.scrollToIndex(row, { align: 'auto' });
  if (column >= 0) columnVirtualizer.value.scrollToIndex(column, { align: 'auto' });
}
let lastWidth = 0;
useResizeObserver(scroller, ([{ contentRect }]) => {
  if (contentRect.width !== lastWidth) showChosen();
  lastWidth = contentRect.width;
});

function move(row: number, column: number): void {
  const next = { row: Math.max(0, Math.min(props.cells.rowCount - 1, row)), column: Math.max(-1, Math.min(lastColumn.value, column)) };
  focus.value = next;
  rowVirtualizer.value.scrollToIndex(next.row, { align: 'auto' });
  if (next.column >= 0) columnVirtualizer.value.scrollToIndex(Math.floor(next.column / width.value), { align: 'auto' });
  else if (scroller.value) scroller.value.scrollLeft = 0;
  void nextTick(() => next.column >= 0 && props.state.cell !== null && choose(next.row, next.column));
}

function onKey(event: KeyboardEvent): void {
  if (event.ctrlKey || event.metaKey || event.altKey || (event.target as HTMLElement).closest('.grid-head')) return;
  const { row, column } = focus.value;
  const header = props.cells.rows[row];
  const page = Math.max(1, Math.floor(((scroller.value?.clientHeight ?? 0) - headHeight.value) / ROW_HEIGHT) - 1);
  const onLabel = column < 0;
  const steps: Record<string, () => void> = {
    ArrowDown: () => move(row + 1, column),
    ArrowUp: () => move(row - 1, column),
    ArrowRight: () => (onLabel && header?.canOpen && !header.open ? emit('toggle', 'side', header) : move(row, column + 1)),
    ArrowLeft: () => (onLabel && header?.open ? emit('toggle', 'side', header) : move(row, column - 1)),
    PageDown: () => move(row + page, column),
    PageUp: () => move(row - page, column),
    Home: () => move(row, -1),
    End: () => move(row, lastColumn.value),
    ' ': () => (onLabel ? header?.canOpen && emit('toggle', 'side', header) : choose(row, column)),
  };
  const step = steps[event.key];
  if (step) {
    event.preventDefault();
    step();
    return;
  }
  emit('key', event, {
    row: header,
    column: props.cells.columns[Math.floor(column / width.value)],
    measure: onLabel ? null : measures.value[column % width.value].name,
  });
}

/** A hairline parts the top-level groups. */
const startsGroup = (row: number): boolean => row > 0 && (props.cells.rows[row]?.depth ?? 2) <= 1;

defineExpose({ focusGrid: () => scroller.value?.querySelector<HTMLElement>('[role=treegrid]')?.focus() });
</script>

<template>
  <div ref="scroller" class="scroller">
    <div
      class="grid"
      role="treegrid"
      tabindex="0"
      :aria-label="exhibit.title"
      :aria-rowcount="cells.rowCount + levels + 1"
      :aria-colcount="lastColumn + 2"
      :aria-activedescendant="active"
      :style="{ width: `${totalWidth}px`, height: `${totalHeight}px` }"
      @keydown="onKey"
    >
      <div class="grid-head" role="rowgroup" :style="{ height: `${headHeight}px` }">
        <div class="corner" :style="{ width: `${sideWidth}px` }" aria-hidden="true" />
        <div v-for="level in hasTop ? levels : 0" :key="level" role="row" class="head-row">
          <div
            v-for="segment in shownSegments.filter((one) => one.level === level)"
            :key="segment.key"
            role="columnheader"
            class="segment"
            :class="{
              own: segment.own,
              wide: segment.count > 1,
              total: segment.sample.role === 'total' || (segment.own && segment.sample.role === 'subtotal'),
            }"
            :aria-colspan="segment.count * width"
            :style="{
              left: `${left(segment.start)}px`,
              width: `${segment.count * columnWidth - GROUP_GAP}px`,
              top: `${(level - 1) * HEAD_ROW_HEIGHT}px`,
            }"
          >
            <span class="segment-label" :style="{ left: `${sideWidth}px` }">
              <ToggleRing
                v-if="canToggle(segment)"
                :open="segmentHeader(segment).open"
                :label="segmentLabel(segment)"
                :aria-expanded="segmentHeader(segment).open"
                @toggle="emit('toggle', 'top', segmentHeader(segment))"
              />
              {{ segmentLabel(segment) }}
            </span>
          </div>
        </div>
        <div role="row" class="head-row">
          <div
            role="columnheader"
            class="side-title"
            :style="{ width: `${sideWidth}px` }"
            :aria-sort="labelOrder === 'asc' ? 'ascending' : labelOrder === 'desc' ? 'descending' : undefined"
          >
            <button type="button" class="order" :title="`Order the rows by their labels`" @click="orderByLabel">
              {{ sideTitle }} <span v-if="labelOrder === 'desc'" aria-hidden="true">↑</span>
            </button>
          </div>
          <template v-for="column in shownColumns" :key="column.index">
            <div
              v-for="(measure, index) in measures"
              :key="measure.name"
              role="columnheader"
              class="measure"
              :style="{
                left: `${left(column.index) + measureOffsets[index].left}px`,
                width: `${measureOffsets[index].width}px`,
                top: `${headHeight - HEAD_ROW_HEIGHT}px`,
              }"
              :aria-sort="
                orderOf(cells.columns[column.index], measure.name) === 'desc'
                  ? 'descending'
                  : orderOf(cells.columns[column.index], measure.name) === 'asc'
                    ? 'ascending'
                    : undefined
              "
            >
              <button
                v-if="cells.columns[column.index]"
                type="button"
                class="order"
                :title="`Order the rows by ${measure.label}, ${columnLabel(cells.columns[column.index]!)}, inside their parents`"
                @click="orderBy(cells.columns[column.index]!, measure.name)"
              >
                {{ measure.heading
                }}<span v-if="orderOf(cells.columns[column.index], measure.name)" class="arrow" aria-hidden="true">{{
                  orderOf(cells.columns[column.index], measure.name) === 'desc' ? '↓' : '↑'
                }}</span>
              </button>
            </div>
          </template>
        </div>
        <span
          v-for="column in shownColumns"
          :key="column.index"
          class="group-rule top"
          :style="{ left: `${left(column.index)}px`, width: `${columnWidth - GROUP_GAP}px` }"
          aria-hidden="true"
        />
        <span
          v-for="column in shownColumns"
          :key="column.index"
          class="group-rule bottom"
          :style="{ left: `${left(column.index)}px`, width: `${columnWidth - GROUP_GAP}px` }"
          aria-hidden="true"
        />
      </div>
      <div role="rowgroup">
        <CrosstabRow
          v-for="item in shownRows"
          :key="item.index"
          :index="item.index"
          :cells="cells"
          :columns="shownColumns"
          :measures="measures"
          :offsets="measureOffsets"
          :label="cells.rows[item.index] ? rowLabel(cells.rows[item.index]!) : '…'"
          :indent="Math.max(0, (cells.rows[item.index]?.depth ?? 1) - 1) * indent"
          :side-width="sideWidth"
          :column-width="columnWidth"
          :width="totalWidth"
          :top="headHeight + item.index * ROW_HEIGHT"
          :row-index="item.index + levels + 2"
          :starts-group="startsGroup(item.index)"
          :chosen="chosenIn(item.index)"
          :focused="focus.row === item.index ? focus.column : NOT_HERE"
          :id-base="id"
          @toggle="emit('toggle', 'side', cells.rows[item.index]!)"
          @label="focus = { row: item.index, column: -1 }"
          @choose="choose(item.index, $event)"
        />
      </div>
    </div>
    <span class="visually-hidden" role="status">{{ `${exhibit.title}: ${cells.rowCount} rows` }}</span>
  </div>
</template>

<style scoped>
.scroller {
  position: relative;
  width: fit-content;
  max-width: 100%;
  overflow: auto;
  max-height: max(420px, calc(100vh - 190px));
  border-bottom: 2px solid var(--ink);
  overscroll-behavior-x: contain;
}
.grid {
  position: relative;
  font-size: 13.5px;
}
.grid:focus-visible {
  outline-offset: -2px;
}
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
  margin-top: -29px;
}
.order {
  white-space: nowrap;
  min-height: 24px;
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
@media (max-width: 700px) {
  .grid {
    font-size: 13px;
  }
}
</style>
