<script setup lang="ts">
import type { Crosstab } from '@bold-compass/core/model';
import AxisEdge from './AxisEdge.vue';
import CellEdge from './CellEdge.vue';
import { useCompose } from './context.ts';
import { swapAxes } from './edges.ts';
import EdgesFrame from './EdgesFrame.vue';

/** The three edges of a cross-tab around the table itself. */
defineProps<{ exhibit: Crosstab }>();
const { change } = useCompose();
</script>

<template>
  <EdgesFrame>
    <template #above>
      <AxisEdge :exhibit="exhibit" edge="top" :vertical="false" />
      <CellEdge :exhibit="exhibit" :vertical="false" />
      <v-btn variant="plain" class="swap inline" @click="change(swapAxes(exhibit))">Swap side and top</v-btn>
    </template>
    <template #beside><AxisEdge :exhibit="exhibit" edge="side" vertical /></template>
    <slot />
  </EdgesFrame>
</template>
