<script setup lang="ts">
import { fieldLabel, type CellExhibit, type Comparison, type MeasureCondition } from '@bold-compass/core/model';
import { computed } from 'vue';
import { datasetOf, useCompose } from '../context.ts';
import { groupingFields, measureChoices } from '../edges.ts';
import FilterEditor from './FilterEditor.vue';
import LinkList from './LinkList.vue';
import SettingsSection from './SettingsSection.vue';
import AddChoice from '../../shell/AddChoice.vue';

/** Which records count in a cross-tab or a chart, what its figures are held against, and where they lead. */
const props = defineProps<{ exhibit: CellExhibit }>();
const compose = useCompose();
const { report, change } = compose;
const dataset = computed(() => datasetOf(compose, props.exhibit));
const set = (part: Partial<Pick<CellExhibit, 'filter' | 'conditions' | 'against' | 'drills'>>): void =>
  change({ ...props.exhibit, ...part });
const valueOf = (event: Event): string => (event.target as HTMLInputElement | HTMLSelectElement).value;
const measures = computed(() => measureChoices(dataset.value));
const fields = computed(() => groupingFields(dataset.value));

const conditions = computed(() => props.exhibit.conditions);
function addCondition(field: string): void {
  const measure = props.exhibit.cells[0]?.measure ?? measures.value[0]?.name;
  if (field && measure) set({ conditions: [...conditions.value, { field, measure, op: 'gt', value: 'average' }] });
}
const setCondition = (index: number, part: Partial<MeasureCondition>): void =>
  set({ conditions: conditions.value.map((one, at) => (at === index ? { ...one, ...part } : one)) });

/** Fields whose members a link can carry along: those of both axes, and what the report asks for. */
const carried = computed(() => [
  ...new Set([
    ...props.exhibit.side.fields,
    ...props.exhibit.top.fields,
    ...report.value.prompts.flatMap((prompt) => (prompt.kind === 'members' ? prompt.fields : [])),
  ]),
]);
const times: { value: string; words: string; against: Comparison }[] = [
  { value: 'year', words: 'the same days, last year', against: { kind: 'back', amount: 1, unit: 'year' } },
  { value: 'month', words: 'the same days, last month', against: { kind: 'back', amount: 1, unit: 'month' } },
];
const againstWords = (against: Comparison): string =>
  against.kind === 'measure'
    ? (measures.value.find(({ name }) => name === against.measure)?.label ?? against.measure)
    : against.kind === 'back'
      ? `${against.amount} ${against.unit} before`
      : String(against.value);
function addAgainst(value: string): void {
  const found = times.find((one) => one.value === value)?.against;
  const against: Comparison = found ?? { kind: 'measure', measure: value };
  if (value) set({ against: [...props.exhibit.against, against] });
}
</script>

<template>
  <SettingsSection title="Filter" :about="exhibit.filter ? 'on' : undefined">
    <FilterEditor :filter="exhibit.filter" :dataset="dataset" :fields="fields" @change="set({ filter: $event })" />
  </SettingsSection>
  <SettingsSection title="Conditions on measures" :about="conditions.length ? String(conditions.length) : undefined">
    <div v-for="(condition, index) in conditions" :key="index" class="condition">
      <p>
        Only {{ fieldLabel(dataset, condition.field).toLowerCase() }} whose
        <v-btn variant="plain" class="inline" @click="set({ conditions: conditions.filter((_, at) => at !== index) })">Remove</v-btn>
      </p>
      <v-select
        :model-value="condition.measure"
        aria-label="Measure of the condition"
        :items="measures.map((measure) => ({ value: measure.name, title: measure.label }))"
        @update:model-value="setCondition(index, { measure: $event })"
      />
      <v-select
        :model-value="condition.op"
        aria-label="Comparison"
        :items="[
          { value: 'gt', title: 'Is above' },
          { value: 'ge', title: 'Is at least' },
          { value: 'lt', title: 'Is below' },
          { value: 'le', title: 'Is at most' },
        ]"
        @update:model-value="setCondition(index, { op: $event as 'gt' })"
      />
      <v-select
        :model-value="condition.value === 'average' ? 'average' : 'number'"
        aria-label="Compare with"
        :items="[
          { value: 'average', title: 'The average' },
          { value: 'number', title: 'Number' },
        ]"
        @update:model-value="setCondition(index, { value: $event === 'average' ? 'average' : 0 })"
      />
      <v-text-field
        v-if="condition.value !== 'average'"
        type="number"
        step="any"
        :model-value="condition.value"
        aria-label="Number of the condition"
        @change="Number.isFinite(Number(valueOf($event))) && setCondition(index, { value: Number(valueOf($event)) })"
      />
    </div>
    <AddChoice
      label="Add condition on members of"
      :items="fields.map((field) => ({ value: field.name, title: field.label, group: field.group }))"
      @add="addCondition"
    />
  </SettingsSection>
  <SettingsSection title="Comparisons" :about="exhibit.against.length ? String(exhibit.against.length) : undefined">
    <p v-for="(against, index) in exhibit.against" :key="index" class="row">
      {{ againstWords(against) }}
      <v-btn variant="plain" class="inline" @click="set({ against: exhibit.against.filter((_, at) => at !== index) })">Remove</v-btn>
    </p>
    <AddChoice
      label="Add comparison"
      :items="[
        ...times.map((one) => ({ value: one.value, title: one.words })),
        ...measures.map((measure) => ({ value: measure.name, title: measure.label })),
      ]"
      @add="addAgainst"
    />
  </SettingsSection>
  <SettingsSection title="Drill-through" :about="exhibit.drills.length ? String(exhibit.drills.length) : undefined">
    <LinkList
      :links="exhibit.drills"
      :report="report"
      :dataset="dataset"
      :fields="carried"
      records
      :most="20"
      @change="set({ drills: $event })"
    >
      <template #default="{ link, set: setLink }">
        <v-select
          label="Link on"
          :model-value="link.from ?? 'cells'"
          :items="[
            { value: 'cells', title: 'Figures' },
            { value: 'labels', title: 'Row labels' },
            { value: 'columns', title: 'Column labels' },
          ]"
          @update:model-value="setLink({ from: $event === 'cells' ? undefined : $event, level: undefined, measures: undefined })"
        />
        <v-select
          v-if="link.from === 'labels' || link.from === 'columns'"
          label="Level"
          :model-value="link.level ?? ''"
          :items="[
            { value: '', title: 'All levels' },
            ...exhibit[link.from === 'labels' ? 'side' : 'top'].fields.map((name) => ({ value: name, title: fieldLabel(dataset, name) })),
          ]"
          @update:model-value="setLink({ level: $event || undefined })"
        />
        <v-select
          v-else-if="exhibit.cells.length > 1"
          label="Measures"
          multiple
          :model-value="link.measures ?? []"
          :items="
            exhibit.cells.map(({ measure }) => ({ value: measure, title: measures.find(({ name }) => name === measure)?.label ?? measure }))
          "
          placeholder="All"
          @update:model-value="setLink({ measures: $event.length > 0 ? $event : undefined })"
        />
      </template>
    </LinkList>
  </SettingsSection>
</template>

<style scoped>
.condition {
  display: grid;
  gap: 4px;
  border-left: 3px solid var(--sea-tint);
  padding-left: 8px;
  font-size: 13px;
}
.condition p,
.row {
  margin: 0;
  display: flex;
  justify-content: space-between;
  gap: 6px;
  align-items: center;
  font-size: 13px;
}
</style>
