<script setup lang="ts">
import DrawerField, { type FieldAction } from './DrawerField.vue';
import type { Entry } from './exhibit-kinds.ts';

/** A section of the fields and measures: each can be dragged, and has a menu of what can be done with it. */
defineProps<{
  group: string;
  entries: readonly Entry[];
  isFolded: boolean;
  /** Names that are shown already. */
  used: ReadonlySet<string>;
  actions: (entry: Entry) => FieldAction[];
  /** What is said where nothing can be done. */
  hint: string;
}>();
defineEmits<{ fold: [] }>();
</script>

<template>
  <section :aria-label="group">
    <h2>
      <v-btn class="fold" variant="text" :aria-expanded="!isFolded" @click="$emit('fold')">
        {{ group }}<span class="turn" aria-hidden="true">{{ isFolded ? '+' : '−' }}</span>
      </v-btn>
    </h2>
    <ul v-if="!isFolded">
      <!-- Drawn anew only where it says something else: dozens of menus would make each change of the report wait. -->
      <li
        v-for="entry in entries"
        :key="`${entry.kind} ${entry.name}`"
        v-memo="[entry.label, entry.kind === 'field' && entry.fields.join(), used.has(entry.name), hint]"
      >
        <DrawerField :entry="entry" :used="used.has(entry.name)" :actions="actions" :hint="hint" />
      </li>
    </ul>
  </section>
</template>

<style scoped>
h2 {
  font: inherit;
  margin: 8px 0 0;
}
.fold.v-btn.v-btn--size-default {
  width: 100%;
  height: 26px;
  padding: 0 4px 0 2px;
  justify-content: flex-start;
  font-size: 12.5px;
  font-weight: 600;
  color: var(--ink-2);
}
.fold :deep(.v-btn__content) {
  display: flex;
  width: 100%;
  justify-content: space-between;
}
.turn {
  font-weight: 400;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
</style>
