<script setup lang="ts">
import { drawnSeries, type ChartFigure } from '@bold-compass/core/chart';
import { figureText } from '@bold-compass/core/format';
import { computed } from 'vue';
import { LOCALE } from '../report/state-words.ts';

/** What the size and the colour of points say. */
const props = defineProps<{ figure: ChartFigure }>();
const measure = (position: number) => props.figure.series.find((series) => series.measure === position);
const size = computed(() => measure(2)?.measureLabel);
const shade = computed(() => {
  const own = measure(3);
  if (!own) return null;
  const values = drawnSeries(props.figure)
    .filter((series) => series.measure === own.measure)
    .flatMap((series) => series.values.filter((value) => value !== null));
  if (values.length === 0) return null;
  const [low, high] = [Math.min(...values), Math.max(...values)].map((value) => figureText(value, own.format, LOCALE));
  return { label: own.measureLabel, low, high };
});
</script>

<template>
  <p v-if="size || shade" class="key muted">
    <span v-if="size">Size: {{ size }}</span>
    <span v-if="shade">Colour: {{ shade.label }}, {{ shade.low }} <span class="scale" aria-hidden="true" /> {{ shade.high }}</span>
  </p>
</template>

<style scoped>
.key {
  display: flex;
  flex-wrap: wrap;
  gap: 0 18px;
  margin: 2px 0 0;
  font-size: 12.5px;
}
.scale {
  display: inline-block;
  width: 64px;
  height: 9px;
  margin: 0 3px;
  background: linear-gradient(to right, var(--brass-line), var(--sea));
}
</style>
