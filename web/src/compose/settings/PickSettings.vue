<script setup lang="ts">
import type { Dataset, Pick } from '@bold-compass/core/model';
import { computed } from 'vue';
import { measureChoices } from '../edges.ts';
import SelectionFields from './SelectionFields.vue';
import SettingsSection from './SettingsSection.vue';

/** Which members of a level are shown: the largest or smallest, and all others. `across` are the fields of the other axis. */
const props = defineProps<{ dataset: Dataset; across: string[]; pick: Pick | undefined; firstMeasure: string | undefined }>();
const emit = defineEmits<{ change: [pick: Pick | undefined] }>();
const valueOf = (event: Event): string => (event.target as HTMLInputElement | HTMLSelectElement).value;
const measures = computed(() => measureChoices(props.dataset));
function toggle(): void {
  const measure = props.firstMeasure ?? measures.value[0]?.name;
  const isOff = props.pick || !measure;
  emit('change', isOff ? undefined : { count: 10, from: 'top', measure, at: [], per: 'parent', others: true });
}
const set = (part: Partial<Pick>): void => emit('change', { ...props.pick!, ...part });
</script>

<template>
  <SettingsSection title="Top or bottom n" :about="pick ? `${pick.count}` : 'all'" :open="pick !== undefined">
    <v-checkbox label="Limit members" :model-value="pick !== undefined" @update:model-value="toggle" />
    <template v-if="pick">
      <v-select
        label="Keep"
        :model-value="pick.from"
        :items="[
          { value: 'top', title: 'Top' },
          { value: 'bottom', title: 'Bottom' },
        ]"
        @update:model-value="set({ from: $event as Pick['from'] })"
      />
      <v-text-field
        label="Number"
        type="number"
        min="1"
        max="1000"
        :model-value="pick.count"
        @change="set({ count: Math.max(1, Math.min(1000, Math.round(Number(valueOf($event)) || 1))) })"
      />
      <SelectionFields :dataset="dataset" :across="across" :selection="pick" @change="set" />
      <v-checkbox label="Group the others" :model-value="pick.others" @update:model-value="set({ others: !pick.others })" />
    </template>
  </SettingsSection>
</template>
