<script setup lang="ts">
import type { Prompt, PromptOf } from '@bold-compass/core/model';
import { promptName } from '@bold-compass/core/prompts';

/** The limits of a number, and how it is written. */
const props = defineProps<{ prompt: PromptOf<'number'> }>();
const emit = defineEmits<{ change: [prompt: Prompt] }>();
function set(part: Partial<PromptOf<'number'>>): void {
  const next = { ...props.prompt, ...part };
  // The first value stays within the limits.
  const initial = Math.min(next.max ?? Infinity, Math.max(next.min ?? -Infinity, next.initial));
  emit('change', { ...next, initial });
}
const LIMITS = [
  { key: 'initial', label: 'Default' },
  { key: 'min', label: 'Minimum' },
  { key: 'max', label: 'Maximum' },
  { key: 'step', label: 'Step' },
] as const;
const take = (key: (typeof LIMITS)[number]['key'], value: number | null): void =>
  set({ [key]: value ?? (key === 'initial' ? 0 : undefined) });
</script>

<template>
  <div class="limits">
    <v-number-input
      v-for="{ key, label } in LIMITS"
      :key="key"
      :label="label"
      :precision="null"
      control-variant="hidden"
      :model-value="prompt[key] ?? null"
      @update:model-value="take(key, $event)"
    />
  </div>
  <v-checkbox label="Percent" :model-value="prompt.percent ?? false" @update:model-value="set({ percent: $event ? true : undefined })" />
  <p class="muted">Formulas read it as prompt({{ promptName(prompt) }}).</p>
</template>

<style scoped>
.limits {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
.muted {
  margin: 0;
  font-size: 12.5px;
}
</style>
