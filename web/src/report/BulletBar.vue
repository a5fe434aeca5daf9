<script setup lang="ts">
import type { State } from '@bold-compass/core/indicators';
import { computed } from 'vue';
import { STATE_COLOURS } from './state-words.ts';

/**
 * A value as a bar against its target and the limits of its states (a bullet graph). The figures beside it say it in words;
 * this is for the eye.
 */
const props = defineProps<{ value: number | null; target: number | null; limits: readonly number[]; state: State }>();
const WIDTH = 240;
const most = computed(() => 1.08 * Math.max(0, props.value ?? 0, props.target ?? 0, ...props.limits) || 1);
const least = computed(() => Math.min(0, props.value ?? 0, props.target ?? 0, ...props.limits));
const x = (value: number): number => ((value - least.value) / (most.value - least.value)) * WIDTH;
/** Bands between limits, from the lowest. */
const bands = computed(() => {
  const edges = [least.value, ...[...props.limits].sort((a, b) => a - b), most.value];
  return edges.slice(1).map((to, index) => ({ from: x(edges[index]), width: Math.max(0, x(to) - x(edges[index])), index }));
});
</script>

<template>
  <svg class="bullet" :viewBox="`0 0 ${WIDTH} 20`" preserveAspectRatio="none" aria-hidden="true">
    <rect
      v-for="band in bands"
      :key="band.index"
      class="band"
      :class="`band-${Math.min(band.index, 4)}`"
      :x="band.from"
      y="1"
      :width="band.width"
      height="18"
    />
    <rect
      v-if="value !== null"
      class="value"
      :class="STATE_COLOURS[state]"
      :x="Math.min(x(0), x(value))"
      y="6.5"
      :width="Math.abs(x(value) - x(0))"
      height="7"
    />
    <rect v-if="target !== null" class="target" :x="x(target) - 1" y="2.5" width="2.4" height="15" />
  </svg>
</template>

<style scoped>
.bullet {
  display: block;
  width: 100%;
  height: 20px;
  margin: 4px 0;
}
.band {
  fill: var(--rule);
}
.band-1 {
  fill: color-mix(in srgb, var(--rule) 65%, var(--paper));
}
.band-2,
.band-3,
.band-4 {
  fill: color-mix(in srgb, var(--rule) 32%, var(--paper));
}
.value {
  fill: var(--sea);
}
.target {
  fill: var(--brass);
}
</style>
