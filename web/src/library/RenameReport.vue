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
    <form class="menu-sheet sheet" @submit.prevent="emit('save', title, folder)">
      <h2>Rename or move</h2>
      <label>Title <input v-model="title" class="entry" maxlength="200" /></label>
      <label>Folder <input v-model="folder" class="entry" maxlength="200" list="folders" /></label>
      <datalist id="folders"><option v-for="one in folders" :key="one" :value="one" /></datalist>
      <p v-if="problem" role="alert">{{ problem }}</p>
      <p class="muted">Managers see it with the next edition.</p>
      <div class="actions">
        <button type="button" class="button" @click="emit('close')">Leave it</button>
        <button type="submit" class="button primary">Save</button>
      </div>
    </form>
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
