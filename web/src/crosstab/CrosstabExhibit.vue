<script setup lang="ts">
import type { CrosstabRequest, Header } from '@bold-compass/core/api';
import type { OpenState } from '@bold-compass/core/crosstab';
import { LOCALE, unitWords } from '@bold-compass/core/format';
import { isCellExhibit, measureNamed, type CellExhibit, type Crosstab, type LinkPlace } from '@bold-compass/core/model';
import { canChoose, crosstabLegend, openSteps } from '@bold-compass/core/table';
import { computed, defineAsyncComponent, ref, shallowRef, watch } from 'vue';
import { useReport } from '../report/context.ts';
import ExhibitShell from '../report/ExhibitShell.vue';
import { useFigures, useFollow } from '../report/figures.ts';
import ExhibitState from '../report/ExhibitState.vue';
import { emptyQuery, openQuery, orderQuery, readCrosstabState, toggled, type ChosenCell, type Orders } from '../report/url-state.ts';
import { readWidths, widthQuery, withReaderWidths } from '../report/reader-widths.ts';
import { crosstabFile, crosstabRecordsFile } from '../report/table-files.ts';
import FileDownload from '../shell/FileDownload.vue';
import InlineChoices from '../shell/InlineChoices.vue';
import type { FileChoice } from '../shell/use-file.ts';
import CrosstabGrid from './CrosstabGrid.vue';
import CrosstabLegend from './CrosstabLegend.vue';
import { useWindows, type Question, type Viewport } from './windows.ts';

const TooLarge = defineAsyncComponent(() => import('../compose/TooLarge.vue'));
const HeadingMenu = defineAsyncComponent(() => import('../compose/HeadingMenu.vue'));
const RowMeasureMenu = defineAsyncComponent(() => import('../compose/RowMeasureMenu.vue'));
const RowMenu = defineAsyncComponent(() => import('./RowMenu.vue'));
const MemberMenu = defineAsyncComponent(() => import('../compose/MemberMenu.vue'));
const props = defineProps<{ exhibit: Crosstab; number: number }>();
const { report, asked, draft, versionOf, view, composing, change, navigate, fill, address } = useReport();

const figures = useFigures();
const followLink = useFollow();

const state = computed(() => readCrosstabState(props.exhibit, address.value));
const viewport = ref<Viewport>({ firstRow: 0, lastRow: 40, firstColumn: 0, lastColumn: 12 });
const path = computed(() => `/reports/${report.value.id}/exhibits/${props.exhibit.id}/crosstab`);
const question = computed((): Question => ({
  ...asked.value,
  draft: draft.value,
  side: axisQuestion('side'),
  top: axisQuestion('top'),
}));

/** What is asked of an axis: what stands open there, and in which order. */
function axisQuestion(which: 'side' | 'top'): CrosstabRequest['side'] {
  return { open: state.value[which].open, order: state.value[which].order, hideEmpty: state.value[which].hideEmpty };
}

const version = computed(() => versionOf(props.exhibit.id));
const { cells, waiting, problem, retry } = useWindows(path, version, question, viewport);
/** The cross-tab that the cells are of: while a change is on its way, the old one stays whole. */
const drawn = shallowRef(props.exhibit);
watch(cells, () => (drawn.value = props.exhibit), { flush: 'sync' });
/** With the widths that the reader drew. */
const widened = computed(() => {
  const widths = composing.value ? {} : readWidths(address.value, props.exhibit.id);
  return { ...drawn.value, widths: withReaderWidths(drawn.value.widths, widths) };
});
/** While composing, what is huge is told before it is drawn. */
const MOST_COLUMNS = 100;
const MOST_ROWS = 5_000;
const drawnAnyway = ref('');
const shape = computed(() =>
  JSON.stringify([props.exhibit.side.fields, props.exhibit.top.fields, props.exhibit.side.levels, props.exhibit.top.levels]),
);
const huge = computed((): 'side' | 'top' | null => {
  if (!composing.value || !cells.value || drawnAnyway.value === shape.value) return null;
  return cells.value.columnCount > MOST_COLUMNS ? 'top' : cells.value.rowCount > MOST_ROWS ? 'side' : null;
});
/** Changes the exhibit as it stands in the document: measures that are counted in another way are written in full here. */
function changeOwn(part: (own: CellExhibit) => Partial<Pick<CellExhibit, 'cells' | 'widths'>>): void {
  const own = report.value.exhibits.find((one): one is CellExhibit => isCellExhibit(one) && one.id === props.exhibit.id);
  if (own) change({ ...own, ...part(own) });
}
function resize(what: string, width: number | null): void {
  if (!composing.value) return navigate(widthQuery(address.value, props.exhibit.id, what, width), 'rewrite');
  const widths = Object.fromEntries(Object.entries(props.exhibit.widths).filter(([key]) => key !== what));
  changeOwn(() => ({ widths: width === null ? widths : { ...widths, [what]: width } }));
}
const rename = (measure: number, heading: string): void =>
  changeOwn(({ cells: all }) => ({
    cells: all.map((cell, index) => (index === measure ? { ...cell, heading: heading || undefined } : cell)),
  }));

/** Where the menu of a figure is open. */
const menu = shallowRef<{ x: number; y: number; row: Header; measure: number } | null>(null);

/** Where the menu of a member is open. */
const memberMenu = shallowRef<{ x: number; y: number; edge: 'side' | 'top'; header: Header } | null>(null);
const headingMenu = shallowRef<{ x: number; y: number; measure: number } | null>(null);

/** The unit of every figure; where measures have different ones, their headings say them. */
const units = computed(() => {
  const words = props.exhibit.cells.map((cell) => unitWords(cell.format ?? measureNamed(view.value.dataset, cell.measure).format, LOCALE));
  return new Set(words).size > 1 ? '' : words[0];
});

const setOpen = (which: 'side' | 'top', open: OpenState): void => navigate(openQuery(props.exhibit, which, open), 'step');
const toggle = (which: 'side' | 'top', header: Header): void => setOpen(which, toggled(state.value[which].open, header.path));
const foldTo = (which: 'side' | 'top', depth: number): void => setOpen(which, { depth, exceptions: [] });
const choose = (cell: ChosenCell | null): void => void figures.choose(props.exhibit, cell);
/** A click on a number that is chosen follows its first link; one on a label that leads somewhere does so at once. */
function follow(cell: ChosenCell, from: LinkPlace): void {
  const { side, top } = state.value;
  void followLink({ exhibit: props.exhibit, cell, dataset: view.value.dataset, viewState: { side, top } }, from);
}
const order = (which: 'side' | 'top', value: Orders): void => navigate(orderQuery(props.exhibit, which, value), 'step');
const switchEmpty = (which: 'side' | 'top'): void => navigate(emptyQuery(props.exhibit, state.value, which), 'step');

/** Opens, or closes, all members of the level that a row is on; the others stay as they are. */
function toggleLevel(header: Header): void {
  const { open } = state.value.side;
  const rest = open.exceptions.filter((key) => key !== '' && key.split('/').length < header.depth);
  if (!header.open) setOpen('side', { depth: Math.max(open.depth, header.depth), exceptions: open.depth < header.depth ? [] : rest });
  else setOpen('side', { depth: header.depth - 1, exceptions: rest });
}

function onKey(event: KeyboardEvent, at: { row: Header | undefined; column: Header | undefined; measure: string | null }): void {
  const { row, column, measure } = at;
  const key = event.key.toLowerCase();
  if (key === 'e' && row?.canOpen) {
    if (event.shiftKey) toggleLevel({ ...row, open: false });
    else if (!row.open) toggle('side', row);
  } else if (key === 'c' && row?.open) toggle('side', row);
  else if (key === 'o' && measure && column)
    order('side', { by: 'measure', measure, at: column.path.filter((member): member is string => member !== null), direction: 'desc' });
  else if ((key === 'w' || event.key === 'Enter') && canChoose(row) && canChoose(column) && measure) {
    const cell = { side: row.path, top: column.path, measure };
    if (event.key === 'Enter') follow(cell, 'cells');
    else choose(cell);
  } else if (event.key === 'Escape') choose(null);
  else return;
  event.preventDefault();
}

const depthShown = (which: 'side' | 'top', depth: number): boolean =>
  state.value[which].open.depth === depth && state.value[which].open.exceptions.length === 0;
const EMPTY = [
  { value: 'side', title: 'rows' },
  { value: 'top', title: 'columns' },
] as const;
const axes = computed(() =>
  (['side', 'top'] as const)
    .map((which) => ({
      which,
      words: which === 'side' ? 'Expand rows to' : 'Expand columns to',
      steps: openSteps(view.value.dataset, props.exhibit[which].fields),
    }))
    .filter(({ steps }) => steps.length > 1),
);
const files = computed((): FileChoice[] => {
  const { exhibit } = props;
  const { dataset, dataTo } = view.value;
  const name = fill(exhibit.title);
  const table = { dataset, exhibit, dataTo };
  const records = path.value.replace(/crosstab$/, 'records');
  return [
    {
      ...{ title: 'Table as shown, CSV', name },
      rows: (signal, progress) => crosstabFile(table, path.value, question.value, signal, progress),
    },
    {
      ...{ title: 'Copy table', name, to: 'clipboard' },
      rows: (signal, progress) => crosstabFile(table, path.value, question.value, signal, progress),
    },
    {
      ...{ title: 'Its records, CSV', name: `${name} records` },
      rows: (signal, progress) =>
        crosstabRecordsFile(dataset, records, { ...asked.value, draft: draft.value }, exhibit.cells[0].measure, signal, progress),
    },
  ];
});
/** The members that are furthest off course come first, within each parent, by the last column. */
function worstFirst(measure: string): void {
  order('side', { by: 'measure', measure, at: [], direction: 'asc' });
}
const legend = computed(() => crosstabLegend(view.value.dataset, props.exhibit, LOCALE));
const isEmpty = computed(
  () =>
    cells.value !== null &&
    props.exhibit.cells.length > 0 &&
    cells.value.rowCount <= 1 &&
    cells.value.value(0, 0, 0) == null &&
    cells.value.rows[0]?.role === 'total',
);
</script>

<template>
  <ExhibitShell
    :id="exhibit.id"
    :title="exhibit.title"
    :number="number"
    :about="[units]"
    :note="exhibit.note"
    :state="!cells ? 'loading' : isEmpty ? 'empty' : 'shown'"
    loading="Calculating the cross-tab"
    :problem="problem"
    :waiting="waiting"
    @retry="retry()"
  >
    <template #tools>
      <div class="folds">
        <InlineChoices
          v-for="axis in axes"
          :key="axis.which"
          :label="axis.words"
          :words="axis.words"
          :choices="axis.steps.map(({ label, depth }) => ({ value: depth, title: label }))"
          :is-chosen="(depth) => depthShown(axis.which, depth)"
          @choose="foldTo(axis.which, $event)"
        />
        <InlineChoices
          label="Empty rows and columns"
          words="Show empty"
          :choices="EMPTY"
          :is-chosen="(which) => !state[which].hideEmpty"
          @choose="switchEmpty"
        />
        <FileDownload v-if="cells && !composing && exhibit.cells.length > 0" :choices="files" :label="`Download ${fill(exhibit.title)}`" />
      </div>
    </template>
    <template #progress><div class="progress" :class="{ running: waiting && cells }" aria-hidden="true" /></template>
    <template v-if="cells">
      <ExhibitState
        v-if="exhibit.cells.length === 0"
        kind="empty"
        title="No measure is in the cells yet"
        message="Add one under “In the cells”."
      />
      <TooLarge
        v-else-if="huge"
        :exhibit="exhibit"
        :rows="cells.rowCount"
        :columns="cells.columnCount"
        :edge="huge"
        :depth="state[huge].open.depth"
        @draw="drawnAnyway = shape"
      />
      <div v-else class="frame" :class="{ waiting }">
        <CrosstabGrid
          :exhibit="widened"
          :cells="cells"
          :state="state"
          :composing="composing"
          @toggle="toggle"
          @choose="choose"
          @follow="follow"
          @order="order"
          @viewport="viewport = $event"
          @key="onKey"
          @resize="resize"
          @rename="rename"
          @menu="menu = $event"
          @member-menu="memberMenu = $event"
          @heading-menu="headingMenu = $event"
        />
      </div>
    </template>
    <template #legend><CrosstabLegend v-if="legend.length > 0" :lines="legend" @order="worstFirst" /></template>
    <HeadingMenu
      v-if="headingMenu"
      :exhibit="exhibit"
      :index="headingMenu.measure"
      :target="[headingMenu.x, headingMenu.y]"
      @close="headingMenu = null"
    />
    <MemberMenu
      v-if="memberMenu && composing"
      :exhibit="exhibit"
      :edge="memberMenu.edge"
      :header="memberMenu.header"
      :target="[memberMenu.x, memberMenu.y]"
      @close="memberMenu = null"
    />
    <RowMenu
      v-else-if="memberMenu"
      :exhibit="exhibit"
      :header="memberMenu.header"
      :target="[memberMenu.x, memberMenu.y]"
      @close="memberMenu = null"
    />
    <RowMeasureMenu
      v-if="menu"
      :exhibit="exhibit"
      :index="menu.measure"
      :depth="menu.row.path.length"
      :target="[menu.x, menu.y]"
      @close="menu = null"
    />
  </ExhibitShell>
</template>

<style scoped>
.folds {
  margin-left: auto;
  display: flex;
  flex-wrap: wrap;
  gap: 2px 16px;
  font-size: 12.5px;
}
.progress {
  height: 2px;
  margin-bottom: -2px;
  position: relative;
  z-index: 6;
  overflow: hidden;
}
.progress.running::after {
  content: '';
  position: absolute;
  inset: 0 70% 0 0;
  background: var(--brass-line);
  animation: run 900ms linear infinite;
  animation-delay: 150ms;
}
@keyframes run {
  from {
    transform: translateX(-100%);
  }
  to {
    transform: translateX(330%);
  }
}
@media (max-width: 700px) {
  .folds {
    margin-left: 0;
  }
}
</style>
