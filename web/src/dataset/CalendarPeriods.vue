<script setup lang="ts">
import { LOCALE } from '@bold-compass/core/format';
import { PERIOD_WORDS } from '@bold-compass/core/calendar';
import { periodSchema, type CalendarDimension, type Period } from '@bold-compass/core/model';

/** A calendar: the periods that dates are grouped by, and where its fiscal year begins. */
const props = defineProps<{ dimension: CalendarDimension; taken: Set<string> }>();
const emit = defineEmits<{ change: [part: Partial<CalendarDimension>] }>();
const PERIODS = periodSchema.options;
const MONTHS = Array.from({ length: 12 }, (_, index) => ({
  value: index + 1,
  title: new Intl.DateTimeFormat(LOCALE, { month: 'long', timeZone: 'UTC' }).format(Date.UTC(2024, index, 1)),
}));
const has = (period: Period): boolean => props.dimension.levels.some((level) => level.period === period);

/** Adds a period in its place, or removes it. */
function toggle(period: Period): void {
  const { levels, label } = props.dimension;
  if (has(period)) return emit('change', { levels: levels.filter((level) => level.period !== period) });
  const base = `${label.toLowerCase().replaceAll(/[^a-z0-9]+/g, '_')}_${period}`;
  let name = props.taken.has(period) ? base : period;
  for (let number = 2; props.taken.has(name); number++) name = `${base}_${number}`;
  const words = PERIOD_WORDS[period];
  const added = [...levels, { name, label: `${label}, ${words.label}`, plural: words.plural, period }];
  emit('change', { levels: PERIODS.flatMap((one) => added.filter((level) => level.period === one)) });
}
</script>

<template>
  <v-select
    label="First month of the fiscal year"
    :model-value="dimension.yearStart ?? 1"
    :items="MONTHS"
    @update:model-value="emit('change', { yearStart: $event })"
  />
  <h2 class="part">Periods</h2>
  <div class="periods">
    <v-checkbox
      v-for="period in PERIODS"
      :key="period"
      :label="PERIOD_WORDS[period].label"
      :model-value="has(period)"
      :disabled="dimension.levels.length === 1 && has(period)"
      @update:model-value="toggle(period)"
    />
  </div>
  <p class="muted small">
    Fiscal years are called by the year they end in. A year of weeks begins on the Monday nearest its first day; its quarters have thirteen
    weeks, as months of four, four and five.
  </p>
</template>

<style scoped>
.periods {
  display: grid;
  grid-template-columns: 1fr 1fr;
}
.small {
  font-size: 12.5px;
}
</style>
