<script setup lang="ts">
import { fieldLabel, type PromptOf } from '@bold-compass/core/model';
import { choiceOf } from '@bold-compass/core/prompts';
import { computed } from 'vue';
import { useReport } from '../report/context.ts';
import DateField from '../shell/DateField.vue';

/** From one number or date to another; an end that is empty is open. */
const props = defineProps<{ prompt: PromptOf<'range' | 'dates'> }>();
const emit = defineEmits<{ done: [] }>();
const { choices, view, setChoice } = useReport();

const ends = computed(() => {
  const [low = '', high = ''] = choiceOf(props.prompt, choices.value);
  return { low, high };
});
function set(part: Partial<{ low: string; high: string }>): void {
  const { low, high } = { ...ends.value, ...part };
  const isTurned = low !== '' && high !== '' && (props.prompt.kind === 'range' ? Number(low) > Number(high) : low > high);
  const choice = isTurned ? [high, low] : [low, high];
  setChoice(props.prompt.id, choice.every((end) => end === '') ? [] : choice);
}
const numberOf = (text: string): number | null => (text === '' ? null : Number(text));
const textOf = (number: number | null): string => (number === null ? '' : String(number));
</script>

<template>
  <div class="span" role="group" :aria-label="fieldLabel(view.dataset, prompt.field)">
    <template v-if="prompt.kind === 'dates'">
      <DateField label="From" :model-value="ends.low" @update:model-value="set({ low: $event })" />
      <DateField label="To" :model-value="ends.high" @update:model-value="set({ high: $event })" />
    </template>
    <template v-else>
      <v-number-input
        label="From"
        control-variant="hidden"
        :precision="null"
        :model-value="numberOf(ends.low)"
        @update:model-value="set({ low: textOf($event) })"
      />
      <v-number-input
        label="To"
        control-variant="hidden"
        :precision="null"
        :model-value="numberOf(ends.high)"
        @update:model-value="set({ high: textOf($event) })"
      />
    </template>
    <div class="foot">
      <v-btn variant="text" :disabled="ends.low === '' && ends.high === ''" @click="setChoice(prompt.id, [])">Clear</v-btn>
      <v-btn variant="text" @click="emit('done')">Done</v-btn>
    </div>
  </div>
</template>

<style scoped>
.span {
  display: grid;
  gap: 10px;
  padding: 10px 8px 4px;
}
.foot {
  display: flex;
  justify-content: space-between;
}
</style>
