<script setup lang="ts">
import type { Prompt, PromptOf } from '@bold-compass/core/model';
import { computed } from 'vue';
import { datasetOf, useCompose } from '../../context.ts';
import { groupingFields } from '../../edges.ts';
import FilterEditor from '../FilterEditor.vue';

/** The words of a switch, and the condition that it puts on. */
const props = defineProps<{ prompt: PromptOf<'switch'> }>();
const emit = defineEmits<{ change: [prompt: Prompt] }>();
const compose = useCompose();
const dataset = computed(() => datasetOf(compose, undefined));
const fields = computed(() => groupingFields(dataset.value));
const set = (part: Partial<PromptOf<'switch'>>): void => emit('change', { ...props.prompt, ...part });
const textOf = (event: Event): string => (event.target as HTMLInputElement).value.trim();
</script>

<template>
  <v-text-field label="Text when on" :model-value="prompt.on" maxlength="80" @change="textOf($event) && set({ on: textOf($event) })" />
  <v-text-field label="Text when off" :model-value="prompt.off" maxlength="80" @change="textOf($event) && set({ off: textOf($event) })" />
  <p class="muted">Condition when on</p>
  <FilterEditor :filter="prompt.filter" :dataset="dataset" :fields="fields" @change="set({ filter: $event })" />
</template>

<style scoped>
.muted {
  margin: 0;
  font-size: 12.5px;
}
</style>
