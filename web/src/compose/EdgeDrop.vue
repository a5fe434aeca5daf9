<script setup lang="ts">
import { ref } from 'vue';
import { landingAt } from '../drag/landing.ts';
import { dragged, endDrag, type Dragged } from './dragging.ts';

/** An edge that tags are dropped on. It tells its tags where a line is to show that something would land. */
const props = defineProps<{ words: string; vertical: boolean; takes: (what: Dragged) => boolean }>();
const emit = defineEmits<{ place: [what: Dragged, at: number] }>();

const target = ref<number | null>(null);
const lands = (at: number): boolean => target.value === at;
const isOpen = (): boolean => dragged.value !== null && props.takes(dragged.value);
function over(event: DragEvent): void {
  if (!isOpen()) return;
  event.preventDefault();
  const tags = [...(event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>('[data-tag]')];
  target.value = landingAt(event, tags, props.vertical);
}
function drop(event: DragEvent): void {
  const what = dragged.value;
  const at = target.value ?? Infinity;
  target.value = null;
  if (!what || !props.takes(what)) return;
  event.preventDefault();
  emit('place', what, at);
  endDrag();
}
</script>

<template>
  <div
    class="edge"
    :class="{ open: isOpen(), vertical }"
    role="group"
    :aria-label="words"
    @dragover="over"
    @dragleave="target = null"
    @drop="drop"
  >
    <span class="words serif">{{ words }}</span>
    <slot :lands="lands" />
  </div>
</template>

<style scoped>
.edge {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
  padding: 3px 6px;
  min-width: 170px;
  min-height: 36px;
  border-radius: 6px;
  border: 1px dashed transparent;
}
.edge.open {
  border-color: var(--sea);
  background: var(--sea-tint);
}
.edge.vertical {
  flex-direction: column;
  flex-wrap: nowrap;
  min-width: 0;
  min-height: 200px;
  padding: 4px 2px;
}
.words {
  font-style: italic;
  font-weight: 400;
  font-size: 14px;
  color: var(--ink-2);
}
.vertical .words {
  writing-mode: vertical-rl;
  transform: rotate(180deg);
}
.edge :slotted(.landing) {
  width: 3px;
  height: 26px;
  background: var(--sea);
  border-radius: 2px;
}
.vertical :slotted(.landing) {
  width: 26px;
  height: 3px;
}
</style>
