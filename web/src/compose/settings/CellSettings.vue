<script setup lang="ts">
import { AGGREGATION_WORDS, canAggregateOtherwise } from '@bold-compass/core/crosstab';
import { findMeasure, type Aggregation, type CellIndicator, type CellMeasure, type Crosstab, type Summary } from '@bold-compass/core/model';
import { computed } from 'vue';
import { SUMMARY_WORDS } from '@bold-compass/core/table';
import { datasetOf, useCompose } from '../context.ts';
import { freeAggregations, removeCell, setCell } from '../edges.ts';
import FormatEditor from './FormatEditor.vue';
import IndicatorEditor from './IndicatorEditor.vue';
import SettingsSection from './SettingsSection.vue';

/** A measure in the cells: what it is called, how it is counted, written and judged. */
const props = defineProps<{ exhibit: Crosstab; index: number }>();
const compose = useCompose();
const { change, selection } = compose;
const dataset = computed(() => datasetOf(compose, props.exhibit));
const cell = computed(() => props.exhibit.cells[props.index]);
const measure = computed(() => findMeasure(dataset.value, cell.value.measure));
const set = (part: Partial<CellMeasure>): void => change(setCell(props.exhibit, props.index, part));
const valueOf = (event: Event): string => (event.target as HTMLInputElement | HTMLSelectElement).value;

function toggleIndicator(): void {
  const first: CellIndicator = {
    against: { kind: 'value', value: 0 },
    by: 'difference',
    onCourse: 0,
    drifting: 0,
    direction: measure.value?.direction ?? 'higher',
  };
  set({ indicator: cell.value.indicator ? undefined : first });
}
function remove(): void {
  selection.value = { exhibit: props.exhibit.id };
  change(removeCell(props.exhibit, props.index));
}
</script>

<template>
  <p class="kind">In the cells</p>
  <h2>{{ cell.heading ?? measure?.label ?? cell.measure }}</h2>
  <p class="formula">{{ measure?.formula }}</p>
  <p class="muted small">
    {{ cell.totals ? 'Totals as chosen below.' : 'Recalculated at every total, never added up.' }}
  </p>
  <SettingsSection title="Heading and counting" open>
    <label class="stacked"
      >Heading
      <input
        class="entry"
        :value="cell.heading ?? ''"
        :placeholder="measure?.heading ?? measure?.label"
        maxlength="60"
        @change="set({ heading: valueOf($event).trim() || undefined })"
    /></label>
    <label v-if="measure && canAggregateOtherwise(measure.formula)"
      >Aggregation
      <select
        class="choice"
        :value="cell.aggregation ?? ''"
        @change="set({ aggregation: (valueOf($event) || undefined) as Aggregation | undefined })"
      >
        <option value="" :disabled="exhibit.cells.some((one) => one !== cell && one.measure === cell.measure && !one.aggregation)">
          the measure says
        </option>
        <option
          v-for="(words, name) in AGGREGATION_WORDS"
          :key="name"
          :value="name"
          :disabled="cell.aggregation !== name && !freeAggregations(exhibit, measure).includes(name)"
        >
          {{ words }}
        </option>
      </select>
    </label>
    <label
      >Totals
      <select class="choice" :value="cell.totals ?? ''" @change="set({ totals: (valueOf($event) || undefined) as CellMeasure['totals'] })">
        <option value="">worked out again</option>
        <option value="none">none</option>
        <option v-for="(words, name) in SUMMARY_WORDS" :key="name" :value="name satisfies Summary">{{ words.toLowerCase() }}</option>
      </select>
    </label>
  </SettingsSection>
  <SettingsSection title="Format" open>
    <FormatEditor
      v-if="measure"
      :format="cell.format ?? measure.format"
      :own="cell.format !== undefined"
      @change="set({ format: $event })"
    />
    <label
      >Negative numbers
      <select
        class="choice"
        :value="cell.negative ?? 'minus'"
        @change="set({ negative: valueOf($event) === 'minus' ? undefined : (valueOf($event) as CellMeasure['negative']) })"
      >
        <option value="minus">a minus sign</option>
        <option value="parentheses">parentheses</option>
        <option value="colour">a minus sign, in colour</option>
      </select>
    </label>
  </SettingsSection>
  <SettingsSection title="Indicator" :about="cell.indicator ? 'on' : 'off'">
    <label
      >Show a needle beside the value <input type="checkbox" :checked="cell.indicator !== undefined" @change="toggleIndicator"
    /></label>
    <IndicatorEditor
      v-if="cell.indicator"
      :indicator="cell.indicator"
      :dataset="dataset"
      :times="false"
      @change="set({ indicator: $event as CellIndicator })"
    />
  </SettingsSection>
  <button type="button" class="button quiet" @click="remove">Remove {{ measure?.label ?? cell.measure }}</button>
</template>
