<script setup lang="ts">
import { LOCALE } from '@bold-compass/core/format';
import { sparklineFields } from '@bold-compass/core/marks';
import { measureNamed, type Kpi, type KpiStrip } from '@bold-compass/core/model';
import { newKpi } from '@bold-compass/core/exhibits';
import { comparisonWords } from '@bold-compass/core/indicators';
import { computed } from 'vue';
import { movedBy } from '../../drag/landing.ts';
import { datasetOf, useCompose } from '../context.ts';
import { groupingFields, measureChoices } from '../edges.ts';
import FilterEditor from './FilterEditor.vue';
import FormatFields from '../../shell/FormatFields.vue';
import IndicatorEditor from './IndicatorEditor.vue';
import LinkList from './LinkList.vue';
import SettingsSection from './SettingsSection.vue';
import AddChoice from '../../shell/AddChoice.vue';

/** A strip of key figures. */
const props = defineProps<{ exhibit: KpiStrip }>();
const compose = useCompose();
const { change, report } = compose;
const asked = computed(() => report.value.prompts.flatMap((prompt) => (prompt.kind === 'members' ? prompt.fields : [])));
const dataset = computed(() => datasetOf(compose, props.exhibit));
const MOST = 12;
const periodsOf = (text: string): number => Math.min(60, Math.max(2, Math.round(Number(text)) || 24));
/** Levels whose members can be counted by their states. */
const members = computed(() =>
  dataset.value.dimensions.flatMap((dimension) =>
    dimension.kind === 'table' ? dimension.levels.map(({ name, label }) => ({ value: name, title: label })) : [],
  ),
);
const measures = computed(() => measureChoices(dataset.value));
const setKpi = (index: number, part: Partial<Kpi>): void =>
  change({ ...props.exhibit, kpis: props.exhibit.kpis.map((one, at) => (at === index ? { ...one, ...part } : one)) });
const valueOf = (event: Event): string => (event.target as HTMLInputElement | HTMLSelectElement).value;
function setMeasure(index: number, name: string): void {
  const { label } = measureNamed(dataset.value, name);
  setKpi(index, { measure: name, label, format: undefined });
}
/** Words that were written for another comparison say nothing of this one. */
function setIndicator(index: number, indicator: Kpi['indicator']): void {
  const { indicator: before, words } = props.exhibit.kpis[index];
  const isSame = JSON.stringify([before.against, before.by]) === JSON.stringify([indicator.against, indicator.by]);
  setKpi(index, { indicator, words: isSame ? words : '' });
}
const move = (index: number, by: -1 | 1): void => change({ ...props.exhibit, kpis: movedBy(props.exhibit.kpis, index, by) });
function add(name: string): void {
  if (!name) return;
  const ids = props.exhibit.kpis.map(({ id }) => id);
  change({ ...props.exhibit, kpis: [...props.exhibit.kpis, newKpi(measureNamed(dataset.value, name), ids)] });
}
</script>

<template>
  <SettingsSection v-for="(kpi, index) in exhibit.kpis" :key="kpi.id" :title="kpi.label">
    <v-select
      label="Measure"
      :model-value="kpi.measure"
      :items="measures.map((measure) => ({ value: measure.name, title: measure.label }))"
      @update:model-value="setMeasure(index, $event)"
    />
    <v-text-field label="Label" :model-value="kpi.label" @change="setKpi(index, { label: valueOf($event).trim() || kpi.label })" />
    <FormatFields
      :format="kpi.format ?? measureNamed(dataset, kpi.measure).format"
      :own="kpi.format !== undefined"
      @change="setKpi(index, { format: $event })"
    />
    <v-select
      label="Show as"
      :model-value="kpi.show"
      :items="[
        { value: 'figure', title: 'Figure' },
        { value: 'large', title: 'Large figure' },
        { value: 'bullet', title: 'Bullet bar' },
      ]"
      @update:model-value="setKpi(index, { show: $event })"
    />
    <v-select
      label="Trend line"
      :model-value="kpi.trend?.field ?? ''"
      :items="[{ value: '', title: 'None' }, ...sparklineFields(dataset)]"
      @update:model-value="setKpi(index, { trend: $event ? { field: $event, periods: kpi.trend?.periods ?? 24 } : undefined })"
    />
    <v-text-field
      v-if="kpi.trend"
      label="Periods at most"
      type="number"
      min="2"
      max="60"
      :model-value="kpi.trend.periods"
      @change="setKpi(index, { trend: { field: kpi.trend!.field, periods: periodsOf(valueOf($event)) } })"
    />
    <v-autocomplete
      label="Count by level"
      hint="How many members are off course, and which"
      :model-value="kpi.rollUp?.field ?? ''"
      :items="[{ value: '', title: 'None' }, ...members]"
      @update:model-value="setKpi(index, { rollUp: $event ? { field: $event } : undefined })"
    />
    <IndicatorEditor
      :indicator="kpi.indicator"
      :dataset="dataset"
      :exhibit="exhibit.id"
      :measure="kpi.measure"
      :fields="kpi.rollUp ? [kpi.rollUp.field] : members.map(({ value }) => value)"
      :beside="false"
      @change="setIndicator(index, $event)"
    />
    <v-text-field
      label="Comparison text"
      :model-value="kpi.words"
      :placeholder="comparisonWords(dataset, kpi.indicator, kpi.format ?? measureNamed(dataset, kpi.measure).format, LOCALE)"
      hint="Follows the comparison where it is empty"
      @change="setKpi(index, { words: valueOf($event).trim() })"
    />
    <LinkList
      :links="kpi.link ? [kpi.link] : []"
      :report="report"
      :dataset="dataset"
      :fields="asked"
      :records="false"
      :most="1"
      @change="setKpi(index, { link: $event[0] })"
    />
    <div class="actions-line">
      <v-btn variant="plain" :disabled="index === 0" class="inline" @click="move(index, -1)">Move left</v-btn>
      <v-btn variant="plain" :disabled="index === exhibit.kpis.length - 1" class="inline" @click="move(index, 1)">Move right</v-btn>
      <v-btn
        variant="plain"
        :disabled="exhibit.kpis.length === 1"
        class="inline"
        @click="change({ ...exhibit, kpis: exhibit.kpis.filter((_, at) => at !== index) })"
      >
        Remove
      </v-btn>
    </div>
  </SettingsSection>
  <AddChoice
    v-if="exhibit.kpis.length < MOST"
    label="Add a figure"
    :items="measures.map((measure) => ({ value: measure.name, title: measure.label }))"
    @add="add"
  />
  <SettingsSection title="Filter" :about="exhibit.filter ? 'on' : undefined">
    <FilterEditor
      :filter="exhibit.filter"
      :dataset="dataset"
      :fields="groupingFields(dataset)"
      @change="change({ ...exhibit, filter: $event })"
    />
  </SettingsSection>
</template>

<style scoped>
.wide {
  width: 100%;
}
</style>
