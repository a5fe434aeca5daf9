<script setup lang="ts">
import { LOCALE } from '@bold-compass/core/format';
import type { Header } from '@bold-compass/core/api';
import { depthNeeded } from '@bold-compass/core/crosstab';
import type { Crosstab, LinkPlace } from '@bold-compass/core/model';
import { canChoose, CrosstabTable } from '@bold-compass/core/table';
import { useVirtualizer, type Range } from '@tanstack/vue-virtual';
import { useIntersectionObserver, useResizeObserver } from '@vueuse/core';
import { computed, ref, toRaw, toRef, useId, watch } from 'vue';
import { useTheme } from 'vuetify';
import { useReport } from '../report/context.ts';
import { tellNeededWidth } from '../report/needed-width.ts';
import type { ChosenCell, CrosstabState, Orders } from '../report/url-state.ts';
import CrosstabRow from './CrosstabRow.vue';
import GridHead from './GridHead.vue';
import GridMarks from './GridMarks.vue';
import { NOT_HERE, useGridFocus } from './grid-focus.ts';
import { placed, ROW_HEIGHT, type LabelPart } from './layout.ts';
import { markInks } from './mark-shapes.ts';
import type { ShownColumns } from './row-cells.ts';
import { RowSlots } from './row-slots.ts';
import { useSizes } from './sizes.ts';
import { canvasTokens } from '../theme/canvas-tokens.ts';
import { useWidthDrawing } from '../report/width-drawing.ts';
import type { Cells, Viewport } from './windows.ts';

/** Draws the part of a cross-tab that is in view, as a WAI-ARIA treegrid. */
const props = defineProps<{ exhibit: Crosstab; cells: Cells; state: CrosstabState; composing: boolean }>();
const emit = defineEmits<{
  toggle: [which: 'side' | 'top', header: Header];
  choose: [cell: ChosenCell | null];
  follow: [cell: ChosenCell, from: LinkPlace];
  order: [which: 'side' | 'top', order: Orders];
  viewport: [viewport: Viewport];
  /** A width was drawn, of the labels or of a measure by its position; null fits it to its texts again. */
  resize: [what: string, width: number | null];
  /** The heading of a measure, by its position; empty for its usual one. */
  rename: [measure: number, heading: string];
  /** The menu of a figure, by the row it stands in and the position of its measure. */
  menu: [at: { x: number; y: number; row: Header; measure: number }];
  /** The menu of a member down the side or, while composing, across the top. */
  memberMenu: [at: { x: number; y: number; edge: 'side' | 'top'; header: Header }];
  /** The menu of a measure's heading. */
  headingMenu: [at: { x: number; y: number; measure: number }];
  key: [event: KeyboardEvent, at: { row: Header | undefined; column: Header | undefined; measure: string | null }];
}>();

const { view, fill } = useReport();
const id = useId();
const scroller = ref<HTMLElement | null>(null);

/** The cross-tab as it looks, whatever draws it. */
const table = computed(
  // Read for every cell, and never changed in place: each reading need not be watched.
  () => new CrosstabTable(toRaw(view.value.dataset), toRaw(props.exhibit), props.cells, view.value.dataTo, LOCALE),
);
const measures = computed(() => table.value.measures);
const headings = computed(() => table.value.headings);
const stacked = computed(() => table.value.stacked);
/** Lines of a member: as many as there are measures, where these stand one below the other. */
const lines = computed(() => table.value.linesPerRow);
const lineCount = computed(() => table.value.lineCount);
const memberRow = (line: number): number => table.value.rowOf(line);
/** Measures beside each other in a column. */
const beside = computed(() => (stacked.value ? 1 : measures.value.length));

// Sizes ----------------------------------------------------------------------------------------------------------
const drawing = useWidthDrawing((what, width) => emit('resize', what, width));
const ownWidth = (what: string): number | undefined => drawing.drawing.value[what] ?? props.exhibit.widths[what];
const sizes = useSizes({
  exhibit: toRef(props, 'exhibit'),
  cells: toRef(props, 'cells'),
  measures,
  headings,
  stacked,
  depth: computed(() => depthNeeded(props.exhibit.side.fields.length, props.state.side.open)),
  ownWidth,
  narrow: matchMedia('(max-width: 700px)').matches,
});
const {
  indent,
  columnWidth,
  measureOffsets,
  figureRooms,
  levelColumns,
  headingWidth,
  labelWidth,
  sideWidth,
  headHeight,
  headRows,
  totalWidth,
} = sizes;

/** The colours of marks, in the theme that is on; none where nothing is painted. */
const theme = useTheme();
const inks = computed(() => {
  void theme.name.value;
  const isPainted = props.exhibit.cells.some(({ marks = [] }) => marks.some(({ kind }) => kind !== 'rule'));
  return isPainted && scroller.value ? markInks(canvasTokens(scroller.value, 'yearbook')) : null;
});

// Virtual rows and columns -----------------------------------------------------------------------------------------
// The columns listen to the scroller first: what they read of it must not wait for rows that came into view.
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
const OVERSCAN = 6;
const rowVirtualizer = useVirtualizer(
  computed(() => ({
    count: lineCount.value,
    getScrollElement: () => scroller.value,
    estimateSize: () => ROW_HEIGHT,
    // As many rows wherever they are scrolled to, so that none has to be made or taken away.
    rangeExtractor({ startIndex, count }: Range): number[] {
      const room = Math.ceil((rowVirtualizer.value.scrollRect?.height ?? 0) / ROW_HEIGHT) + 1 + 2 * OVERSCAN;
      const first = Math.max(0, Math.min(startIndex - OVERSCAN, count - room));
      return Array.from({ length: Math.min(room, count) }, (_, index) => first + index);
    },
    paddingStart: headHeight.value,
    scrollPaddingStart: headHeight.value,
  })),
);
watch([columnWidth, sideWidth], () => columnVirtualizer.value.measure());
watch(headHeight, () => rowVirtualizer.value.measure());
const shownRows = computed(() => rowVirtualizer.value.getVirtualItems());
const shownColumns = computed(() => columnVirtualizer.value.getVirtualItems());
const slots = new RowSlots();
const slottedRows = computed(() =>
  slots.place(
    shownRows.value.map(({ index }) => index),
    !rowVirtualizer.value.isScrolling,
  ),
);
const shown = computed((): ShownColumns => ({
  columns: shownColumns.value,
  columnWidth: columnWidth.value,
  offsets: measureOffsets.value,
}));
const totalHeight = computed(() => headHeight.value + lineCount.value * ROW_HEIGHT);

watch([shownRows, shownColumns], ([rows, columns]) => {
  if (rows.length === 0 || columns.length === 0) return;
  emit('viewport', {
    firstRow: memberRow(rows[0].index),
    lastRow: memberRow(rows.at(-1)!.index),
    firstColumn: columns[0].index,
    lastColumn: columns.at(-1)!.index,
  });
});

// Labels -----------------------------------------------------------------------------------------------------------
/** Kept for as long as nothing that they show has changed, so that rows which stay as they are need not be drawn anew. */
const partsByLine = computed(() => {
  void [props.cells, props.exhibit, headings.value, labelWidth.value, levelColumns.value, headingWidth.value, stacked.value];
  return new Map<number, LabelPart[]>();
});
function partsOf(line: number): LabelPart[] {
  let parts = partsByLine.value.get(line);
  if (!parts) partsByLine.value.set(line, (parts = findParts(line)));
  return parts;
}
function findParts(line: number): LabelPart[] {
  const heading: LabelPart[] = stacked.value
    ? [
        {
          text: [measures.value[line % lines.value].heading, measures.value[line % lines.value].unit].filter(Boolean).join(', '),
          left: labelWidth.value,
          width: headingWidth.value,
          toggle: null,
          indent: 0,
          light: true,
        },
      ]
    : [];
  if (line % lines.value > 0) return [{ text: '', left: 0, width: labelWidth.value, toggle: null, indent: 0 }, ...heading];
  const parts = placed(table.value.line(line).labels, levelColumns.value, labelWidth.value, indent);
  return [...parts, ...heading];
}

// The chosen cell, and the one that has the keyboard -------------------------------------------------------------------
const { focus, lastColumn, chosenIn, choose, isAt, onKey } = useGridFocus({
  table,
  beside,
  cells: toRef(props, 'cells'),
  chosen: computed(() => props.state.cell),
  /** Lines that a page of the keyboard goes. */
  page: () => Math.max(1, Math.floor(((scroller.value?.clientHeight ?? 0) - headHeight.value) / ROW_HEIGHT) - 1),
  show(line, column) {
    rowVirtualizer.value.scrollToIndex(line, { align: 'auto' });
    if (column !== null) columnVirtualizer.value.scrollToIndex(column, { align: 'auto' });
    else if (scroller.value) scroller.value.scrollLeft = 0;
  },
  onChoose: (cell) => emit('choose', cell),
  onToggle: (header) => emit('toggle', 'side', header),
  onKey(event, at) {
    if (event.key === 'Enter' && at.measure === null && table.value.line(focus.value.row).leads) follow(focus.value.row, -1);
    else emit('key', event, at);
  },
});
/** The element of a place in the grid; none where it is out of view. */
function idOf(line: number, column: number): string | undefined {
  const row = slottedRows.value.find(({ index }) => index === line);
  return row && `${id}-${row.slot}-${column}`;
}
/** The place of an element in the grid: its line, and its flattened column. */
function placeOf(element: Element | null): { line: number; column: number } | null {
  const [, slot, column] = (element?.id.startsWith(`${id}-`) && /-(\d+)-(-?\d+)$/.exec(element.id)) || [];
  const row = slottedRows.value.find((one) => String(one.slot) === slot);
  return row ? { line: row.index, column: Number(column) } : null;
}
const elementOf = (line: number, column: number): HTMLElement | null => document.getElementById(idOf(line, column) ?? '');
const active = computed(() => idOf(focus.value.row, focus.value.column));

/** Brings the chosen cell into view: it may come from the address, or the margin may have narrowed the page. */
function showChosen(): void {
  const { cell } = props.state;
  if (!cell) return;
  const row = props.cells.rows.findIndex((header) => isAt(header, cell.side));
  const column = props.cells.columns.findIndex((header) => isAt(header, cell.top));
  if (row >= 0) rowVirtualizer.value.scrollToIndex(row * lines.value, { align: 'auto' });
  if (column >= 0) columnVirtualizer.value.scrollToIndex(column, { align: 'auto' });
}
/** Whether columns go on beyond the right edge. */
const rightEdge = ref<HTMLElement | null>(null);
const showsRightEdge = ref(true);
useIntersectionObserver(rightEdge, ([{ isIntersecting }]) => (showsRightEdge.value = isIntersecting), { root: scroller });
tellNeededWidth(() => totalWidth.value);
const goesOn = computed(() => totalWidth.value > roomWidth.value && !showsRightEdge.value);
/** A table of so many rows is shown whole: the page scrolls, and no rows are hidden behind its closing rule. */
const MOST_WHOLE_ROWS = 60;
const mostHeight = computed(() => {
  if (props.exhibit.height) return `${Math.max(120, props.exhibit.height - 90)}px`;
  return lineCount.value <= MOST_WHOLE_ROWS ? 'none' : undefined;
});
/** Whether rows go on below the lower edge. */
const lowerEdge = ref<HTMLElement | null>(null);
const showsLowerEdge = ref(true);
useIntersectionObserver(lowerEdge, ([{ isIntersecting }]) => (showsLowerEdge.value = isIntersecting), { root: scroller });
const goesDown = computed(() => mostHeight.value !== 'none' && !showsLowerEdge.value);
const roomWidth = ref(0);
useResizeObserver(scroller, ([{ contentRect }]) => {
  if (contentRect.width === roomWidth.value) return;
  roomWidth.value = contentRect.width;
  showChosen();
});
/** Labels that stay in view must leave room for figures. */
const MOST_OF_ROOM = 0.7;
const labelsScroll = computed(
  () =>
    !props.exhibit.freeze ||
    (roomWidth.value > 0 && sideWidth.value > roomWidth.value * MOST_OF_ROOM && totalWidth.value > roomWidth.value),
);

/** The keyboard goes on from the row that was opened or closed: its button may belong to another row once rows are scrolled. */
function toggle(row: number, header: Header): void {
  focus.value = { row, column: -1 };
  focusGrid();
  emit('toggle', 'side', header);
}
const focusGrid = (): void => scroller.value?.querySelector<HTMLElement>('[role=treegrid]')?.focus({ preventScroll: true });
/** Follows the first link of a number, or, at −1, of the label of a line: its total in the first measure stands for it. */
function follow(line: number, flat: number): void {
  const header = table.value.headerOf(line);
  if (flat < 0) {
    if (header && canChoose(header)) emit('follow', { side: header.path, top: [], measure: measures.value[0].name }, 'labels');
  } else if (props.state.cell) emit('follow', props.state.cell, 'cells');
}
/** Where a menu opens: where the mouse points, or under what the keyboard is at. */
function menuPlace(event: MouseEvent, element: Element, isPointed = true, inset = 0): { x: number; y: number } {
  event.preventDefault();
  if (isPointed && event.clientX > 0) return { x: event.clientX, y: event.clientY };
  const { left, bottom } = element.getBoundingClientRect();
  return { x: left + inset, y: bottom };
}
const openHeadingMenu = (measure: number, event: MouseEvent): void =>
  emit('headingMenu', { ...menuPlace(event, event.currentTarget as Element), measure });
const openColumnMenu = (header: Header, event: MouseEvent): void =>
  emit('memberMenu', { ...menuPlace(event, event.currentTarget as Element), edge: 'top', header });
/** Words of a label begin behind its toggle, in pixels. */
const LABEL_INSET = 24;
/** A member has a menu: by the mouse where it points, by the keyboard in the row that has the focus. */
function openRowMenu(event: MouseEvent): void {
  const target = event.target as HTMLElement;
  if (target.closest('[role=gridcell], .grid-head')) return;
  const pointed = target.closest<HTMLElement>('[role=rowheader]');
  const label = pointed ?? elementOf(focus.value.row, -1);
  const place = placeOf(label);
  const row = place && table.value.headerOf(place.line);
  if (!label || !row || row.role !== 'member') return;
  emit('memberMenu', { ...menuPlace(event, label, pointed !== null, LABEL_INSET), edge: 'side', header: row });
}
/** While composing a figure has a menu: by the mouse where it points, by the keyboard at the figure that has the focus. */
function openMenu(event: MouseEvent): void {
  const target = event.target as HTMLElement;
  const pointed = target.closest<HTMLElement>('[role=gridcell]');
  const isLabel = target.closest('[role=rowheader]') !== null || (!pointed && focus.value.column === -1);
  if (!props.composing || isLabel) return openRowMenu(event);
  const cell = pointed ?? elementOf(focus.value.row, focus.value.column);
  const place = placeOf(cell);
  const row = place && table.value.headerOf(place.line);
  if (!cell || !place || !row || place.column < 0) return;
  const measure = stacked.value ? place.line % lines.value : place.column % beside.value;
  emit('menu', { ...menuPlace(event, cell, pointed !== null), row, measure });
}

/** What is cut, and what describes a cell, is said in full where one points. */
function hint({ target }: MouseEvent): void {
  if (!(target instanceof HTMLElement) || !(target.role === 'gridcell' || target.classList.contains('words'))) return;
  const whole = target.scrollWidth > target.clientWidth ? target.textContent?.trim() : '';
  target.title = [whole, target.ariaDescription].filter((words) => words).join('; ');
}
</script>

<template>
  <div class="edge" :class="{ 'goes-on': goesOn, 'goes-down': goesDown }">
    <div
      ref="scroller"
      class="scroller"
      :class="[`style-${exhibit.style}`, { 'loose-head': !exhibit.freeze, 'loose-labels': labelsScroll }]"
      :style="{ maxHeight: mostHeight }"
    >
      <div
        class="grid"
        role="treegrid"
        tabindex="0"
        :aria-label="fill(exhibit.title)"
        :aria-rowcount="lineCount + headRows + 1"
        :aria-colcount="lastColumn + 2"
        :aria-activedescendant="active"
        :style="{ width: `${totalWidth}px`, height: `${totalHeight}px` }"
        @keydown="onKey"
        @contextmenu="openMenu"
        @mouseover="hint"
      >
        <GridHead
          :exhibit="exhibit"
          :cells="cells"
          :state="state"
          :composing="composing"
          :table="table"
          :sizes="sizes"
          :columns="shownColumns"
          :drawn-width="ownWidth"
          :drawing="drawing"
          @toggle="emit('toggle', 'top', $event)"
          @order="emit('order', 'side', $event)"
          @fit="emit('resize', $event, null)"
          @follow="emit('follow', { side: [], top: $event.path, measure: measures[0].name }, 'columns')"
          @menu="openHeadingMenu"
          @member-menu="openColumnMenu"
          @rename="(measure, heading) => emit('rename', measure, heading)"
        />
        <GridMarks
          v-if="inks && shownRows.length > 0"
          :table="table"
          :first="shownRows[0].index"
          :count="shownRows.length"
          :shown="shown"
          :rooms="figureRooms"
          :inks="inks"
          :top="headHeight"
          :left="sideWidth"
        />
        <div role="rowgroup">
          <CrosstabRow
            v-for="{ slot, index } in slottedRows"
            :key="slot"
            :index="index"
            :table="table"
            :shown="shown"
            :rooms="figureRooms"
            :parts="partsOf(index)"
            :side-width="sideWidth"
            :width="totalWidth"
            :top="headHeight + index * ROW_HEIGHT"
            :row-index="index + headRows + 2"
            :chosen="chosenIn(index)"
            :focused="focus.row === index ? focus.column : NOT_HERE"
            :id-base="`${id}-${slot}`"
            @toggle="toggle(index, $event)"
            @label="focus = { row: index, column: -1 }"
            @choose="choose(index, $event)"
            @follow="follow(index, $event)"
          />
        </div>
        <div ref="rightEdge" class="right-edge" aria-hidden="true" />
        <span ref="lowerEdge" class="lower-edge" aria-hidden="true" />
      </div>
    </div>
    <!-- Outside of what scrolls: a pixel more in there, and the wheel would stop at the table. -->
    <span class="visually-hidden" role="status">{{ `${fill(exhibit.title)}: ${lineCount} rows` }}</span>
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
.edge {
  position: relative;
  width: fit-content;
  max-width: 100%;
}
.edge::after {
  content: '';
  position: absolute;
  inset: 0 0 0 auto;
  width: 26px;
  z-index: 5;
  pointer-events: none;
  opacity: 0;
  background: linear-gradient(to right, transparent, color-mix(in srgb, var(--ink) 20%, transparent));
  mask-image: linear-gradient(to bottom, transparent, black 12%, black 88%, transparent);
  transition: opacity var(--motion);
}
.edge.goes-on::after,
.edge.goes-down::before {
  opacity: 1;
}
.edge::before {
  content: '';
  position: absolute;
  inset: auto 0 2px;
  height: 44px;
  z-index: 5;
  pointer-events: none;
  opacity: 0;
  background: linear-gradient(to bottom, transparent, var(--paper));
  transition: opacity var(--motion);
}
.lower-edge {
  position: absolute;
  inset: auto 0 0;
  height: 1px;
  pointer-events: none;
}
.scroller {
  scrollbar-width: thin;
  scrollbar-color: var(--ink-3) var(--rule-2);
}
.grid {
  position: relative;
  font-size: 13.5px;
}
.right-edge {
  position: absolute;
  inset: 0 0 0 auto;
  width: 1px;
  pointer-events: none;
}
.grid:focus-visible {
  outline-offset: -2px;
}
.loose-head :deep(.grid-head),
.loose-labels :deep(.side-title),
.loose-labels :deep(.label) {
  position: relative;
}
.loose-labels :deep(.corner) {
  position: absolute;
}
.style-ledger :deep(.row) {
  --rule-below: var(--rule-2);
}
.style-ledger :deep(.grid-head),
.style-ledger :deep(.corner) {
  background: var(--sheet);
}
.style-open {
  border-bottom-color: transparent;
}
.style-open :deep(.corner),
.style-open :deep(.group-rule.top) {
  border-top-color: transparent;
}
.style-open :deep(.segment) {
  border-bottom-color: transparent;
}
@media (max-width: 700px) {
  .grid {
    font-size: 13px;
  }
}
</style>
