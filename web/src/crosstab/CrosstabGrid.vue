<script setup lang="ts">
import type { Header } from '@bold-compass/core/api';
import { periodRange, parseIsoDate } from '@bold-compass/core/calendar';
import { accountText } from '@bold-compass/core/format';
import { fieldLabel, fieldPlace, fieldPlural, measureNamed, type Crosstab } from '@bold-compass/core/model';
import { useVirtualizer } from '@tanstack/vue-virtual';
import { useResizeObserver } from '@vueuse/core';
import { computed, nextTick, ref, useId, watch } from 'vue';
import { useReport } from '../report/context.ts';
import { LOCALE, SUMMARY_WORDS } from '../report/state-words.ts';
import type { ChosenCell, CrosstabState, Orders } from '../report/url-state.ts';
import CrosstabRow from './CrosstabRow.vue';
import ToggleRing from './ToggleRing.vue';
import {
  GROUP_GAP,
  GrowingWidths,
  HEAD_ROW_HEIGHT,
  headLevels,
  headSegments,
  ROW_HEIGHT,
  type HeadSegment,
  type LabelPart,
} from './layout.ts';
import type { Cells, Viewport } from './windows.ts';

/** Draws the part of a cross-tab that is in view, as a WAI-ARIA treegrid. */
const props = defineProps<{ exhibit: Crosstab; cells: Cells; state: CrosstabState; composing: boolean }>();
const emit = defineEmits<{
  toggle: [which: 'side' | 'top', header: Header];
  choose: [cell: ChosenCell | null];
  order: [which: 'side' | 'top', order: Orders];
  viewport: [viewport: Viewport];
  /** A width was drawn, of the labels or of a measure by its position; null fits it to its texts again. */
  resize: [what: string, width: number | null];
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
      negative: cell.negative ?? 'minus',
    };
  }),
);

// Measures one below the other: each member has as many lines as there are measures. --------------------------------
const stacked = computed(() => props.exhibit.measuresOn === 'side' && measures.value.length > 1);
/** Lines of a member. */
const lines = computed(() => (stacked.value ? measures.value.length : 1));
const rowCount = computed(() => props.cells.rowCount * lines.value);
const memberRow = (line: number): number => Math.floor(line / lines.value);
const headerAt = (line: number): Header | undefined => props.cells.rows[memberRow(line)];
const singles = computed(() => measures.value.map((measure) => [measure]));
/** Measures beside each other in a column. */
const beside = computed(() => (stacked.value ? 1 : measures.value.length));
const measureAt = (line: number, flat: number): number => (stacked.value ? line % lines.value : flat % beside.value);

// Sizes ----------------------------------------------------------------------------------------------------------
const widths = new GrowingWidths();
const fitted = computed(() =>
  widths.fit(
    measures.value.map(({ format }, index) => {
      const { least, most } = props.cells.extremes[index] ?? { least: Infinity, most: -Infinity };
      return [least, most].map((value) => (Number.isFinite(value) ? accountText(value, format, LOCALE) : ''));
    }),
    measures.value.map((measure) => (stacked.value ? '' : measure.heading)),
    measures.value.map((measure) => (measure.indicated ? 18 : 0)),
  ),
);
const drawnWidths = ref<Record<string, number>>({});
const ownWidth = (what: string): number | undefined => drawnWidths.value[what] ?? props.exhibit.widths[what];
const measureWidths = computed(() => {
  const own = fitted.value.map((width, index) => ownWidth(String(index)) ?? width);
  return stacked.value ? [Math.max(...own)] : own;
});
const columnWidth = computed(() => {
  const own = measureWidths.value.reduce((sum, width) => sum + width, 0);
  const isDrawn = measures.value.some((_, index) => ownWidth(String(index)) !== undefined);
  const longest = props.cells.columns.reduce(
    (most, header) => Math.max(most, header && !isDrawn ? columnLabel(header).length * 7.4 + (header.canOpen ? 34 : 14) : 0),
    0,
  );
  return Math.max(own, longest, isDrawn ? 30 : 70) + GROUP_GAP;
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
/** Levels as columns of their own: where each begins and how wide it is. */
const asColumns = computed(() => props.exhibit.side.layout === 'columns' && props.exhibit.side.fields.length > 0);
const levelColumns = computed(() => {
  let at = 0;
  return props.exhibit.side.fields.map((field, level) => {
    const heading = fieldLabel(dataset.value, field);
    const longest = props.cells.rows.slice(0, 400).reduce((most, header) => {
      const text = header?.labels[level] ?? '';
      return Math.max(most, text.length + (header?.role === 'subtotal' && header.depth === level + 1 ? 6 : 0));
    }, heading.length);
    const width = Math.min(narrow ? 120 : 240, Math.ceil(longest * 7) + 40);
    const place = { heading, left: at, width };
    at += width;
    return place;
  });
});
const headingWidth = computed(() =>
  stacked.value ? Math.ceil(Math.max(...measures.value.map(({ heading }) => heading.length)) * 6.4) + 16 : 0,
);
const labelWidth = computed(() => {
  const drawn = ownWidth('label');
  if (drawn) return drawn;
  if (asColumns.value) return levelColumns.value.reduce((sum, { width }) => sum + width, 0);
  const longest = props.cells.rows
    .slice(0, 400)
    .reduce((most, header) => Math.max(most, header ? rowLabel(header).length * 7 + Math.max(0, header.depth - 1) * indent : 0), 60);
  return Math.min(narrow ? 148 : 330, Math.ceil(longest) + 46);
});
const sideWidth = computed(() => labelWidth.value + headingWidth.value);
const levels = computed(() => headLevels(props.cells.columns));
const hasTop = computed(() => props.exhibit.top.fields.length > 0);
const headHeight = computed(() => (hasTop.value ? levels.value : 0) * HEAD_ROW_HEIGHT + HEAD_ROW_HEIGHT);

// Virtual rows and columns -----------------------------------------------------------------------------------------
const rowVirtualizer = useVirtualizer(
  computed(() => ({
    count: rowCount.value,
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
const totalHeight = computed(() => headHeight.value + rowCount.value * ROW_HEIGHT);
const totalWidth = computed(() => sideWidth.value + props.cells.columnCount * columnWidth.value - GROUP_GAP);

watch(
  [shownRows, shownColumns],
  ([rows, columns]) => {
    if (rows.length === 0 || columns.length === 0) return;
    emit('viewport', {
      firstRow: memberRow(rows[0].index),
      lastRow: memberRow(rows.at(-1)!.index),
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
function othersWords({ labels, others }: Header): string {
  return `${labels.at(-1)}${others === undefined ? '' : ` (${others})`}`;
}
function rowLabel(header: Header): string {
  if (header.summary) return SUMMARY_WORDS[header.summary];
  if (header.role === 'total') return totalWords('side');
  return header.role === 'subtotal' ? `${othersWords(header)} total` : othersWords(header);
}
/** Kept for as long as nothing that they show has changed, so that rows which stay as they are need not be drawn anew. */
const partsByLine = computed(() => {
  void [props.cells, props.exhibit, labelWidth.value, levelColumns.value, stacked.value];
  return new Map<number, LabelPart[]>();
});
function labelParts(line: number): LabelPart[] {
  let parts = partsByLine.value.get(line);
  if (!parts) partsByLine.value.set(line, (parts = findLabelParts(line)));
  return parts;
}
/** The words, and toggles, that stand before the figures of a line. */
function findLabelParts(line: number): LabelPart[] {
  const header = headerAt(line);
  if (!header) return [{ text: '…', left: 0, width: labelWidth.value, toggle: null, indent: 0 }];
  const heading: LabelPart[] = stacked.value
    ? [
        {
          text: measures.value[line % lines.value].heading,
          left: labelWidth.value,
          width: headingWidth.value,
          toggle: null,
          indent: 0,
          light: true,
        },
      ]
    : [];
  if (line % lines.value > 0) return [{ text: '', left: 0, width: labelWidth.value, toggle: null, indent: 0 }, ...heading];
  const whole = { left: 0, width: labelWidth.value };
  if (!asColumns.value || header.depth === 0) {
    const depth = Math.max(0, header.depth - 1);
    return [
      {
        text: rowLabel(header),
        ...whole,
        toggle: header.canOpen ? header : null,
        indent: depth * indent,
        room: header.depth > 0 && props.exhibit.side.fields.length > 1,
      },
      ...heading,
    ];
  }
  const before = props.cells.rows[memberRow(line) - 1];
  const parts = header.path.flatMap((_, level): LabelPart[] => {
    const isOwn = level === header.depth - 1;
    const repeats =
      before !== undefined && samePath(before.path.slice(0, level + 1), header.path.slice(0, level + 1)) && before.role !== 'subtotal';
    if (!isOwn && repeats && !props.exhibit.side.repeatLabels) return [];
    const { left, width: room } = levelColumns.value[level];
    const ancestor = { ...header, path: header.path.slice(0, level + 1), depth: level + 1, open: true, canOpen: true };
    const text = isOwn ? rowLabel(header) : header.labels[level];
    return [
      { text, left, width: room, toggle: isOwn ? (header.canOpen ? header : null) : repeats ? null : ancestor, indent: 0, room: !isOwn },
    ];
  });
  return [...parts, ...heading];
}
/** Which of two shades a line has, where members of a level are told apart by them. */
const bands = computed(() => {
  const depth = props.exhibit.banding ? props.exhibit.side.fields.indexOf(props.exhibit.banding) + 1 : 0;
  let band = false;
  let last = '';
  return props.cells.rows.map((header) => {
    if (depth === 0 || !header || header.depth < depth) return false;
    const key = header.path.slice(0, depth).join('/');
    if (key !== last) band = !band;
    last = key;
    return band;
  });
});
/** A total over a period that is not over yet is "to date". */
function columnLabel(header: Header): string {
  if (header.summary) return SUMMARY_WORDS[header.summary];
  if (header.others !== undefined) return othersWords(header);
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

/** The order of the rows: the reader's, or that of the outermost level. */
const sideOrder = computed(() => {
  const { fields, levels: settings, order } = props.exhibit.side;
  return props.state.side.order ?? settings[fields[0]]?.order ?? order;
});
/** Which way a column orders the rows now; null when it does not. */
function orderOf(header: Header | undefined, measure: string): 'asc' | 'desc' | null {
  const order = sideOrder.value;
  if (order.by !== 'measure' || order.measure !== measure || !header || header.summary) return null;
  return samePath(header.path, order.at) ? order.direction : null;
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
  const order = sideOrder.value;
  emit('order', 'side', { by: 'label', direction: order.by === 'label' && order.direction === 'asc' ? 'desc' : 'asc' });
}
const labelOrder = computed(() => (sideOrder.value.by === 'label' ? sideOrder.value.direction : null));
const sideTitle = computed(() => {
  const places = props.exhibit.side.fields.map((field) => fieldPlace(dataset.value, field));
  const [first] = places;
  if (!first) return '';
  return first.kind === 'fact' ? first.field.label : first.dimension.label;
});

// The chosen cell, and the one that has the keyboard -------------------------------------------------------------------
/** Row, and flattened column: -1 stands on the row's label. */
const focus = ref({ row: 0, column: -1 });
const width = beside;
const lastColumn = computed(() => props.cells.columnCount * width.value - 1);
const active = computed(() => `${id}-${focus.value.row}-${focus.value.column}`);

function samePath(a: readonly (string | null)[], b: readonly (string | null)[]): boolean {
  return a.length === b.length && a.every((member, index) => member === b[index]);
}
/** Stands for "the keyboard, or the choice, is in another row". */
const NOT_HERE = -2;
/** The flattened column of the chosen cell in a row. */
function chosenIn(line: number): number {
  const { cell } = props.state;
  const header = headerAt(line);
  if (!cell || !header || header.summary || !samePath(cell.side, header.path)) return NOT_HERE;
  const column = props.cells.columns.findIndex((one) => one && !one.summary && samePath(one.path, cell.top));
  const measure = measures.value.findIndex(({ name }) => name === cell.measure);
  if (column < 0 || measure < 0 || (stacked.value && measure !== line % lines.value)) return NOT_HERE;
  return column * width.value + (stacked.value ? 0 : measure);
}
function choose(row: number, column: number): void {
  focus.value = { row, column };
  const [header, top] = [headerAt(row), props.cells.columns[Math.floor(column / width.value)]];
  // A summary is worked out of other figures: there is nothing behind it to be told.
  if (header && top && column >= 0 && !header.summary && !top.summary)
    emit('choose', { side: header.path, top: top.path, measure: measures.value[measureAt(row, column)].name });
}

/** After the rows changed, the keyboard stays on the member it was on. */
let focusedPath: readonly (string | null)[] = [];
watch(focus, ({ row }) => (focusedPath = headerAt(row)?.path ?? []));
watch(
  () => props.cells,
  (cells, before) => {
    if (cells.key === before.key) return;
    const row = cells.rows.findIndex((header) => header && samePath(header.path, focusedPath));
    focus.value = {
      row: row >= 0 ? row * lines.value : Math.min(focus.value.row, rowCount.value - 1),
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
  if (row >= 0) rowVirtualizer.value.scrollToIndex(row * lines.value, { align: 'auto' });
  if (column >= 0) columnVirtualizer.value.scrollToIndex(column, { align: 'auto' });
}
let lastWidth = 0;
useResizeObserver(scroller, ([{ contentRect }]) => {
  if (contentRect.width !== lastWidth) showChosen();
  lastWidth = contentRect.width;
});

function move(row: number, column: number): void {
  const next = { row: Math.max(0, Math.min(rowCount.value - 1, row)), column: Math.max(-1, Math.min(lastColumn.value, column)) };
  focus.value = next;
  rowVirtualizer.value.scrollToIndex(next.row, { align: 'auto' });
  if (next.column >= 0) columnVirtualizer.value.scrollToIndex(Math.floor(next.column / width.value), { align: 'auto' });
  else if (scroller.value) scroller.value.scrollLeft = 0;
  void nextTick(() => next.column >= 0 && props.state.cell !== null && choose(next.row, next.column));
}

function onKey(event: KeyboardEvent): void {
  if (event.ctrlKey || event.metaKey || event.altKey || (event.target as HTMLElement).closest('.grid-head')) return;
  const { row, column } = focus.value;
  const header = headerAt(row);
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
    measure: onLabel ? null : measures.value[measureAt(row, column)].name,
  });
}

/** A hairline parts the top-level groups. */
const startsGroup = (line: number): boolean => {
  if (line === 0 || line % lines.value > 0) return false;
  const header = headerAt(line);
  if (!asColumns.value) return (header?.depth ?? 2) <= 1;
  return header?.path[0] !== headerAt(line - lines.value)?.path[0];
};

// Widths are drawn at the right edge of a heading, or set with the arrow keys there. ---------------------------------
function beginResize(what: string, width: number, event: PointerEvent): void {
  const handle = event.currentTarget as HTMLElement;
  handle.setPointerCapture(event.pointerId);
  const start = event.clientX;
  const at = (move: PointerEvent): number => Math.round(Math.max(30, Math.min(800, width + move.clientX - start)));
  const draw = (move: PointerEvent): void => void (drawnWidths.value = { [what]: at(move) });
  const end = (move: PointerEvent): void => {
    handle.removeEventListener('pointermove', draw);
    drawnWidths.value = {};
    if (move.clientX !== start) emit('resize', what, at(move));
  };
  handle.addEventListener('pointermove', draw);
  handle.addEventListener('pointerup', end, { once: true });
}
function resizeByKey(what: string, width: number, event: KeyboardEvent): void {
  const step = { ArrowLeft: -8, ArrowRight: 8 }[event.key];
  if (step === undefined) return;
  event.preventDefault();
  event.stopPropagation();
  emit('resize', what, Math.max(30, Math.min(800, width + step)));
}

defineExpose({ focusGrid: () => scroller.value?.querySelector<HTMLElement>('[role=treegrid]')?.focus() });
</script>

<template>
  <div
    ref="scroller"
    class="scroller"
    :class="[`style-${exhibit.style}`, { loose: !exhibit.freeze }]"
    :style="exhibit.height ? { maxHeight: `${Math.max(120, exhibit.height - 90)}px` } : undefined"
  >
    <div
      class="grid"
      role="treegrid"
      tabindex="0"
      :aria-label="exhibit.title"
      :aria-rowcount="rowCount + levels + 1"
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
              {{ asColumns ? levelColumns[0].heading : sideTitle }} <span v-if="labelOrder === 'desc'" aria-hidden="true">↑</span>
            </button>
            <template v-if="asColumns">
              <span
                v-for="column in levelColumns.slice(1)"
                :key="column.left"
                class="level-title"
                :style="{ left: `${column.left + 8}px` }"
                >{{ column.heading }}</span
              >
            </template>
            <span
              v-if="composing && !asColumns"
              class="resize"
              role="separator"
              aria-orientation="vertical"
              aria-label="Width of the labels"
              :aria-valuenow="labelWidth"
              tabindex="0"
              @pointerdown.stop="beginResize('label', labelWidth, $event)"
              @dblclick.stop="emit('resize', 'label', null)"
              @keydown="resizeByKey('label', labelWidth, $event)"
            />
          </div>
          <template v-for="column in shownColumns" :key="column.index">
            <div
              v-for="(measure, index) in stacked ? measures.slice(0, 1) : measures"
              :key="measure.name"
              role="columnheader"
              class="measure"
              :class="{ wrapped: ownWidth(String(index)) !== undefined }"
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
                v-if="cells.columns[column.index] && !stacked"
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
              <span
                v-if="composing && column.index === 0"
                class="resize"
                role="separator"
                aria-orientation="vertical"
                :aria-label="`Width of ${measure.heading}`"
                :aria-valuenow="measureWidths[index]"
                tabindex="0"
                @pointerdown.stop="beginResize(String(index), measureWidths[index], $event)"
                @dblclick.stop="emit('resize', String(index), null)"
                @keydown="resizeByKey(String(index), measureWidths[index], $event)"
              />
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
          :measures="stacked ? singles[item.index % lines] : measures"
          :first-measure="stacked ? item.index % lines : 0"
          :member="memberRow(item.index)"
          :offsets="measureOffsets"
          :parts="labelParts(item.index)"
          :blank="exhibit.blank"
          :band="bands[memberRow(item.index)] ?? false"
          :side-width="sideWidth"
          :column-width="columnWidth"
          :width="totalWidth"
          :top="headHeight + item.index * ROW_HEIGHT"
          :row-index="item.index + levels + 2"
          :starts-group="startsGroup(item.index)"
          :chosen="chosenIn(item.index)"
          :focused="focus.row === item.index ? focus.column : NOT_HERE"
          :id-base="id"
          @toggle="emit('toggle', 'side', $event)"
          @label="focus = { row: item.index, column: -1 }"
          @choose="choose(item.index, $event)"
        />
      </div>
    </div>
    <span class="visually-hidden" role="status">{{ `${exhibit.title}: ${rowCount} rows` }}</span>
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
.measure.wrapped .order {
  white-space: normal;
  line-height: 1.05;
  max-height: 28px;
  overflow: hidden;
  text-align: right;
}
.level-title {
  position: absolute;
}
.resize {
  position: absolute;
  top: 3px;
  bottom: 3px;
  right: -4px;
  width: 9px;
  cursor: col-resize;
  touch-action: none;
}
.resize:hover,
.resize:focus-visible {
  background: linear-gradient(var(--sea), var(--sea)) center / 2px 100% no-repeat;
}
.loose .grid-head,
.loose .corner,
.loose .side-title,
.loose :deep(.label) {
  position: relative;
}
.loose .corner {
  position: absolute;
}
.style-ledger :deep(.row)::after {
  content: '';
  position: absolute;
  inset: auto 0 0;
  border-bottom: 1px solid var(--rule-2);
}
.style-ledger .grid-head,
.style-ledger .corner {
  background: var(--sheet);
}
.style-open {
  border-bottom-color: transparent;
}
.style-open .corner,
.style-open .group-rule.top {
  border-top-color: transparent;
}
.style-open .segment {
  border-bottom-color: transparent;
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
