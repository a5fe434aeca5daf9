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
  <label
    >Held against
    <select class="choice" :value="against" @change="setAgainst(valueOf($event))">
      <option value="value">a number</option>
      <option v-if="times" value="back">the same days before</option>
      <option v-for="measure in dataset.measures" :key="measure.name" :value="`measure ${measure.name}`">{{ measure.label }}</option>
    </select>
  </label>
  <label v-if="indicator.against.kind === 'value'"
    >Number
    <input
      class="entry"
      type="number"
      step="any"
      :value="indicator.against.value"
      @change="Number.isFinite(Number(valueOf($event))) && set({ against: { kind: 'value', value: Number(valueOf($event)) } })"
  /></label>
  <template v-if="indicator.against.kind === 'back'">
    <label
      >Back by
      <input
        class="entry"
        type="number"
        min="1"
        :value="indicator.against.amount"
        @change="
          indicator.against.kind === 'back' &&
          set({ against: { ...indicator.against, amount: Math.max(1, Math.round(Number(valueOf($event)) || 1)) } })
        "
    /></label>
    <label
      >Units
      <select
        class="choice"
        :value="indicator.against.unit"
        @change="indicator.against.kind === 'back' && set({ against: { ...indicator.against, unit: valueOf($event) as 'year' } })"
      >
        <option v-for="unit in ['year', 'quarter', 'month', 'week', 'day']" :key="unit" :value="unit">{{ unit }}s</option>
      </select>
    </label>
  </template>
  <label
    >By their
    <select class="choice" :value="indicator.by" @change="setBy(valueOf($event) as Indicator['by'])">
      <option value="ratio">ratio</option>
      <option value="difference">difference</option>
    </select>
  </label>
  <label
    >Better is
    <select class="choice" :value="indicator.direction" @change="set({ direction: valueOf($event) as Indicator['direction'] })">
      <option value="higher">higher</option>
      <option value="lower">lower</option>
    </select>
  </label>
  <label class="on"
    >On course {{ indicator.direction === 'higher' ? 'from' : 'up to' }}{{ indicator.by === 'ratio' ? ', %' : '' }}
    <input class="entry" type="number" step="any" :value="shown(indicator.onCourse)" @change="setLimit('onCourse', valueOf($event))"
  /></label>
  <label class="drift"
    >Drifting {{ indicator.direction === 'higher' ? 'from' : 'up to' }}{{ indicator.by === 'ratio' ? ', %' : '' }}
    <input class="entry" type="number" step="any" :value="shown(indicator.drifting)" @change="setLimit('drifting', valueOf($event))"
  /></label>
</template>
