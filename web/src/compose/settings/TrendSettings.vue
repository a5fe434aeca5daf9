<script setup lang="ts">
import { chartKindOf } from '@bold-compass/core/chart';
import type { Chart, ChartSettings, Forecast, Trend } from '@bold-compass/core/model';
import { computed } from 'vue';
import { useCompose } from '../context.ts';
import SettingsSection from './SettingsSection.vue';

/** The curve through what a chart draws, and what it says of the periods to come. */
const props = defineProps<{ exhibit: Chart }>();
const { change } = useCompose();
const chart = computed(() => props.exhibit.chart);
const isAxis = computed(() => chartKindOf(chart.value.kind).family === 'axis');
const set = (part: Partial<ChartSettings>): void => change({ ...props.exhibit, chart: { ...chart.value, ...part } });
const valueOf = (event: Event): string => (event.target as HTMLInputElement).value;

const MOST_DEGREE = 6;
function setDegree(text: string): void {
  const { trend } = chart.value;
  const degree = Math.round(Number(text));
  if (!trend || !Number.isFinite(degree)) return;
  set({ trend: { ...trend, degree: Math.min(trend.kind === 'moving' ? 24 : MOST_DEGREE, Math.max(2, degree)) } });
}
function setForecast(text: string): void {
  const periods = Math.min(60, Math.max(0, Math.round(Number(text)) || 0));
  set({ forecast: periods > 0 ? { interval: 80, method: 'smoothing', ...chart.value.forecast, periods } : undefined });
}
</script>

<template>
  <SettingsSection title="Trend and forecast" :about="chart.trend || chart.forecast ? 'on' : undefined">
    <v-select
      label="Trend line"
      :model-value="chart.trend?.kind ?? ''"
      :items="[
        { value: '', title: 'None' },
        { value: 'linear', title: 'Linear' },
        { value: 'logarithmic', title: 'Logarithmic' },
        { value: 'exponential', title: 'Exponential' },
        { value: 'power', title: 'Power' },
        { value: 'polynomial', title: 'Polynomial' },
        ...(isAxis ? [{ value: 'moving', title: 'Moving average' }] : []),
      ]"
      @update:model-value="set({ trend: $event ? { kind: $event as Trend['kind'] } : undefined })"
    />
    <v-text-field
      v-if="chart.trend?.kind === 'polynomial' || chart.trend?.kind === 'moving'"
      :label="chart.trend.kind === 'moving' ? 'Periods' : 'Degree'"
      type="number"
      min="2"
      :max="chart.trend.kind === 'moving' ? 24 : 6"
      :model-value="chart.trend.degree ?? (chart.trend.kind === 'moving' ? 3 : 2)"
      @change="setDegree(valueOf($event))"
    />
    <template v-if="isAxis">
      <v-text-field
        label="Periods to forecast"
        type="number"
        min="0"
        max="60"
        :model-value="chart.forecast?.periods ?? 0"
        @change="setForecast(valueOf($event))"
      />
      <v-select
        v-if="chart.forecast"
        label="Interval"
        :model-value="chart.forecast.interval"
        :items="[80, 90, 95].map((value) => ({ value, title: `${value} %` }))"
        @update:model-value="set({ forecast: { ...chart.forecast!, interval: $event as 80 } })"
      />
      <v-select
        v-if="chart.forecast"
        label="Method"
        :model-value="chart.forecast.method"
        :items="[
          { value: 'smoothing', title: 'Exponential smoothing' },
          { value: 'linear', title: 'Linear regression' },
          { value: 'logarithmic', title: 'Logarithmic regression' },
          { value: 'exponential', title: 'Exponential regression' },
          { value: 'power', title: 'Power regression' },
        ]"
        @update:model-value="set({ forecast: { ...chart.forecast!, method: $event as Forecast['method'] } })"
      />
    </template>
  </SettingsSection>
</template>
