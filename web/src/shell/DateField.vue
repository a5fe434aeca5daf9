<script setup lang="ts">
import { parseIsoDate } from '@bold-compass/core/calendar';
import { mdiCalendarBlankOutline } from '@mdi/js';
import { computed, ref, watch } from 'vue';

/** A date, typed as ISO 8601 or chosen from a calendar. What is no date stays in the field and is not taken. */
defineProps<{ label: string; labelHidden?: boolean }>();
const model = defineModel<string>({ required: true });
const typed = ref(model.value);
watch(model, (now) => (typed.value = now));
const isOpen = ref(false);
const isDate = (text: string): boolean => /^\d{4}-\d\d-\d\d$/.test(text) && parseIsoDate(text) !== undefined;
const problem = computed(() => (typed.value === '' || isDate(typed.value) ? '' : 'Write the date as year-month-day, such as 2026-10-31.'));

function take(text: string): void {
  typed.value = text.trim();
  if (typed.value === '' || isDate(typed.value)) model.value = typed.value;
}
/** The calendar counts in days of this place; the field in days of no place. */
const chosen = computed(() => (isDate(model.value) ? new Date(`${model.value}T00:00:00`) : undefined));
function choose(day: unknown): void {
  if (!(day instanceof Date)) return;
  const two = (number: number): string => String(number).padStart(2, '0');
  take(`${String(day.getFullYear()).padStart(4, '0')}-${two(day.getMonth() + 1)}-${two(day.getDate())}`);
  isOpen.value = false;
}
</script>

<template>
  <v-text-field
    :model-value="typed"
    :label="labelHidden ? undefined : label"
    :aria-label="labelHidden ? label : undefined"
    placeholder="2026-10-31"
    :error-messages="problem"
    @change="take(($event.target as HTMLInputElement).value)"
  >
    <template #append-inner>
      <v-menu v-model="isOpen" :close-on-content-click="false" location="bottom end">
        <template #activator="{ props: activator }">
          <v-btn
            v-bind="activator"
            :aria-owns="undefined"
            :icon="mdiCalendarBlankOutline"
            variant="text"
            size="x-small"
            aria-label="Open calendar"
          />
        </template>
        <v-date-picker :model-value="chosen" hide-header :first-day-of-week="1" show-adjacent-months @update:model-value="choose" />
      </v-menu>
    </template>
  </v-text-field>
</template>
