<script setup lang="ts">
import type { ChartPeriod } from '@bold-compass/core/chart';
import { mdiPause, mdiPlay, mdiSkipNext, mdiSkipPrevious } from '@mdi/js';
import { useDebounceFn, useDocumentVisibility, useIntervalFn } from '@vueuse/core';
import { computed, ref, watch } from 'vue';

/** The period that a chart shows, in large type, and the way through all of them: by hand, or played. */
const props = defineProps<{ periods: readonly ChartPeriod[]; at: number; words: string; exhibit: string }>();
const emit = defineEmits<{
  /** Shows another period while it plays. */
  move: [at: number];
  /** Stays at a period. */
  stop: [at: number];
}>();

/** In milliseconds. */
const PERIOD = 1_000;
const SPEEDS = [0.5, 1, 2, 4].map((value) => ({ value, title: `${value} ×` }));
const speed = ref(1);
const last = computed(() => props.periods.length - 1);
const { isActive, pause, resume } = useIntervalFn(
  () => {
    if (props.at < last.value) emit('move', props.at + 1);
    if (props.at + 1 >= last.value) stop();
  },
  () => PERIOD / speed.value,
  { immediate: false },
);
function stop(at = Math.min(props.at + 1, last.value)): void {
  pause();
  emit('stop', at);
}
function toggle(): void {
  if (isActive.value) return stop(props.at);
  // From the last one it begins anew.
  if (props.at >= last.value) emit('move', 0);
  resume();
}
function step(to: number): void {
  if (to >= 0 && to <= last.value) stop(to);
}
/** How long the slider rests before the period is one to stay at, in milliseconds. */
const REST = 250;
const rest = useDebounceFn((to: number) => emit('stop', to), REST);
function slide(to: number): void {
  pause();
  emit('move', to);
  void rest(to);
}
const visibility = useDocumentVisibility();
watch(visibility, (now) => now === 'hidden' && isActive.value && stop(props.at));
/** So many periods leave room for a mark at each. */
const MOST_TICKS = 40;
</script>

<template>
  <div class="player" role="group" :aria-label="`Periods of ${exhibit}`">
    <strong class="period" :aria-live="isActive ? 'off' : 'polite'">{{ words }}</strong>
    <div class="controls">
      <v-btn :icon="mdiSkipPrevious" variant="text" size="small" aria-label="Previous period" :disabled="at === 0" @click="step(at - 1)" />
      <v-btn
        :icon="isActive ? mdiPause : mdiPlay"
        variant="flat"
        size="small"
        class="play"
        :aria-label="isActive ? 'Pause' : 'Play'"
        @click="toggle"
      />
      <v-btn :icon="mdiSkipNext" variant="text" size="small" aria-label="Next period" :disabled="at === last" @click="step(at + 1)" />
    </div>
    <span class="muted">{{ periods[0]?.label }}</span>
    <v-slider
      class="slider"
      :model-value="at"
      :min="0"
      :max="last"
      :step="1"
      :show-ticks="periods.length <= MOST_TICKS ? 'always' : false"
      tick-size="2"
      hide-details
      density="compact"
      color="primary"
      :aria-label="`Period: ${words}`"
      @update:model-value="slide"
    />
    <span class="muted">{{ periods[last]?.label }}</span>
    <v-select v-model="speed" class="speed" aria-label="Speed" density="compact" hide-details :items="SPEEDS" />
  </div>
</template>

<style scoped>
.player {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0 10px;
  margin: 0 0 2px;
  font-size: 12.5px;
}
/* As wide as the longest of most, so that the slider stays where it is. */
.period {
  font-family: var(--serif);
  font-size: 28px;
  line-height: 38px;
  font-weight: 600;
  min-width: 4.6em;
}
.controls {
  display: inline-flex;
  align-items: center;
}
.play {
  background: var(--sea);
  color: var(--on-sea);
  border-radius: 50%;
}
.slider {
  flex: 1 1 140px;
  min-width: 110px;
}
.speed {
  flex: 0 0 84px;
}
</style>
