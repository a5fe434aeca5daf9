<script setup lang="ts">
import type { Finding } from '@bold-compass/core/api';
import type { Dataset } from '@bold-compass/core/model';
import { mdiMinus, mdiPlus } from '@mdi/js';
import { useElementSize } from '@vueuse/core';
import { computed, ref, useTemplateRef } from 'vue';
import { BOX_WIDTH, layOut } from './layout.ts';

/** Facts and dimensions as a picture with join lines. */
const props = defineProps<{ dataset: Dataset; findings: Finding[]; chosen: string }>();
const emit = defineEmits<{ choose: [id: string] }>();

const picture = computed(() => layOut(props.dataset));
const canvas = useTemplateRef<HTMLElement>('canvas');
const { width, height } = useElementSize(canvas);
/** How large the picture is drawn; null fits it to its place. */
const zoom = ref<number | null>(null);
const LEAST_ZOOM = 0.3;
const fitted = computed(() =>
  width.value === 0 ? 1 : Math.max(LEAST_ZOOM, Math.min(1, width.value / picture.value.width, height.value / picture.value.height)),
);
const scale = computed(() => zoom.value ?? fitted.value);
const zoomBy = (factor: number): void => void (zoom.value = Math.max(LEAST_ZOOM, Math.min(2, scale.value * factor)));
function worst(name: string, kind: 'fact' | 'dimension'): Finding['kind'] {
  const own = props.findings.filter(({ about }) => (kind === 'fact' ? about.fact === name : about.dimension === name && !about.fact));
  return own.some((one) => one.kind === 'refused') ? 'refused' : own.some((one) => one.kind === 'notice') ? 'notice' : 'fine';
}
const joinKind = (fact: string, dimension: string): Finding['kind'] =>
  props.findings.find(({ about }) => about.fact === fact && about.dimension === dimension)?.kind ?? 'fine';
const WORDS = { refused: 'would count wrongly', notice: 'something to know', fine: '' };
</script>

<template>
  <div class="model">
    <div ref="canvas" class="canvas" tabindex="0" role="region" aria-label="Facts and dimensions">
      <div :style="{ width: `${picture.width * scale}px`, height: `${picture.height * scale}px` }">
        <div class="picture" :style="{ width: `${picture.width}px`, height: `${picture.height}px`, transform: `scale(${scale})` }">
          <svg :width="picture.width" :height="picture.height" aria-hidden="true">
            <path
              v-for="join in picture.joins"
              :key="join.id"
              :d="join.path"
              class="join"
              :class="[
                joinKind(join.fact, join.dimension),
                { chosen: chosen === `fact ${join.fact}` || chosen === `dimension ${join.dimension}` },
              ]"
            />
          </svg>
          <v-card
            v-for="box in picture.boxes"
            :key="box.id"
            tag="button"
            type="button"
            variant="flat"
            :class="[box.kind, { chosen: chosen === box.id }]"
            :style="{ left: `${box.x}px`, top: `${box.y}px`, width: `${BOX_WIDTH}px`, height: `${box.height}px` }"
            :aria-pressed="chosen === box.id"
            :aria-label="`${box.label}, ${box.kind}${WORDS[worst(box.name, box.kind)] ? `: ${WORDS[worst(box.name, box.kind)]}` : ''}`"
            class="box"
            @click="emit('choose', box.id)"
          >
            <span class="name"
              >{{ box.label
              }}<span v-if="worst(box.name, box.kind) !== 'fine'" class="mark" :class="worst(box.name, box.kind)">!</span></span
            >
            <span v-for="line in box.lines" :key="line" class="line">{{ line }}</span>
          </v-card>
        </div>
      </div>
    </div>
    <div class="zoom" role="group" aria-label="Zoom">
      <v-btn :icon="mdiMinus" size="small" aria-label="Zoom out" @click="zoomBy(1 / 1.2)" />
      <v-btn size="small" @click="zoom = null">Fit</v-btn>
      <v-btn :icon="mdiPlus" size="small" aria-label="Zoom in" @click="zoomBy(1.2)" />
    </div>
  </div>
</template>

<style scoped>
.model {
  position: relative;
}
.canvas {
  overflow: auto;
  height: calc(100vh - 158px);
  padding-top: 10px;
}
.zoom {
  position: absolute;
  left: 0;
  bottom: 6px;
  display: flex;
  gap: 6px;
}
.picture {
  position: relative;
  transform-origin: 0 0;
}
.join {
  fill: none;
  stroke: var(--ink-3);
  stroke-width: 1.2;
}
.join.notice {
  stroke: var(--drift);
  stroke-dasharray: 5 3;
}
.join.refused {
  stroke: var(--off);
  stroke-width: 2;
}
.join.chosen {
  stroke: var(--sea);
  stroke-width: 2.2;
}
.box {
  position: absolute;
  display: flex;
  flex-direction: column;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-top: 3px solid var(--sea);
  padding: 5px 12px;
  overflow: hidden;
}
.box.fact {
  border-top-color: var(--brass-line);
}
.box.chosen {
  outline: 2px solid var(--sea);
}
.name {
  font-weight: 700;
  display: flex;
  justify-content: space-between;
}
.mark {
  width: 18px;
  height: 18px;
  border-radius: 50%;
  display: grid;
  place-items: center;
  font-size: 12px;
  background: var(--brass-tint);
  color: var(--drift-text);
}
.mark.refused {
  color: var(--off-text);
}
.line {
  font-size: 13px;
  line-height: 20px;
  color: var(--ink-2);
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
