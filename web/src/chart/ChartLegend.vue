<script setup lang="ts">
import type { Series } from '@bold-compass/core/chart';
import PatternSwatch from './PatternSwatch.vue';

/** The series of a chart where they cannot be named at themselves. Each can be hidden, or shown alone. */
const props = defineProps<{ series: readonly Series[]; hidden: ReadonlySet<string>; inPatterns: boolean }>();
const emit = defineEmits<{ show: [hidden: ReadonlySet<string>] }>();

function toggle(key: string): void {
  const hidden = new Set(props.hidden);
  if (!hidden.delete(key)) hidden.add(key);
  if (hidden.size < props.series.length) emit('show', hidden);
}
const only = (key: string): void => emit('show', new Set(props.series.flatMap((one) => (one.key === key ? [] : [one.key]))));
</script>

<template>
  <ul class="series" aria-label="Series">
    <li v-for="one in series" :key="one.key" :class="{ gone: hidden.has(one.key) }">
      <v-btn
        variant="plain"
        class="name"
        :aria-pressed="!hidden.has(one.key)"
        :title="hidden.has(one.key) ? `Show ${one.label}` : `Hide ${one.label}`"
        @click="toggle(one.key)"
      >
        <PatternSwatch v-if="inPatterns && one.as === 'column'" :index="one.colour" />
        <span v-else class="swatch" :class="[one.as, `series-${one.colour + 1}`, { dashed: one.dashed }]" aria-hidden="true" />
        {{ one.label }}
      </v-btn>
      <v-btn v-if="series.length > 2" variant="plain" class="inline only" :aria-label="`Show only ${one.label}`" @click="only(one.key)"
        >Only</v-btn
      >
    </li>
    <li v-if="hidden.size > 0"><v-btn variant="plain" class="inline" @click="emit('show', new Set())">Show all</v-btn></li>
  </ul>
</template>

<style scoped>
.series {
  list-style: none;
  margin: 4px 0 2px;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 0 10px;
  font-size: 12.5px;
}
.series li {
  display: inline-flex;
  align-items: center;
  position: relative;
}
.name {
  padding: 0 4px;
  min-width: 0;
  font-size: 12.5px;
  font-weight: 400;
  color: var(--ink);
  opacity: 1;
}
.gone .name {
  color: var(--ink-2);
  text-decoration: line-through;
}
.only {
  position: absolute;
  top: 100%;
  left: 20px;
  z-index: 2;
  background: var(--sheet);
  opacity: 0;
  pointer-events: none;
}
li:hover .only,
li:focus-within .only {
  opacity: 1;
  pointer-events: auto;
}
.swatch {
  width: 11px;
  height: 11px;
  margin-right: 6px;
  background: var(--series);
}
.swatch.line,
.swatch.step {
  height: 0;
  width: 16px;
  background: none;
  border-top: 2.5px solid var(--series);
}
.swatch.dashed {
  border-top-style: dotted;
}
.gone .swatch {
  opacity: 0.35;
}
.series-1 {
  --series: rgb(var(--v-theme-series-1));
}
.series-2 {
  --series: rgb(var(--v-theme-series-2));
}
.series-3 {
  --series: rgb(var(--v-theme-series-3));
}
.series-4 {
  --series: rgb(var(--v-theme-series-4));
}
.series-5 {
  --series: rgb(var(--v-theme-series-5));
}
.series-6 {
  --series: rgb(var(--v-theme-series-6));
}
.series-7 {
  --series: rgb(var(--v-theme-series-7));
}
.series-8 {
  --series: rgb(var(--v-theme-series-8));
}
</style>
