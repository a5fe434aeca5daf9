<script lang="ts">
/** Something that can be done with a field or a measure. */
export interface FieldAction {
  words: string;
  run(): void;
}
</script>

<script setup lang="ts">
import { beginDrag, endDrag, type Dragged } from './dragging.ts';
import type { Entry } from './exhibit-kinds.ts';

/**
 * A field or a measure to be dragged, with a menu of what can be done with it. What its menu's button says hangs on its own
 * properties alone, so that a change of the report draws the one button anew that says something else, and not dozens.
 */
const { entry, used, actions, hint } = defineProps<{
  entry: Entry;
  /** Whether it is shown already. */
  used: boolean;
  actions: (entry: Entry) => FieldAction[];
  /** What is said where nothing can be done. */
  hint: string;
}>();
const drag = ({ kind, name, fields }: Entry): Dragged => (kind === 'measure' ? { kind, name } : { kind, name, fields });
</script>

<template>
  <v-menu location="end top" :offset="4">
    <template #activator="{ props: activator }">
      <v-btn
        variant="text"
        class="field"
        :class="[entry.kind, { used }]"
        v-bind="activator"
        :aria-owns="undefined"
        draggable="true"
        @dragstart="beginDrag($event, drag(entry), entry.label)"
        @dragend="endDrag"
      >
        <span class="sign" aria-hidden="true">{{ entry.kind === 'measure' ? 'Σ' : entry.fields.length > 1 ? '⌥' : '·' }}</span>{{
          entry.label
        }}
      </v-btn>
    </template>
    <v-list role="menu">
      <v-list-item v-for="action in actions(entry)" :key="action.words" role="menuitem" :title="action.words" @click="action.run()" />
      <p v-if="actions(entry).length === 0" class="hint">{{ hint }}</p>
    </v-list>
  </v-menu>
</template>

<style scoped>
.field.v-btn.v-btn--size-default {
  width: 100%;
  height: 25px;
  padding: 0 4px 0 8px;
  justify-content: flex-start;
  font-weight: 400;
  color: var(--ink);
  cursor: grab;
}
.field :deep(.v-btn__content) {
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.field.used.v-btn {
  color: var(--sea);
  font-weight: 600;
}
.field.measure.used.v-btn {
  color: var(--brass);
}
.sign {
  display: inline-block;
  width: 12px;
  margin-right: 8px;
  color: var(--ink-2);
  text-align: center;
}
.hint {
  margin: 4px 10px;
  max-width: 220px;
  color: var(--ink-2);
  font-size: 13px;
}
</style>
