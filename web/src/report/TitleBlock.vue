<script setup lang="ts">
import { mdiArrowLeft, mdiRedo, mdiUndo } from '@mdi/js';
import { computed, ref } from 'vue';
import { useRoute } from 'vue-router';
import { useReport } from './context.ts';
import type { Crumb } from './trail.ts';
import SavedViews from './SavedViews.vue';

/** The title of a report, where it came from and what can be done with it. */
defineProps<{
  /** The reports that led here. */
  trail: readonly Crumb[];
  /** What state the report is in, in words. */
  state: string;
  canUndo: boolean;
  canRedo: boolean;
  /** What undoing takes back, and what redoing does again, in a sentence. */
  lastStep: string;
  nextStep: string;
  /** The number of the newest edition. */
  newest: number | null;
}>();
defineEmits<{ back: [crumb: number]; undo: []; redo: []; settings: []; editions: []; publish: []; export: [] }>();
const route = useRoute();
const { report, view, composing, fill } = useReport();
const asPages = computed(() => route.query.compose === 'pages');
const canCompose = computed(() => view.value.canCompose);

const SHOWN = 4_000;
const copied = ref('');
async function copyLink(): Promise<void> {
  try {
    await navigator.clipboard.writeText(window.location.href);
    copied.value = 'Link copied. It shows what you see now.';
  } catch {
    copied.value = 'Copy the address of this page: it shows what you see now.';
  }
  setTimeout(() => (copied.value = ''), SHOWN);
}
</script>

<template>
  <header class="title-block">
    <div class="titles">
      <p class="crumbs">
        <template v-if="trail.length > 0">
          <span class="trail" role="navigation" aria-label="Trail">
            <v-icon :icon="mdiArrowLeft" size="15" aria-hidden="true" />
            <template v-for="(crumb, index) in trail" :key="index">
              <v-btn variant="text" class="back" @click="$emit('back', index)">{{ crumb.title }}</v-btn>
              <span aria-hidden="true">›</span>
            </template>
            <span aria-current="page">{{ fill(report.title) }}</span>
          </span>
        </template>
        <span v-else>{{ report.folder }}</span>
      </p>
      <h1>{{ fill(report.title) }}</h1>
      <p v-if="report.subtitle" class="subtitle serif">{{ fill(report.subtitle) }}</p>
    </div>
    <div class="actions">
      <span class="edition" role="status">{{ copied || state }}</span>
      <template v-if="composing">
        <v-btn
          :icon="mdiUndo"
          variant="text"
          size="small"
          aria-label="Undo"
          :title="lastStep ? `Undo (Ctrl+Z): ${lastStep}` : 'Undo (Ctrl+Z)'"
          :disabled="!canUndo"
          class="sign"
          @click="$emit('undo')"
        />
        <v-btn
          :icon="mdiRedo"
          variant="text"
          size="small"
          aria-label="Redo"
          :title="nextStep ? `Redo (Ctrl+Shift+Z): ${nextStep}` : 'Redo (Ctrl+Shift+Z)'"
          :disabled="!canRedo"
          class="sign"
          @click="$emit('redo')"
        />
        <v-btn-toggle :model-value="asPages ? 'pages' : 'screen'" mandatory density="compact" aria-label="View">
          <v-btn value="screen" :to="{ query: { ...route.query, compose: '' } }" :active="!asPages">Screen</v-btn>
          <v-btn value="pages" :to="{ query: { ...route.query, compose: 'pages' } }" :active="asPages">Pages</v-btn>
        </v-btn-toggle>
        <v-btn variant="text" @click="$emit('settings')">Settings</v-btn>
        <v-btn variant="text" @click="$emit('editions')">Editions</v-btn>
        <v-btn variant="text" @click="$emit('export')">Export</v-btn>
        <v-btn :active="false" :to="{ query: { ...route.query, compose: undefined } }">Read</v-btn>
        <v-btn color="primary" variant="flat" @click="$emit('publish')">Publish edition {{ (newest ?? 0) + 1 }}</v-btn>
      </template>
      <template v-else>
        <SavedViews />
        <v-btn variant="text" @click="copyLink">Copy link</v-btn>
        <v-btn @click="$emit('export')">Export</v-btn>
        <v-btn v-if="canCompose" :active="false" color="primary" variant="flat" :to="{ query: { ...route.query, compose: '' } }"
          >Compose</v-btn
        >
      </template>
    </div>
  </header>
</template>

<style scoped>
.subtitle {
  margin: 0;
  font-size: 15px;
  font-weight: 400;
  color: var(--ink-2);
}
.title-block {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: end;
  gap: 4px 24px;
}
.crumbs {
  margin: 0;
  font-size: 13px;
  color: var(--ink-2);
  min-height: 20px;
}
.trail {
  display: inline-flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 4px;
}
.back {
  min-height: 24px;
  height: auto;
  padding: 0 3px;
  color: var(--sea);
  font-weight: 600;
  text-decoration: underline;
}
.actions {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
}
.sign {
  min-width: 32px;
  min-height: 32px;
  color: var(--sea);
}
.sign:disabled {
  color: var(--ink-3);
}
.edition {
  font-size: 12.5px;
  color: var(--ink-2);
}
@media (max-width: 700px) {
  h1 {
    font-size: 22px;
  }
}
</style>
