<script setup lang="ts">
import { spreadResponseSchema } from '@bold-compass/core/api';
import { STATE_WORDS, type State } from '@bold-compass/core/indicators';
import type { Indicator } from '@bold-compass/core/model';
import { LOCALE, figureText } from '@bold-compass/core/format';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { refDebounced } from '@vueuse/core';
import { computed, ref } from 'vue';
import { ask } from '../../api/client.ts';
import BearingNeedle from '../../report/BearingNeedle.vue';
import { useReport } from '../../report/context.ts';

/** The limits of an indicator over what the members reached: how many fall where. */
const props = defineProps<{
  indicator: Indicator;
  exhibit: string;
  measure: string;
  fields: readonly { value: string; title: string }[];
}>();
const { report, asked, versionOf } = useReport();
const chosen = ref<string | null>(null);
const field = computed(() =>
  props.fields.some(({ value }) => value === chosen.value) ? chosen.value! : props.fields[Math.min(1, props.fields.length - 1)].value,
);
const question = refDebounced(
  computed(() => ({ measure: props.measure, field: field.value, indicator: props.indicator, ...asked.value })),
  120,
);
const { data, error } = useQuery({
  queryKey: computed(() => ['spread', report.value.id, props.exhibit, versionOf(props.exhibit), question.value]),
  queryFn: ({ signal }) =>
    ask(
      spreadResponseSchema,
      'POST',
      `/reports/${report.value.id}/exhibits/${props.exhibit}/spread`,
      { ...question.value, draft: true },
      signal,
    ),
  placeholderData: keepPreviousData,
});

const [WIDTH, HEIGHT, BINS] = [236, 46, 24];
const scale = computed(() => {
  const { reached = [], limits = [] } = data.value ?? {};
  const all = [...reached, ...limits];
  const [low, high] = [Math.min(...all), Math.max(...all)];
  const room = (high - low || Math.abs(high) || 1) * 0.04;
  return { low: low - room, high: high + room };
});
const x = (value: number): number => ((value - scale.value.low) / (scale.value.high - scale.value.low)) * WIDTH;
const bins = computed(() => {
  const counts = new Array<number>(BINS).fill(0);
  for (const value of data.value?.reached ?? []) counts[Math.min(BINS - 1, Math.floor((x(value) / WIDTH) * BINS))]++;
  const most = Math.max(1, ...counts);
  return counts.map((count, index) => ({ index, height: count === 0 ? 0 : Math.max(1.5, (count / most) * (HEIGHT - 12)) }));
});
const text = (value: number): string =>
  props.indicator.by === 'ratio'
    ? figureText(value, { kind: 'percent', decimals: 0, unit: 'one' }, LOCALE)
    : new Intl.NumberFormat(LOCALE, { notation: 'compact', maximumFractionDigits: 2 }).format(value);
const ORDER: State[] = ['ahead', 'on', 'drifting', 'off', 'far', 'none'];
const counts = computed(() => ORDER.flatMap((state) => (data.value?.counts[state] ? [{ state, count: data.value.counts[state] }] : [])));
const words = computed(() => counts.value.map(({ state, count }) => `${count} ${STATE_WORDS[state].toLowerCase()}`).join(', '));
</script>

<template>
  <div class="spread">
    <v-select
      v-if="fields.length > 1"
      label="Preview members of"
      :items="fields"
      :model-value="field"
      @update:model-value="chosen = $event"
    />
    <p v-if="error" class="problem">{{ error.message }}</p>
    <template v-else-if="data && data.reached.length > 0">
      <svg class="scale" :viewBox="`0 0 ${WIDTH} ${HEIGHT}`" role="img" :aria-label="`Of ${data.total} members: ${words}`">
        <rect
          v-for="bin in bins"
          :key="bin.index"
          class="bin"
          :x="(bin.index * WIDTH) / BINS + 0.6"
          :width="WIDTH / BINS - 1.2"
          :y="HEIGHT - 2 - bin.height"
          :height="bin.height"
        />
        <g v-for="(limit, index) in data.limits" :key="index">
          <path class="limit" :d="`M${x(limit)} 9V${HEIGHT}`" />
          <text :x="Math.min(WIDTH - 12, Math.max(12, x(limit)))" y="7.5" text-anchor="middle">{{ text(limit) }}</text>
        </g>
      </svg>
      <ul>
        <li v-for="{ state, count } in counts" :key="state">
          <BearingNeedle :state="state" /> <b>{{ count }}</b> {{ STATE_WORDS[state].toLowerCase() }}
        </li>
      </ul>
    </template>
  </div>
</template>

<style scoped>
.scale {
  width: 100%;
  border-bottom: 1px solid var(--ink);
}
.bin {
  fill: color-mix(in srgb, var(--sea) 45%, var(--paper));
}
.limit {
  stroke: var(--brass);
  stroke-width: 1.4;
}
text {
  font-size: 8.5px;
  fill: var(--ink-2);
}
ul {
  list-style: none;
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  padding: 0;
  margin: 6px 0 0;
  font-size: 12.5px;
}
li {
  display: inline-flex;
  align-items: center;
  gap: 4px;
}
.problem {
  color: var(--off-text);
  font-size: 13px;
  margin: 0;
}
</style>
