<script setup lang="ts">
import { measureInRow } from '@bold-compass/core/crosstab';
import { findMeasure, type Crosstab } from '@bold-compass/core/model';
import { mdiCheck, mdiChevronRight } from '@mdi/js';
import { computed } from 'vue';
import { datasetOf, useCompose } from './context.ts';
import { measureChoices } from './edges.ts';
import { emptyMeasure, withMeasure } from './measures.ts';
import { rowChoices, withMeasureInRows } from './row-measures.ts';
import { useMenuAt } from './menu-at.ts';

/** The menu of a figure: what stands in its place in all rows of its level, or in the total: another measure, a formula, or nothing. */
const props = defineProps<{ exhibit: Crosstab; index: number; depth: number; target: [number, number] }>();
const emit = defineEmits<{ close: [] }>();
const compose = useCompose();
const { report, setReport, change, written } = compose;
const { isOpen, own } = useMenuAt(
  () => props.exhibit,
  () => emit('close'),
);

const dataset = computed(() => datasetOf(compose, props.exhibit));
const cell = computed(() => own.value?.cells[props.index]);
const rows = computed(() => rowChoices(props.exhibit, dataset.value).find(({ depth }) => depth === props.depth)?.words ?? '');
const shown = computed(() => cell.value && measureInRow(cell.value, props.exhibit.side.fields, props.depth));
const others = computed(() => measureChoices(dataset.value).filter(({ name }) => name !== cell.value?.measure));
const isReports = computed(() => props.exhibit.dataset === undefined || props.exhibit.dataset === report.value.dataset);
const labelOf = (name: string): string => findMeasure(dataset.value, name)?.label ?? name;

function set(measure: string | null | undefined): void {
  if (own.value) change(withMeasureInRows(own.value, props.index, props.depth, measure));
}
/** A formula of the report for these rows, which starts as the measure itself. */
function write(): void {
  if (!own.value || !cell.value) return;
  const base = findMeasure(dataset.value, cell.value.measure);
  if (!base) return;
  const made = {
    ...emptyMeasure(dataset.value, base.fact),
    ...{ label: `${base.label}, ${rows.value.toLowerCase()}`, formula: base.name, format: base.format, direction: base.direction },
  };
  const placed = withMeasureInRows(own.value, props.index, props.depth, made.name);
  const exhibits = report.value.exhibits.map((one) => (one.id === placed.id ? placed : one));
  setReport(withMeasure({ ...report.value, exhibits }, made));
  written.value = { measure: made, isNew: false, exhibit: props.exhibit.id, at: props.index };
}
</script>

<template>
  <v-menu v-model="isOpen" :target="target" location="bottom start">
    <v-list role="menu" :aria-label="`${rows} of ${labelOf(cell?.measure ?? '')}`">
      <v-list-subheader>{{ rows }}: measure</v-list-subheader>
      <v-list-item
        role="menuitem"
        :title="labelOf(cell?.measure ?? '')"
        :append-icon="shown === cell?.measure ? mdiCheck : undefined"
        @click="set(undefined)"
      />
      <v-list-item role="menuitem" title="Nothing" :append-icon="shown === null ? mdiCheck : undefined" @click="set(null)" />
      <v-menu submenu location="end top">
        <template #activator="{ props: activator }">
          <v-list-item
            role="menuitem"
            v-bind="activator"
            :title="shown && shown !== cell?.measure ? labelOf(shown) : 'Another measure'"
            :append-icon="mdiChevronRight"
          />
        </template>
        <v-list role="menu" max-height="360">
          <v-list-item v-for="{ name, label } in others" :key="name" role="menuitem" :title="label" @click="set(name)" />
        </v-list>
      </v-menu>
      <v-list-item v-if="isReports" role="menuitem" title="New formula" @click="write" />
    </v-list>
  </v-menu>
</template>
