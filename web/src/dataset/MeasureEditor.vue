<script setup lang="ts">
import { aggregateOf, EXCHANGEABLE, withAggregate } from '@bold-compass/core/crosstab';
import { AGGREGATES, type Dataset, type Measure } from '@bold-compass/core/model';
import { computed } from 'vue';
import { measureProblem } from '../formula/problems.ts';
import FormatFields from '../shell/FormatFields.vue';
import EditorDrawer from './EditorDrawer.vue';
import FormulaField from '../formula/FormulaField.vue';

/** The chosen measure: its label, formula and looks. */
const props = defineProps<{ measure: Measure; dataset: Dataset }>();
const emit = defineEmits<{ change: [part: Partial<Measure>]; duplicate: []; remove: []; close: [] }>();
const textOf = (event: Event): string => (event.target as HTMLInputElement).value.trim();
/** A measure is not among those that its own formula may name. */
const others = computed(() => ({ ...props.dataset, measures: props.dataset.measures.filter(({ name }) => name !== props.measure.name) }));
const aggregation = computed(() => aggregateOf(props.measure.formula));
</script>

<template>
  <EditorDrawer :title="measure.label" @close="emit('close')">
    <template #kind>
      Measure · <code>{{ measure.name }}</code>
    </template>
    <v-text-field
      label="Label"
      maxlength="80"
      :model-value="measure.label"
      @change="emit('change', { label: textOf($event) || measure.label })"
    />
    <FormulaField
      :formula="measure.formula"
      :dataset="others"
      :label="`Formula of ${measure.label}`"
      :check="(formula) => measureProblem(others, formula, measure.fact)"
      @change="emit('change', { formula: $event })"
    />
    <v-select
      v-if="aggregation"
      label="Aggregation"
      :model-value="aggregation"
      :items="EXCHANGEABLE.map((value) => ({ value, title: AGGREGATES[value].label }))"
      @update:model-value="emit('change', { formula: withAggregate(measure.formula, $event) })"
    />
    <v-select
      label="Fact"
      hint="The records of aggregates that could be of any, such as count()"
      :model-value="measure.fact ?? ''"
      :items="[{ value: '', title: 'None' }, ...dataset.facts.map((fact) => ({ value: fact.name, title: fact.label }))]"
      @update:model-value="emit('change', { fact: $event || undefined })"
    />
    <div class="two">
      <FormatFields :format="measure.format" @change="$event && emit('change', { format: $event })" />
      <v-select
        label="Better is"
        :model-value="measure.direction"
        :items="[
          { value: 'higher', title: 'Higher' },
          { value: 'lower', title: 'Lower' },
        ]"
        @update:model-value="emit('change', { direction: $event })"
      />
    </div>
    <v-textarea
      label="Description"
      rows="2"
      :model-value="measure.description ?? ''"
      @change="emit('change', { description: textOf($event) || undefined })"
    />
    <v-text-field
      label="Folder"
      maxlength="60"
      :model-value="measure.folder ?? ''"
      @change="emit('change', { folder: textOf($event) || undefined })"
    />
    <v-switch
      label="Offer in the field drawer"
      :model-value="!measure.hidden"
      @update:model-value="emit('change', { hidden: $event ? undefined : true })"
    />
    <template #actions>
      <v-btn @click="emit('duplicate')">Duplicate</v-btn>
      <v-btn variant="text" color="error" @click="emit('remove')">Remove</v-btn>
    </template>
  </EditorDrawer>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
</style>
