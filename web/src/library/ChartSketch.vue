<script setup lang="ts">
import type { ChartSketch } from '@bold-compass/core/chart';
import { computed } from 'vue';

/** A chart drawn small: its shapes alone. */
const props = defineProps<{ sketch: ChartSketch }>();
/** Of the drawing, in its own units. */
const [WIDTH, HEIGHT] = [400, 190];
const GAP = 0.28;
const colour = (index: number): string => `rgb(var(--v-theme-series-${(index % 8) + 1}))`;

interface Rectangle {
  x: number;
  y: number;
  width: number;
  height: number;
  fill: string;
  opacity: number;
}

/** Columns stand beside each other at their place along the axis, bars lie below each other. */
const bars = computed((): Rectangle[] => {
  const { series, zero, shape } = props.sketch;
  const places = series[0]?.length ?? 0;
  const each = (shape === 'columns' ? WIDTH : HEIGHT) / Math.max(1, places);
  const thick = (each * (1 - GAP)) / Math.max(1, series.length);
  return series.flatMap((own, index) =>
    own.flatMap((value, place): Rectangle[] => {
      if (value === null) return [];
      const at = place * each + (each * GAP) / 2 + index * thick;
      const [from, to] = [Math.min(value, zero), Math.max(value, zero)];
      const fill = { fill: colour(index), opacity: 1 };
      return shape === 'columns'
        ? [{ x: at, y: HEIGHT * (1 - to), width: thick, height: HEIGHT * (to - from), ...fill }]
        : [{ x: WIDTH * from, y: at, width: WIDTH * (to - from), height: thick, ...fill }];
    }),
  );
});
const lines = computed(() =>
  props.sketch.series.map((own, index) => ({
    colour: colour(index),
    points: own
      .flatMap((value, place) => (value === null ? [] : `${(WIDTH * place) / Math.max(1, own.length - 1)},${HEIGHT * (1 - value)}`))
      .join(' '),
  })),
);
const cells = computed((): Rectangle[] => {
  const { series } = props.sketch;
  return series.flatMap((own, column) =>
    own.map((value, row) => ({
      ...{ x: (WIDTH * column) / series.length, y: (HEIGHT * row) / own.length, width: WIDTH / series.length, height: HEIGHT / own.length },
      ...{ fill: colour(0), opacity: value === null ? 0 : 0.12 + 0.8 * value },
    })),
  );
});
const rectangles = computed(() => (props.sketch.shape === 'grid' ? cells.value : bars.value));
/** A ring, whose circumference is one, so that shares are lengths of it. */
const RADIUS = 1 / (2 * Math.PI);
const slices = computed(() => {
  let from = 0;
  return (props.sketch.series[0] ?? []).map((share, index) => {
    const slice = { colour: colour(index), share: share ?? 0, from };
    from += share ?? 0;
    return slice;
  });
});
</script>

<template>
  <svg class="sketch" :viewBox="sketch.shape === 'slices' ? '-0.3 -0.24 0.6 0.48' : `0 0 ${WIDTH} ${HEIGHT}`">
    <template v-if="sketch.shape === 'slices'">
      <circle
        v-for="(slice, index) in slices"
        :key="index"
        :r="RADIUS"
        fill="none"
        stroke-width="0.09"
        :stroke="slice.colour"
        :stroke-dasharray="`${slice.share} ${1 - slice.share}`"
        :stroke-dashoffset="0.25 - slice.from"
      />
    </template>
    <template v-else-if="sketch.shape === 'dots'">
      <circle
        v-for="([x, y], index) in sketch.series"
        :key="index"
        :cx="6 + (WIDTH - 12) * (x ?? 0)"
        :cy="6 + (HEIGHT - 12) * (1 - (y ?? 0))"
        r="6"
        :fill="colour(0)"
        opacity="0.6"
      />
    </template>
    <template v-else-if="sketch.shape === 'lines'">
      <polyline v-for="(line, index) in lines" :key="index" :points="line.points" fill="none" stroke-width="4" :stroke="line.colour" />
    </template>
    <template v-else><rect v-for="(own, index) in rectangles" :key="index" v-bind="own" /></template>
  </svg>
</template>

<style scoped>
.sketch {
  display: block;
  width: 100%;
  margin-top: 8px;
}
</style>
