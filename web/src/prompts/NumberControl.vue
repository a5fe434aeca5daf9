<script setup lang="ts">
import type { PromptOf } from '@bold-compass/core/model';
import { choiceOf, promptKindOf } from '@bold-compass/core/prompts';
import { computed, ref, watch } from 'vue';
import { useReport } from '../report/context.ts';

/** A number, typed or drawn between its limits. */
const props = defineProps<{ prompt: PromptOf<'number'> }>();
const emit = defineEmits<{ done: [] }>();
const { choices, view, setChoice } = useReport();

const factor = computed(() => (props.prompt.percent ? 100 : 1));
/** As it is written: 12 for 12 %. */
const written = (value: number): number => Number((value * factor.value).toPrecision(12));
const value = computed(() => Number(choiceOf(props.prompt, choices.value)[0] ?? props.prompt.initial));
const typed = ref<number | null>(written(value.value));
watch(value, (now) => (typed.value = written(now)));
const hasLimits = computed(() => props.prompt.min !== undefined && props.prompt.max !== undefined);
const limits = computed(() => {
  const { min, max } = props.prompt;
  if (min !== undefined && max !== undefined) return `from ${written(min)} to ${written(max)}`;
  return min !== undefined ? `from ${written(min)} up` : max !== undefined ? `up to ${written(max)}` : '';
});
const problem = ref('');
function take(number: number | null): void {
  typed.value = number;
  const choice = [String(Number(((number ?? Number.NaN) / factor.value).toPrecision(12)))];
  problem.value = promptKindOf(props.prompt).isChoice(props.prompt, choice, view.value.dataset) ? '' : `Write a number ${limits.value}.`;
  if (!problem.value) setChoice(props.prompt.id, choice);
}
</script>

<template>
  <div class="number">
    <v-number-input
      :model-value="typed"
      :precision="null"
      :step="written(prompt.step ?? (prompt.percent ? 0.01 : 1))"
      control-variant="hidden"
      :suffix="prompt.percent ? '%' : undefined"
      aria-label="Number"
      :hint="limits"
      persistent-hint
      :error-messages="problem"
      @update:model-value="take($event)"
      @keydown.enter="emit('done')"
    />
    <v-slider
      v-if="hasLimits"
      :model-value="typed ?? 0"
      :min="written(prompt.min!)"
      :max="written(prompt.max!)"
      :step="written(prompt.step ?? (prompt.max! - prompt.min!) / 100)"
      aria-label="Number between its limits"
      hide-details
      @end="take($event)"
    />
  </div>
</template>

<style scoped>
.number {
  padding: 8px;
}
</style>
