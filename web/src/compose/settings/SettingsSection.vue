<script setup lang="ts">
import { mdiMinus, mdiPlus } from '@mdi/js';
import { ref, watch } from 'vue';

/** A part of the settings, which folds. `about` says how it stands while it is folded. */
const props = defineProps<{ title: string; about?: string; open?: boolean }>();
const panel = ref(props.open ? 'section' : undefined);
// What came to hold something is shown.
watch(
  () => props.open,
  (open) => open && (panel.value = 'section'),
);
</script>

<template>
  <v-expansion-panels v-model="panel" class="section">
    <v-expansion-panel value="section">
      <v-expansion-panel-title :expand-icon="mdiPlus" :collapse-icon="mdiMinus">
        <span class="name">{{ title }}</span><span v-if="about" class="about">{{ about }}</span>
      </v-expansion-panel-title>
      <v-expansion-panel-text>
        <div class="body beside"><slot /></div>
      </v-expansion-panel-text>
    </v-expansion-panel>
  </v-expansion-panels>
</template>

<style scoped>
.name {
  flex: 1;
}
.about {
  padding-right: 8px;
  color: var(--ink-2);
  font-weight: 400;
  font-size: 12.5px;
}
.body {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 7px;
}
</style>
