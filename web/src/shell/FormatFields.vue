<script setup lang="ts">
import type { NumberFormat } from '@bold-compass/core/model';

/** How a number is written. */
const props = defineProps<{ format: NumberFormat; own?: boolean }>();
const emit = defineEmits<{ change: [format: NumberFormat | undefined] }>();
const set = (part: Partial<NumberFormat>): void => emit('change', { ...props.format, ...part });
function setKind(kind: NumberFormat['kind']): void {
  set({
    kind,
    currency: kind === 'currency' ? (props.format.currency ?? 'EUR') : undefined,
    unit: kind === 'percent' ? 'one' : props.format.unit,
  });
}
</script>

<template>
  <v-select
    label="Format"
    :model-value="format.kind"
    :items="[
      { value: 'number', title: 'Number' },
      { value: 'currency', title: 'Currency' },
      { value: 'percent', title: 'Percent' },
      { value: 'duration', title: 'Duration' },
    ]"
    @update:model-value="setKind($event as NumberFormat['kind'])"
  />
  <v-select
    v-if="format.kind !== 'duration'"
    label="Decimal places"
    :model-value="format.decimals"
    :items="[0, 1, 2, 3, 4].map((digits) => ({ value: digits, title: String(digits) }))"
    @update:model-value="set({ decimals: $event })"
  />
  <v-select
    v-if="format.kind === 'number' || format.kind === 'currency'"
    label="Unit"
    :model-value="format.unit"
    :items="[
      { value: 'one', title: 'Ones' },
      { value: 'thousand', title: 'Thousands' },
      { value: 'million', title: 'Millions' },
    ]"
    @update:model-value="set({ unit: $event as NumberFormat['unit'] })"
  />
  <v-btn v-if="own" variant="text" class="back" @click="emit('change', undefined)">Reset format</v-btn>
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
