<script setup lang="ts">
import { fieldLabel, type Variance } from '@bold-compass/core/model';
import { computed } from 'vue';
import { datasetOf, useCompose } from '../context.ts';
import { groupingFields, measureChoices } from '../edges.ts';
import AddChoice from '../../shell/AddChoice.vue';
import { useMembers } from '../members.ts';
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
const between = computed(() => props.exhibit.between);
const { members } = useMembers(
  computed(() => dataset.value.name),
  computed(() => between.value?.field),
);
const choices = computed(() => (members.value ?? []).map(({ member, label }) => ({ value: member, title: label })));
const chooseField = (field: string): void => set({ between: { field, before: '', after: '' } });
const SIDES = [
  ['after', 'Member'],
  ['before', 'Compared with'],
] as const;
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
    <v-select
      label="Compare"
      :model-value="between ? 'members' : 'periods'"
      :items="[
        { value: 'periods', title: 'Two periods' },
        { value: 'members', title: 'Two members' },
      ]"
      @update:model-value="$event === 'members' ? chooseField(exhibit.fields[0]) : set({ between: undefined })"
    />
    <template v-if="between">
      <v-select
        label="Members of"
        :model-value="between.field"
        :items="fields.map(({ name, label, group }) => ({ value: name, title: label, props: { subtitle: group } }))"
        @update:model-value="chooseField"
      />
      <v-autocomplete
        v-for="[which, words] in SIDES"
        :key="which"
        :label="words"
        :model-value="between[which] || null"
        :items="choices"
        @update:model-value="$event !== null && set({ between: { ...between, [which]: $event } })"
      />
    </template>
    <v-text-field
      v-if="!between"
      label="Periods back"
      type="number"
      min="1"
      max="100"
      :model-value="exhibit.back.amount"
      @change="set({ back: { ...exhibit.back, amount: within(valueOf($event), 100) } })"
    />
    <v-select
      v-if="!between"
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
