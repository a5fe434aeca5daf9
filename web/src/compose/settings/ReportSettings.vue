<script setup lang="ts">
import { namesIn } from '@bold-compass/core/formula';
import { fieldLabel, findField, type Measure, type Prompt, type Report } from '@bold-compass/core/model';
import { computed } from 'vue';
import { datasetOf, useCompose } from '../context.ts';
import { groupingFields } from '../edges.ts';
import { withoutMeasure } from '../measures.ts';
import { askNoLonger, askReader, promptLabel } from '../prompts.ts';
import SettingsSection from './SettingsSection.vue';
import AddChoice from '../../shell/AddChoice.vue';

/** The report itself: its words, and what it asks the reader. */
const compose = useCompose();
const { report, setReport, written } = compose;
const dataset = computed(() => datasetOf(compose, undefined));
const set = (part: Partial<Report>): void => setReport({ ...report.value, ...part });
const valueOf = (event: Event): string => (event.target as HTMLInputElement | HTMLSelectElement).value;
const free = computed(() =>
  groupingFields(dataset.value).filter(({ name }) => !report.value.prompts.some(({ fields }) => fields.includes(name))),
);
function add(name: string): void {
  const choice = free.value.find((one) => one.name === name);
  if (choice) setReport(askReader(report.value, dataset.value, choice.fields));
}
/** The parts of a prompt that are asked for apart: its fields, or a tree as one. */
function partsOf({ fields }: Prompt): { label: string; fields: string[] }[] {
  const place = findField(dataset.value, fields[0]);
  if (place?.kind === 'level' && place.dimension.tree) return [{ label: promptLabel(dataset.value, fields), fields }];
  return fields.map((field) => ({ label: labelOf(field), fields: [field] }));
}
const labelOf = (field: string): string => (findField(dataset.value, field) ? fieldLabel(dataset.value, field) : field);
/** Opens the formula of a measure, over the first cross-tab that shows it. */
function edit(measure: Measure): void {
  const crosstabs = report.value.exhibits.filter((one) => one.kind === 'crosstab');
  const exhibit = crosstabs.find(({ cells }) => cells.some((cell) => cell.measure === measure.name)) ?? crosstabs[0];
  written.value = { measure, isNew: false, exhibit: exhibit?.id ?? null, at: 0 };
}
const isNamed = (name: string): boolean => report.value.measures.some(({ formula }) => namesIn(formula).has(name.toLowerCase()));
const setMultiple = (id: string): void =>
  set({ prompts: report.value.prompts.map((one) => (one.id === id ? { ...one, multiple: !one.multiple } : one)) });
const setWords = (index: number, text: string): void =>
  set({ scopeLine: report.value.scopeLine.map((piece, at) => (at === index ? { text } : piece)) });
</script>

<template>
  <p class="kind">Report</p>
  <h2>{{ report.title }}</h2>
  <SettingsSection title="Title and place" open>
    <v-text-field
      label="Title"
      :model-value="report.title"
      maxlength="200"
      @change="set({ title: valueOf($event).trim() || report.title })"
    />
    <v-text-field label="Subtitle" :model-value="report.subtitle" maxlength="300" @change="set({ subtitle: valueOf($event).trim() })" />
    <v-text-field
      label="Folder"
      :model-value="report.folder"
      maxlength="200"
      placeholder="Commercial › Monthly"
      @change="set({ folder: valueOf($event).trim() })"
    />
    <v-textarea label="Description" rows="3" :model-value="report.note" @change="set({ note: valueOf($event).trim() })" />
    <p class="muted">Titles and notes may hold values: {scope}, {data as of}, or a measure such as {net_sales}.</p>
  </SettingsSection>
  <SettingsSection title="Prompts" :about="String(report.prompts.length)" open>
    <div v-for="prompt in report.prompts" :key="prompt.id" class="prompt">
      <p v-for="part in partsOf(prompt)" :key="part.label">
        {{ part.label }}
        <v-btn
          variant="plain"
          :aria-label="`Remove the prompt for ${part.label}`"
          class="inline"
          @click="setReport(part.fields.reduce(askNoLonger, report))"
        >
          Remove
        </v-btn>
      </p>
      <v-checkbox label="Multiple choice" :model-value="prompt.multiple" @update:model-value="setMultiple(prompt.id)" />
    </div>
    <AddChoice
      label="Add prompt"
      :items="free.map((field) => ({ value: field.name, title: field.label, group: field.group }))"
      @add="add"
    />
  </SettingsSection>
  <SettingsSection v-if="report.measures.length > 0" title="Measures of this report" :about="String(report.measures.length)">
    <div v-for="measure in report.measures" :key="measure.name" class="prompt">
      <p>
        {{ measure.label }}
        <v-btn variant="plain" :aria-label="`Edit the formula of ${measure.label}`" class="inline" @click="edit(measure)">Edit</v-btn>
        <v-btn
          variant="plain"
          :aria-label="`Remove ${measure.label}`"
          class="inline"
          :disabled="isNamed(measure.name)"
          :title="isNamed(measure.name) ? 'Another measure names it' : undefined"
          @click="setReport(withoutMeasure(report, measure.name))"
        >
          Remove
        </v-btn>
      </p>
      <p class="muted">{{ measure.formula }}</p>
    </div>
  </SettingsSection>
  <SettingsSection v-if="report.scopeLine.length > 0" title="Scope line text">
    <template v-for="(piece, index) in report.scopeLine" :key="index">
      <v-text-field
        v-if="'text' in piece"
        :model-value="piece.text"
        :aria-label="`Words ${index + 1}`"
        @change="setWords(index, valueOf($event))"
      />
      <span v-else class="muted">{{
        report.prompts
          .find(({ id }) => id === piece.prompt)
          ?.fields.map(labelOf)
          .join(' › ')
      }}</span>
    </template>
  </SettingsSection>
</template>

<style scoped>
.prompt {
  border-left: 3px solid var(--sea-tint);
  padding-left: 8px;
}
.prompt p {
  display: flex;
  justify-content: space-between;
  margin: 0;
  min-height: 28px;
  align-items: center;
  font-size: 13px;
  font-weight: 600;
}
.muted {
  font-size: 12.5px;
  margin: 0;
}
</style>
