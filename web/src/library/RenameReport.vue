<script setup lang="ts">
import type { ReportSummary } from '@bold-compass/core/api';
import { ref, watch } from 'vue';

/** Asks for another title or folder of a report; closed while `report` is null. `problem` says why it was not saved. */
const props = defineProps<{ report: ReportSummary | null; folders: string[]; problem: string }>();
const emit = defineEmits<{ close: []; save: [title: string, folder: string] }>();
const title = ref('');
const folder = ref('');
watch(
  () => props.report,
  (now) => now && ([title.value, folder.value] = [now.title, now.folder]),
);
</script>

<template>
  <v-dialog :model-value="report !== null" max-width="460" aria-label="Rename or move" @update:model-value="emit('close')">
    <v-card tag="form" class="sheet" @submit.prevent="emit('save', title, folder)">
      <h2>Rename or move</h2>
      <v-text-field v-model="title" label="Title" maxlength="200" />
      <v-combobox v-model="folder" label="Folder" maxlength="200" :items="folders" />
      <p v-if="problem" role="alert">{{ problem }}</p>
      <p class="muted">Managers see it with the next edition.</p>
      <div class="actions">
        <v-btn @click="emit('close')">Cancel</v-btn>
        <v-btn color="primary" variant="flat" type="submit">Save</v-btn>
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.sheet label {
  display: grid;
  gap: 3px;
  font-size: 13px;
  color: var(--ink-2);
}
.actions {
  display: flex;
  justify-content: end;
  gap: 8px;
}
</style>
