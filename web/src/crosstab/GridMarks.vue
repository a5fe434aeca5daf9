<script setup lang="ts">
import type { CrosstabTable } from '@bold-compass/core/table';
import { useDevicePixelRatio } from '@vueuse/core';
import { computed, useTemplateRef, watch } from 'vue';
import { ROW_HEIGHT } from './layout.ts';
import { hidesFigureOf, markShapes, paintShapes, type MarkInks } from './mark-shapes.ts';
import { rowCells, type ShownColumns } from './row-cells.ts';

/**
 * Paints what is drawn with the figures in view: bars, colours, arrows, sparklines. They are for the eye, the cells say them
 * in words. Thousands of elements of their own would hold up scrolling; what stays in view while rows are scrolled is moved,
 * and only the rows that come in are painted.
 */
const props = defineProps<{
  table: CrosstabTable;
  /** The first line that is drawn, and how many are. */
  first: number;
  count: number;
  shown: ShownColumns;
  rooms: readonly { figure: number }[];
  inks: MarkInks;
  /** Where lines and columns begin, in pixels. */
  top: number;
  left: number;
}>();

const canvas = useTemplateRef('canvas');
const { pixelRatio } = useDevicePixelRatio();
const from = computed(() => (props.shown.columns.at(0)?.index ?? 0) * props.shown.columnWidth);
const width = computed(() => props.shown.columns.length * props.shown.columnWidth);

/** Everything that a painted line depends on: where it changed, all are painted anew. */
const basis = computed(() => ({ table: props.table, shown: props.shown, rooms: props.rooms, inks: props.inks, ratio: pixelRatio.value }));
let painted: { basis: object; first: number; count: number } | null = null;

function paintLine(context: CanvasRenderingContext2D, index: number): void {
  const top = (index - props.first) * ROW_HEIGHT;
  context.clearRect(0, top, width.value, ROW_HEIGHT);
  for (const { cell, position, left, width } of rowCells(props.table, index, props.shown)) {
    if (!cell.marks) continue;
    const figure = hidesFigureOf(cell.marks) ? 0 : props.rooms[position].figure;
    const shapes = markShapes({ marks: cell.marks, width, figure, hasNeedle: cell.state !== null }, props.inks);
    paintShapes(context, shapes, left - from.value, top);
  }
}

/** Moves what stays in view; false where nothing does, or where it would not come to lie on whole pixels. */
function move(context: CanvasRenderingContext2D, ratio: number): boolean {
  if (painted?.basis !== basis.value || painted.count !== props.count || !Number.isInteger(ROW_HEIGHT * ratio)) return false;
  const by = painted.first - props.first;
  if (Math.abs(by) >= props.count) return false;
  context.save();
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.globalCompositeOperation = 'copy';
  context.drawImage(context.canvas, 0, by * ROW_HEIGHT * ratio);
  context.restore();
  return true;
}

function paint(): void {
  const context = canvas.value?.getContext('2d');
  if (!canvas.value || !context) return;
  const ratio = pixelRatio.value;
  const [wide, high] = [Math.round(width.value * ratio), Math.round(props.count * ROW_HEIGHT * ratio)];
  if (canvas.value.width !== wide || canvas.value.height !== high) {
    Object.assign(canvas.value, { width: wide, height: high });
    painted = null;
  }
  context.setTransform(ratio, 0, 0, ratio, 0, 0);
  const before = move(context, ratio) ? painted : null;
  for (let index = props.first; index < props.first + props.count; index++) {
    const isThere = before !== null && index >= before.first && index < before.first + before.count;
    if (!isThere) paintLine(context, index);
  }
  painted = { basis: basis.value, first: props.first, count: props.count };
}
watch([basis, () => props.first, () => props.count, canvas], paint, { flush: 'post', immediate: true });
</script>

<template>
  <canvas
    ref="canvas"
    class="marks"
    aria-hidden="true"
    :style="`left:${left + from}px;top:${top + first * ROW_HEIGHT}px;width:${width}px;height:${count * ROW_HEIGHT}px`"
  />
</template>

<style scoped>
.marks {
  position: absolute;
  pointer-events: none;
}
</style>
