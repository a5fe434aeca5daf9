<script setup lang="ts">
/** A short section of the margin that opens and closes. */
defineProps<{ title: string; open?: boolean; about?: string }>();
</script>

<template>
  <details class="section" :open="open">
    <summary>
      {{ title }}<span v-if="about" class="about">{{ about }}</span>
    </summary>
    <div class="body"><slot /></div>
  </details>
</template>

<style scoped>
.section {
  border-top: 1px solid var(--rule-2);
  padding: 4px 0;
}
summary {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  cursor: pointer;
  font-weight: 600;
  min-height: 28px;
  align-items: center;
  list-style: none;
}
summary::after {
  content: '+';
  color: var(--ink-2);
  font-weight: 400;
}
[open] > summary::after {
  content: '\2212';
}
.about {
  margin-left: auto;
  color: var(--ink-2);
  font-weight: 400;
  font-size: 12.5px;
}
.body {
  display: grid;
  gap: 7px;
  padding: 2px 0 8px;
}
.body :deep(label) {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  align-items: center;
  gap: 2px 8px;
  font-size: 13px;
}
.body :deep(label.stacked) {
  grid-template-columns: minmax(0, 1fr);
  color: var(--ink-2);
}
.body :deep(label.stacked .entry),
.body :deep(label.stacked .choice) {
  width: 100%;
  color: var(--ink);
}
.body :deep(label) {
  min-height: 28px;
}
.body :deep(input[type='checkbox']) {
  width: 16px;
  height: 16px;
  margin: 6px 4px;
}
.body :deep(.choice) {
  max-width: 150px;
}
.body :deep(label.stacked .choice),
.body :deep(.choice.wide) {
  max-width: none;
}
.body :deep(.choice.wide) {
  width: 100%;
}
.body :deep(input[type='number'].entry) {
  width: 84px;
}
</style>
