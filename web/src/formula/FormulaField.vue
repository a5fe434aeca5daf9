<script setup lang="ts">
import type { Dataset } from '@bold-compass/core/model';
import { computed, ref, watch } from 'vue';
import FormulaEditor from './FormulaEditor.vue';
import type { WrittenProblem } from './problems.ts';

/** The formula of a measure or a calculated field: written, held against the dataset, and taken when it is left. */
const props = defineProps<{
  /** The formula as it is kept. */
  formula: string;
  /** What it may name. */
  dataset: Dataset;
  label: string;
  check(formula: string): WrittenProblem | null;
}>();
const emit = defineEmits<{ change: [formula: string] }>();
const written = ref(props.formula);
watch(
  () => [props.label, props.formula],
  () => (written.value = props.formula),
);
const problem = computed(() => props.check(written.value));
function apply(): void {
  const text = written.value.trim();
  if (text !== '' && text !== props.formula) emit('change', text);
}
/** Escape leaves the editor, and nothing of what was written in it. */
function leave(): void {
  apply();
  if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
}
function mend(): void {
  const { value: found } = problem;
  if (found?.fix) written.value = written.value.slice(0, found.fix.from) + found.fix.insert + written.value.slice(found.fix.to);
  apply();
}
</script>

<template>
  <div class="formula">
    <FormulaEditor v-model="written" :dataset="dataset" :problem="problem" :label="label" @apply="apply" @leave="leave" @focusout="apply" />
    <p v-if="problem" class="problem" role="alert">
      {{ problem.message }}
      <v-btn v-if="problem.fix" variant="text" class="fix" @click="mend">{{ problem.fix.words }}</v-btn>
    </p>
  </div>
</template>

<style scoped>
.problem {
  margin: 4px 0 0;
  color: var(--off-text);
  font-size: 13px;
}
.fix {
  color: var(--sea);
  text-decoration: underline;
}
</style>
