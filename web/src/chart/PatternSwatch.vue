<script setup lang="ts">
import { onMounted, useTemplateRef, watch } from 'vue';
import { useTheme } from 'vuetify';
import { noDataTile, patternTile } from '@bold-compass/charts';
import { canvasTokens } from '../theme/canvas-tokens.ts';

/** The pattern of a series, as its bars have it; or that of what has no value. */
const props = defineProps<{ index: number | 'no data' }>();
const canvas = useTemplateRef('canvas');
const theme = useTheme();
function draw(): void {
  if (!canvas.value) return;
  const tokens = canvasTokens(canvas.value, 'monochrome');
  const tile = props.index === 'no data' ? noDataTile(tokens) : patternTile(props.index, tokens.ink, tokens.paper);
  canvas.value.getContext('2d')?.drawImage(tile, 0, 0, canvas.value.width, canvas.value.height);
}
onMounted(draw);
watch([() => props.index, theme.name], draw);
</script>

<template>
  <canvas ref="canvas" class="pattern" width="12" height="12" aria-hidden="true" />
</template>

<style scoped>
.pattern {
  width: 12px;
  height: 12px;
  margin-right: 6px;
  border: 1px solid var(--ink);
}
</style>
