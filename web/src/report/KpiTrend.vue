<script setup lang="ts">
import { LOCALE, figureText } from '@bold-compass/core/format';
import type { NumberFormat } from '@bold-compass/core/model';
import { computed } from 'vue';

/** A KPI through its last periods: a line that ends where the data ends. */
const props = defineProps<{ points: readonly { label: string; value: number | null }[]; format: NumberFormat }>();
const [WIDTH, HEIGHT] = [220, 34];
const known = computed(() => props.points.flatMap(({ value }) => (value === null ? [] : [value])));
const low = computed(() => Math.min(...known.value));
const high = computed(() => Math.max(...known.value));
const x = (index: number): number => 3 + (index / Math.max(1, props.points.length - 1)) * (WIDTH - 7);
const y = (value: number): number =>
  high.value > low.value ? HEIGHT - 4 - ((value - low.value) / (high.value - low.value)) * (HEIGHT - 9) : HEIGHT / 2;
const path = computed(() =>
  props.points
    .map(({ value }, index) =>
      value === null
        ? ''
        : `${index > 0 && props.points[index - 1].value !== null ? 'L' : 'M'}${x(index).toFixed(1)} ${y(value).toFixed(1)}`,
    )
    .join(''),
);
const last = computed(() => props.points.findLastIndex(({ value }) => value !== null));
const words = computed(() => {
  const [first, end] = [props.points.find(({ value }) => value !== null), props.points[last.value]];
  if (!first || !end) return 'No values yet';
  const say = ({ label, value }: { label: string; value: number | null }): string =>
    `${figureText(value, props.format, LOCALE)} in ${label}`;
  return `From ${say(first)} to ${say(end)}`;
});
</script>

<template>
  <svg v-if="known.length > 1" class="trend" :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" :aria-label="words">
    <title>{{ words }}</title>
    <path :d="path" />
    <circle :cx="x(last)" :cy="y(points[last].value!)" r="2.8" />
  </svg>
</template>

<style scoped>
.trend {
  display: block;
  width: 220px;
  max-width: 100%;
  height: 34px;
  margin-top: 4px;
}
path {
  fill: none;
  stroke: var(--sea);
  stroke-width: 1.5;
  stroke-linejoin: round;
}
circle {
  fill: var(--brass);
}
</style>
