<script setup lang="ts">
import type { Chart } from '@bold-compass/core/model';
import AxisEdge from './AxisEdge.vue';
import CellEdge from './CellEdge.vue';
import { useCompose } from './context.ts';
import { swapSeries } from './edges.ts';
import EdgesFrame from './EdgesFrame.vue';
import ThroughEdge from './ThroughEdge.vue';

/** The edges of a chart: its series and the periods it goes through above it, its values beside it, and what runs along the axis below. */
defineProps<{ exhibit: Chart }>();
const { change } = useCompose();
</script>

<template>
  <EdgesFrame>
    <template #above>
      <AxisEdge :exhibit="exhibit" edge="top" :vertical="false" />
      <ThroughEdge v-if="exhibit.chart.inStepWith === undefined" :exhibit="exhibit" />
      <v-btn variant="plain" class="swap inline" @click="change(swapSeries(exhibit))">Swap axis and series</v-btn>
    </template>
    <template #beside><CellEdge :exhibit="exhibit" vertical /></template>
    <slot />
    <template #below><AxisEdge :exhibit="exhibit" edge="side" :vertical="false" /></template>
  </EdgesFrame>
</template>
