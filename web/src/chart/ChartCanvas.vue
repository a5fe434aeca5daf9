<script setup lang="ts">
import { chartKindOf, type ChartFigure, type Ends } from '@bold-compass/core/chart';
import type { ChartSettings } from '@bold-compass/core/model';
import { useElementSize, useElementVisibility } from '@vueuse/core';
import type { ChartEvent } from 'chart.js';
import { computed, onBeforeUnmount, ref, shallowRef, useTemplateRef, watch } from 'vue';
import { useTheme } from 'vuetify';
import type { ChosenCell } from '../report/url-state.ts';
import { Chart } from './chart-js.ts';
import { drawingOf } from './chart-drawings.ts';
import type { ChartDrawing, ChartTarget, DrawChart } from './drawing.ts';
import { nextPoint, type PointAt } from './point-keys.ts';
import { CHART_FONT, chartTokens } from './tokens.ts';

/** One chart: what it draws, what is pointed at, and the way through its points by keys. */
const props = defineProps<{
  figure: ChartFigure;
  settings: ChartSettings;
  measures: readonly string[];
  ends: Ends | null;
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

/** What draws the kind, as soon as it is there. */
const draws = shallowRef<{ kind: string; draw: DrawChart } | null>(null);
watch(
  () => props.figure.kind,
  async (kind) => (draws.value = { kind, draw: await drawingOf(kind) }),
  { immediate: true },
);
const drawing = computed((): ChartDrawing | null => {
  if (!frame.value || !fonts.value || draws.value?.kind !== props.figure.kind || !isVisible.value || width.value < 40) return null;
  // Colours are those of the theme that is on.
  void theme.name.value;
  const { figure, settings, measures, ends, warns, chosen, height } = props;
  const tokens = chartTokens(frame.value);
  return draws.value.draw({ figure, settings, tokens, measures, ends, width: width.value, height, warns, chosen });
});
const targetAt = ({ dataset, index }: PointAt): ChartTarget | null => drawing.value?.targets[dataset]?.[index] ?? null;

const chart = shallowRef<Chart | null>(null);
function optionsOf({ config }: ChartDrawing): NonNullable<typeof config.options> {
  const { ink, paper } = chartTokens(frame.value!);
  return {
    ...config.options,
    animation: false,
    responsive: true,
    onClick: (event) => choose(pointUnder(event)),
    onHover: (event) => {
      const target = pointUnder(event);
      if (canvas.value) canvas.value.style.cursor = target && targetAt(target)?.cell ? 'pointer' : 'default';
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
function pointUnder({ native }: ChartEvent): PointAt | null {
  if (!native || !chart.value) return null;
  const isIntersecting = chart.value.options.interaction?.intersect ?? true;
  const [found] = chart.value.getElementsAtEventForMode(native, 'nearest', { intersect: isIntersecting, axis: 'xy' }, true);
  return found ? { dataset: found.datasetIndex, index: found.index } : null;
}

watch([drawing, canvas], () => {
  if (!drawing.value || !canvas.value) return;
  const { config } = drawing.value;
  const options = optionsOf(drawing.value);
  if (chart.value && (chart.value.config as { type?: string }).type === config.type) {
    chart.value.data = config.data;
    chart.value.options = options;
    chart.value.update('none');
    return;
  }
  chart.value?.destroy();
  chart.value = new Chart(canvas.value, { ...config, options });
});
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
  const cell = to && targetAt(to)?.cell;
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
  const next = nextPoint(targets, at.value, event.key, chartKindOf(props.figure.kind).lying ?? false);
  if (next) point(next);
  else if (event.key === 'Enter' || event.key === ' ' || event.key === 'w') choose(at.value);
  else if (event.key === 'e') open(at.value);
  else if (event.key === 'c') emit('back');
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
    <p class="visually-hidden" role="status">{{ said }}</p>
  </div>
</template>

<style scoped>
.plot {
  position: relative;
  min-width: 0;
}
</style>
