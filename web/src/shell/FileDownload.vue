<script setup lang="ts">
import { mdiDownload } from '@mdi/js';
import { watch } from 'vue';
import { useFile, type FileChoice } from './use-file.ts';

/** A menu of files to take along; while one is made, how far that is. */
defineProps<{ choices: readonly FileChoice[]; label: string }>();
const { done, said, problem, make, cancel } = useFile();
/** How long it is said that something was copied, in milliseconds. */
const SAID = 4_000;
watch(said, (now) => now !== '' && setTimeout(() => (said.value = ''), SAID));
</script>

<template>
  <span class="download">
    <span v-if="done !== null" role="status">
      Making the file, {{ Math.round(done * 100) }} %
      <v-btn class="inline" variant="plain" @click="cancel">Cancel</v-btn>
    </span>
    <v-menu v-else>
      <template #activator="{ props: opener }">
        <v-btn v-bind="opener" variant="text" size="small" :icon="mdiDownload" :aria-label="label" :title="label" />
      </template>
      <v-list>
        <slot name="first" />
        <v-list-item v-for="choice in choices" :key="choice.title" :title="choice.title" @click="make(choice)" />
      </v-list>
    </v-menu>
    <span v-if="said" role="status">{{ said }}</span>
    <span v-if="problem" class="failure" role="alert">{{ problem }}</span>
  </span>
</template>

<style scoped>
.download {
  display: inline-flex;
  align-items: baseline;
  gap: 6px;
  font-size: 12.5px;
}
.failure {
  color: var(--red);
}
</style>
