<script setup lang="ts">
import { LOCALE } from '@bold-compass/core/format';
import { comparedSchema, editionDocumentSchema, editionSchema } from '@bold-compass/core/api';
import type { Report } from '@bold-compass/core/model';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref, watch } from 'vue';
import { z } from 'zod';
import { ask } from '../api/client.ts';

/** The editions of a report: what changed between two of them, and the way back to one. */
const props = defineProps<{ report: string; newest: number | null }>();
const open = defineModel<boolean>({ required: true });
const emit = defineEmits<{ back: [document: Report] }>();

const path = computed(() => `/reports/${props.report}/editions`);
const { data: editions } = useQuery({
  queryKey: computed(() => ['editions', props.report, props.newest]),
  queryFn: ({ signal }) => ask(z.array(editionSchema), 'GET', path.value, undefined, signal),
  enabled: open,
  gcTime: 0,
});
const from = ref(0);
const to = ref(0);
watch(editions, (known) => {
  from.value = known?.[0]?.number ?? 0;
  to.value = 0;
});
const { data: compared } = useQuery({
  queryKey: computed(() => ['compared', props.report, from.value, to.value, open.value]),
  queryFn: ({ signal }) =>
    ask(comparedSchema, 'GET', `${path.value}/${from.value}/changes${to.value > 0 ? `?to=${to.value}` : ''}`, undefined, signal),
  enabled: computed(() => open.value && from.value > 0),
  gcTime: 0,
});
const HEADERS = [
  { key: 'number', title: 'Edition' },
  { key: 'publishedAt', title: 'Published' },
  { key: 'note', title: 'Note', sortable: false },
  { key: 'actions', title: 'Actions', sortable: false, align: 'end' },
] as const;
const when = new Intl.DateTimeFormat(LOCALE, { dateStyle: 'long', timeStyle: 'short' });
async function restore(number: number): Promise<void> {
  const { report } = await ask(editionDocumentSchema, 'GET', `${path.value}/${number}`);
  emit('back', report);
  open.value = false;
}
</script>

<template>
  <v-dialog v-model="open" max-width="720" aria-label="Editions">
    <v-card class="sheet">
      <h2>Editions</h2>
      <p v-if="editions && editions.length === 0" class="muted">
        Nothing has been published yet. What you publish stands here, and can be compared.
      </p>
      <template v-else>
        <v-data-table :headers="HEADERS" :items="editions" item-value="number" aria-label="Editions">
          <template #[`item.number`]="{ item }">
            <strong>{{ item.number }}</strong>
          </template>
          <template #[`item.publishedAt`]="{ item }">
            {{ when.format(new Date(item.publishedAt)) }}{{ item.by ? `, ${item.by}` : '' }}
          </template>
          <template #[`item.note`]="{ item }">{{ item.note || '–' }}</template>
          <template #[`item.actions`]="{ item }">
            <v-btn variant="plain" class="inline" :aria-label="`Restore edition ${item.number}`" @click="restore(item.number)"
              >Restore</v-btn
            >
          </template>
        </v-data-table>
        <p class="compare">
          What changed from
          <v-select
            v-model="from"
            aria-label="From edition"
            :items="(editions ?? []).map((edition) => ({ value: edition.number, title: `Edition ${edition.number}` }))"
          />
          to
          <v-select
            v-model="to"
            aria-label="To edition"
            :items="[
              { value: 0, title: 'The draft' },
              ...(editions ?? []).map((edition) => ({ value: edition.number, title: `Edition ${edition.number}` })),
            ]"
          />
        </p>
        <ul v-if="compared" class="changes" aria-label="Changes">
          <li v-for="change in compared.changes" :key="change">{{ change }}</li>
          <li v-if="compared.changes.length === 0" class="muted">Nothing.</li>
        </ul>
      </template>
      <div class="actions">
        <v-btn @click="open = false">Close</v-btn>
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.compare {
  display: flex;
  align-items: center;
  gap: 8px;
  margin: 6px 0 0;
}
.changes {
  margin: 0;
  padding-left: 18px;
  max-height: 300px;
  overflow-y: auto;
}
.actions {
  text-align: right;
}
</style>
