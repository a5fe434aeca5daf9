<script setup lang="ts">
import {
  differenceMeasure,
  largestFirst,
  outlierRule,
  paretoMeasure,
  QUICK_MEASURES,
  quickMeasure,
  type QuickMeasure,
} from '@bold-compass/core/modelling';
import { findMeasure, isCellExhibit, type CellExhibit, type Measure } from '@bold-compass/core/model';
import { mdiChevronRight } from '@mdi/js';
import { computed } from 'vue';
import { datasetOf, useCompose } from './context.ts';
import { measureChoices, setCell } from './edges.ts';
import { emptyMeasure, withMeasureIn } from './measures.ts';

/** Entries of a measure's menu: what is usually calculated from it, inserted beside it, or a formula written by hand. */
const props = defineProps<{ exhibit: CellExhibit; index: number }>();
const compose = useCompose();
const { report, setReport, written } = compose;
const dataset = computed(() => datasetOf(compose, props.exhibit));
const measure = computed(() => findMeasure(dataset.value, props.exhibit.cells[props.index].measure));
/** Measures of reports are over the report's own dataset. */
const isOwn = computed(() => props.exhibit.dataset === undefined || props.exhibit.dataset === report.value.dataset);
const groups = computed(() =>
  [...new Set(QUICK_MEASURES.map(({ group }) => group))].map((title) => ({
    title,
    items: QUICK_MEASURES.filter(({ group }) => group === title),
  })),
);
const others = computed(() => measureChoices(dataset.value).filter(({ name }) => name !== measure.value?.name));
const isOfReport = computed(() => report.value.measures.some(({ name }) => name === measure.value?.name));

const insert = (made: Measure): void => setReport(withMeasureIn(report.value, props.exhibit, made, props.index + 1));
const calculate = (quick: QuickMeasure): void => measure.value && insert(quickMeasure(dataset.value, measure.value, quick));
/** Classes go by the order shown: the largest members come first with them. */
function classify(): void {
  if (!measure.value) return;
  const made = withMeasureIn(report.value, props.exhibit, paretoMeasure(dataset.value, measure.value), props.index + 1);
  const { name } = measure.value;
  setReport({
    ...made,
    exhibits: made.exhibits.map((one) => (one.id === props.exhibit.id && isCellExhibit(one) ? largestFirst(one, name) : one)),
  });
}
function markOutliers(): void {
  const rule = measure.value && outlierRule(props.exhibit, measure.value);
  if (rule) compose.change(setCell(props.exhibit, props.index, { marks: [...(props.exhibit.cells[props.index].marks ?? []), rule] }));
}
function compare(name: string, inPercent: boolean): void {
  const other = findMeasure(dataset.value, name);
  if (measure.value && other) insert(differenceMeasure(dataset.value, measure.value, other, inPercent));
}
function write(): void {
  const own = measure.value;
  if (!own) return;
  const place = { exhibit: props.exhibit.id, at: props.index + 1 };
  written.value = isOfReport.value
    ? { measure: own, isNew: false, ...place }
    : { measure: { ...emptyMeasure(dataset.value, own.fact), formula: own.name }, isNew: true, ...place };
}
</script>

<template>
  <template v-if="isOwn && measure">
    <v-divider />
    <v-menu v-for="{ title, items } in groups" :key="title" submenu location="end top">
      <template #activator="{ props: activator }">
        <v-list-item role="menuitem" v-bind="activator" :title="title" :append-icon="mdiChevronRight" />
      </template>
      <v-list role="menu">
        <v-list-item v-for="quick in items" :key="quick.id" role="menuitem" :title="quick.words" @click="calculate(quick)" />
        <template v-if="title === 'Compare'">
          <v-menu v-for="inPercent in [false, true]" :key="String(inPercent)" submenu location="end top">
            <template #activator="{ props: activator }">
              <v-list-item
                role="menuitem"
                v-bind="activator"
                :title="inPercent ? 'Variance % to' : 'Variance to'"
                :append-icon="mdiChevronRight"
              />
            </template>
            <v-list role="menu" max-height="360">
              <v-list-item v-for="{ name, label } in others" :key="name" role="menuitem" :title="label" @click="compare(name, inPercent)" />
            </v-list>
          </v-menu>
        </template>
      </v-list>
    </v-menu>
    <v-menu v-if="exhibit.side.fields.length > 0" submenu location="end top">
      <template #activator="{ props: activator }">
        <v-list-item role="menuitem" v-bind="activator" title="Quick statistics" :append-icon="mdiChevronRight" />
      </template>
      <v-list role="menu">
        <v-list-item role="menuitem" title="80/20 classes" @click="classify" />
        <v-list-item role="menuitem" title="Outliers" @click="markOutliers" />
      </v-list>
    </v-menu>
    <v-list-item role="menuitem" :title="isOfReport ? 'Edit formula' : 'New formula'" @click="write" />
    <v-divider />
  </template>
</template>
