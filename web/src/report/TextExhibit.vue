<script setup lang="ts">
import type { Text } from '@bold-compass/core/model';
import { computed } from 'vue';
import { useReport } from './context.ts';
import { renderMarkdown } from './markdown.ts';

/** Words in Markdown, with values in them. */
const props = defineProps<{ exhibit: Text }>();
const { fill, composing } = useReport();
const html = computed(() => renderMarkdown(props.exhibit.text, fill));
</script>

<template>
  <p v-if="composing && exhibit.text.trim() === ''" class="muted">An empty text: write it in the settings at the right.</p>
  <!-- eslint-disable-next-line vue/no-v-html -- made by markdown-it with markup switched off -->
  <div v-else class="text" v-html="html" />
</template>

<style scoped>
.text {
  margin-top: 16px;
  max-width: 760px;
  line-height: 1.55;
}
.text :deep(h1),
.text :deep(h2),
.text :deep(h3) {
  margin: 6px 0 4px;
}
.text :deep(p) {
  margin: 0 0 8px;
}
.text :deep(a) {
  color: var(--sea);
}
.text :deep(table) {
  border-collapse: collapse;
}
.text :deep(td),
.text :deep(th) {
  padding: 3px 14px 3px 0;
  border-bottom: 1px solid var(--rule);
  text-align: left;
}
</style>
