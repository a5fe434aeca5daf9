<script setup lang="ts">
import {
  CHART_FONT,
  drawingOf,
  inStyle,
  newChart,
  nextPoint,
  type Chart,
  type ChartDrawing,
  type ChartTarget,
  type DrawChart,
  type PointAt,
} from '@bold-compass/charts';
import { chartKindOf, isLying, type ChartFigure } from '@bold-compass/core/chart';
import type { ChartSettings } from '@bold-compass/core/model';
import { useQueryClient } from '@tanstack/vue-query';
import { useElementSize, useElementVisibility, useEventListener, usePreferredReducedMotion } from '@vueuse/core';
import type { ChartEvent } from 'chart.js';
import { computed, onBeforeUnmount, ref, shallowRef, toRaw, useTemplateRef, watch } from 'vue';
import { useTheme } from 'vuetify';
import { ApiProblem } from '../api/client.ts';
import { useReport } from '../report/context.ts';
import type { ChosenCell } from '../report/url-state.ts';
import { mapSources } from './map-sources.ts';
import MapZoom from './MapZoom.vue';

import { canvasTokens } from '../theme/canvas-tokens.ts';
import { useMapView } from './use-map-view.ts';

/** One chart: what it draws, what is pointed at, and the way through its points by keys. */
const props = defineProps<{
  figure: ChartFigure;
  settings: ChartSettings;
  measures: readonly string[];
  warns: boolean;
  chosen: ChosenCell | null;
  height: number;
  /** What it says, for those who do not see it. */
  words: string;
}>();
const emit = defineEmits<{ choose: [cell: ChosenCell | null]; follow: [cell: ChosenCell]; open: [cell: ChosenCell]; back: [] }>();

const frame = useTemplateRef('frame');
const canvas = useTemplateRef('canvas');
const { width } = useElementSize(frame);
/** What is out of sight is not drawn. */
const isVisible = useElementVisibility(frame, { rootMargin: '200px' });
const theme = useTheme();
const fonts = ref(false);
// A canvas falls back to another font where it draws before the font is there.
void Promise.allSettled([document.fonts.load(`14px ${CHART_FONT}`), document.fonts.load(`600 14px ${CHART_FONT}`)]).then(
  () => (fonts.value = true),
);

/** What is printed is drawn at once, before the page is. */
const isPrinted = ref(false);
useEventListener(window, 'beforeprint', () => print(true));
useEventListener(window, 'afterprint', () => print(false));
function print(now: boolean): void {
  isPrinted.value = now;
  redraw();
}

const chart = shallowRef<Chart | null>(null);
const isMap = computed(() => chartKindOf(props.figure.kind).family === 'places');
const { view, zoomIn, zoomOut, fit, zoomTo, wasDragged } = useMapView(canvas, chart, () => isMap.value);

/** What draws the kind, as soon as it is there. */
const draws = shallowRef<{ kind: string; draw: DrawChart } | null>(null);
const problem = ref('');
const { report } = useReport();
const queries = useQueryClient();
watch(
  [() => props.figure.kind, () => JSON.stringify(props.settings.map)] as const,
  async ([kind]) => {
    problem.value = '';
    try {
      draws.value = { kind, draw: await drawingOf(kind, mapSources(queries, report.value.id, props.settings.map)) };
    } catch (failure) {
      draws.value = null;
      problem.value = failure instanceof ApiProblem ? failure.message : 'This chart could not be fetched. Reload the page.';
    }
  },
  { immediate: true },
);
const drawing = computed((): ChartDrawing | null => {
  if (!frame.value || !fonts.value || draws.value?.kind !== props.figure.kind || !isVisible.value || width.value < 40) return null;
  // Colours are those of the theme that is on.
  void theme.name.value;
  const { figure, measures, warns, chosen, height } = props;
  // What is drawn reads its settings for each point: they are not watched one by one.
  const settings = toRaw(props.settings);
  const tokens = canvasTokens(frame.value, props.settings.style);
  const drawn = { figure, settings, tokens, measures, width: width.value, height, warns, chosen, view: view.value };
  return inStyle(drawn, draws.value.draw(drawn), isPrinted.value);
});
/** So many names are listed; the table has all of them. */
const MOST_LISTED = 12;
const unnamed = computed(() => {
  const names = drawing.value?.unnamed ?? [];
  if (names.length === 0) return '';
  const more = names.length - MOST_LISTED;
  return `${drawing.value?.unnamedAs ?? 'Smaller'}: ${names.slice(0, MOST_LISTED).join(', ')}${more > 0 ? ` and ${more} more, in the table` : ''}`;
});
const targetAt = ({ dataset, index }: PointAt): ChartTarget | null => drawing.value?.targets[dataset]?.[index] ?? null;

/** What is shown period by period moves from one to the next, unless the reader wants nothing to move. In milliseconds. */
const MOVE = 220;
const wantsRest = usePreferredReducedMotion();
const moves = computed(() => {
  const { family } = chartKindOf(props.figure.kind);
  return props.figure.period !== null && wantsRest.value !== 'reduce' && (family === 'points' || family === 'axis');
});

function optionsOf({ config }: ChartDrawing): NonNullable<typeof config.options> {
  // A picture of many points is not moved from one place to another.
  const isMoved = moves.value && !config.data.datasets.some((dataset) => 'many' in dataset);
  const { ink, paper } = canvasTokens(frame.value!, props.settings.style);
  return {
    ...config.options,
    animation: isMoved ? { duration: MOVE, easing: 'linear' } : false,
    responsive: true,
    onClick: (event) => (wasDragged() ? undefined : choose(pointUnder(event))),
    onHover: (event) => {
      const target = pointUnder(event);
      const found = target && targetAt(target);
      if (canvas.value) canvas.value.style.cursor = found?.cell || found?.zoomsTo ? 'pointer' : 'default';
    },
    plugins: {
      ...config.options?.plugins,
      tooltip: {
        ...{ backgroundColor: ink, bodyColor: paper, displayColors: false, cornerRadius: 6, padding: 8, caretSize: 4 },
        bodyFont: { family: CHART_FONT, size: 13 },
        filter: ({ datasetIndex, dataIndex }) => targetAt({ dataset: datasetIndex, index: dataIndex }) !== null,
        callbacks: {
          title: () => '',
          label: ({ datasetIndex, dataIndex }) => targetAt({ dataset: datasetIndex, index: dataIndex })?.words ?? '',
        },
      },
    },
  };
}
/**
 * What a pointer is on; else, where points are chosen from beside them, what is nearest along the axis, as the words beside the
 * pointer say, and of several there the nearest of all. Bars are long: their middles tell nothing.
 */
function pointUnder({ native, x, y }: ChartEvent): PointAt | null {
  if (!native || !chart.value) return null;
  const { intersect = true, axis = 'xy' } = chart.value.options.interaction ?? {};
  const under = chart.value.getElementsAtEventForMode(native, 'nearest', { intersect: true, axis: 'xy' }, true);
  const near =
    under.length > 0 || intersect ? under : chart.value.getElementsAtEventForMode(native, 'nearest', { intersect: false, axis }, true);
  const points = near.map(({ datasetIndex, index, element }) => {
    const at = element.tooltipPosition(true);
    return { dataset: datasetIndex, index, distance: Math.hypot((at.x ?? 0) - (x ?? 0), (at.y ?? 0) - (y ?? 0)) };
  });
  const chosen = points.filter((point) => targetAt(point) !== null).sort((one, other) => one.distance - other.distance);
  return chosen[0] ?? null;
}

/** The chart as a picture at twice its size, on paper; null where nothing is drawn. */
function picture(): Promise<Blob | null> {
  const own = canvas.value;
  if (!own || !chart.value || !frame.value) return Promise.resolve(null);
  const scale = 2;
  const copy = document.createElement('canvas');
  [copy.width, copy.height] = [own.clientWidth * scale, own.clientHeight * scale];
  const context = copy.getContext('2d')!;
  context.fillStyle = canvasTokens(frame.value, props.settings.style).paper;
  context.fillRect(0, 0, copy.width, copy.height);
  const { devicePixelRatio } = chart.value.options;
  chart.value.options.devicePixelRatio = scale;
  chart.value.resize();
  chart.value.draw();
  context.drawImage(own, 0, 0, copy.width, copy.height);
  chart.value.options.devicePixelRatio = devicePixelRatio;
  chart.value.resize();
  return new Promise((resolve) => copy.toBlob(resolve, 'image/png'));
}
/** The chart as it is drawn, as an SVG document; null where nothing is drawn. */
async function vectors(): Promise<Blob | null> {
  const { vectorsOf } = await import('./vectors.ts');
  if (!chart.value || !frame.value) return null;
  const { paper } = canvasTokens(frame.value, props.settings.style);
  return new Blob([vectorsOf(chart.value, paper, props.words)], { type: 'image/svg+xml' });
}
defineExpose({ picture, vectors });

watch([drawing, canvas], redraw);
function redraw(): void {
  if (!drawing.value || !canvas.value) return;
  const { config } = drawing.value;
  const options = optionsOf(drawing.value);
  if (chart.value && (chart.value.config as { type?: string }).type === config.type) {
    chart.value.data = config.data;
    chart.value.options = options;
    chart.value.update(moves.value ? undefined : 'none');
    return;
  }
  chart.value?.destroy();
  // What is there at first is not on its way from anywhere.
  chart.value = newChart(canvas.value, { ...(config as object), options: { ...(options as object), animation: false } });
}
onBeforeUnmount(() => chart.value?.destroy());

/** The point that keys have come to. */
const at = ref<PointAt | null>(null);
const said = computed(() => (at.value && targetAt(at.value)?.words) ?? '');
function point(to: PointAt | null): void {
  at.value = to;
  const active = to ? [{ datasetIndex: to.dataset, index: to.index }] : [];
  chart.value?.setActiveElements(active);
  chart.value?.tooltip?.setActiveElements(active, { x: 0, y: 0 });
  chart.value?.update('none');
}
/** Who walks through the points stays at theirs while the chart is drawn anew, and begins when it is first there. */
watch(
  drawing,
  () => {
    if (document.activeElement !== frame.value) at.value = null;
    else point(at.value && targetAt(at.value) ? at.value : nextPoint(drawing.value?.targets ?? [], null, 'Home', false));
  },
  { flush: 'post' },
);

const isChosen = (cell: ChosenCell): boolean => JSON.stringify(cell) === JSON.stringify(props.chosen);
/** A second click on what is chosen follows its first link. */
function choose(to: PointAt | null): void {
  const target = to && targetAt(to);
  if (target?.zoomsTo) return zoomTo(target.zoomsTo);
  const cell = target?.cell;
  if (!cell) return emit('choose', null);
  if (isChosen(cell)) emit('follow', cell);
  else emit('choose', cell);
}
function open(to: PointAt | null): void {
  const target = to && targetAt(to);
  if (target?.cell && target.opens) emit('open', target.cell);
}
function onKey(event: KeyboardEvent): void {
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  const targets = drawing.value?.targets ?? [];
  const next = nextPoint(targets, at.value, event.key, isLying(props.figure));
  if (next) point(next);
  else if (event.key === 'Enter' || event.key === ' ' || event.key === 'w') choose(at.value);
  else if (event.key === 'e') open(at.value);
  else if (event.key === 'c') emit('back');
  else if (isMap.value && ['+', '-', '0'].includes(event.key)) ({ '+': zoomIn, '-': zoomOut, '0': fit })[event.key as '+']();
  else if (event.key === 'Escape') {
    point(null);
    emit('choose', null);
  } else return;
  event.preventDefault();
}
</script>

<template>
  <div
    ref="frame"
    class="plot"
    tabindex="0"
    role="application"
    aria-roledescription="chart"
    :aria-label="words"
    :style="{ height: `${height}px` }"
    @keydown="onKey"
    @focus="at === null && point(nextPoint(drawing?.targets ?? [], null, 'Home', false))"
    @blur="point(null)"
  >
    <canvas ref="canvas" aria-hidden="true" />
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
    <MapZoom v-if="isMap" :zoomed="view.zoom > 1" @zoom-in="zoomIn" @zoom-out="zoomOut" @fit="fit" />
    <p class="visually-hidden" role="status">{{ said }}</p>
  </div>
  <p v-if="unnamed" class="unnamed muted">{{ unnamed }}</p>
</template>

<style scoped>
.unnamed {
  margin: 2px 0 0;
  font-size: 12.5px;
}
.plot {
  position: relative;
  min-width: 0;
}
.problem {
  position: absolute;
  inset: 0 0 auto;
  color: var(--off-text);
}
</style>
