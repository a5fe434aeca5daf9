<script setup lang="ts">
import { mdiClose } from '@mdi/js';

/** The editor of a chosen field or measure, at the right of its table. */
defineProps<{ title: string }>();
const emit = defineEmits<{ close: [] }>();
</script>

<template>
  <v-navigation-drawer permanent tag="aside" location="right" class="editor" :width="310" :aria-label="`Settings of ${title}`">
    <v-btn class="close" :icon="mdiClose" variant="text" size="small" aria-label="Close" @click="emit('close')" />
    <div>
      <p class="kind"><slot name="kind" /></p>
      <h2>{{ title }}</h2>
    </div>
    <slot />
    <div v-if="$slots.actions" class="actions"><slot name="actions" /></div>
  </v-navigation-drawer>
</template>

<style scoped>
.editor :deep(.v-navigation-drawer__content) {
  display: grid;
  align-content: start;
  gap: 12px;
  padding: 18px 18px 60px;
  position: relative;
}
.close {
  position: absolute;
  top: 10px;
  right: 10px;
}
.kind {
  font-size: 12.5px;
  color: var(--ink-2);
}
.actions {
  display: flex;
  gap: 10px;
  border-top: 1px solid var(--rule-2);
  padding-top: 12px;
}
.editor :deep(code),
.editor :deep(.formula textarea) {
  font-family: ui-monospace, 'DejaVu Sans Mono', monospace;
  font-size: 12.5px;
}
</style>
