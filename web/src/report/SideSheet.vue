<script setup lang="ts">
import { mdiClose, mdiOpenInNew } from '@mdi/js';

/** Another report in a sheet at the side; what is behind it stays as it is. */
defineProps<{ sheet: { href: string; label: string } | null }>();
const emit = defineEmits<{ close: [] }>();
</script>

<template>
  <v-dialog :model-value="sheet !== null" class="side-sheet" transition="slide-x-reverse-transition" @update:model-value="emit('close')">
    <v-card v-if="sheet" :title="sheet.label">
      <template #append>
        <v-btn :href="sheet.href" variant="text" :prepend-icon="mdiOpenInNew">Open in full</v-btn>
        <v-btn :icon="mdiClose" variant="text" aria-label="Close" @click="emit('close')" />
      </template>
      <iframe :src="sheet.href" :title="sheet.label" />
    </v-card>
  </v-dialog>
</template>

<style>
.side-sheet > .v-overlay__content {
  position: absolute;
  inset: 0 0 0 auto;
  width: min(1000px, 92vw);
  max-width: none !important;
  max-height: none !important;
  margin: 0;
}
.side-sheet .v-card {
  height: 100%;
  border-radius: 0;
}
.side-sheet iframe {
  flex: 1;
  width: 100%;
  border: 0;
  border-top: 1px solid var(--rule);
}
</style>
