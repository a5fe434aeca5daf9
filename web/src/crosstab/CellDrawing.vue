<script setup lang="ts">
import type { CellMarks } from '@bold-compass/core/table';
import { computed } from 'vue';
import { BAR_ROOM, SPARKLINE_ROOM } from './layout.ts';

/** What is drawn beside a figure: a bar, a sparkline, an arrow. The figure says it in words; this is for the eye. */
const props = defineProps<{ marks: CellMarks }>();
const HEIGHT = 16;
const WIDTH = SPARKLINE_ROOM - 10;

interface Line {
  path: string;
  /** Where it ends, which is where the data ends. */
  end: { x: number; y: number } | null;
}
const x = (index: number, count: number): number => Math.round((2 + (index / Math.max(1, count - 1)) * (WIDTH - 5)) * 10) / 10;
const y = (value: number): number => Math.round((HEIGHT - 2 - value * (HEIGHT - 4)) * 10) / 10;
const line = computed((): Line | null => {
  const { sparkline } = props.marks;
  if (!sparkline || sparkline.draw !== 'line') return null;
  const { values } = sparkline;
  let path = '';
  let end: Line['end'] = null;
  values.forEach((value, index) => {
    if (value === null) return;
    const before = index > 0 ? values[index - 1] : null;
    path += `${before === null ? 'M' : 'L'}${x(index, values.length)} ${y(value)}`;
    end = { x: x(index, values.length), y: y(value) };
  });
  return { path, end };
});
const columns = computed(() => {
  const { sparkline } = props.marks;
  if (!sparkline || sparkline.draw !== 'columns') return [];
  const step = (WIDTH - 2) / sparkline.values.length;
  return sparkline.values.flatMap((value, index) => {
    if (value === null) return [];
    const [top, foot] = [Math.max(value, sparkline.zero), Math.min(value, sparkline.zero)];
    const own = { x: 1 + index * step, width: Math.max(1, step - 1), y: y(top), height: Math.max(0.7, y(foot) - y(top)) };
    return [{ ...own, below: value < sparkline.zero, last: index === sparkline.values.length - 1 }];
  });
});
const ARROWS = { 1: 'M3 11 11 3M5.5 3H11V8.5', 0: 'M2 7H12M8.5 3.5 12 7 8.5 10.5', [-1]: 'M3 3 11 11M11 5.5V11H5.5' } as const;
</script>

<template>
  <svg v-if="marks.bar" class="bar" :width="BAR_ROOM - 10" height="14" :viewBox="`0 0 ${BAR_ROOM - 10} 14`" aria-hidden="true">
    <rect
      :class="{ negative: marks.bar.isNegative }"
      :x="marks.bar.from * (BAR_ROOM - 12) + 1"
      y="2"
      :width="Math.max(0.8, (marks.bar.to - marks.bar.from) * (BAR_ROOM - 12))"
      height="10"
    />
    <path v-if="marks.bar.target !== null" class="target" :d="`M${marks.bar.target * (BAR_ROOM - 12) + 1} 0V14`" />
  </svg>
  <svg v-if="marks.sparkline" class="sparkline" :width="WIDTH" :height="HEIGHT" aria-hidden="true">
    <template v-if="line">
      <path :d="line.path" />
      <circle v-if="line.end" :cx="line.end.x" :cy="line.end.y" r="2.1" />
    </template>
    <rect
      v-for="(column, index) in columns"
      :key="index"
      :class="{ negative: column.below, last: column.last }"
      :x="column.x"
      :y="column.y"
      :width="column.width"
      :height="column.height"
    />
  </svg>
  <svg
    v-if="marks.arrow"
    class="arrow"
    :class="{ good: marks.arrow.isGood === true, bad: marks.arrow.isGood === false }"
    width="14"
    height="14"
    role="img"
    :aria-label="marks.arrow.words"
  >
    <title>{{ marks.arrow.words }}</title>
    <path :d="ARROWS[marks.arrow.turn]" />
  </svg>
</template>

<style scoped>
svg {
  flex: none;
}
.bar {
  position: absolute;
  left: 5px;
  top: 6px;
}
.bar rect {
  fill: color-mix(in srgb, var(--sea) 72%, var(--paper));
}
.bar rect.negative {
  fill: var(--off);
}
.target {
  stroke: var(--brass);
  stroke-width: 2;
}
.sparkline path {
  fill: none;
  stroke: var(--ink-2);
  stroke-width: 1.3;
  stroke-linejoin: round;
}
.sparkline circle {
  fill: var(--brass);
}
.sparkline rect {
  fill: color-mix(in srgb, var(--sea) 55%, var(--paper));
}
.sparkline rect.negative {
  fill: var(--off);
}
.sparkline rect.last {
  fill: var(--brass);
}
.arrow path {
  fill: none;
  stroke: var(--ink-2);
  stroke-width: 1.7;
  stroke-linecap: round;
  stroke-linejoin: round;
}
.arrow.good path {
  stroke: var(--on);
}
.arrow.bad path {
  stroke: var(--off);
}
</style>
