<script setup lang="ts">
import { newKpi } from '@bold-compass/core/exhibits';
import {
  isCellExhibit,
  measureNamed,
  SECTION_LAYOUTS,
  sectionsSchema,
  type Dataset,
  type SectionFigure,
  type Sections,
} from '@bold-compass/core/model';
import { computed } from 'vue';
import FormatFields from '../../shell/FormatFields.vue';
import { LAYOUT_WORDS } from '../../sections/wording.ts';
import { useCompose } from '../context.ts';
import { groupingFields, measureChoices } from '../edges.ts';
import IndicatorEditor from './IndicatorEditor.vue';

/** The sections of a report, a page or an exhibit: their field, layout, order and figure. */
const props = defineProps<{ sections: Sections | undefined; dataset: Dataset }>();
const emit = defineEmits<{ change: [sections: Sections | undefined] }>();
const { report } = useCompose();

const fields = computed(() => groupingFields(props.dataset).map(({ name, label }) => ({ value: name, title: label })));
const measures = computed(() => measureChoices(props.dataset).map(({ name, label }) => ({ value: name, title: label })));
/** An exhibit of the same dataset, to preview the states of members in. */
const trying = computed(() =>
  report.value.exhibits.find(
    (one) => (isCellExhibit(one) || one.kind === 'kpis') && (one.dataset ?? report.value.dataset) === props.dataset.name,
  ),
);
const set = (part: Partial<Sections>): void => props.sections && emit('change', { ...props.sections, ...part });
const setField = (field: string): void =>
  emit('change', field ? (props.sections ? { ...props.sections, field } : sectionsSchema.parse({ field })) : undefined);
const setFigure = (part: Partial<SectionFigure>): void => props.sections?.figure && set({ figure: { ...props.sections.figure, ...part } });
const setMeasure = (measure: string): void =>
  set({ figure: measure ? { measure, indicator: newKpi(measureNamed(props.dataset, measure)).indicator } : undefined });
const order = computed(() => (props.sections?.order.by === 'measure' ? props.sections.order.measure : ''));
const setOrder = (measure: string): void =>
  set({ order: measure ? { by: 'measure', measure, direction: 'desc' } : { by: 'member', direction: 'asc' } });
</script>

<template>
  <v-autocomplete
    label="Section by"
    :model-value="sections?.field ?? ''"
    :items="[{ value: '', title: 'None' }, ...fields]"
    @update:model-value="setField($event ?? '')"
  />
  <template v-if="sections">
    <v-select
      label="Layout"
      :model-value="sections.layout"
      :items="SECTION_LAYOUTS.map((value) => ({ value, title: LAYOUT_WORDS[value] }))"
      @update:model-value="set({ layout: $event })"
    />
    <v-checkbox
      label="Readers can change the layout"
      :model-value="sections.readersChoose"
      @update:model-value="set({ readersChoose: $event === true })"
    />
    <v-autocomplete
      label="Sort by"
      :model-value="order"
      :items="[{ value: '', title: 'Member' }, ...measures]"
      @update:model-value="setOrder($event ?? '')"
    />
    <v-select
      label="Direction"
      :model-value="sections.order.direction"
      :items="[
        { value: 'asc', title: 'Ascending' },
        { value: 'desc', title: 'Descending' },
      ]"
      @update:model-value="set({ order: { ...sections.order, direction: $event } })"
    />
    <v-select
      label="All members"
      :model-value="sections.whole"
      :items="[
        { value: 'last', title: 'Last section' },
        { value: 'first', title: 'First section' },
        { value: 'none', title: 'Not shown' },
      ]"
      @update:model-value="set({ whole: $event })"
    />
    <v-select
      label="Empty sections"
      :model-value="sections.empty"
      :items="[
        { value: 'leave-out', title: 'Hidden' },
        { value: 'say', title: 'Shown' },
      ]"
      @update:model-value="set({ empty: $event })"
    />
    <v-select
      label="Chart scales"
      :model-value="sections.scales"
      :items="[
        { value: 'own', title: 'Own' },
        { value: 'common', title: 'Common' },
      ]"
      @update:model-value="set({ scales: $event })"
    />
    <v-autocomplete
      label="Figure"
      :model-value="sections.figure?.measure ?? ''"
      :items="[{ value: '', title: 'None' }, ...measures]"
      @update:model-value="setMeasure($event ?? '')"
    />
    <template v-if="sections.figure">
      <FormatFields
        :format="sections.figure.format ?? measureNamed(dataset, sections.figure.measure).format"
        :own="sections.figure.format !== undefined"
        @change="setFigure({ format: $event })"
      />
      <IndicatorEditor
        v-if="sections.figure.indicator"
        :indicator="sections.figure.indicator"
        :dataset="dataset"
        :exhibit="trying?.id ?? ''"
        :measure="sections.figure.measure"
        :fields="trying ? [sections.field] : []"
        :beside="false"
        @change="setFigure({ indicator: $event })"
      />
    </template>
  </template>
</template>
