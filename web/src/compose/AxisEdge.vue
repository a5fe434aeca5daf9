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
/** What stands on the edge, level by level; a tree is one thing, however many levels it has. */
const tags = computed(() => {
  const own: { key: string; fields: string[]; label: string; start: number }[] = [];
  const treeOf = (field: string | undefined): string | undefined => {
    const dimension = field === undefined ? undefined : findField(dataset.value, field)?.dimension;
    return dimension?.kind === 'table' && dimension.tree ? dimension.label : undefined;
  };
  fields.value.forEach((field, start) => {
    const tree = treeOf(field);
    const last = own.at(-1);
    if (last && tree !== undefined && treeOf(last.fields[0]) === tree) last.fields.push(field);
    else own.push({ key: field, fields: [field], label: tree ?? labelOf(field), start });
  });
  return own;
});
const fieldAt = (tag: number): number => tags.value[tag]?.start ?? Infinity;
const labelOf = (field: string): string => (findField(dataset.value, field) ? fieldLabel(dataset.value, field) : field);
function isChosen(field: string): boolean {
  const part = selection.value?.exhibit === props.exhibit.id ? selection.value.part : undefined;
  return part?.kind === 'level' && part.edge === props.edge && part.field === field;
}
const choose = (field: string): void =>
  void (selection.value = { exhibit: props.exhibit.id, part: { kind: 'level', edge: props.edge, field } });
const takes = (what: Dragged): boolean => what.kind === 'field' || (what.kind === 'level' && what.exhibit === props.exhibit.id);
const drop = (what: Dragged, at: number): void => {
  if (what.kind === 'field') change(placeInOrder(dataset.value, props.exhibit, props.edge, what.fields, fieldAt(at)));
  if (what.kind === 'level') change(placeInOrder(dataset.value, props.exhibit, props.edge, what.fields, fieldAt(at)));
};
</script>

<template>
  <EdgeDrop v-slot="{ lands }" :words="words" :vertical="vertical" :takes="takes" @place="drop">
    <template v-for="({ key: field, fields: own, label }, index) in tags" :key="field">
      <span v-if="index > 0 && !vertical" class="step" aria-hidden="true">›</span>
      <span v-if="lands(index)" class="landing" />
      <EdgeTag
        kind="field"
        :label="label"
        :chosen="own.some(isChosen)"
        :drag="{ kind: 'level', exhibit: exhibit.id, name: field, fields: own }"
        :vertical="vertical"
        @choose="choose(field)"
      >
        <v-list-item
          role="menuitem"
          :title="`Move ${edgeWords(exhibit)[across(edge)].toLowerCase()}`"
          @click="change(placeInOrder(dataset, exhibit, across(edge), own))"
        />
        <v-list-item
          v-if="index > 0 && own.length === 1"
          role="menuitem"
          title="Move up a level"
          @click="change(shiftField(exhibit, edge, field, -1))"
        />
        <v-list-item
          v-if="index < tags.length - 1 && own.length === 1"
          role="menuitem"
          title="Move down a level"
          @click="change(shiftField(exhibit, edge, field, 1))"
        />
        <v-list-item role="menuitem" title="Remove" @click="change(own.reduce((rest, one) => removeField(rest, edge, one), exhibit))" />
      </EdgeTag>
    </template>
    <span v-if="lands(tags.length)" class="landing" />
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
