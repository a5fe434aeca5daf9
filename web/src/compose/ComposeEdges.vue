<script setup lang="ts">
import type { Crosstab } from '@bold-compass/core/model';
import AxisEdge from './AxisEdge.vue';
import CellEdge from './CellEdge.vue';
import { useCompose } from './context.ts';
import { swapAxes } from './edges.ts';

/** The three edges of a cross-tab around the table itself. */
defineProps<{ exhibit: Crosstab }>();
const { change } = useCompose();
</script>

<template>
  <div class="edges">
    <div class="above">
      <AxisEdge :exhibit="exhibit" edge="top" :vertical="false" />
      <CellEdge :exhibit="exhibit" :vertical="false" />
      <v-btn variant="plain" class="swap inline" @click="change(swapAxes(exhibit))">Swap side and top</v-btn>
    </div>
    <AxisEdge :exhibit="exhibit" edge="side" vertical />
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
