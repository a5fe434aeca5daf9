<script setup lang="ts">
import { canAggregateOtherwise, measureInRow } from '@bold-compass/core/crosstab';
import {
  AGGREGATES,
  totalsSchema,
  aggregationSchema,
  findMeasure,
  type Aggregation,
  type CellMeasure,
  type CellExhibit,
  type Indicator,
} from '@bold-compass/core/model';
import { computed } from 'vue';
import { summaryWords } from '@bold-compass/core/table';
import { datasetOf, useCompose } from '../context.ts';
import { freeAggregations, measureChoices, removeCell, setCell } from '../edges.ts';
import { rowChoices, withMeasureInRows } from '../row-measures.ts';
import { mdiChevronDown } from '@mdi/js';
import CalculateMenu from '../CalculateMenu.vue';
import FormatFields from '../../shell/FormatFields.vue';
import MarkSettings from './MarkSettings.vue';
import IndicatorEditor from './IndicatorEditor.vue';
import SettingsSection from './SettingsSection.vue';

/** A measure in the cells: what it is called, how it is counted, written and judged. */
const props = defineProps<{ exhibit: CellExhibit; index: number }>();
const compose = useCompose();
const { change, selection, report, written } = compose;
const dataset = computed(() => datasetOf(compose, props.exhibit));
const cell = computed(() => props.exhibit.cells[props.index]);
const measure = computed(() => findMeasure(dataset.value, cell.value.measure));
/** The measure where it is the report's own, whose formula is edited here. */
const ofReport = computed(() => report.value.measures.find(({ name }) => name === cell.value.measure));
const set = (part: Partial<CellMeasure>): void => change(setCell(props.exhibit, props.index, part));
const valueOf = (event: Event): string => (event.target as HTMLInputElement | HTMLSelectElement).value;

function toggleIndicator(): void {
  const first: Indicator = {
    against: { kind: 'none' },
    by: 'spread',
    onCourse: 2 / 3,
    drifting: 1 / 3,
    direction: measure.value?.direction ?? 'higher',
  };
  set({ indicator: cell.value.indicator ? undefined : first });
}
function remove(): void {
  selection.value = { exhibit: props.exhibit.id };
  change(removeCell(props.exhibit, props.index));
}
const TOTALS = totalsSchema.options[1].options;
/** Stands for no measure in a list of them; no name is this. */
const NOTHING = '"';
const others = computed(() =>
  measureChoices(dataset.value)
    .filter(({ name }) => name !== cell.value.measure)
    .map(({ name, label }) => ({ value: name, title: label })),
);
const otherRows = computed(() => Object.keys(cell.value.levels ?? {}).length + Number(cell.value.total !== undefined));
/** The ways to count a measure, those that are in the cells already not to be chosen again. */
const aggregations = computed(() =>
  aggregationSchema.options.map((value) => ({
    ...{ value, title: AGGREGATES[value].label },
    props: { disabled: cell.value.aggregation !== value && !freeAggregations(props.exhibit, measure.value!).includes(value) },
  })),
);
</script>

<template>
  <p class="kind">In the cells</p>
  <h2>{{ cell.heading ?? measure?.label ?? cell.measure }}</h2>
  <p class="formula">{{ measure?.formula }}</p>
  <v-btn v-if="ofReport" class="edit" @click="written = { measure: ofReport, isNew: false, exhibit: exhibit.id, at: index }"
    >Edit formula</v-btn
  >
  <v-menu v-if="measure">
    <template #activator="{ props: activator }">
      <v-btn v-bind="activator" :aria-owns="undefined" class="edit" :append-icon="mdiChevronDown">Calculate</v-btn>
    </template>
    <v-list role="menu"><CalculateMenu :exhibit="exhibit" :index="index" /></v-list>
  </v-menu>
  <p class="muted small">
    {{ cell.totals ? 'Totals as chosen below.' : 'Recalculated at every total, never added up.' }}
  </p>
  <SettingsSection title="Heading and aggregation" open>
    <v-text-field
      label="Heading"
      :model-value="cell.heading ?? ''"
      :placeholder="measure?.heading ?? measure?.label"
      maxlength="60"
      @change="set({ heading: valueOf($event).trim() || undefined })"
    />
    <v-text-field
      v-if="exhibit.kind === 'crosstab' && exhibit.measuresOn === 'top' && exhibit.cells.length > 1"
      label="Spanning heading"
      :model-value="cell.spanning ?? ''"
      maxlength="60"
      hint="Stands over this measure and those beside it with the same words"
      persistent-hint
      @change="set({ spanning: valueOf($event).trim() || undefined })"
    />
    <v-select
      v-if="measure && canAggregateOtherwise(measure.formula)"
      label="Aggregation"
      :model-value="cell.aggregation ?? ''"
      :items="[
        {
          value: '',
          title: 'Default',
          props: { disabled: exhibit.cells.some((one) => one !== cell && one.measure === cell.measure && !one.aggregation) },
        },
        ...aggregations,
      ]"
      @update:model-value="set({ aggregation: ($event || undefined) as Aggregation | undefined })"
    />
    <v-select
      label="Totals"
      :model-value="cell.totals ?? ''"
      :items="[
        { value: '', title: 'Recalculated' },
        { value: 'none', title: 'None' },
        ...TOTALS.map((value) => ({ value, title: summaryWords(value, 'figures') })),
      ]"
      @update:model-value="set({ totals: ($event || undefined) as CellMeasure['totals'] })"
    />
  </SettingsSection>
  <SettingsSection title="By level" :about="otherRows > 0 ? String(otherRows) : ''">
    <v-autocomplete
      v-for="{ depth, words } in rowChoices(exhibit, dataset)"
      :key="depth"
      :label="words"
      :items="[
        { value: cell.measure, title: `${measure?.label ?? cell.measure} (its own)` },
        { value: NOTHING, title: 'Nothing' },
        ...others,
      ]"
      :model-value="measureInRow(cell, exhibit.side.fields, depth) ?? NOTHING"
      @update:model-value="$event && change(withMeasureInRows(exhibit, index, depth, $event === NOTHING ? null : $event))"
    />
  </SettingsSection>
  <SettingsSection title="Format" open>
    <FormatFields
      v-if="measure"
      :format="cell.format ?? measure.format"
      :own="cell.format !== undefined"
      @change="set({ format: $event })"
    />
    <v-select
      label="Negative numbers"
      :model-value="cell.negative ?? 'minus'"
      :items="[
        { value: 'minus', title: 'Minus sign' },
        { value: 'parentheses', title: 'Parentheses' },
        { value: 'colour', title: 'Minus sign, in colour' },
      ]"
      @update:model-value="set({ negative: $event === 'minus' ? undefined : ($event as CellMeasure['negative']) })"
    />
  </SettingsSection>
  <SettingsSection title="Indicator" :about="cell.indicator ? 'on' : 'off'">
    <v-checkbox label="Show indicator" :model-value="cell.indicator !== undefined" @update:model-value="toggleIndicator" />
    <IndicatorEditor
      v-if="cell.indicator"
      :indicator="cell.indicator"
      :dataset="dataset"
      :exhibit="exhibit.id"
      :measure="cell.measure"
      :fields="exhibit.side.fields"
      beside
      @change="set({ indicator: $event })"
    />
  </SettingsSection>
  <SettingsSection title="Conditional formatting" :about="cell.marks?.length ? String(cell.marks.length) : ''">
    <MarkSettings
      :marks="cell.marks ?? []"
      :dataset="dataset"
      :exhibit="exhibit"
      :measure="cell.measure"
      :percent="(cell.format ?? measure?.format)?.kind === 'percent'"
      @change="set({ marks: $event.length > 0 ? $event : undefined })"
    />
  </SettingsSection>
  <v-btn variant="text" @click="remove">Remove {{ measure?.label ?? cell.measure }}</v-btn>
</template>
