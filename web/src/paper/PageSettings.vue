<script setup lang="ts">
import { MARGINS, PAPERS } from '@bold-compass/core/exports';
import { isDataExhibit, PAPER_NAMES, pageSetupSchema, type PageSetup } from '@bold-compass/core/model';
import { openSteps } from '@bold-compass/core/table';
import { computed } from 'vue';
import { datasetOf, useCompose } from '../compose/context.ts';
import SettingsSection from '../compose/settings/SettingsSection.vue';
import { withBreak } from './breaks.ts';

/** What a report looks like on paper. */
const compose = useCompose();
const { report, setReport } = compose;
const setup = computed(() => report.value.pageSetup ?? pageSetupSchema.parse({}));
const set = (part: Partial<PageSetup>): void => setReport({ ...report.value, pageSetup: { ...setup.value, ...part } });
const valueOf = (event: Event): string => (event.target as HTMLInputElement).value;

const papers = PAPER_NAMES.map((value) => ({ value, title: PAPERS[value].label }));
const margins = (Object.keys(MARGINS) as PageSetup['margins'][]).map((value) => ({ value, title: MARGINS[value].label }));
/** The levels that rows of its cross-tabs can be opened to, each once. */
const levels = computed(() => {
  const labels = report.value.exhibits.flatMap((exhibit) =>
    exhibit.kind === 'crosstab' ? openSteps(datasetOf(compose, exhibit), exhibit.side.fields).map(({ label }) => label) : [],
  );
  return [...new Set(labels)];
});
const expandedTo = computed(() =>
  setup.value.expandedTo.to === 'level' ? `level ${setup.value.expandedTo.label}` : setup.value.expandedTo.to,
);
const expand = (to: string): void =>
  set({ expandedTo: to.startsWith('level ') ? { to: 'level', label: to.slice(6) } : { to: to === 'all' ? 'all' : 'screen' } });
const placed = computed(() =>
  report.value.exhibits.map((one) => ({
    id: one.id,
    title: isDataExhibit(one) ? one.title : one.kind,
    startsPage: one.startsPage === true,
  })),
);
</script>

<template>
  <p class="kind">Report</p>
  <h2>Pages</h2>
  <SettingsSection title="Paper" open>
    <v-select label="Size" :model-value="setup.size" :items="papers" @update:model-value="set({ size: $event })" />
    <v-select
      label="Orientation"
      :model-value="setup.orientation"
      :items="[
        { value: 'portrait', title: 'Portrait' },
        { value: 'landscape', title: 'Landscape' },
      ]"
      @update:model-value="set({ orientation: $event })"
    />
    <v-select label="Margins" :model-value="setup.margins" :items="margins" @update:model-value="set({ margins: $event })" />
  </SettingsSection>
  <SettingsSection title="Head and foot" open>
    <v-checkbox label="Report title" :model-value="setup.title" @update:model-value="set({ title: $event === true })" />
    <v-select
      label="Scope line"
      :model-value="setup.scope"
      :items="[
        { value: 'first', title: 'First page' },
        { value: 'every', title: 'Every page' },
        { value: 'none', title: 'Not shown' },
      ]"
      @update:model-value="set({ scope: $event })"
    />
    <v-checkbox label="Data as of" :model-value="setup.dataAsOf" @update:model-value="set({ dataAsOf: $event === true })" />
    <v-select
      label="Page number"
      :model-value="setup.pageNumber"
      :items="[
        { value: 'of', title: 'Page 1 of 4' },
        { value: 'plain', title: '1' },
        { value: 'none', title: 'Not shown' },
      ]"
      @update:model-value="set({ pageNumber: $event })"
    />
    <v-text-field label="Running head" maxlength="200" :model-value="setup.head" @change="set({ head: valueOf($event).trim() })" />
    <v-text-field label="Running foot" maxlength="200" :model-value="setup.foot" @change="set({ foot: valueOf($event).trim() })" />
    <p class="muted">Both may hold values: {page}, {pages}, {scope}, {data as of}, or a measure such as {net_sales}.</p>
  </SettingsSection>
  <SettingsSection title="Tables" open>
    <v-checkbox label="Keep groups together" :model-value="setup.keepGroups" @update:model-value="set({ keepGroups: $event === true })" />
    <v-select
      label="Wide tables"
      :model-value="setup.wide"
      :items="[
        { value: 'down', title: 'Down, across' },
        { value: 'across', title: 'Across, down' },
        { value: 'shrink', title: 'Scale to fit' },
      ]"
      @update:model-value="set({ wide: $event })"
    />
    <v-select
      label="Expanded to"
      :model-value="expandedTo"
      :items="[
        { value: 'screen', title: 'As on screen' },
        ...levels.map((label) => ({ value: `level ${label}`, title: label })),
        { value: 'all', title: 'Fully expanded' },
      ]"
      @update:model-value="expand($event)"
    />
  </SettingsSection>
  <SettingsSection title="Page breaks" open>
    <v-checkbox
      v-for="{ id, title, startsPage } in placed"
      :key="id"
      :label="`Before ${title}`"
      :model-value="startsPage"
      @update:model-value="setReport(withBreak(report, id, $event === true))"
    />
  </SettingsSection>
</template>

<style scoped>
.muted {
  margin: 0;
  font-size: 12.5px;
}
</style>
