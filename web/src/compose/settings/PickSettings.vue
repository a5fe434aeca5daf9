<script setup lang="ts">
import type { Dataset, Pick } from '@bold-compass/core/model';
import { computed } from 'vue';
import { measureChoices } from '../edges.ts';
import MemberPath from './MemberPath.vue';
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
    <label>Show only some <input type="checkbox" :checked="pick !== undefined" @change="toggle" /></label>
    <template v-if="pick">
      <label
        >Which
        <select class="choice" :value="pick.from" @change="set({ from: valueOf($event) as Pick['from'] })">
          <option value="top">Top</option>
          <option value="bottom">Bottom</option>
        </select>
      </label>
      <label
        >How many
        <input
          class="entry"
          type="number"
          min="1"
          max="1000"
          :value="pick.count"
          @change="set({ count: Math.max(1, Math.min(1000, Math.round(Number(valueOf($event)) || 1))) })"
      /></label>
      <label class="stacked"
        >By
        <select class="choice" :value="pick.measure" @change="set({ measure: valueOf($event) })">
          <option v-for="measure in measures" :key="measure.name" :value="measure.name">{{ measure.label }}</option>
        </select>
      </label>
      <MemberPath :dataset="dataset" :fields="across" :path="pick.at" words="in the figures of" @change="set({ at: $event })" />
      <label
        >Of
        <select class="choice" :value="pick.per" @change="set({ per: valueOf($event) as Pick['per'] })">
          <option value="parent">each parent</option>
          <option value="all">all members</option>
        </select>
      </label>
      <label>All others as one <input type="checkbox" :checked="pick.others" @change="set({ others: !pick.others })" /></label>
    </template>
  </SettingsSection>
</template>
