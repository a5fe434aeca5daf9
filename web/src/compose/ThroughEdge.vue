<script setup lang="ts">
import { fieldLabel, findField, type Chart } from '@bold-compass/core/model';
import { computed } from 'vue';
import { datasetOf, useCompose } from './context.ts';
import type { Dragged } from './dragging.ts';
import { fieldsGoneThrough, goThrough, periodFields, stopGoingThrough } from './edges.ts';
import EdgeDrop from './EdgeDrop.vue';
import EdgeTag from './EdgeTag.vue';
import FieldPicker from './FieldPicker.vue';

/** The periods that a chart goes through: one field, or none. */
const props = defineProps<{ exhibit: Chart }>();
const compose = useCompose();
const { selection, change } = compose;

const dataset = computed(() => datasetOf(compose, props.exhibit));
const field = computed(() => props.exhibit.top.fields.slice(0, fieldsGoneThrough(props.exhibit, 'top'))[0]);
const label = computed(() =>
  field.value !== undefined && findField(dataset.value, field.value) ? fieldLabel(dataset.value, field.value) : field.value,
);
const choices = computed(() => periodFields(dataset.value));
const isPeriod = (name: string): boolean => choices.value.some((choice) => choice.name === name);
function fieldOf(what: Dragged): string | undefined {
  if (what.kind === 'level') return what.exhibit === props.exhibit.id ? what.name : undefined;
  return what.kind === 'field' ? what.fields[0] : undefined;
}
const takes = (what: Dragged): boolean => {
  const dropped = fieldOf(what);
  return dropped !== undefined && isPeriod(dropped);
};
function drop(what: Dragged): void {
  const dropped = fieldOf(what);
  if (dropped !== undefined) change(goThrough(props.exhibit, dropped));
}
function choose(name: string): void {
  selection.value = { exhibit: props.exhibit.id, part: { kind: 'level', edge: 'top', field: name } };
}
const isChosen = computed(() => {
  const part = selection.value?.exhibit === props.exhibit.id ? selection.value.part : undefined;
  return part?.kind === 'level' && part.field === field.value;
});
</script>

<template>
  <EdgeDrop words="Through time" :vertical="false" :takes="takes" @place="drop">
    <EdgeTag
      v-if="field !== undefined && label !== undefined"
      kind="field"
      :label="label"
      :chosen="isChosen"
      :drag="{ kind: 'level', exhibit: exhibit.id, name: field, fields: [field] }"
      :vertical="false"
      @choose="choose(field)"
    >
      <v-list-item role="menuitem" title="Remove" @click="change(stopGoingThrough(exhibit))" />
    </EdgeTag>
    <FieldPicker v-else label="Add a period through time" :choices="choices" @pick="change(goThrough(exhibit, $event.name))" />
  </EdgeDrop>
</template>
