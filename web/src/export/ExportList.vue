<script setup lang="ts">
import { exportFormat, type Export } from '@bold-compass/core/exports';
import { LOCALE } from '@bold-compass/core/format';
import { mdiDownload, mdiTrashCanOutline } from '@mdi/js';
import { isOpen } from './your-exports.ts';

/** Exports of a person: those under way with how far they are, and finished files. */
defineProps<{ exports: readonly Export[] }>();
defineEmits<{ cancel: [id: string]; remove: [id: string] }>();

const SIZES = ['byte', 'kilobyte', 'megabyte'] as const;
function sizeWords(bytes: number): string {
  const step = bytes < 1_000 ? 0 : bytes < 1_000_000 ? 1 : 2;
  const value = bytes / 1_000 ** step;
  const maximumFractionDigits = value < 10 && step > 0 ? 1 : 0;
  return new Intl.NumberFormat(LOCALE, { style: 'unit', unit: SIZES[step], maximumFractionDigits }).format(value);
}
const clock = new Intl.DateTimeFormat(LOCALE, { hour: '2-digit', minute: '2-digit' });
/** What is said of an export beside its name. */
function about({ state, progress, problem, size, contents, madeAt }: Export): string {
  if (state === 'queued') return 'Waiting for its turn';
  if (state === 'active') return `${Math.round(progress * 100)} %`;
  if (state === 'cancelled') return 'Cancelled';
  if (state === 'failed') return problem;
  return [contents, size === null ? '' : sizeWords(size), clock.format(new Date(madeAt))].filter((words) => words !== '').join(' · ');
}
</script>

<template>
  <ul class="exports" aria-label="Your exports">
    <li v-for="one in exports" :key="one.id">
      <span class="format">{{ exportFormat(one.format).label }}</span>
      <span class="name">{{ one.name }}</span>
      <span class="about" :class="{ failed: one.state === 'failed' }">
        <v-progress-linear
          v-if="isOpen(one)"
          :model-value="one.progress * 100"
          :indeterminate="one.state === 'queued'"
          :aria-label="`Progress of ${one.name}`"
          color="primary"
        />
        <span role="status">{{ about(one) }}</span>
      </span>
      <span class="actions">
        <v-btn v-if="isOpen(one)" size="small" @click="$emit('cancel', one.id)">Cancel</v-btn>
        <template v-else>
          <v-btn
            v-if="one.state === 'done'"
            size="small"
            :prepend-icon="mdiDownload"
            :href="`/api/exports/${one.id}/file`"
            :download="one.name"
            :aria-label="`Download ${one.name}`"
            >Download</v-btn
          >
          <v-btn
            size="small"
            variant="text"
            :icon="mdiTrashCanOutline"
            :aria-label="`Remove ${one.name}`"
            title="Remove"
            @click="$emit('remove', one.id)"
          />
        </template>
      </span>
    </li>
  </ul>
</template>

<style scoped>
.exports {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 150px minmax(0, 1fr) minmax(150px, 1fr) auto;
  align-items: center;
  gap: 2px 14px;
  min-height: 38px;
  border-top: 1px solid var(--rule-2);
}
li:first-child {
  border-top: 0;
}
.format {
  font-weight: 600;
  font-size: 13px;
}
.name {
  overflow-wrap: anywhere;
}
.about {
  display: grid;
  gap: 3px;
  font-size: 12.5px;
  color: var(--ink-2);
}
.failed {
  color: var(--off-text);
}
.actions {
  display: flex;
  justify-content: end;
  align-items: center;
  gap: 4px;
  min-width: 130px;
}
@media (max-width: 700px) {
  li {
    grid-template-columns: 1fr auto;
    padding: 6px 0;
  }
  .name,
  .about {
    grid-column: 1 / -1;
  }
  .actions {
    grid-row: 1;
    grid-column: 2;
  }
}
</style>
