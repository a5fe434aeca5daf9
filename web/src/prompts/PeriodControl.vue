<script setup lang="ts">
import { dayLabel, PERIOD_WORDS, periodKey, periodLabel } from '@bold-compass/core/calendar';
import { LOCALE, capitalised } from '@bold-compass/core/format';
import { calendarsOf, type Period, type PeriodChoice, type PromptOf } from '@bold-compass/core/model';
import { choiceOf, daysOfChoice, periodChoiceText, readPeriodChoice } from '@bold-compass/core/prompts';
import { computed, ref } from 'vue';
import { useReport } from '../report/context.ts';

/** A stretch of time: periods from one to another, or one that moves with the data. */
const props = defineProps<{ prompt: PromptOf<'period'> }>();
const emit = defineEmits<{ done: [] }>();
const { choices, wording, setChoice } = useReport();

const calendar = computed(() => calendarsOf(wording.value.dataset).find(({ name }) => name === props.prompt.calendar));
const periods = computed(() =>
  (calendar.value?.levels ?? []).map(({ period }) => period).filter((period) => period !== 'weekday' && period !== 'day'),
);
const read = computed(() => readPeriodChoice(choiceOf(props.prompt, choices.value)));
const unit = ref<Period>(unitOf(read.value) ?? (periods.value.includes('month') ? 'month' : (periods.value[0] ?? 'year')));
const count = ref(read.value && 'last' in read.value ? read.value.last : 3);

function unitOf(choice: PeriodChoice | null): Period | undefined {
  if (!choice) return undefined;
  return 'unit' in choice ? choice.unit : 'toDate' in choice ? choice.toDate : choice.complete;
}
/** Every period of the chosen kind that there is data for, the latest first. */
const keys = computed(() => {
  const { first, last } = wording.value.days;
  const yearStart = calendar.value?.yearStart ?? 1;
  const found = new Set<string>();
  for (let day = last; day >= first && found.size < 2_000; day -= 1) found.add(periodKey(unit.value, day, yearStart));
  return [...found].map((value) => ({ value, title: periodLabel(unit.value, value, LOCALE) }));
});
const ends = computed(() => (read.value && 'from' in read.value && read.value.unit === unit.value ? read.value : null));
const choose = (choice: PeriodChoice): void => setChoice(props.prompt.id, periodChoiceText(choice));
function setEnd(end: 'from' | 'to', key: string): void {
  const own = ends.value ?? { unit: unit.value, from: key, to: key };
  const next = { ...own, [end]: key };
  choose(next.from > next.to ? { unit: unit.value, from: key, to: key } : next);
}
const words = computed(() => PERIOD_WORDS[unit.value]);
const days = computed(() => {
  const range = calendar.value && read.value && daysOfChoice(calendar.value, read.value, wording.value.days);
  return range ? `${dayLabel(range.first, LOCALE)} to ${dayLabel(range.last, LOCALE)}` : 'All dates';
});
</script>

<template>
  <div class="period">
    <v-select v-model="unit" label="By" :items="periods.map((value) => ({ value, title: capitalised(PERIOD_WORDS[value].label) }))" />
    <div class="ends">
      <v-autocomplete
        label="From"
        :items="keys"
        :model-value="ends?.from"
        placeholder="Any"
        persistent-placeholder
        @update:model-value="$event && setEnd('from', $event)"
      />
      <v-autocomplete
        label="To"
        :items="keys"
        :model-value="ends?.to"
        placeholder="Any"
        persistent-placeholder
        @update:model-value="$event && setEnd('to', $event)"
      />
    </div>
    <v-divider />
    <div class="last">
      <v-btn variant="text" class="moving" @click="choose({ last: count, unit })">
        Last {{ count === 1 ? '' : count }} complete {{ count === 1 ? words.label : words.plural }}
      </v-btn>
      <v-number-input v-model="count" :min="1" :max="1000" aria-label="How many" control-variant="split" inset />
    </div>
    <v-btn variant="text" class="moving" @click="choose({ toDate: unit })">{{ capitalised(words.label) }} to date</v-btn>
    <v-btn variant="text" class="moving" @click="choose({ complete: unit })">Up to the last full {{ words.label }}</v-btn>
    <p class="muted" role="status">{{ days }}</p>
    <div class="foot">
      <v-btn variant="text" :disabled="read === null" @click="setChoice(prompt.id, [])">All dates</v-btn>
      <v-btn variant="text" @click="emit('done')">Done</v-btn>
    </div>
  </div>
</template>

<style scoped>
.period {
  display: grid;
  gap: 10px;
  padding: 10px 8px 4px;
}
.ends {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
.moving {
  justify-content: start;
}
.last {
  display: grid;
  grid-template-columns: 1fr 110px;
  align-items: center;
}
.muted {
  margin: 0;
  font-size: 12.5px;
}
.foot {
  display: flex;
  justify-content: space-between;
  border-top: 1px solid var(--rule-2);
}
</style>
