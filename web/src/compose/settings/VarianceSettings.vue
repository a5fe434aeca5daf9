<script setup lang="ts">
import { fieldLabel, type Variance } from '@bold-compass/core/model';
import { computed } from 'vue';
import { datasetOf, useCompose } from '../context.ts';
import { groupingFields, measureChoices } from '../edges.ts';
import AddChoice from '../../shell/AddChoice.vue';
import FilterEditor from './FilterEditor.vue';
import SettingsSection from './SettingsSection.vue';

/** What changed: the measure, what it compares with, and the fields that are looked through. */
const props = defineProps<{ exhibit: Variance }>();
const compose = useCompose();
const dataset = computed(() => datasetOf(compose, props.exhibit));
const set = (part: Partial<Variance>): void => compose.change({ ...props.exhibit, ...part });
const measures = computed(() => measureChoices(dataset.value));
const fields = computed(() => groupingFields(dataset.value));
const free = computed(() => fields.value.filter(({ name }) => !props.exhibit.fields.includes(name)));
const valueOf = (event: Event): string => (event.target as HTMLInputElement).value;
const within = (text: string, most: number): number => Math.min(most, Math.max(1, Math.round(Number(text)) || 1));
const UNITS = ['year', 'quarter', 'month', 'week', 'day'] as const;
const MOST_FIELDS = 12;
</script>

<template>
  <SettingsSection title="Comparison" open>
    <v-select
      label="Measure"
      :model-value="exhibit.measure"
      :items="measures.map(({ name, label }) => ({ value: name, title: label }))"
      @update:model-value="set({ measure: $event, effects: undefined })"
    />
    <v-text-field
      label="Periods back"
      type="number"
      min="1"
      max="100"
      :model-value="exhibit.back.amount"
      @change="set({ back: { ...exhibit.back, amount: within(valueOf($event), 100) } })"
    />
    <v-select
      label="Period"
      :model-value="exhibit.back.unit"
      :items="UNITS.map((unit) => ({ value: unit, title: unit.charAt(0).toUpperCase() + unit.slice(1) }))"
      @update:model-value="set({ back: { ...exhibit.back, unit: $event } })"
    />
    <v-text-field
      label="Top n members"
      type="number"
      min="1"
      max="30"
      :model-value="exhibit.most"
      @change="set({ most: within(valueOf($event), 30) })"
    />
  </SettingsSection>
  <SettingsSection title="Fields" :about="String(exhibit.fields.length)" open>
    <p v-for="field in exhibit.fields" :key="field" class="row">
      {{ fieldLabel(dataset, field) }}
      <v-btn
        v-if="exhibit.fields.length > 1"
        variant="plain"
        class="inline"
        :aria-label="`Remove ${fieldLabel(dataset, field)}`"
        @click="set({ fields: exhibit.fields.filter((one) => one !== field) })"
        >Remove</v-btn
      >
    </p>
    <AddChoice
      v-if="exhibit.fields.length < MOST_FIELDS"
      label="Add field"
      :items="free.map(({ name, label, group }) => ({ value: name, title: label, group }))"
      @add="$event && set({ fields: [...exhibit.fields, $event] })"
    />
  </SettingsSection>
  <SettingsSection title="Price, volume and mix" :about="exhibit.effects ? 'on' : undefined">
    <v-select
      label="Quantity"
      :model-value="exhibit.effects?.quantity ?? ''"
      :items="[{ value: '', title: 'None' }, ...measures.map(({ name, label }) => ({ value: name, title: label }))]"
      @update:model-value="
        set({ effects: $event ? { quantity: $event, field: exhibit.effects?.field ?? exhibit.fields.at(-1)! } : undefined })
      "
    />
    <v-select
      v-if="exhibit.effects"
      label="Over members of"
      :model-value="exhibit.effects.field"
      :items="fields.map(({ name, label }) => ({ value: name, title: label }))"
      @update:model-value="set({ effects: { quantity: exhibit.effects!.quantity, field: $event } })"
    />
  </SettingsSection>
  <SettingsSection title="Filter" :about="exhibit.filter ? 'on' : undefined">
    <FilterEditor :filter="exhibit.filter" :dataset="dataset" :fields="fields" @change="set({ filter: $event })" />
  </SettingsSection>
</template>

<style scoped>
.row {
  margin: 0;
  display: flex;
  justify-content: space-between;
  gap: 6px;
  align-items: center;
  font-size: 13px;
}
</style>
