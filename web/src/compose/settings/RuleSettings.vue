<script setup lang="ts">
import type { ReadyRule } from '@bold-compass/core/marks';
import type { Dataset, MarkOf } from '@bold-compass/core/model';
import { computed } from 'vue';
import { conditionProblem } from '../../formula/problems.ts';
import FormulaField from '../../formula/FormulaField.vue';

/** A rule: the formula that must hold, and the look of the cells in which it does. */
const props = defineProps<{ rule: MarkOf<'rule'>; dataset: Dataset; ready: readonly ReadyRule[] }>();
const emit = defineEmits<{ change: [rule: MarkOf<'rule'>] }>();
const set = (part: Partial<MarkOf<'rule'>>): void => emit('change', { ...props.rule, ...part });
/** The ready-made rule that it still is; none once its formula was changed. */
const begun = computed(() => props.ready.find(({ formula }) => formula === props.rule.formula)?.formula ?? '');
function begin(formula: string): void {
  const rule = props.ready.find((one) => one.formula === formula);
  if (rule) set({ formula, label: rule.label });
}
const TONES = [
  { value: 'on', title: 'Green' },
  { value: 'drift', title: 'Amber' },
  { value: 'off', title: 'Red' },
  { value: 'sea', title: 'Teal' },
  { value: 'brass', title: 'Brown' },
  { value: 'quiet', title: 'Grey' },
];
</script>

<template>
  <v-select
    label="Condition"
    :model-value="begun"
    :items="[{ value: '', title: 'Written as a formula' }, ...ready.map(({ formula, title }) => ({ value: formula, title }))]"
    @update:model-value="begin"
  />
  <FormulaField
    :formula="rule.formula"
    :dataset="dataset"
    label="Formula of the condition"
    :check="(formula) => conditionProblem(dataset, formula)"
    @change="set({ formula: $event })"
  />
  <v-text-field
    label="Legend text"
    maxlength="80"
    :model-value="rule.label"
    :placeholder="rule.formula"
    @change="set({ label: ($event.target as HTMLInputElement).value.trim() })"
  />
  <div class="two">
    <v-select label="Colour" :model-value="rule.tone" :items="TONES" @update:model-value="set({ tone: $event })" />
    <v-select
      label="Style"
      :model-value="rule.look"
      :items="[
        { value: 'text', title: 'Text' },
        { value: 'strong', title: 'Bold text' },
        { value: 'ground', title: 'Background' },
        { value: 'bar', title: 'Data bar' },
      ]"
      @update:model-value="set({ look: $event })"
    />
  </div>
  <p class="preview">
    Preview <span :class="[`tone-${rule.tone}`, `look-${rule.look}`]"><span class="figure">12,345</span></span>
  </p>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
.preview {
  margin: 0;
  font-size: 13px;
  color: var(--ink-2);
}
.preview > span {
  padding: 2px 8px;
  border-radius: 2px;
}
</style>
