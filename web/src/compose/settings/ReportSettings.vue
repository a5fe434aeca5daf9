<script setup lang="ts">
import { fieldLabel, findField, type Report } from '@bold-compass/core/model';
import { computed } from 'vue';
import { datasetOf, useCompose } from '../context.ts';
import { groupingFields } from '../edges.ts';
import { askNoLonger, askReader } from '../prompts.ts';
import SettingsSection from './SettingsSection.vue';
import AddChoice from '../../shell/AddChoice.vue';

/** The report itself: its words, and what it asks the reader. */
const compose = useCompose();
const { report, setReport } = compose;
const dataset = computed(() => datasetOf(compose, undefined));
const set = (part: Partial<Report>): void => setReport({ ...report.value, ...part });
const valueOf = (event: Event): string => (event.target as HTMLInputElement | HTMLSelectElement).value;
const free = computed(() =>
  groupingFields(dataset.value).filter(({ name }) => !report.value.prompts.some(({ fields }) => fields.includes(name))),
);
const labelOf = (field: string): string => (findField(dataset.value, field) ? fieldLabel(dataset.value, field) : field);
const setMultiple = (id: string): void =>
  set({ prompts: report.value.prompts.map((one) => (one.id === id ? { ...one, multiple: !one.multiple } : one)) });
const setWords = (index: number, text: string): void =>
  set({ scopeLine: report.value.scopeLine.map((piece, at) => (at === index ? { text } : piece)) });
</script>

<template>
  <p class="kind">Report</p>
  <h2>{{ report.title }}</h2>
  <SettingsSection title="Title and place" open>
    <label class="stacked"
      >Title <input class="entry" :value="report.title" maxlength="200" @change="set({ title: valueOf($event).trim() || report.title })"
    /></label>
    <label class="stacked"
      >Subtitle <input class="entry" :value="report.subtitle" maxlength="300" @change="set({ subtitle: valueOf($event).trim() })"
    /></label>
    <label class="stacked"
      >Folder
      <input
        class="entry"
        :value="report.folder"
        maxlength="200"
        placeholder="Commercial › Monthly"
        @change="set({ folder: valueOf($event).trim() })"
    /></label>
    <label class="stacked"
      >What it is for, in the library
      <textarea class="entry" rows="3" :value="report.note" @change="set({ note: valueOf($event).trim() })" />
    </label>
    <p class="muted">Titles and notes may hold values: {scope}, {data as of}, or a measure such as {net_sales}.</p>
  </SettingsSection>
  <SettingsSection title="Prompts" :about="String(report.prompts.length)" open>
    <div v-for="prompt in report.prompts" :key="prompt.id" class="prompt">
      <p v-for="field in prompt.fields" :key="field">
        {{ labelOf(field) }}
        <button
          type="button"
          class="link"
          :aria-label="`Ask no longer for ${labelOf(field)}`"
          @click="setReport(askNoLonger(report, field))"
        >
          Remove
        </button>
      </p>
      <label>Multiple choice <input type="checkbox" :checked="prompt.multiple" @change="setMultiple(prompt.id)" /></label>
    </div>
    <AddChoice class="wide" label="Add prompt" words="Add prompt" @add="setReport(askReader(report, dataset, $event))">
      <option v-for="field in free" :key="field.name" :value="field.name">{{ field.group }}: {{ field.label }}</option>
    </AddChoice>
  </SettingsSection>
  <SettingsSection v-if="report.scopeLine.length > 0" title="Scope line text">
    <template v-for="(piece, index) in report.scopeLine" :key="index">
      <input
        v-if="'text' in piece"
        class="entry"
        :value="piece.text"
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
