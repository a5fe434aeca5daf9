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
const drag = ({ kind, name, fields }: Entry): Dragged => (kind === 'measure' ? { kind, name } : { kind, name, fields });
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
        v-memo="[entry.label, entry.kind === 'field' && entry.fields.join(), used.has(entry.name)]"
      >
        <v-menu location="end top" :offset="4">
          <template #activator="{ props: activator }">
            <v-btn
              variant="text"
              class="field"
              :class="[entry.kind, { used: used.has(entry.name) }]"
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
