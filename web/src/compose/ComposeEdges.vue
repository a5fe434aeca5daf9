<script setup lang="ts">
import { fieldLabel, findField, findMeasure, type Crosstab } from '@bold-compass/core/model';
import { computed, ref } from 'vue';
import { datasetOf, useCompose } from './context.ts';
import { beginDrag, dragged, endDrag } from './dragging.ts';
import {
  across,
  groupingFields,
  measureChoices,
  moveCell,
  placeField,
  placeMeasure,
  removeCell,
  removeField,
  shiftField,
  swapAxes,
  type Edge,
} from './edges.ts';
import FieldPicker from './FieldPicker.vue';

/** The three edges of a cross-tab, with a tag for each field and measure, around the table itself. */
const props = defineProps<{ exhibit: Crosstab }>();
const compose = useCompose();
const { selection, change } = compose;

const dataset = computed(() => datasetOf(compose, props.exhibit));
const WORDS = { side: 'Down the side', top: 'Across the top' } as const;
const OTHER = { side: 'across the top', top: 'down the side' } as const;
const free = computed(() =>
  groupingFields(dataset.value).filter(({ name }) => !props.exhibit.side.fields.includes(name) && !props.exhibit.top.fields.includes(name)),
);
const labelOf = (field: string): string => (findField(dataset.value, field) ? fieldLabel(dataset.value, field) : field);
const measureLabel = (name: string): string => findMeasure(dataset.value, name)?.label ?? name;
const isChosen = (edge: Edge, field: string): boolean => {
  const part = selection.value?.exhibit === props.exhibit.id ? selection.value.part : undefined;
  return part?.kind === 'level' && part.edge === edge && part.field === field;
};
const isCell = (index: number): boolean => {
  const part = selection.value?.exhibit === props.exhibit.id ? selection.value.part : undefined;
  return part?.kind === 'cell' && part.index === index;
};
const chooseLevel = (edge: Edge, field: string): void =>
  void (selection.value = { exhibit: props.exhibit.id, part: { kind: 'level', edge, field } });
const chooseCell = (index: number): void => void (selection.value = { exhibit: props.exhibit.id, part: { kind: 'cell', index } });

// Dropping: a line shows where it will land. ----------------------------------------------------------------------
type Place = Edge | 'cells';
const target = ref<{ place: Place; at: number } | null>(null);
const takes = (place: Place): boolean => {
  const what = dragged.value;
  if (!what) return false;
  if (place === 'cells') return what.kind === 'measure' || (what.kind === 'cell' && what.exhibit === props.exhibit.id);
  return what.kind === 'field' || (what.kind === 'level' && what.exhibit === props.exhibit.id);
};
function over(event: DragEvent, place: Place): void {
  if (!takes(place)) return;
  event.preventDefault();
  const tags = [...(event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>('[data-tag]')];
  const at = tags.findIndex((tag) => {
    const { left, top, width, height } = tag.getBoundingClientRect();
    return place === 'side' ? event.clientY < top + height / 2 : event.clientX < left + width / 2;
  });
  target.value = { place, at: at < 0 ? tags.length : at };
}
function drop(event: DragEvent, place: Place): void {
  const what = dragged.value;
  const at = target.value?.at ?? Infinity;
  target.value = null;
  if (!what || !takes(place)) return;
  event.preventDefault();
  if (place === 'cells') {
    if (what.kind === 'measure') change(placeMeasure(props.exhibit, what.name, at));
    if (what.kind === 'cell') change(moveCell(props.exhibit, what.index, what.index < at ? at - 1 : at));
  } else if (what.kind === 'field' || what.kind === 'level') change(placeField(props.exhibit, place, what.name, at));
  endDrag();
}
const lands = (place: Place, at: number): boolean => target.value?.place === place && target.value.at === at;
</script>

<template>
  <div class="edges">
    <div class="above">
      <div
        class="edge"
        :class="{ open: takes('top') }"
        role="group"
        :aria-label="WORDS.top"
        @dragover="over($event, 'top')"
        @dragleave="target = null"
        @drop="drop($event, 'top')"
      >
        <span class="words serif">{{ WORDS.top }}</span>
        <template v-for="(field, index) in exhibit.top.fields" :key="field">
          <span v-if="index > 0" class="step" aria-hidden="true">›</span>
          <span v-if="lands('top', index)" class="landing" />
          <v-menu location="bottom start" :offset="4">
            <template #activator="{ props: activator }">
              <button
                type="button"
                class="tag field"
                :class="{ chosen: isChosen('top', field) }"
                data-tag
                v-bind="activator"
                :aria-owns="undefined"
                draggable="true"
                @dragstart="beginDrag($event, { kind: 'level', exhibit: exhibit.id, name: field }, labelOf(field))"
                @dragend="endDrag"
                @click="chooseLevel('top', field)"
              >
                {{ labelOf(field) }}
              </button>
            </template>
            <div class="menu-sheet">
              <button type="button" class="menu-item" @click="change(placeField(exhibit, 'side', field))">Put it down the side</button>
              <button v-if="index > 0" type="button" class="menu-item" @click="change(shiftField(exhibit, 'top', field, -1))">
                Move it outward
              </button>
              <button
                v-if="index < exhibit.top.fields.length - 1"
                type="button"
                class="menu-item"
                @click="change(shiftField(exhibit, 'top', field, 1))"
              >
                Move it inward
              </button>
              <button type="button" class="menu-item" @click="change(removeField(exhibit, 'top', field))">Take it out</button>
            </div>
          </v-menu>
        </template>
        <span v-if="lands('top', exhibit.top.fields.length)" class="landing" />
        <FieldPicker label="Add a field across the top" :choices="free" @pick="change(placeField(exhibit, 'top', $event))" />
      </div>
      <div
        class="edge"
        :class="{ open: takes('cells') }"
        role="group"
        aria-label="In the cells"
        @dragover="over($event, 'cells')"
        @dragleave="target = null"
        @drop="drop($event, 'cells')"
      >
        <span class="words serif">In the cells</span>
        <template v-for="(cell, index) in exhibit.cells" :key="`${cell.measure} ${cell.aggregation}`">
          <span v-if="lands('cells', index)" class="landing" />
          <v-menu location="bottom start" :offset="4">
            <template #activator="{ props: activator }">
              <button
                type="button"
                class="tag measure"
                :class="{ chosen: isCell(index) }"
                data-tag
                v-bind="activator"
                :aria-owns="undefined"
                draggable="true"
                @dragstart="beginDrag($event, { kind: 'cell', exhibit: exhibit.id, index }, measureLabel(cell.measure))"
                @dragend="endDrag"
                @click="chooseCell(index)"
              >
                {{ cell.heading ?? measureLabel(cell.measure) }}<small v-if="cell.aggregation"> {{ cell.aggregation }}</small>
              </button>
            </template>
            <div class="menu-sheet">
              <p class="formula">{{ findMeasure(dataset, cell.measure)?.formula }}</p>
              <button v-if="index > 0" type="button" class="menu-item" @click="change(moveCell(exhibit, index, index - 1))">
                Move it to the left
              </button>
              <button
                v-if="index < exhibit.cells.length - 1"
                type="button"
                class="menu-item"
                @click="change(moveCell(exhibit, index, index + 1))"
              >
                Move it to the right
              </button>
              <button type="button" class="menu-item" @click="change(removeCell(exhibit, index))">Take it out</button>
            </div>
          </v-menu>
        </template>
        <span v-if="lands('cells', exhibit.cells.length)" class="landing" />
        <FieldPicker label="Add a measure in the cells" :choices="measureChoices(dataset)" @pick="change(placeMeasure(exhibit, $event))" />
      </div>
      <button type="button" class="swap" @click="change(swapAxes(exhibit))">Swap side and top</button>
    </div>
    <div
      class="edge side"
      :class="{ open: takes('side') }"
      role="group"
      :aria-label="WORDS.side"
      @dragover="over($event, 'side')"
      @dragleave="target = null"
      @drop="drop($event, 'side')"
    >
      <span class="words serif">{{ WORDS.side }}</span>
      <template v-for="(field, index) in exhibit.side.fields" :key="field">
        <span v-if="lands('side', index)" class="landing" />
        <v-menu location="end top" :offset="4">
          <template #activator="{ props: activator }">
            <button
              type="button"
              class="tag field"
              :class="{ chosen: isChosen('side', field) }"
              data-tag
              v-bind="activator"
              :aria-owns="undefined"
              draggable="true"
              @dragstart="beginDrag($event, { kind: 'level', exhibit: exhibit.id, name: field }, labelOf(field))"
              @dragend="endDrag"
              @click="chooseLevel('side', field)"
            >
              {{ labelOf(field) }}
            </button>
          </template>
          <div class="menu-sheet">
            <button type="button" class="menu-item" @click="change(placeField(exhibit, across('side'), field))">
              Put it {{ OTHER.side }}
            </button>
            <button v-if="index > 0" type="button" class="menu-item" @click="change(shiftField(exhibit, 'side', field, -1))">
              Move it outward
            </button>
            <button
              v-if="index < exhibit.side.fields.length - 1"
              type="button"
              class="menu-item"
              @click="change(shiftField(exhibit, 'side', field, 1))"
            >
              Move it inward
            </button>
            <button type="button" class="menu-item" @click="change(removeField(exhibit, 'side', field))">Take it out</button>
          </div>
        </v-menu>
      </template>
      <span v-if="lands('side', exhibit.side.fields.length)" class="landing" />
      <FieldPicker label="Add a field down the side" :choices="free" @pick="change(placeField(exhibit, 'side', $event))" />
    </div>
    <div class="table"><slot /></div>
  </div>
</template>

<style scoped>
.edges {
  display: grid;
  grid-template-columns: 34px minmax(0, 1fr);
  gap: 4px 8px;
}
.above {
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 20px;
}
.edge {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
  padding: 3px 6px;
  min-width: 170px;
  min-height: 36px;
  border-radius: 6px;
  border: 1px dashed transparent;
}
.edge.open {
  border-color: var(--sea);
  background: var(--sea-tint);
}
.edge.side {
  flex-direction: column;
  flex-wrap: nowrap;
  align-items: center;
  min-width: 0;
  min-height: 200px;
  padding: 4px 2px;
}
.side .words,
.side .tag {
  writing-mode: vertical-rl;
  transform: rotate(180deg);
}
.side .tag {
  min-height: 0;
  min-width: 26px;
  padding: 11px 2px;
}
.words {
  font-style: italic;
  font-weight: 400;
  font-size: 14px;
  color: var(--ink-2);
}
.step {
  color: var(--ink-2);
}
.landing {
  width: 3px;
  height: 26px;
  background: var(--sea);
  border-radius: 2px;
}
.side .landing {
  width: 26px;
  height: 3px;
}
.tag {
  min-height: 26px;
  padding: 2px 11px;
  border-radius: 5px;
  font-weight: 600;
  font-size: 13px;
  cursor: grab;
}
.tag small {
  font-weight: 400;
}
.tag.field {
  background: var(--sea-tint);
  color: var(--sea);
  border: 1px solid color-mix(in srgb, var(--sea) 28%, transparent);
}
.tag.measure {
  background: var(--brass-tint);
  color: var(--brass);
  border: 1px solid color-mix(in srgb, var(--brass-line) 35%, transparent);
}
.tag.chosen {
  outline: 2px solid currentColor;
  outline-offset: 1px;
}
.formula {
  margin: 2px 10px 6px;
  max-width: 280px;
  color: var(--ink-2);
  font-size: 13px;
}
.swap {
  margin-left: auto;
  color: var(--sea);
  font-size: 12.5px;
  text-decoration: underline;
  min-height: 24px;
}
.table {
  min-width: 0;
}
.table :deep(.exhibit) {
  margin-top: 2px;
}
</style>
