<script setup lang="ts">
import type { Page, Report } from '@bold-compass/core/model';
import { computed } from 'vue';
import { movedBy } from '../drag/landing.ts';

/** The pages of a report as tabs; composing, they can be added, renamed and taken out. */
const props = defineProps<{ report: Report; page: string | undefined; composing: boolean }>();
const emit = defineEmits<{ turn: [page: string]; change: [report: Report] }>();

const pages = computed((): Page[] => props.report.pages);
const current = computed(() => pages.value.find(({ id }) => id === props.page) ?? pages.value[0]);
function add(): void {
  const known = pages.value.length > 0 ? pages.value : [{ id: 'page-1', title: 'Page 1' }];
  const taken = new Set(known.map(({ id }) => id));
  let number = known.length + 1;
  while (taken.has(`page-${number}`)) number++;
  const id = `page-${number}`;
  emit('change', { ...props.report, pages: [...known, { id, title: `Page ${number}` }] });
  emit('turn', id);
}
const rename = (page: Page, title: string): void =>
  emit('change', { ...props.report, pages: pages.value.map((one) => (one === page && title ? { ...one, title } : one)) });
/** Exhibits of a page that goes stand on the first one. */
function remove(page: Page): void {
  const left = pages.value.filter((one) => one !== page);
  const exhibits = props.report.exhibits.map((exhibit) => (exhibit.page === page.id ? { ...exhibit, page: left[0]?.id } : exhibit));
  emit('change', { ...props.report, pages: left, exhibits });
  if (left[0]) emit('turn', left[0].id);
}
function move(by: -1 | 1): void {
  const at = pages.value.indexOf(current.value);
  if (at + by < 0 || at + by >= pages.value.length) return;
  emit('change', { ...props.report, pages: movedBy(pages.value, at, by) });
}
</script>

<template>
  <div v-if="pages.length > 1 || composing" class="pages">
    <div v-if="pages.length > 1" role="tablist" aria-label="Pages of the report" class="tabs">
      <v-btn v-for="one in pages" :key="one.id" variant="text" role="tab" :aria-selected="one === current" @click="emit('turn', one.id)">
        {{ one.title }}
      </v-btn>
    </div>
    <template v-if="composing">
      <v-text-field
        v-if="pages.length > 1"
        class="name"
        :model-value="current.title"
        maxlength="60"
        aria-label="Name of this page"
        @change="rename(current, ($event.target as HTMLInputElement).value.trim())"
      />
      <v-btn v-if="pages.length > 1" variant="plain" class="inline" @click="move(-1)">Move left</v-btn>
      <v-btn v-if="pages.length > 1" variant="plain" class="inline" @click="remove(current)">Remove page</v-btn>
      <v-btn variant="plain" class="inline" @click="add">Add page</v-btn>
    </template>
  </div>
</template>

<style scoped>
.pages {
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: 4px 12px;
  margin-top: 8px;
  border-bottom: 1px solid var(--rule);
  font-size: 13px;
}
.tabs {
  display: flex;
  gap: 18px;
  margin-right: auto;
}
.tabs button {
  padding: 3px 0 5px;
  color: var(--ink-2);
  font-weight: 600;
}
.tabs button[aria-selected='true'] {
  color: var(--ink);
  box-shadow: inset 0 -3px 0 var(--brass-line);
}
.name {
  width: 140px;
}
</style>
