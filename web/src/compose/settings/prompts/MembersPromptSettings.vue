<script setup lang="ts">
import { fieldLabel, findField, type MembersPrompt, type Prompt } from '@bold-compass/core/model';
import { computed } from 'vue';
import { datasetOf, useCompose } from '../../context.ts';

/** Members of some fields: how many, which at first, and whether other prompts narrow them. */
const props = defineProps<{ prompt: MembersPrompt }>();
const emit = defineEmits<{ change: [prompt: Prompt] }>();
const compose = useCompose();
const dataset = computed(() => datasetOf(compose, undefined));
const set = (part: Partial<MembersPrompt>): void => emit('change', { ...props.prompt, ...part });
const labelOf = (field: string): string => (findField(dataset.value, field) ? fieldLabel(dataset.value, field) : field);

const STARTS = [
  { value: 'fixed', title: 'Fixed' },
  { value: 'first', title: 'First with records' },
  { value: 'latest', title: 'Latest with records' },
  { value: 'own', title: "Reader's own territory" },
  { value: 'last_visit', title: 'From the last visit' },
];
function setStart(start: string): void {
  set({ start: start === 'fixed' ? undefined : (start as MembersPrompt['start']) });
}
/** Levels of the same dimension below those that are asked for. */
const finer = computed(() => {
  const place = findField(dataset.value, props.prompt.fields.at(-1)!);
  if (place?.kind !== 'level' && place?.kind !== 'period') return [];
  return place.dimension.levels.slice(place.depth + 1).map(({ name, label }) => ({ value: name, title: label }));
});
</script>

<template>
  <div class="fields">
    <v-chip
      v-for="field in prompt.fields"
      :key="field"
      :closable="prompt.fields.length > 1"
      :close-label="`Remove ${labelOf(field)}`"
      @click:close="set({ fields: prompt.fields.filter((one) => one !== field) })"
      >{{ labelOf(field) }}</v-chip
    >
  </div>
  <v-select
    v-if="finer.length > 0"
    label="Add level"
    :items="finer"
    :model-value="null"
    @update:model-value="$event && set({ fields: [...prompt.fields, $event] })"
  />
  <v-checkbox label="Multiple choice" :model-value="prompt.multiple" @update:model-value="set({ multiple: Boolean($event) })" />
  <v-checkbox
    label="Cascade from all other prompts"
    :model-value="prompt.linked ?? false"
    @update:model-value="set({ linked: $event ? true : undefined })"
  />
  <v-select label="Default" :items="STARTS" :model-value="prompt.start ?? 'fixed'" @update:model-value="setStart($event)" />
</template>

<style scoped>
.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
</style>
