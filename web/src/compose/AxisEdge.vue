<script setup lang="ts">
import { fieldLabel, findField, type CellExhibit } from '@bold-compass/core/model';
import { computed } from 'vue';
import { datasetOf, useCompose } from './context.ts';
import type { Dragged } from './dragging.ts';
import { across, fieldsGoneThrough, groupingFields, placeInOrder, removeField, shiftField, type Edge } from './edges.ts';
import { edgeWords } from './edge-words.ts';
import EdgeDrop from './EdgeDrop.vue';
import EdgeTag from './EdgeTag.vue';
import FieldPicker from './FieldPicker.vue';

/** The fields of one axis, each a tag that can be moved. */
const props = defineProps<{ exhibit: CellExhibit; edge: Edge; vertical: boolean }>();
const compose = useCompose();
const { selection, change } = compose;

const words = computed(() => edgeWords(props.exhibit)[props.edge]);
const dataset = computed(() => datasetOf(compose, props.exhibit));
const fields = computed(() => props.exhibit[props.edge].fields.slice(fieldsGoneThrough(props.exhibit, props.edge)));
const free = computed(() =>
  groupingFields(dataset.value).filter((choice) =>
    choice.fields.some((name) => !props.exhibit.side.fields.includes(name) && !props.exhibit.top.fields.includes(name)),
  ),
);
const labelOf = (field: string): string => (findField(dataset.value, field) ? fieldLabel(dataset.value, field) : field);
function isChosen(field: string): boolean {
  const part = selection.value?.exhibit === props.exhibit.id ? selection.value.part : undefined;
  return part?.kind === 'level' && part.edge === props.edge && part.field === field;
}
const choose = (field: string): void =>
  void (selection.value = { exhibit: props.exhibit.id, part: { kind: 'level', edge: props.edge, field } });
const takes = (what: Dragged): boolean => what.kind === 'field' || (what.kind === 'level' && what.exhibit === props.exhibit.id);
const drop = (what: Dragged, at: number): void => {
  if (what.kind === 'field') change(placeInOrder(dataset.value, props.exhibit, props.edge, what.fields, at));
  if (what.kind === 'level') change(placeInOrder(dataset.value, props.exhibit, props.edge, [what.name], at));
};
</script>

<template>
  <EdgeDrop v-slot="{ lands }" :words="words" :vertical="vertical" :takes="takes" @place="drop">
    <template v-for="(field, index) in fields" :key="field">
      <span v-if="index > 0 && !vertical" class="step" aria-hidden="true">›</span>
      <span v-if="lands(index)" class="landing" />
      <EdgeTag
        kind="field"
        :label="labelOf(field)"
        :chosen="isChosen(field)"
        :drag="{ kind: 'level', exhibit: exhibit.id, name: field }"
        :vertical="vertical"
        @choose="choose(field)"
      >
        <v-list-item
          role="menuitem"
          :title="`Move ${edgeWords(exhibit)[across(edge)].toLowerCase()}`"
          @click="change(placeInOrder(dataset, exhibit, across(edge), [field]))"
        />
        <v-list-item v-if="index > 0" role="menuitem" title="Move up a level" @click="change(shiftField(exhibit, edge, field, -1))" />
        <v-list-item
          v-if="index < fields.length - 1"
          role="menuitem"
          title="Move down a level"
          @click="change(shiftField(exhibit, edge, field, 1))"
        />
        <v-list-item role="menuitem" title="Remove" @click="change(removeField(exhibit, edge, field))" />
      </EdgeTag>
    </template>
    <span v-if="lands(fields.length)" class="landing" />
    <FieldPicker
      :label="`Add a field ${words.toLowerCase()}`"
      :choices="free"
      @pick="change(placeInOrder(dataset, exhibit, edge, $event.fields))"
    />
  </EdgeDrop>
</template>

<style scoped>
.step {
  color: var(--ink-2);
}
</style>
