<script setup lang="ts">
import type { Dataset, Pick } from '@bold-compass/core/model';
import { computed } from 'vue';
import { measureChoices } from '../edges.ts';
import MemberPath from './MemberPath.vue';

/** What members of a level are selected by: a measure, in which figures, and among which members. */
type Selection = { [Part in 'measure' | 'at' | 'per']: Pick[Part] };
const props = defineProps<{ dataset: Dataset; across: string[]; selection: Selection }>();
const emit = defineEmits<{ change: [part: Partial<Selection>] }>();
const measures = computed(() => measureChoices(props.dataset));
</script>

<template>
  <v-select
    label="By"
    :model-value="selection.measure"
    :items="measures.map((measure) => ({ value: measure.name, title: measure.label }))"
    @update:model-value="emit('change', { measure: $event })"
  />
  <MemberPath :dataset="dataset" :fields="across" :path="selection.at" words="Values in" @change="emit('change', { at: $event })" />
  <v-select
    label="Within"
    :model-value="selection.per"
    :items="[
      { value: 'parent', title: 'Each parent' },
      { value: 'all', title: 'All members' },
    ]"
    @update:model-value="emit('change', { per: $event as Selection['per'] })"
  />
</template>
