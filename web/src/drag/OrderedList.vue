<script setup lang="ts" generic="Item">
import { onMounted, ref, shallowRef, useTemplateRef } from 'vue';
import { landingAt, movedTo } from './landing.ts';
import { dragByTouch } from './touch-drag.ts';

/** A list whose items are dragged into their order by what the slot binds `grip` to. The keyboard path is the slot's. */
const props = defineProps<{ items: readonly Item[]; keyOf: (item: Item, index: number) => string; tag: 'ol' | 'ul' }>();
const emit = defineEmits<{ order: [items: Item[]] }>();

const list = useTemplateRef<HTMLElement>('list');
const from = shallowRef<number | null>(null);
const landing = ref<number | null>(null);
const lines = (): HTMLElement[] => [...list.value!.children] as HTMLElement[];

function begin(event: DragEvent, index: number): void {
  from.value = index;
  event.dataTransfer?.setData('text/plain', '');
  if (event.dataTransfer) event.dataTransfer.effectAllowed = 'move';
  event.dataTransfer?.setDragImage(lines()[index], 12, 12);
}
function end(): void {
  from.value = null;
  landing.value = null;
}
function over(event: DragEvent): void {
  if (from.value === null) return;
  event.preventDefault();
  landing.value = landingAt(event, lines(), true);
}
function drop(event: DragEvent): void {
  if (from.value === null || landing.value === null) return;
  event.preventDefault();
  const next = movedTo(props.items, from.value, landing.value);
  if (next.some((item, index) => item !== props.items[index])) emit('order', next);
  end();
}
const gripOf = (index: number): Record<string, unknown> => ({
  draggable: 'true',
  onDragstart: (event: DragEvent) => begin(event, index),
  onDragend: end,
});
onMounted(() => void dragByTouch());
</script>

<template>
  <component :is="tag" ref="list" class="ordered" @dragover="over" @dragleave="landing = null" @drop="drop">
    <li
      v-for="(item, index) in items"
      :key="keyOf(item, index)"
      :class="{ taken: from === index, before: landing === index, after: landing === items.length && index === items.length - 1 }"
    >
      <slot :item="item" :index="index" :grip="gripOf(index)" />
    </li>
  </component>
</template>

<style scoped>
.ordered {
  margin: 0;
  padding: 0;
  list-style: none;
}
.taken {
  opacity: 0.5;
}
.before {
  box-shadow: 0 -2px 0 var(--sea);
}
.after {
  box-shadow: 0 2px 0 var(--sea);
}
</style>
