<script setup lang="ts">
import { LOCALE } from '@bold-compass/core/format';
import { chartHeight, isNamedAtEnds } from '@bold-compass/charts';
import { chartResponseSchema, commonScaleSchema, type ChartRequest } from '@bold-compass/core/api';
import {
  axisDrawing,
  chartFigure,
  chartKindOf,
  chartWords,
  drawnSeries,
  figureUnits,
  legendSeries,
  noteWords,
  notesBelow,
  periodWords,
  shadeKey,
  shownChart,
  type ChartFamily,
  type ChartFigure,
  type ShownChart,
} from '@bold-compass/core/chart';
import { pathKey, type OpenState } from '@bold-compass/core/crosstab';
import { asCrosstab, fieldPlural, measureNamed, sectionScalesSchema, type Chart, type ChartSettings } from '@bold-compass/core/model';
import { steppedWith } from '@bold-compass/core/exhibits';
import { openSteps } from '@bold-compass/core/table';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { computed, onBeforeUnmount, ref, useTemplateRef, watch, watchEffect } from 'vue';
import { ask } from '../api/client.ts';
import CrosstabExhibit from '../crosstab/CrosstabExhibit.vue';
import { useReport } from '../report/context.ts';
import ExhibitShell from '../report/ExhibitShell.vue';
import { useFigures, useFollow } from '../report/figures.ts';
import ExhibitState from '../report/ExhibitState.vue';
import { cellQuery, openQuery, readCrosstabState, toggled, type ChosenCell } from '../report/url-state.ts';
import { crosstabFile } from '../report/table-files.ts';
import FileDownload from '../shell/FileDownload.vue';
import InlineChoices from '../shell/InlineChoices.vue';
import { saveBlob } from '../shell/save-file.ts';
import type { FileChoice } from '../shell/use-file.ts';
import ChartCanvas from './ChartCanvas.vue';
import ChartLegend from './ChartLegend.vue';
import ForecastTable from './ForecastTable.vue';
import PeriodPlayer from './PeriodPlayer.vue';
import ShadeKey from './ShadeKey.vue';
import { useSectionScales } from '../sections/section-scales.ts';
import { tileServerQuestion } from './tile-server-query.ts';
import { shownFigures } from './shown-figures.ts';

const props = defineProps<{ exhibit: Chart; number: number }>();
const { report, asked, draft, versionOf, view, composing, change, navigate, fill, address } = useReport();

const figures = useFigures();
const followLink = useFollow();

/** The exhibit whose open members it shows: itself, or the cross-tab that it stays in step with. */
const opened = computed(() => steppedWith(report.value.exhibits, props.exhibit) ?? props.exhibit);
const state = computed(() => ({
  ...readCrosstabState(opened.value, address.value),
  cell: readCrosstabState(props.exhibit, address.value).cell,
}));
const question = computed((): ChartRequest => {
  const { side, top } = state.value;
  return { ...asked.value, draft: draft.value, side, top };
});
/** How high small multiples are, in pixels. */
const PANEL_HEIGHT = 170;
const hasValues = computed(() => props.exhibit.cells.length > 0);
const { data, error, refetch, isFetching, isPlaceholderData } = useQuery({
  queryKey: computed(() => ['chart', report.value.id, versionOf(props.exhibit.id), props.exhibit.id, question.value]),
  queryFn: async ({ signal }) => {
    const { exhibit } = props;
    const path = `/reports/${report.value.id}/exhibits/${exhibit.id}/chart`;
    return { exhibit, answer: await ask(chartResponseSchema, 'POST', path, question.value, signal) };
  },
  enabled: hasValues,
  placeholderData: keepPreviousData,
  // Thousands of values are not watched one by one.
  shallow: true,
});

/** Charts of parts and flows have no scale that their figures could be read from. */
const SHARES_SCALES: readonly ChartFamily[] = ['axis', 'points', 'places'];
/** Between which values it lies in all sections, where it is in one and these have their scales in common. */
const sectionScales = useSectionScales();
const canShareScale = computed(
  () =>
    sectionScales !== null &&
    !composing.value &&
    SHARES_SCALES.includes(chartKindOf(props.exhibit.chart.kind).family) &&
    !props.exhibit.follows,
);
const isCommon = computed(() => canShareScale.value && sectionScales?.scales.value === 'common');
const scaleQuestion = computed(() => ({ ...question.value, ...sectionScales?.askedOfAll.value, field: sectionScales?.field.value ?? '' }));
const { data: beyond, error: scaleProblem } = useQuery({
  queryKey: computed(() => ['common scale', report.value.id, versionOf(props.exhibit.id), props.exhibit.id, scaleQuestion.value]),
  queryFn: ({ signal }) =>
    ask(commonScaleSchema, 'POST', `/reports/${report.value.id}/exhibits/${props.exhibit.id}/common-scale`, scaleQuestion.value, signal),
  enabled: isCommon,
});

/** Series that the reader hid, as the address holds them. */
const HIDDEN_KEY = computed(() => `${props.exhibit.id}.hidden`);
const hidden = computed((): ReadonlySet<string> => new Set([address.value[HIDDEN_KEY.value] ?? []].flat().filter((key) => key !== null)));
const hide = (keys: ReadonlySet<string>): void => navigate({ [HIDDEN_KEY.value]: keys.size > 0 ? [...keys] : undefined }, 'rewrite');
/** The figures of the last answer, drawn as the exhibit says now. */
const whole = computed((): ChartFigure | null => {
  if (!data.value) return null;
  const { exhibit, answer } = data.value;
  const own = chartFigure(view.value.dataset, { ...exhibit, chart: props.exhibit.chart }, answer, {
    locale: LOCALE,
    dataTo: view.value.dataTo,
  });
  return { ...own, beyond: isCommon.value ? (beyond.value ?? null) : null };
});
/** The period that is shown while it plays; what it stays at is in the address. */
const PERIOD_KEY = computed(() => `${props.exhibit.id}.period`);
const playedTo = ref<number | null>(null);
watch(
  () => address.value[PERIOD_KEY.value],
  () => (playedTo.value = null),
);
/** The chart as it is drawn for this reader. */
const shown = computed((): ShownChart | null => {
  const named = address.value[PERIOD_KEY.value];
  const period = typeof named === 'string' ? named : undefined;
  return whole.value && shownChart(whole.value, props.exhibit.chart, { hidden: hidden.value, period }, playedTo.value);
});
const misfit = computed(() => shown.value?.misfit ?? null);
const logarithm = computed(() => shown.value?.logarithm ?? null);
const settings = computed((): ChartSettings => shown.value?.settings ?? props.exhibit.chart);
const periods = computed(() => shown.value?.periods ?? []);
const periodAt = computed(() => shown.value?.periodAt ?? 0);
const figure = computed((): ChartFigure | null => shown.value?.figure ?? null);
/** The chosen cell as it is in the period that is shown. */
const chosen = computed((): ChosenCell | null => {
  const { cell } = state.value;
  const period = figure.value?.period;
  return cell && period ? { ...cell, top: [period.member, ...cell.top.slice(1)] } : cell;
});
// Settings of series and points speak of what is shown, whatever the reader hid.
watchEffect(() => {
  if (composing.value && whole.value) shownFigures.set(props.exhibit.id, shown.value?.composed[periodAt.value] ?? whole.value);
});
onBeforeUnmount(() => shownFigures.delete(props.exhibit.id));
function stopAt(at: number): void {
  playedTo.value = at;
  const { member } = periods.value[at];
  const { cell } = state.value;
  const query = cell ? cellQuery(props.exhibit, { ...cell, top: [member, ...cell.top.slice(1)] }) : {};
  navigate({ ...query, [PERIOD_KEY.value]: member ?? '' }, 'rewrite');
}
const panels = computed(() => shown.value?.panels ?? null);

const measures = computed(() => data.value?.exhibit.cells.map(({ measure }) => measure) ?? []);
const warns = computed(() => {
  const [first] = measures.value;
  return first !== undefined && measureNamed(view.value.dataset, first).direction === 'higher';
});
const units = computed(() => (figure.value ? figureUnits(figure.value) : ''));
const words = computed(() =>
  figure.value ? [chartWords(figure.value), ...noteWords(figure.value, settings.value.notes, measures.value)].join(' ') : '',
);
const legend = computed(() => {
  if (!whole.value || !figure.value || panels.value) return [];
  const own = legendSeries({ ...(shown.value?.composed[0] ?? whole.value), kind: settings.value.kind }, settings.value.map);
  return own.length > 1 && settings.value.legend !== 'none' && !isNamedAtEnds(axisDrawing(figure.value).series, settings.value) ? own : [];
});
/** What trends and forecasts say, under the chart. */
const notes = computed(() => [
  ...(shown.value ? notesBelow(shown.value) : []),
  ...(isCommon.value && scaleProblem.value ? [`On its own scale. ${scaleProblem.value.message}`] : []),
]);
/** The measures that are shown by colour and by size, where the chart has a key to these. */
const key = computed(() => shadeKey(settings.value, figure.value?.shape.hasSeriesField ?? false));
const hasTiles = computed(() => chartKindOf(settings.value.kind).family === 'places' && settings.value.map.tiles);
const { data: tileServer } = useQuery({ ...tileServerQuestion, enabled: hasTiles });
const height = computed(() => (figure.value ? chartHeight(figure.value, props.exhibit.height, legend.value.length > 0) : 240));
/** What is drawn: the chart itself, or one for each member. */
const drawnCharts = computed(() => {
  if (panels.value)
    return panels.value.map((panel) => ({ ...panel, height: PANEL_HEIGHT, words: `${panel.label}. ${chartWords(panel.figure)}` }));
  return figure.value ? [{ label: '', figure: figure.value, height: height.value, words: words.value }] : [];
});
const isEmpty = computed(() => figure.value !== null && figure.value.series.every(({ values }) => values.every((value) => value === null)));

const canvases = useTemplateRef<InstanceType<typeof ChartCanvas>[]>('canvases');
async function savePicture(as: 'png' | 'svg'): Promise<void> {
  const canvas = canvases.value?.[0];
  const picture = await (as === 'png' ? canvas?.picture() : canvas?.vectors());
  if (picture) saveBlob(`${fill(props.exhibit.title)}.${as}`, picture);
}
const files = computed((): FileChoice[] => {
  const { dataset, dataTo } = view.value;
  const table = { dataset, exhibit: asCrosstab(props.exhibit), dataTo };
  const path = `/reports/${report.value.id}/exhibits/${props.exhibit.id}/crosstab`;
  const name = fill(props.exhibit.title);
  const rows: FileChoice['rows'] = (signal, progress) => crosstabFile(table, path, question.value, signal, progress);
  return [
    { title: 'Figures, CSV', name, rows },
    { title: 'Copy figures', name, to: 'clipboard', rows },
  ];
});

const choose = (cell: ChosenCell | null): void => void figures.choose(props.exhibit, cell);
function follow(cell: ChosenCell): void {
  const { side, top } = readCrosstabState(props.exhibit, address.value);
  void followLink({ exhibit: props.exhibit, cell, dataset: view.value.dataset, viewState: { side, top } }, 'cells');
}
/** Shows what is below a member alone: it, and all that it is in, stand open, and nothing else. */
function openBelow(path: readonly (string | null)[]): void {
  if (opened.value.id !== props.exhibit.id) {
    // In step with a table, a member opens there as its toggle opens it.
    if (path.length > 0) navigate(openQuery(opened.value, 'side', toggled(state.value.side.open, [...path])), 'step');
    return;
  }
  const open: OpenState = { depth: 0, exceptions: path.map((_, level) => pathKey(path.slice(0, level + 1))) };
  navigate(path.length > 0 ? openQuery(opened.value, 'side', open) : { [`${opened.value.id}.side`]: undefined }, 'step');
}
const root = computed(() => figure.value?.root ?? { path: [], labels: [] });
const allWords = computed(() => {
  const [first] = props.exhibit.side.fields;
  return first ? `All ${fieldPlural(view.value.dataset, first)}` : 'All';
});
/** The chosen member, where it has members below it. */
const openable = computed(() => {
  const { cell } = state.value;
  if (!cell) return null;
  const found = figure.value?.categories.find(({ header }) => header?.canOpen && pathKey(header.path) === pathKey(cell.side));
  return found?.header ? { label: found.label, path: found.header.path } : null;
});
const steps = computed(() => openSteps(view.value.dataset, props.exhibit.side.fields));
const foldTo = (depth: number): void => navigate(openQuery(opened.value, 'side', { depth, exceptions: [] }), 'step');
const isAtDepth = (depth: number): boolean => state.value.side.open.depth === depth && state.value.side.open.exceptions.length === 0;

const VIEW_KEY = computed(() => `${props.exhibit.id}.as`);
const isTable = computed(() => address.value[VIEW_KEY.value] === 'table');
const showAs = (table: boolean): void => navigate({ [VIEW_KEY.value]: table ? 'table' : undefined }, 'rewrite');
const takeLinear = (): void => change({ ...props.exhibit, chart: { ...props.exhibit.chart, ...logarithm.value?.linear } });
const takeBetter = (): void => change({ ...props.exhibit, chart: { ...props.exhibit.chart, ...misfit.value?.better } });
</script>

<template>
  <div v-if="isTable" class="as-table">
    <v-btn variant="plain" class="inline back-to-chart" @click="showAs(false)">Show chart</v-btn>
    <CrosstabExhibit :exhibit="asCrosstab(exhibit)" :number="number" />
    <ForecastTable v-if="figure && exhibit.chart.forecast" :figure="figure" :interval="exhibit.chart.forecast.interval" />
  </div>
  <ExhibitShell
    v-else
    :id="exhibit.id"
    :title="exhibit.title"
    :number="number"
    :about="[units]"
    :note="exhibit.note"
    :state="!hasValues ? 'shown' : !figure ? 'loading' : isEmpty ? 'empty' : 'shown'"
    loading="Calculating the chart"
    :problem="error"
    :waiting="isFetching"
    @retry="refetch()"
  >
    <template #tools>
      <div class="tools">
        <span v-if="root.path.length > 0" class="fold" role="group" aria-label="Opened member">
          <v-btn variant="plain" class="inline" @click="openBelow([])">{{ allWords }}</v-btn>
          <template v-for="(label, level) in root.labels" :key="level">
            <span aria-hidden="true">›</span>
            <v-btn v-if="level < root.labels.length - 1" variant="plain" class="inline" @click="openBelow(root.path.slice(0, level + 1))">{{
              label
            }}</v-btn>
            <strong v-else>{{ label }}</strong>
          </template>
        </span>
        <InlineChoices
          v-else-if="steps.length > 1"
          label="Level"
          :choices="steps.map(({ label, depth }) => ({ value: depth, title: label }))"
          :is-chosen="isAtDepth"
          @choose="foldTo"
        />
        <InlineChoices
          v-if="canShareScale && sectionScales"
          label="Scale"
          words="Scale"
          :choices="sectionScalesSchema.options.map((value) => ({ value, title: value }))"
          :is-chosen="(scales) => scales === sectionScales?.scales.value"
          @choose="sectionScales.choose"
        />
        <v-btn v-if="openable" variant="plain" class="inline" @click="openBelow(openable.path)">Open {{ openable.label }}</v-btn>
        <v-btn v-if="opened.id === exhibit.id" variant="plain" class="inline" @click="showAs(true)">Table</v-btn>
        <FileDownload v-if="figure && !isEmpty && !composing" :choices="files" :label="`Download ${fill(exhibit.title)}`">
          <template v-if="drawnCharts.length === 1" #first>
            <v-list-item title="Picture, PNG" @click="savePicture('png')" />
            <v-list-item title="Picture, SVG" @click="savePicture('svg')" />
          </template>
        </FileDownload>
      </div>
    </template>
    <ExhibitState v-if="!hasValues" kind="empty" title="No measure is drawn yet" message="Add one under “Values”." />
    <ExhibitState
      v-else-if="figure && drawnSeries(figure).length === 0"
      kind="empty"
      title="All series are hidden"
      message="Show one under “Series” in the settings of the chart."
    />
    <template v-else-if="figure">
      <p v-if="misfit && (composing || misfit.isImpossible)" class="misfit" role="status">
        {{ misfit.words }}
        <v-btn v-if="composing" variant="plain" class="inline" @click="takeBetter">
          {{ misfit.better.kind ? `Change to ${chartKindOf(misfit.better.kind).label.toLowerCase()}` : 'Change to grouped' }}
        </v-btn>
      </p>
      <p v-if="logarithm" class="misfit" role="status">
        {{ logarithm.words }}
        <v-btn v-if="composing" variant="plain" class="inline" @click="takeLinear">Change to linear</v-btn>
      </p>
      <div class="drawing" :class="[{ waiting: isPlaceholderData }, `legend-${settings.legend}`]">
        <ChartLegend
          v-if="legend.length > 0"
          :series="legend"
          :hidden="hidden"
          :in-patterns="settings.style === 'monochrome'"
          @show="hide"
        />
        <PeriodPlayer
          v-if="figure.period"
          :periods="periods"
          :at="periodAt"
          :words="periodWords(figure)"
          :exhibit="fill(exhibit.title)"
          @move="playedTo = $event"
          @stop="stopAt"
        />
        <div class="charts" :class="{ panels }">
          <figure v-for="drawn in drawnCharts" :key="drawn.label">
            <figcaption v-if="drawn.label">{{ drawn.label }}</figcaption>
            <ChartCanvas
              ref="canvases"
              :figure="drawn.figure"
              :settings="settings"
              :measures="measures"
              :warns="warns"
              :chosen="chosen"
              :height="drawn.height"
              :words="drawn.words"
              @choose="choose"
              @follow="follow"
              @open="openBelow($event.side)"
              @back="openBelow(root.path.slice(0, -1))"
            />
          </figure>
        </div>
        <ul v-if="notes.length > 0" class="notes muted">
          <li v-for="line in notes" :key="line">{{ line }}</li>
        </ul>
        <p v-if="hasTiles && tileServer?.isSet && tileServer.attribution" class="attribution muted">{{ tileServer.attribution }}</p>
        <ShadeKey v-if="key" :figure="figure" :settings="settings" v-bind="key" />
      </div>
    </template>
  </ExhibitShell>
</template>

<style scoped>
.exhibit :deep(> header) {
  border-top: 2px solid var(--ink);
  padding-top: 6px;
}
.tools {
  margin-left: auto;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 16px;
  font-size: 12.5px;
}
.fold {
  display: inline-flex;
  align-items: center;
  gap: 7px;
}
.as-table {
  position: relative;
}
.back-to-chart {
  position: absolute;
  right: 0;
  top: -20px;
}
.misfit {
  margin: 4px 0;
  font-size: 13px;
  color: var(--ink-2);
}
.drawing.legend-bottom,
.drawing.legend-right {
  display: flex;
  flex-direction: column-reverse;
}
.drawing.legend-right {
  flex-direction: row-reverse;
}
.drawing.legend-right > .charts {
  flex: 1;
}
.drawing.legend-right > :deep(.series) {
  flex-direction: column;
  flex: 0 0 auto;
  max-width: 35%;
}
.notes {
  list-style: none;
  margin: 4px 0 0;
  padding: 0;
  font-size: 12.5px;
}
.attribution {
  font-size: 12px;
  margin: 2px 0 0;
}
.panels {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(min(210px, 100%), 1fr));
  gap: 8px 18px;
}
.charts figure {
  margin: 0;
  min-width: 0;
}
.charts figcaption {
  font-size: 13px;
  font-weight: 600;
  border-bottom: 1px solid var(--rule);
}
</style>
