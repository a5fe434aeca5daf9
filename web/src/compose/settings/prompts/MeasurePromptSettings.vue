<script setup lang="ts">
import type { Prompt, PromptOf } from '@bold-compass/core/model';
import { computed } from 'vue';
import { datasetOf, useCompose } from '../../context.ts';
import { measureChoices } from '../../edges.ts';

/** The measure that exhibits are written with, and those that may stand in its place. */
const props = defineProps<{ prompt: PromptOf<'measure'> }>();
const emit = defineEmits<{ change: [prompt: Prompt] }>();
const compose = useCompose();
const items = computed(() => measureChoices(datasetOf(compose, undefined)).map(({ name, label }) => ({ value: name, title: label })));
function setFirst(first: string): void {
  emit('change', { ...props.prompt, measures: [first, ...props.prompt.measures.filter((one) => one !== first)] });
}
function setOthers(others: string[]): void {
  if (others.length > 0) emit('change', { ...props.prompt, measures: [props.prompt.measures[0], ...others] });
}
</script>

<template>
  <v-autocomplete
    label="Default measure"
    :items="items"
    :model-value="prompt.measures[0]"
    @update:model-value="$event && setFirst($event)"
  />
  <v-autocomplete
    label="Other measures"
    multiple
    chips
    closable-chips
    :items="items.filter(({ value }) => value !== prompt.measures[0])"
    :model-value="prompt.measures.slice(1)"
    @update:model-value="setOthers($event)"
  />
</template>
