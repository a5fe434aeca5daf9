<script setup lang="ts">
import { withFormula } from '@bold-compass/core/formula';
import type { Dataset, Field } from '@bold-compass/core/model';
import { computed } from 'vue';
import { fieldProblem, type WrittenProblem } from '../formula/problems.ts';
import { TYPE_NAMES } from '../data/type-names.ts';
import EditorDrawer from './EditorDrawer.vue';
import FormulaField from '../formula/FormulaField.vue';
import { isNumber, type FieldEntry } from './definition-edits.ts';

/** The chosen field: what it is called and where it is offered; of a calculated one its formula too. */
const props = defineProps<{ entry: FieldEntry; dataset: Dataset }>();
const emit = defineEmits<{ change: [part: Partial<Field>]; remove: []; close: [] }>();
const textOf = (event: Event): string => (event.target as HTMLInputElement).value.trim();
const field = computed(() => props.entry.field);
const fact = computed(() => props.dataset.facts.find(({ name }) => name === props.entry.owner));
/** What it may name: the stored fields of its own records. */
const stored = computed((): Dataset => ({
  ...props.dataset,
  dimensions: [],
  measures: [],
  facts: fact.value ? [{ ...fact.value, links: [], fields: fact.value.fields.filter(({ formula }) => !formula) }] : [],
}));
/** The field with another formula, which says whether it is a number, a text, a date, or yes or no. */
const changed = (formula: string): Field => withFormula(stored.value, field.value, formula);
const check = (formula: string): WrittenProblem | null => (fact.value ? fieldProblem(props.dataset, fact.value, changed(formula)) : null);
function write(formula: string): void {
  const { type, scale } = changed(formula);
  emit('change', { formula, type, scale });
}
</script>

<template>
  <EditorDrawer :title="field.label" @close="emit('close')">
    <template #kind>
      Field of {{ entry.ownerLabel }} · <code>{{ field.name }}</code> · {{ TYPE_NAMES[field.type] }}
    </template>
    <v-text-field
      label="Label"
      maxlength="80"
      :model-value="field.label"
      @change="emit('change', { label: textOf($event) || field.label })"
    />
    <template v-if="field.formula">
      <FormulaField :formula="field.formula" :dataset="stored" :label="`Formula of ${field.label}`" :check="check" @change="write" />
      <v-select
        v-if="isNumber(field)"
        label="Decimal places"
        :model-value="field.scale"
        :items="[0, 1, 2, 3, 4, 5, 6]"
        @update:model-value="emit('change', { scale: $event })"
      />
    </template>
    <v-textarea
      label="Description"
      rows="2"
      :model-value="field.description ?? ''"
      @change="emit('change', { description: textOf($event) || undefined })"
    />
    <v-text-field
      label="Folder"
      maxlength="60"
      :model-value="field.folder ?? ''"
      @change="emit('change', { folder: textOf($event) || undefined })"
    />
    <v-switch
      label="Offer in the field drawer"
      :model-value="!field.hidden"
      @update:model-value="emit('change', { hidden: $event ? undefined : true })"
    />
    <template v-if="field.formula" #actions>
      <v-btn variant="text" color="error" @click="emit('remove')">Remove</v-btn>
    </template>
  </EditorDrawer>
</template>
