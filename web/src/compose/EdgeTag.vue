<script setup lang="ts">
import { beginDrag, endDrag, type Dragged } from './dragging.ts';

/** A field or measure on an edge: it is chosen, dragged, and has a menu with what can be done. */
defineProps<{ kind: 'field' | 'measure'; label: string; more?: string; chosen: boolean; drag: Dragged; vertical: boolean }>();
const emit = defineEmits<{ choose: [] }>();
</script>

<template>
  <v-menu :location="vertical ? 'end top' : 'bottom start'" :offset="4">
    <template #activator="{ props: activator }">
      <button
        type="button"
        class="tag"
        :class="[kind, { chosen, vertical }]"
        data-tag
        v-bind="activator"
        :aria-owns="undefined"
        draggable="true"
        @dragstart="beginDrag($event, drag, label)"
        @dragend="endDrag"
        @click="emit('choose')"
      >
        {{ label }}<small v-if="more"> {{ more }}</small>
      </button>
    </template>
    <v-list role="menu"><slot /></v-list>
  </v-menu>
</template>

<style scoped>
.tag {
  min-height: 26px;
  padding: 2px 11px;
  border-radius: 5px;
  font-weight: 600;
  font-size: 13px;
  cursor: grab;
}
.tag small {
  font-weight: 400;
}
.tag.vertical {
  writing-mode: vertical-rl;
  transform: rotate(180deg);
  min-height: 0;
  min-width: 26px;
  padding: 11px 2px;
}
.tag.field {
  background: var(--sea-tint);
  color: var(--sea);
  border: 1px solid color-mix(in srgb, var(--sea) 28%, transparent);
}
.tag.measure {
  background: var(--brass-tint);
  color: var(--brass);
  border: 1px solid color-mix(in srgb, var(--brass-line) 35%, transparent);
}
.tag.chosen {
  outline: 2px solid currentColor;
  outline-offset: 1px;
}
</style>
