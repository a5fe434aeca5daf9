<script setup lang="ts">
import { fieldLabel, type CellExhibit } from '@bold-compass/core/model';
import { computed } from 'vue';
import { datasetOf, useCompose } from '../context.ts';
import { setAxis, type Edge } from '../edges.ts';

/** To which level an axis is open before a reader opens more of it; nothing is asked of an axis with a single level. */
const props = defineProps<{ exhibit: CellExhibit; edge: Edge; words: string }>();
const compose = useCompose();
const dataset = computed(() => datasetOf(compose, props.exhibit));
const axis = computed(() => props.exhibit[props.edge]);
</script>

<template>
  <v-select
    v-if="axis.fields.length > 1"
    :label="`${words} open to`"
    :model-value="axis.openLevels"
    :items="axis.fields.map((field, depth) => ({ value: depth, title: fieldLabel(dataset, field) }))"
    @update:model-value="compose.change(setAxis(exhibit, edge, { openLevels: $event }))"
  />
</template>
