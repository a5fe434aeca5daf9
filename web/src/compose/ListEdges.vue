<script setup lang="ts">
import { fieldLabel, findField, findMeasure, type List, type ListColumn } from '@bold-compass/core/model';
import { computed } from 'vue';
import { datasetOf, useCompose } from './context.ts';
import type { Dragged } from './dragging.ts';
import EdgeDrop from './EdgeDrop.vue';
import EdgeTag from './EdgeTag.vue';
import { measureChoices, recordFields, type FieldChoice } from './edges.ts';
import FieldPicker from './FieldPicker.vue';
import { hasRoomForColumns, hasRoomForGroups, moveColumn, placeColumns, placeGroups, removeColumn, removeGroup } from './list-edges.ts';

/** The edges of a list: what its records are grouped by, and its columns. */
const props = defineProps<{ exhibit: List }>();
const compose = useCompose();
const { change, selection } = compose;

const dataset = computed(() => datasetOf(compose, props.exhibit));
const fields = computed(() => recordFields(dataset.value, props.exhibit.fact));
const measures = computed(() => measureChoices(dataset.value));
const known = computed(() => new Set(fields.value.flatMap((choice) => choice.fields)));
const nameOf = (field: string): string => (findField(dataset.value, field) ? fieldLabel(dataset.value, field) : field);
const labelOf = ({ heading, field, measure }: ListColumn): string =>
  heading ?? (field ? nameOf(field) : (findMeasure(dataset.value, measure!)?.label ?? measure!));
const choose = (): void => void (selection.value = { exhibit: props.exhibit.id });

const isOwn = (what: Dragged): boolean => 'exhibit' in what && what.exhibit === props.exhibit.id;
/** The columns of something that is put among them; none where it does not fit there. */
function columnsOf(what: Dragged): ListColumn[] {
  if (what.kind === 'measure') return [{ measure: what.name }];
  return what.kind === 'field' ? what.fields.filter((field) => known.value.has(field)).map((field) => ({ field })) : [];
}
function takesColumn(what: Dragged): boolean {
  if (what.kind === 'column') return isOwn(what);
  const own = columnsOf(what);
  return own.length > 0 && hasRoomForColumns(props.exhibit, own.length);
}
const freeColumns = computed(() =>
  [...measures.value, ...fields.value].filter((choice) => hasRoomForColumns(props.exhibit, choice.fields.length || 1)),
);
function dropColumn(what: Dragged, at: number): void {
  if (what.kind === 'column') change(moveColumn(props.exhibit, what.index, Math.min(at, props.exhibit.columns.length)));
  else change(placeColumns(props.exhibit, columnsOf(what), at));
}
const addColumn = ({ name, fields: own }: FieldChoice): void =>
  change(placeColumns(props.exhibit, known.value.has(name) ? own.map((field) => ({ field })) : [{ measure: name }]));

/** What a field or a group that is dragged would be grouped by. */
function groupsOf(what: Dragged): string[] {
  if (what.kind === 'group') return isOwn(what) ? [what.field] : [];
  if (what.kind === 'column') {
    const field = isOwn(what) ? props.exhibit.columns[what.index]?.field : undefined;
    return field ? [field] : [];
  }
  return what.kind === 'field' ? what.fields.filter((field) => known.value.has(field)) : [];
}
const takesGroup = (what: Dragged): boolean => groupsOf(what).length > 0 && hasRoomForGroups(props.exhibit, groupsOf(what));
const dropGroup = (what: Dragged, at: number): void => change(placeGroups(props.exhibit, groupsOf(what), at));
const freeGroups = computed(() =>
  fields.value
    .filter(({ name }) => !props.exhibit.groups.some(({ field }) => field === name))
    .filter((choice) => hasRoomForGroups(props.exhibit, choice.fields)),
);
</script>

<template>
  <div>
    <EdgeDrop v-slot="{ lands }" words="Grouped by" :vertical="false" :takes="takesGroup" @place="dropGroup">
      <template v-for="({ field }, index) in exhibit.groups" :key="field">
        <span v-if="lands(index)" class="landing" />
        <span v-if="index > 0" aria-hidden="true">›</span>
        <EdgeTag
          kind="field"
          :label="nameOf(field)"
          :chosen="false"
          :drag="{ kind: 'group', exhibit: exhibit.id, field }"
          :vertical="false"
          @choose="choose"
        >
          <v-list-item v-if="index > 0" role="menuitem" title="Move left" @click="change(placeGroups(exhibit, [field], index - 1))" />
          <v-list-item
            v-if="index < exhibit.groups.length - 1"
            role="menuitem"
            title="Move right"
            @click="change(placeGroups(exhibit, [field], index + 2))"
          />
          <v-list-item role="menuitem" title="Remove" @click="change(removeGroup(exhibit, field))" />
        </EdgeTag>
      </template>
      <span v-if="lands(exhibit.groups.length)" class="landing" />
      <FieldPicker label="Add a field to group by" :choices="freeGroups" @pick="change(placeGroups(exhibit, $event.fields))" />
    </EdgeDrop>
    <EdgeDrop v-slot="{ lands }" words="Columns" :vertical="false" :takes="takesColumn" @place="dropColumn">
      <template v-for="(column, index) in exhibit.columns" :key="`${column.field ?? column.measure} ${index}`">
        <span v-if="lands(index)" class="landing" />
        <EdgeTag
          :kind="column.field ? 'field' : 'measure'"
          :label="labelOf(column)"
          :more="column.hidden ? 'hidden' : undefined"
          :chosen="false"
          :drag="{ kind: 'column', exhibit: exhibit.id, index }"
          :vertical="false"
          @choose="choose"
        >
          <v-list-item v-if="index > 0" role="menuitem" title="Move left" @click="change(moveColumn(exhibit, index, index - 1))" />
          <v-list-item
            v-if="index < exhibit.columns.length - 1"
            role="menuitem"
            title="Move right"
            @click="change(moveColumn(exhibit, index, index + 2))"
          />
          <v-list-item v-if="exhibit.columns.length > 1" role="menuitem" title="Remove" @click="change(removeColumn(exhibit, index))" />
        </EdgeTag>
      </template>
      <span v-if="lands(exhibit.columns.length)" class="landing" />
      <FieldPicker label="Add a column" :choices="freeColumns" @pick="addColumn" />
    </EdgeDrop>
    <slot />
  </div>
</template>
