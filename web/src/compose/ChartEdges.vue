<script setup lang="ts">
import type { Chart } from '@bold-compass/core/model';
import AxisEdge from './AxisEdge.vue';
import CellEdge from './CellEdge.vue';
import { useCompose } from './context.ts';
import { swapSeries } from './edges.ts';
import ThroughEdge from './ThroughEdge.vue';

/** The edges of a chart: its series and the periods it goes through above it, its values beside it, and what runs along the axis below. */
defineProps<{ exhibit: Chart }>();
const { change } = useCompose();
</script>

<template>
  <div class="edges">
    <div class="line">
      <AxisEdge :exhibit="exhibit" edge="top" :vertical="false" />
      <ThroughEdge v-if="exhibit.chart.inStepWith === undefined" :exhibit="exhibit" />
      <v-btn variant="plain" class="swap inline" @click="change(swapSeries(exhibit))">Swap axis and series</v-btn>
    </div>
    <CellEdge :exhibit="exhibit" vertical />
    <div class="table"><slot /></div>
    <div class="line along"><AxisEdge :exhibit="exhibit" edge="side" :vertical="false" /></div>
  </div>
</template>

<style scoped>
.edges {
  display: grid;
  grid-template-columns: 34px minmax(0, 1fr);
  gap: 4px 8px;
}
.line {
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 20px;
}
.along {
  padding-left: 42px;
}
.swap {
  margin-left: auto;
}
.table {
  min-width: 0;
}
.table :deep(.exhibit) {
  margin-top: 2px;
}
</style>
