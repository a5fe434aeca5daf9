<script setup lang="ts">
import type { Comparison, Dataset, Indicator } from '@bold-compass/core/model';
import { computed } from 'vue';

/** When a value is on course: what it is held against, and the limits. */
const props = defineProps<{ indicator: Indicator; dataset: Dataset; times: boolean }>();
const emit = defineEmits<{ change: [indicator: Indicator] }>();
const set = (part: Partial<Indicator>): void => emit('change', { ...props.indicator, ...part });
const valueOf = (event: Event): string => (event.target as HTMLInputElement | HTMLSelectElement).value;

const against = computed(() => {
  const { against: now } = props.indicator;
  return now.kind === 'measure' ? `measure ${now.measure}` : now.kind;
});
function setAgainst(value: string): void {
  const next: Comparison = value.startsWith('measure ')
    ? { kind: 'measure', measure: value.slice(8) }
    : value === 'back'
      ? { kind: 'back', amount: 1, unit: 'year' }
      : { kind: 'value', value: 0 };
  set({ against: next });
}
/** Limits of ratios are written in percent. */
const factor = computed(() => (props.indicator.by === 'ratio' ? 100 : 1));
const shown = (limit: number): number => Math.round(limit * factor.value * 1e6) / 1e6;
function setLimit(which: 'onCourse' | 'drifting', text: string): void {
  const value = Number(text);
  if (text.trim() !== '' && Number.isFinite(value)) set({ [which]: value / factor.value });
}
function setBy(by: Indicator['by']): void {
  set(by === 'ratio' ? { by, onCourse: 1, drifting: 0.96 } : { by, onCourse: 0, drifting: 0 });
}
</script>

<template>
  <v-select
    label="Compare with"
    :model-value="against"
    :items="[
      { value: 'value', title: 'Number' },
      ...(times ? [{ value: 'back', title: 'Earlier period' }] : []),
      ...dataset.measures.map((measure) => ({ value: `measure ${measure.name}`, title: measure.label })),
    ]"
    @update:model-value="setAgainst($event)"
  />
  <v-text-field
    v-if="indicator.against.kind === 'value'"
    label="Number"
    type="number"
    step="any"
    :model-value="indicator.against.value"
    @change="Number.isFinite(Number(valueOf($event))) && set({ against: { kind: 'value', value: Number(valueOf($event)) } })"
  />
  <template v-if="indicator.against.kind === 'back'">
    <v-text-field
      label="Periods back"
      type="number"
      min="1"
      :model-value="indicator.against.amount"
      @change="
        indicator.against.kind === 'back' &&
        set({ against: { ...indicator.against, amount: Math.max(1, Math.round(Number(valueOf($event)) || 1)) } })
      "
    />
    <v-select
      label="Period"
      :model-value="indicator.against.unit"
      :items="['year', 'quarter', 'month', 'week', 'day'].map((unit) => ({ value: unit, title: `${unit}s` }))"
      @update:model-value="indicator.against.kind === 'back' && set({ against: { ...indicator.against, unit: $event as 'year' } })"
    />
  </template>
  <v-select
    label="Limits by"
    :model-value="indicator.by"
    :items="[
      { value: 'ratio', title: 'Ratio' },
      { value: 'difference', title: 'Difference' },
    ]"
    @update:model-value="setBy($event as Indicator['by'])"
  />
  <v-select
    label="Better is"
    :model-value="indicator.direction"
    :items="[
      { value: 'higher', title: 'Higher' },
      { value: 'lower', title: 'Lower' },
    ]"
    @update:model-value="set({ direction: $event as Indicator['direction'] })"
  />
  <v-text-field
    :label="`On course ${indicator.direction === 'higher' ? 'from' : 'up to'}${indicator.by === 'ratio' ? ', %' : ''}`"
    class="on"
    type="number"
    step="any"
    :model-value="shown(indicator.onCourse)"
    @change="setLimit('onCourse', valueOf($event))"
  />
  <v-text-field
    :label="`Drifting ${indicator.direction === 'higher' ? 'from' : 'up to'}${indicator.by === 'ratio' ? ', %' : ''}`"
    class="drift"
    type="number"
    step="any"
    :model-value="shown(indicator.drifting)"
    @change="setLimit('drifting', valueOf($event))"
  />
</template>
