<script setup lang="ts">
import { fieldLabel, type CellExhibit, type LevelSettings } from '@bold-compass/core/model';
import { computed } from 'vue';
import { datasetOf, useCompose } from '../context.ts';
import { edgeWords } from '../edge-words.ts';
import { across, placeInOrder, removeField, setLevel, shiftField, type Edge } from '../edges.ts';
import ClassSettings from './ClassSettings.vue';
import GroupSettings from './GroupSettings.vue';
import OrderSettings from './OrderSettings.vue';
import PickSettings from './PickSettings.vue';
import SettingsSection from './SettingsSection.vue';

/** A field on an edge: its order, its subtotals, and which of its members are shown. */
const props = defineProps<{ exhibit: CellExhibit; edge: Edge; field: string }>();
const compose = useCompose();
const { change, selection } = compose;
const dataset = computed(() => datasetOf(compose, props.exhibit));
const level = computed((): LevelSettings => props.exhibit[props.edge].levels[props.field] ?? { subtotal: true });
const set = (part: Partial<LevelSettings>): void => change(setLevel(props.exhibit, props.edge, props.field, part));
/** The group that was asked for from a menu. */
const shownGroup = computed(() => (selection.value?.part?.kind === 'level' ? selection.value.part.group : undefined));
const at = computed(() => props.exhibit[props.edge].fields.indexOf(props.field));
const isLast = computed(() => at.value === props.exhibit[props.edge].fields.length - 1);
const otherFields = computed(() => props.exhibit[across(props.edge)].fields);

/** Where the values of an open member stand; `none` leaves them out. */
const subtotals = computed(() => {
  const { layout, totalPlace } = props.exhibit[props.edge];
  const asTree = props.edge === 'side' && layout === 'tree';
  return level.value.subtotal ? (level.value.subtotalPlace ?? (asTree ? 'before' : totalPlace)) : 'none';
});
function placeSubtotals(value: string): void {
  if (value === 'before' || value === 'after') set({ subtotal: true, subtotalPlace: value });
  else set({ subtotal: false });
}
</script>

<template>
  <p class="kind">{{ edgeWords(exhibit)[edge] }}</p>
  <h2>{{ fieldLabel(dataset, field) }}</h2>
  <div class="actions-line">
    <v-btn :disabled="at <= 0" @click="change(shiftField(exhibit, edge, field, -1))">Move up a level</v-btn>
    <v-btn :disabled="isLast" @click="change(shiftField(exhibit, edge, field, 1))">Move down a level</v-btn>
    <v-btn
      @click="
        selection = { exhibit: exhibit.id, part: { kind: 'level', edge: across(edge), field } };
        change(placeInOrder(dataset, exhibit, across(edge), [field]));
      "
    >
      Move {{ edgeWords(exhibit)[across(edge)].toLowerCase() }}
    </v-btn>
  </div>
  <OrderSettings :dataset="dataset" :field="field" :across="otherFields" :order="level.order" @change="set({ order: $event })" />
  <PickSettings
    :dataset="dataset"
    :across="otherFields"
    :pick="level.pick"
    :first-measure="exhibit.cells[0]?.measure"
    @change="set({ pick: $event })"
  />
  <ClassSettings
    :dataset="dataset"
    :across="otherFields"
    :classes="level.classes"
    :first-measure="exhibit.cells[0]?.measure"
    @change="set({ classes: $event })"
  />
  <GroupSettings
    v-if="!level.classes"
    :dataset="dataset"
    :field="field"
    :groups="level.groups ?? []"
    :shown="shownGroup"
    @change="set({ groups: $event.length > 0 ? $event : undefined })"
  />
  <SettingsSection v-if="!isLast" title="Subtotals" open>
    <v-select
      label="Subtotal"
      :model-value="subtotals"
      :items="[
        { value: 'before', title: 'Before members' },
        { value: 'after', title: 'After members' },
        { value: 'none', title: 'None' },
      ]"
      @update:model-value="placeSubtotals($event)"
    />
  </SettingsSection>
  <v-btn
    variant="text"
    @click="
      selection = { exhibit: exhibit.id };
      change(removeField(exhibit, edge, field));
    "
  >
    Remove {{ fieldLabel(dataset, field) }}
  </v-btn>
</template>
