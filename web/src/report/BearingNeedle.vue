<script setup lang="ts">
import { computed } from 'vue';
import { STATE_WORDS } from './state-words.ts';

/** The bearing of a KPI: up on course, level drifting, down off course. Shape carries it; colour only helps. */
const props = defineProps<{ state: 'on' | 'drifting' | 'off' | 'none'; size?: number }>();
const size = computed(() => props.size ?? 14);
</script>

<template>
  <svg
    v-if="state !== 'none'"
    class="bearing"
    :class="state"
    :width="size"
    :height="size"
    viewBox="0 0 20 20"
    role="img"
    :aria-label="STATE_WORDS[state]"
  >
    <title>{{ STATE_WORDS[state] }}</title>
    <circle cx="10" cy="10" r="8.8" />
    <path d="M10 3.6 13.1 14 10 12.2 6.9 14z" />
  </svg>
</template>

<style scoped>
.bearing {
  flex: none;
  vertical-align: -2px;
}
circle {
  fill: none;
  stroke-width: 1.2;
  opacity: 0.75;
}
.on circle {
  stroke: var(--on);
}
.on path {
  fill: var(--on);
  transform: rotate(12deg);
  transform-origin: 10px 10px;
}
.drifting circle {
  stroke: var(--drift);
}
.drifting path {
  fill: var(--drift);
  transform: rotate(90deg);
  transform-origin: 10px 10px;
}
.off circle {
  stroke: var(--off);
}
.off path {
  fill: var(--off);
  transform: rotate(168deg);
  transform-origin: 10px 10px;
}
</style>
