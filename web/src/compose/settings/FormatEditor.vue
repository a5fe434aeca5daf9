<script setup lang="ts">
import type { NumberFormat } from '@bold-compass/core/model';

/** How a number is written. */
const props = defineProps<{ format: NumberFormat; own: boolean }>();
const emit = defineEmits<{ change: [format: NumberFormat | undefined] }>();
const set = (part: Partial<NumberFormat>): void => emit('change', { ...props.format, ...part });
const valueOf = (event: Event): string => (event.target as HTMLSelectElement).value;
function setKind(kind: NumberFormat['kind']): void {
  set({
    kind,
    currency: kind === 'currency' ? (props.format.currency ?? 'EUR') : undefined,
    unit: kind === 'percent' ? 'one' : props.format.unit,
  });
}
</script>

<template>
  <label
    >Format
    <select class="choice" :value="format.kind" @change="setKind(valueOf($event) as NumberFormat['kind'])">
      <option value="number">number</option>
      <option value="currency">currency</option>
      <option value="percent">percent</option>
      <option value="duration">duration</option>
    </select>
  </label>
  <label v-if="format.kind !== 'duration'"
    >Decimals
    <select class="choice" :value="format.decimals" @change="set({ decimals: Number(valueOf($event)) })">
      <option v-for="digits in 5" :key="digits" :value="digits - 1">{{ digits - 1 }}</option>
    </select>
  </label>
  <label v-if="format.kind === 'number' || format.kind === 'currency'"
    >Unit
    <select class="choice" :value="format.unit" @change="set({ unit: valueOf($event) as NumberFormat['unit'] })">
      <option value="one">ones</option>
      <option value="thousand">thousands</option>
      <option value="million">millions</option>
    </select>
  </label>
  <button v-if="own" type="button" class="back" @click="emit('change', undefined)">Back to its own format</button>
</template>

<style scoped>
.back {
  color: var(--sea);
  text-decoration: underline;
  font-size: 12.5px;
  text-align: left;
  min-height: 24px;
}
</style>
