<script setup lang="ts">
import { fieldLabel, type Axis, type Crosstab, type Summary } from '@bold-compass/core/model';
import { computed } from 'vue';
import { SUMMARY_WORDS, summaryWords } from '@bold-compass/core/table';
import { datasetOf, useCompose } from '../context.ts';
import { setAxis, type Edge } from '../edges.ts';
import DataSettings from './DataSettings.vue';
import OpenLevels from './OpenLevels.vue';
import SettingsSection from './SettingsSection.vue';
import FoldedPart from '../../shell/FoldedPart.vue';

/** A cross-tab as a whole: totals, layout and look. */
const props = defineProps<{ exhibit: Crosstab }>();
const compose = useCompose();
const { change } = compose;
const dataset = computed(() => datasetOf(compose, props.exhibit));
const set = (part: Partial<Crosstab>): void => change({ ...props.exhibit, ...part });
const axis = (edge: Edge, part: Partial<Axis>): void => change(setAxis(props.exhibit, edge, part));
const valueOf = (event: Event): string => (event.target as HTMLInputElement | HTMLSelectElement).value;
const EDGES: { edge: Edge; words: string; total: string }[] = [
  { edge: 'side', words: 'Rows', total: 'Total of the rows' },
  { edge: 'top', words: 'Columns', total: 'Total of the columns' },
];
const SUMMARIES = Object.keys(SUMMARY_WORDS) as Summary[];
function toggleSummary(edge: Edge, summary: Summary): void {
  const { summaries } = props.exhibit[edge];
  axis(edge, { summaries: summaries.includes(summary) ? summaries.filter((one) => one !== summary) : [...summaries, summary] });
}
</script>

<template>
  <SettingsSection title="Totals">
    <template v-for="{ edge, total } in EDGES" :key="edge">
      <v-select
        :label="total"
        :model-value="exhibit[edge].total"
        :items="[
          { value: 'auto', title: 'Automatic' },
          { value: 'always', title: 'Always' },
          { value: 'never', title: 'Never' },
        ]"
        @update:model-value="axis(edge, { total: $event as Axis['total'] })"
      />
      <v-select
        v-if="exhibit[edge].total !== 'never'"
        label="Total position"
        :model-value="exhibit[edge].totalPlace"
        :items="[
          { value: 'after', title: 'After members' },
          { value: 'before', title: 'Before members' },
        ]"
        @update:model-value="axis(edge, { totalPlace: $event as 'after' })"
      />
      <FoldedPart :title="`Summary lines${exhibit[edge].summaries.length > 0 ? ` (${exhibit[edge].summaries.length})` : ''}`">
        <v-checkbox
          v-for="summary in SUMMARIES"
          :key="summary"
          :label="summaryWords(summary, edge === 'side' ? 'rows' : 'columns')"
          :model-value="exhibit[edge].summaries.includes(summary)"
          @update:model-value="toggleSummary(edge, summary)"
        />
      </FoldedPart>
    </template>
  </SettingsSection>
  <SettingsSection title="Layout">
    <v-select
      label="Row layout"
      :model-value="exhibit.side.layout"
      :items="[
        { value: 'tree', title: 'Tree' },
        { value: 'columns', title: 'Columns' },
      ]"
      @update:model-value="axis('side', { layout: $event as Axis['layout'] })"
    />
    <v-checkbox
      v-if="exhibit.side.layout === 'columns'"
      label="Repeat labels"
      :model-value="exhibit.side.repeatLabels"
      @update:model-value="axis('side', { repeatLabels: !exhibit.side.repeatLabels })"
    />
    <v-select
      v-if="exhibit.cells.length > 1"
      label="Measure layout"
      :model-value="exhibit.measuresOn"
      :items="[
        { value: 'top', title: 'Side by side' },
        { value: 'side', title: 'Stacked' },
      ]"
      @update:model-value="set({ measuresOn: $event as Crosstab['measuresOn'] })"
    />
    <template v-for="{ edge, words } in EDGES" :key="edge">
      <OpenLevels :exhibit="exhibit" :edge="edge" :words="words" />
      <v-checkbox
        :label="`Hide empty ${words.toLowerCase()}`"
        :model-value="exhibit[edge].hideEmpty"
        @update:model-value="axis(edge, { hideEmpty: !exhibit[edge].hideEmpty })"
      />
    </template>
  </SettingsSection>
  <SettingsSection title="Style">
    <v-select
      label="Style"
      :model-value="exhibit.style"
      :items="[
        { value: 'yearbook', title: 'Yearbook' },
        { value: 'ledger', title: 'Ledger' },
        { value: 'open', title: 'Open' },
      ]"
      @update:model-value="set({ style: $event as Crosstab['style'] })"
    />
    <v-select
      v-if="exhibit.side.fields.length > 0"
      label="Banding"
      :model-value="exhibit.banding ?? ''"
      :items="[
        { value: '', title: 'None' },
        ...exhibit.side.fields.map((field) => ({ value: field, title: `By ${fieldLabel(dataset, field).toLowerCase()}` })),
      ]"
      @update:model-value="set({ banding: $event || undefined })"
    />
    <v-text-field
      label="Missing values as"
      class="short"
      :model-value="exhibit.blank"
      maxlength="20"
      @change="set({ blank: valueOf($event) })"
    />
    <v-checkbox label="Freeze headings" :model-value="exhibit.freeze" @update:model-value="set({ freeze: !exhibit.freeze })" />
    <v-btn v-if="Object.keys(exhibit.widths).length > 0" variant="plain" class="inline" @click="set({ widths: {} })">
      Reset column widths
    </v-btn>
  </SettingsSection>
  <DataSettings :exhibit="exhibit" />
</template>

<style scoped>
.short {
  width: 60px;
}
</style>
