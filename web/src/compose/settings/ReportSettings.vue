<script setup lang="ts">
import { namesIn } from '@bold-compass/core/formula';
import { fieldLabel, type Measure, type Report, type Sections } from '@bold-compass/core/model';
import { promptTitle } from '@bold-compass/core/prompts';
import { computed, ref } from 'vue';
import { datasetOf, useCompose } from '../context.ts';
import { useBrokenLinks } from '../broken-links.ts';
import { withoutMeasure } from '../measures.ts';
import PromptList from './prompts/PromptList.vue';
import SectionSettings from './SectionSettings.vue';
import SettingsSection from './SettingsSection.vue';

/** The report itself: its words, and what it asks the reader. */
const compose = useCompose();
const { report, setReport, written, selection } = compose;
const broken = useBrokenLinks(report);
const dataset = computed(() => datasetOf(compose, undefined));
const set = (part: Partial<Report>): void => setReport({ ...report.value, ...part });
const valueOf = (event: Event): string => (event.target as HTMLInputElement | HTMLSelectElement).value;
function titleOf(id: string): string {
  const prompt = report.value.prompts.find((one) => one.id === id);
  return prompt ? promptTitle(prompt, dataset.value) : id;
}
/** Opens the formula of a measure, over the first cross-tab that shows it. */
function edit(measure: Measure): void {
  const crosstabs = report.value.exhibits.filter((one) => one.kind === 'crosstab');
  const exhibit = crosstabs.find(({ cells }) => cells.some((cell) => cell.measure === measure.name)) ?? crosstabs[0];
  written.value = { measure, isNew: false, exhibit: exhibit?.id ?? null, at: 0 };
}
const isNamed = (name: string): boolean => report.value.measures.some(({ formula }) => namesIn(formula).has(name.toLowerCase()));
/** What of the report is repeated in sections: a page, or all of it where none is named. */
const repeatedPart = ref('');
const repeated = computed(() => {
  const { pages } = report.value;
  const page = pages.find(({ id }) => id === repeatedPart.value);
  return page
    ? {
        sections: page.sections,
        set: (sections: Sections | undefined): void => set({ pages: pages.map((one) => (one === page ? { ...one, sections } : one)) }),
      }
    : { sections: report.value.sections, set: (sections: Sections | undefined): void => set({ sections }) };
});
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
    <PromptList />
  </SettingsSection>
  <SettingsSection title="Sections" :about="repeated.sections ? fieldLabel(dataset, repeated.sections.field) : 'None'">
    <v-select
      v-if="report.pages.length > 1"
      v-model="repeatedPart"
      label="Of"
      :items="[{ value: '', title: 'The whole report' }, ...report.pages.map(({ id, title }) => ({ value: id, title }))]"
    />
    <SectionSettings :key="repeatedPart" :sections="repeated.sections" :dataset="dataset" @change="repeated.set($event)" />
  </SettingsSection>
  <SettingsSection v-if="broken.length > 0" title="Broken links" :about="String(broken.length)" open>
    <ul class="broken">
      <li v-for="(one, index) in broken" :key="index">
        <v-btn variant="plain" class="inline" @click="selection = { exhibit: one.exhibit }">{{ one.label }}</v-btn>
        <span class="muted">{{ one.reason }}</span>
      </li>
    </ul>
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
      <span v-else class="muted">{{ titleOf(piece.prompt) }}</span>
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
.broken {
  margin: 0;
  padding: 0;
  list-style: none;
  font-size: 13px;
}
.broken li {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 8px;
  align-items: center;
}
</style>
