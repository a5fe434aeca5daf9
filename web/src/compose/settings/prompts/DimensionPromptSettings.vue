<script setup lang="ts">
import type { Prompt, PromptOf } from '@bold-compass/core/model';
import { mdiClose } from '@mdi/js';
import { computed } from 'vue';
import { datasetOf, useCompose } from '../../context.ts';
import { groupingFields } from '../../edges.ts';

/** The levels that exhibits are written with, and those that may stand in their place, each under a name. */
const props = defineProps<{ prompt: PromptOf<'dimension'> }>();
const emit = defineEmits<{ change: [prompt: Prompt] }>();
const compose = useCompose();
const items = computed(() => groupingFields(datasetOf(compose, undefined)).map(({ name, label }) => ({ value: name, title: label })));
type Offer = PromptOf<'dimension'>['choices'][number];
const setChoices = (choices: Offer[]): void => emit('change', { ...props.prompt, choices });
const setOne = (index: number, part: Partial<Offer>): void =>
  setChoices(props.prompt.choices.map((one, at) => (at === index ? { ...one, ...part } : one)));
const textOf = (event: Event): string => (event.target as HTMLInputElement).value.trim();
function add(): void {
  const used = new Set(props.prompt.choices.flatMap(({ fields }) => fields));
  const free = items.value.find(({ value }) => !used.has(value));
  if (free) setChoices([...props.prompt.choices, { label: free.title, fields: [free.value] }]);
}
</script>

<template>
  <div v-for="(choice, index) in prompt.choices" :key="index" class="choice">
    <p class="muted">{{ index === 0 ? 'Default' : `Choice ${index + 1}` }}</p>
    <v-text-field
      label="Name"
      :model-value="choice.label"
      maxlength="60"
      @change="textOf($event) && setOne(index, { label: textOf($event) })"
    />
    <v-autocomplete
      label="Levels"
      multiple
      chips
      closable-chips
      :items="items"
      :model-value="choice.fields"
      @update:model-value="$event.length > 0 && setOne(index, { fields: $event })"
    />
    <v-btn
      v-if="index > 0 && prompt.choices.length > 2"
      :icon="mdiClose"
      variant="text"
      size="small"
      :aria-label="`Remove ${choice.label}`"
      @click="setChoices(prompt.choices.filter((_, at) => at !== index))"
    />
  </div>
  <v-btn variant="text" @click="add">Add choice</v-btn>
</template>

<style scoped>
.choice {
  display: grid;
  gap: 6px;
}
.muted {
  margin: 0;
  font-size: 12.5px;
}
</style>
