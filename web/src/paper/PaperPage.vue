<script setup lang="ts">
import type { PrintedPages } from '@bold-compass/core/exports';
import { mdiDotsGrid } from '@mdi/js';
import { useElementVisibility } from '@vueuse/core';
import type { PDFDocumentProxy } from 'pdfjs-dist';
import { computed, ref, useTemplateRef, watch } from 'vue';
import { placesOn, type PageBreak } from './breaks.ts';

/** A page as it is printed, with the break that ends it. */
const props = defineProps<{
  file: PDFDocumentProxy;
  page: PrintedPages['pages'][number];
  /** From 1. */
  number: number;
  of: number;
  /** Pixels of the screen to a point. */
  scale: number;
  /** The break that ends it; null for one that nobody can move. */
  ending: PageBreak | null;
  nameOf: (exhibit: string) => string;
}>();
const emit = defineEmits<{ move: [to: string]; clear: [] }>();

const frame = useTemplateRef<HTMLElement>('frame');
const canvas = useTemplateRef<HTMLCanvasElement>('canvas');
const isSeen = useElementVisibility(frame, { rootMargin: '600px 0px' });
const size = computed(() => ({ width: props.page.width * props.scale, height: props.page.height * props.scale }));

let drawing: { cancel(): void; promise: Promise<void> } | null = null;
const isDrawn = ref(false);
async function draw(): Promise<void> {
  if (!isSeen.value || !canvas.value) return;
  drawing?.cancel();
  const page = await props.file.getPage(props.number);
  if (!canvas.value) return;
  const dense = window.devicePixelRatio || 1;
  const viewport = page.getViewport({ scale: props.scale * dense });
  // Drawn aside, so that what is there stays until the new one is whole.
  const aside = document.createElement('canvas');
  [aside.width, aside.height] = [Math.round(viewport.width), Math.round(viewport.height)];
  const own = page.render({ canvas: aside, viewport });
  drawing = own;
  try {
    await own.promise;
  } catch {
    // Another drawing took its place.
    return;
  }
  if (drawing !== own || !canvas.value) return;
  [canvas.value.width, canvas.value.height] = [aside.width, aside.height];
  canvas.value.getContext('2d')!.drawImage(aside, 0, 0);
  isDrawn.value = true;
}
watch([isSeen, () => props.file, () => props.scale, canvas], () => void draw(), { immediate: true });

// The break at its end: it is put above something that begins on the page. -------------------------------------------
const places = computed(() => placesOn(props.page));
const end = computed(() => Math.max(0, ...props.page.parts.map(({ top, height }) => top + height)));
/** Where it is dragged to, in points; null while it rests. */
const dragged = ref<number | null>(null);
const nearest = computed(() => {
  const { value: at } = dragged;
  if (at === null) return null;
  const all = [...places.value, { exhibit: '', top: end.value }];
  return all.reduce((best, place) => (Math.abs(place.top - at) < Math.abs(best.top - at) ? place : best));
});
const line = computed(() => ((nearest.value?.top ?? end.value + 6) - (nearest.value?.exhibit ? 6 : 0)) * props.scale);
function begin(event: PointerEvent): void {
  if (places.value.length === 0) return;
  const handle = event.currentTarget as HTMLElement;
  handle.setPointerCapture(event.pointerId);
  const top = frame.value!.getBoundingClientRect().top;
  const follow = ({ clientY }: PointerEvent): void => void (dragged.value = (clientY - top) / props.scale);
  const stop = (): void => {
    handle.removeEventListener('pointermove', follow);
    const to = nearest.value?.exhibit;
    dragged.value = null;
    if (to) emit('move', to);
  };
  handle.addEventListener('pointermove', follow);
  handle.addEventListener('pointerup', stop, { once: true });
  handle.addEventListener('pointercancel', stop, { once: true });
}
const words = computed(() => {
  const { ending, nameOf } = props;
  if (!ending) return '';
  if (nearest.value?.exhibit) return `Page break before ${nameOf(nearest.value.exhibit)}`;
  if (ending.begins !== null) return `${ending.begins || 'The next page'} begins`;
  return ending.continues
    ? `${nameOf(ending.exhibit)} continues`
    : `Page break before ${nameOf(ending.exhibit)}${ending.isSet ? ', moved' : ''}`;
});
</script>

<template>
  <div
    ref="frame"
    class="paper"
    role="group"
    :aria-label="`Page ${number} of ${of}`"
    :style="{ width: `${size.width}px`, height: `${size.height}px` }"
  >
    <canvas ref="canvas" role="img" :aria-label="`Page ${number} as it is printed`" :class="{ drawn: isDrawn }" />
    <div v-if="ending" class="break" :class="{ moving: dragged !== null }" :style="{ top: `${line}px` }">
      <span class="words">{{ words }}</span>
      <v-menu>
        <template #activator="{ props: activator }">
          <v-btn
            v-bind="activator"
            :icon="mdiDotsGrid"
            class="handle"
            size="x-small"
            :aria-label="`Move the break at the end of page ${number}`"
            :aria-owns="undefined"
            :disabled="places.length === 0 && !ending.isSet"
            @pointerdown="begin"
          />
        </template>
        <v-list>
          <v-list-item
            v-for="{ exhibit } in places"
            :key="exhibit"
            role="menuitem"
            :title="`Break before ${nameOf(exhibit)}`"
            @click="emit('move', exhibit)"
          />
          <v-list-item v-if="ending.isSet" role="menuitem" title="Remove this break" @click="emit('clear')" />
        </v-list>
      </v-menu>
    </div>
  </div>
</template>

<style scoped>
.paper {
  position: relative;
  background: #fff;
  border: 1px solid var(--rule);
  box-shadow: 0 1px 4px rgb(22 36 46 / 12%);
  flex: none;
}
canvas {
  display: block;
  width: 100%;
  height: 100%;
}
.break {
  position: absolute;
  left: 0;
  right: 0;
  display: flex;
  justify-content: flex-end;
  border-top: 1px dashed var(--brass-line);
  pointer-events: none;
}
.words {
  align-self: start;
  margin-top: 2px;
  padding: 0 6px;
  font-size: 12px;
  color: var(--brass);
  background: #fff;
}
.handle {
  margin-top: -12px;
  pointer-events: auto;
  cursor: ns-resize;
  touch-action: none;
  color: var(--brass);
  border: 1px solid var(--brass-line);
  border-radius: 5px;
  background: var(--brass-tint);
}
.moving {
  border-top-style: solid;
  border-top-width: 2px;
}
</style>
