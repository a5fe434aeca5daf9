<script setup lang="ts">
import { chartKindOf, drawnSeries, middleOf, shadeScale, valuesOfMeasure, type ChartFigure } from '@bold-compass/core/chart';
import { LOCALE, figureText } from '@bold-compass/core/format';
import { useQueryClient } from '@tanstack/vue-query';
import { computed, shallowRef, watchEffect } from 'vue';
import type { ChartSettings } from '@bold-compass/core/model';
import { useReport } from '../report/context.ts';
import PatternSwatch from './PatternSwatch.vue';
import { mapSources } from './map-sources.ts';
import { POINT_SIZES, radiusOf, RING_SIZES, sampleValues } from '@bold-compass/charts';

/** What colours, rings and sizes say, and which members have no place on a map. */
const props = defineProps<{
  figure: ChartFigure;
  settings: ChartSettings;
  /** Positions of the measures that are shown as size and as colour. */
  size: number;
  shade: number;
}>();
const { report } = useReport();
const queries = useQueryClient();
const measure = (position: number) => drawnSeries(props.figure).find((series) => series.measure === position);
const family = computed(() => chartKindOf(props.figure.kind).family);
const isMap = computed(() => family.value === 'places');
/** The colours of bubbles go one way. */
const isBubble = computed(() => family.value === 'points' || props.settings.map.points);
/** Circles of round values, as they are drawn; points of a map that are put together have sizes of their own. */
const size = computed(() => {
  const own = measure(props.size);
  if (!own) return null;
  const isOwnSize = isMap.value && props.settings.map.points;
  const sizes = isMap.value ? RING_SIZES : POINT_SIZES;
  const largest = valuesOfMeasure(props.figure, props.size).reduce((most, value) => Math.max(most, value), 0);
  const samples = isOwnSize ? [] : sampleValues(largest);
  return {
    label: own.measureLabel,
    circles: samples.map((value) => ({ radius: radiusOf(sizes, value, largest), words: figureText(value, own.format, LOCALE) })),
  };
});
const shade = computed(() => {
  const own = measure(props.shade);
  const values = valuesOfMeasure(props.figure, props.shade);
  if (!own || values.length === 0) return null;
  const { low, high, middle } = shadeScale(values, isBubble.value ? null : middleOf(props.settings));
  const say = (value: number): string => figureText(value, own.format, LOCALE);
  return { label: own.measureLabel, low: say(low), high: say(high), middle: middle === null ? null : say(middle) };
});
/** Whether anything is drawn with the pattern of what has no value. */
const hasEmpty = computed(
  () =>
    !isBubble.value &&
    drawnSeries(props.figure)
      .filter((series) => series.measure === props.shade)
      .some(({ values }) => values.some((value) => value === null)),
);
/** Members that no shape is known for. */
async function withoutShape(): Promise<string[]> {
  const { figure, settings } = props;
  const { placesOf } = await import('@bold-compass/charts/map');
  const places = await placesOf(mapSources(queries, report.value.id, settings.map)).catch(() => null);
  return places
    ? figure.categories.flatMap(({ label, header }) => (places.shapeOf(label, header?.path.at(-1) ?? null) ? [] : [label]))
    : [];
}
const unplaced = shallowRef<string[]>([]);
watchEffect(async () => {
  unplaced.value = isMap.value && !props.settings.map.points ? await withoutShape() : [];
});
const ways = computed(() =>
  props.settings.style === 'monochrome' ? 'grey' : isBubble.value ? 'points' : shade.value?.middle == null ? 'one' : 'two',
);
</script>

<template>
  <p v-if="size || shade" class="key muted">
    <span v-if="shade">
      {{ shade.label }}: {{ shade.low }} <span class="scale" :class="ways" aria-hidden="true" /> {{ shade.high
      }}<template v-if="shade.middle">, midpoint {{ shade.middle }}</template>
    </span>
    <span v-if="size" class="sizes">
      {{ isMap && !settings.map.points ? 'Rings' : 'Size' }}: {{ size.label }}
      <template v-for="{ radius, words } in size.circles" :key="words">
        <svg :width="2 * radius + 2" :height="2 * radius + 2" aria-hidden="true">
          <circle :cx="radius + 1" :cy="radius + 1" :r="radius" /></svg
        >{{ words }}
      </template>
    </span>
    <span v-if="shade && hasEmpty" class="empty"><PatternSwatch index="no data" />No data</span>
    <span v-if="unplaced.length > 0">Not on the map: {{ unplaced.join(', ') }}</span>
  </p>
</template>

<style scoped>
.key {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0 18px;
  margin: 2px 0 0;
  font-size: 12.5px;
}
.scale {
  display: inline-block;
  width: 84px;
  height: 9px;
  margin: 0 3px;
}
.sizes {
  display: inline-flex;
  align-items: center;
  gap: 6px;
}
.empty {
  display: inline-flex;
  align-items: center;
}
.sizes svg {
  flex: none;
  margin-left: 6px;
  fill: none;
  stroke: var(--ink-2);
}
.points {
  background: linear-gradient(to right in lab, color-mix(in lab, var(--sea) 22%, var(--paper)), var(--sea));
}
.one {
  background: linear-gradient(to right in lab, color-mix(in lab, var(--sea) 8%, var(--paper)), var(--sea));
}
.grey {
  background: linear-gradient(to right in lab, color-mix(in lab, var(--ink) 8%, var(--paper)), var(--ink));
}
.two {
  background: linear-gradient(to right in lab, var(--off), color-mix(in lab, var(--sea) 8%, var(--paper)), var(--sea));
}
</style>
