<script setup lang="ts">
import { LOCALE } from '@bold-compass/core/format';
import { chartWords, plainCategory, type ChartFigure, type Series } from '@bold-compass/core/chart';
import { chartSettingsSchema, type Measure } from '@bold-compass/core/model';
import { computed, defineAsyncComponent } from 'vue';

const ChartCanvas = defineAsyncComponent(() => import('../chart/ChartCanvas.vue'));

/** How members made the difference: a step for each of them, from nothing to the whole of it. */
const props = defineProps<{ before: number; after: number; parts: readonly { label: string; change: number }[]; measure: Measure }>();

const settings = chartSettingsSchema.parse({ kind: 'waterfall' });
const figure = computed((): ChartFigure => {
  const { before, after, parts, measure } = props;
  const labels = parts.map(({ label }) => label);
  const series: Series = {
    ...{ key: measure.name, label: measure.label, measureLabel: measure.label, measure: 0, path: [], member: '', memberLabels: [] },
    ...{ as: 'column', second: false, colour: 0, dashed: false, hidden: false, isPartial: false, format: measure.format },
    ...{ values: parts.map(({ change }) => change), states: null, trend: null, forecast: null },
  };
  return {
    ...{ kind: 'waterfall', along: '', notes: [], locale: LOCALE, series: [series], totals: [after - before] },
    ...{ periods: null, period: null, among: null, beyond: null },
    categories: labels.map(plainCategory),
    root: { path: [], labels: ['Difference'] },
    shape: {
      ...{
        members: labels.length,
        levels: 1,
        isTime: false,
        byDays: false,
        hasSeriesField: false,
        series: 1,
        measures: 1,
        arrangement: 'grouped',
      },
      byPoints: false,
      hasNegative: parts.some(({ change }) => change < 0),
    },
  };
});
const HEIGHT = 250;
</script>

<template>
  <ChartCanvas
    :figure="figure"
    :settings="settings"
    :measures="[measure.name]"
    :warns="measure.direction === 'higher'"
    :chosen="null"
    :height="HEIGHT"
    :words="chartWords(figure)"
  />
</template>
