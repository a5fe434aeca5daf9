<script setup lang="ts">
import { mdiFitToScreenOutline, mdiMinus, mdiPlus } from '@mdi/js';

/** Comes nearer to a map, and goes back to all of its data. */
defineProps<{ zoomed: boolean }>();
const emit = defineEmits<{ zoomIn: []; zoomOut: []; fit: [] }>();
</script>

<template>
  <div class="zoom" role="group" aria-label="Zoom" @keydown.stop>
    <v-btn :icon="mdiPlus" size="x-small" variant="outlined" aria-label="Zoom in" title="Zoom in" @click="emit('zoomIn')" />
    <v-btn
      :icon="mdiMinus"
      size="x-small"
      variant="outlined"
      aria-label="Zoom out"
      title="Zoom out"
      :disabled="!zoomed"
      @click="emit('zoomOut')"
    />
    <v-btn
      :icon="mdiFitToScreenOutline"
      size="x-small"
      variant="outlined"
      aria-label="Fit to data"
      title="Fit to data"
      :disabled="!zoomed"
      @click="emit('fit')"
    />
  </div>
</template>

<style scoped>
.zoom {
  position: absolute;
  top: 4px;
  right: 0;
  display: grid;
  gap: 3px;
}
.zoom .v-btn {
  background: var(--sheet);
  border-color: var(--rule);
  border-radius: 5px;
}
</style>
