<script setup lang="ts">
import { STATE_WORDS, type State } from '@bold-compass/core/indicators';
import { computed } from 'vue';
import { STATE_COLOURS } from './state-words.ts';

/**
 * The bearing of a KPI: up on course, level drifting, down off course, and the steeper the further. Shape carries it; colour
 * only helps. `turn` is in degrees from straight up; that of the state where it is not said.
 */
const props = defineProps<{ state: State; turn?: number | null; size?: number }>();
const size = computed(() => props.size ?? 14);
const TURNS: Record<State, number> = { ahead: 12, on: 30, drifting: 90, off: 150, far: 168, none: 90 };
const turn = computed(() => props.turn ?? TURNS[props.state]);
</script>

<template>
  <svg
    v-if="state !== 'none'"
    class="bearing"
    :class="STATE_COLOURS[state]"
    :width="size"
    :height="size"
    viewBox="0 0 20 20"
    role="img"
    :aria-label="STATE_WORDS[state]"
  >
    <title>{{ STATE_WORDS[state] }}</title>
    <circle cx="10" cy="10" r="8.8" />
    <path d="M10 3.6 13.1 14 10 12.2 6.9 14z" :transform="`rotate(${turn} 10 10)`" />
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
}
.drifting circle {
  stroke: var(--drift);
}
.drifting path {
  fill: var(--drift);
}
.off circle {
  stroke: var(--off);
}
.off path {
  fill: var(--off);
}
</style>
