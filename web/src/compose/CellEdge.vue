<script setup lang="ts">
import { findMeasure, measureNamed, type CellExhibit } from '@bold-compass/core/model';
import { computed } from 'vue';
import CalculateMenu from './CalculateMenu.vue';
import { datasetOf, useCompose } from './context.ts';
import type { Dragged } from './dragging.ts';
import { freeMeasures, moveCell, placeMeasure, removeCell } from './edges.ts';
import { edgeWords } from './edge-words.ts';
import EdgeDrop from './EdgeDrop.vue';
import EdgeTag from './EdgeTag.vue';
import FieldPicker from './FieldPicker.vue';

/** The measures in the cells, each a tag that can be moved. */
const props = defineProps<{ exhibit: CellExhibit; vertical: boolean }>();
const compose = useCompose();
const { selection, change } = compose;

const dataset = computed(() => datasetOf(compose, props.exhibit));
const labelOf = (name: string): string => findMeasure(dataset.value, name)?.label ?? name;
function isChosen(index: number): boolean {
  const part = selection.value?.exhibit === props.exhibit.id ? selection.value.part : undefined;
  return part?.kind === 'cell' && part.index === index;
}
const choose = (index: number): void => void (selection.value = { exhibit: props.exhibit.id, part: { kind: 'cell', index } });
const add = (name: string, at?: number): void => change(placeMeasure(props.exhibit, measureNamed(dataset.value, name), at));
const takes = (what: Dragged): boolean => what.kind === 'measure' || (what.kind === 'cell' && what.exhibit === props.exhibit.id);
function drop(what: Dragged, at: number): void {
  if (what.kind === 'measure') add(what.name, at);
  if (what.kind === 'cell') change(moveCell(props.exhibit, what.index, what.index < at ? at - 1 : at));
}
</script>

<template>
  <EdgeDrop v-slot="{ lands }" :words="edgeWords(exhibit).cells" :vertical="vertical" :takes="takes" @place="drop">
    <template v-for="(cell, index) in exhibit.cells" :key="`${cell.measure} ${cell.aggregation}`">
      <span v-if="lands(index)" class="landing" />
      <EdgeTag
        kind="measure"
        :label="cell.heading ?? labelOf(cell.measure)"
        :more="cell.aggregation"
        :chosen="isChosen(index)"
        :drag="{ kind: 'cell', exhibit: exhibit.id, index }"
        :vertical="vertical"
        @choose="choose(index)"
      >
        <p class="formula">{{ findMeasure(dataset, cell.measure)?.formula }}</p>
        <v-list-item
          v-if="index > 0"
          role="menuitem"
          :title="vertical ? 'Move up' : 'Move left'"
          @click="change(moveCell(exhibit, index, index - 1))"
        />
        <v-list-item
          v-if="index < exhibit.cells.length - 1"
          role="menuitem"
          :title="vertical ? 'Move down' : 'Move right'"
          @click="change(moveCell(exhibit, index, index + 1))"
        />
        <CalculateMenu :exhibit="exhibit" :index="index" />
        <v-list-item role="menuitem" title="Remove" @click="change(removeCell(exhibit, index))" />
      </EdgeTag>
    </template>
    <span v-if="lands(exhibit.cells.length)" class="landing" />
    <FieldPicker :label="edgeWords(exhibit).addMeasure" :choices="freeMeasures(dataset, exhibit)" @pick="add($event.name)" />
  </EdgeDrop>
</template>

<style scoped>
.formula {
  margin: 2px 10px 6px;
  max-width: 280px;
  color: var(--ink-2);
  font-size: 13px;
}
</style>
