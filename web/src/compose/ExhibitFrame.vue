<script setup lang="ts">
import { proposedKind } from '@bold-compass/core/chart';
import { findMeasure, isDataExhibit, type Crosstab, type Exhibit } from '@bold-compass/core/model';
import {
  canBeShownBy,
  chartOf,
  copiedExhibit,
  freeExhibitId,
  kindOf,
  sameBy,
  shownAlready,
  steppedWith,
} from '@bold-compass/core/exhibits';
import { mdiChartLine, mdiContentCopy, mdiContentDuplicate, mdiDeleteOutline, mdiDragVertical, mdiSwapHorizontal } from '@mdi/js';
import { computed, ref, useTemplateRef } from 'vue';
import { useClipboard } from './clipboard.ts';
import { datasetOf, useCompose } from './context.ts';
import { composedKind } from './exhibit-kinds.ts';
import { groupingFields, measureChoices, type FieldChoice } from './edges.ts';
import FieldPicker from './FieldPicker.vue';
import { beginDrag, dragged, endDrag } from './dragging.ts';
import { useReadersScale } from './readers-width.ts';

/** An exhibit while it is composed: it can be chosen, moved, made wider or higher, doubled, copied and taken out. */
const props = defineProps<{ exhibit: Exhibit }>();
const compose = useCompose();
const { report, selection, change, setReport } = compose;
const { copy } = useClipboard();

const chosen = computed(() => selection.value?.exhibit === props.exhibit.id);
const name = computed(() => (isDataExhibit(props.exhibit) ? props.exhibit.title : kindOf(props.exhibit).label.toLowerCase()));
/** A chart in step with a cross-tab has the edges of that one. */
const edges = computed(() => (steppedWith(report.value.exhibits, props.exhibit) ? null : composedKind(props.exhibit.kind).edges));
/**
 * A tag chooses itself; anything else of the exhibit chooses the exhibit. Opening and closing rows leaves the margin at the
 * tag that is being set.
 */
function choose(event: Event): void {
  const onTag = (event.target as HTMLElement).closest('[data-tag], [role=treegrid]') !== null;
  if (!chosen.value || (event.type === 'pointerdown' && !onTag)) selection.value = { exhibit: props.exhibit.id };
}
function double(): void {
  const twin = copiedExhibit(props.exhibit, report.value.dataset, report.value, props.exhibit.page);
  const at = report.value.exhibits.findIndex(({ id }) => id === props.exhibit.id) + 1;
  setReport({ ...report.value, exhibits: report.value.exhibits.toSpliced(at, 0, twin) });
  selection.value = { exhibit: twin.id };
}
/** What a copy of it can be shown by instead. */
const others = computed((): FieldChoice[] => {
  const { exhibit } = props;
  if (!isDataExhibit(exhibit)) return [];
  const dataset = datasetOf(compose, exhibit);
  const can = canBeShownBy(exhibit);
  const taken = shownAlready(exhibit);
  return [...(can.fields ? groupingFields(dataset) : []), ...(can.measures ? measureChoices(dataset) : [])].filter(
    ({ name: own }) => !taken.has(own),
  );
});
/** A copy by another dimension or of another measure, right after it. */
function same({ name: other }: FieldChoice): void {
  const dataset = datasetOf(compose, props.exhibit);
  const own = report.value.exhibits.find(({ id }) => id === props.exhibit.id);
  if (!own) return;
  const by = findMeasure(dataset, other) ? { measure: other } : { field: other };
  const twin = sameBy(copiedExhibit(own, report.value.dataset, report.value, own.page), by, dataset);
  const at = report.value.exhibits.indexOf(own) + 1;
  setReport({ ...report.value, exhibits: report.value.exhibits.toSpliced(at, 0, twin) });
  selection.value = { exhibit: twin.id };
}
/** A chart of a cross-tab, in step with it. */
function draw(): void {
  const own = report.value.exhibits.find((one): one is Crosstab => one.id === props.exhibit.id && one.kind === 'crosstab');
  if (!own) return;
  const proposed = proposedKind(datasetOf(compose, own), own);
  const chart = chartOf(own, freeExhibitId(report.value, 'chart'), proposed.kind);
  const at = report.value.exhibits.indexOf(own) + 1;
  setReport({ ...report.value, exhibits: report.value.exhibits.toSpliced(at, 0, chart) });
  selection.value = { exhibit: chart.id };
}
function remove(): void {
  selection.value = null;
  setReport({ ...report.value, exhibits: report.value.exhibits.filter(({ id }) => id !== props.exhibit.id) });
}

// Moving: the dragged exhibit lands before or after this one. ---------------------------------------------------------
const lands = ref<'before' | 'after' | null>(null);
const frame = useTemplateRef<HTMLElement>('frame');
const scaled = useReadersScale(useTemplateRef<HTMLElement>('room'), useTemplateRef<HTMLElement>('content'), () => props.exhibit.width);
function over(event: DragEvent): void {
  const what = dragged.value;
  if (what?.kind !== 'exhibit' || what.id === props.exhibit.id || !frame.value) return;
  event.preventDefault();
  const { top, height, left, width } = frame.value.getBoundingClientRect();
  const first = props.exhibit.width < 12 ? event.clientX < left + width / 2 : event.clientY < top + height / 2;
  lands.value = first ? 'before' : 'after';
}
function drop(event: DragEvent): void {
  const what = dragged.value;
  const where = lands.value;
  lands.value = null;
  if (what?.kind !== 'exhibit' || where === null) return;
  event.preventDefault();
  const moved = report.value.exhibits.find(({ id }) => id === what.id);
  if (!moved) return;
  const others = report.value.exhibits.filter(({ id }) => id !== what.id);
  const at = others.findIndex(({ id }) => id === props.exhibit.id) + (where === 'after' ? 1 : 0);
  setReport({ ...report.value, exhibits: others.toSpliced(at, 0, { ...moved, page: props.exhibit.page }) });
  endDrag();
}

/** Width in twelfths and height, drawn at the lower right corner. */
function beginResize(event: PointerEvent): void {
  const corner = event.currentTarget as HTMLElement;
  const box = frame.value;
  const grid = box?.parentElement;
  if (!box || !grid) return;
  corner.setPointerCapture(event.pointerId);
  const start = { x: event.clientX, y: event.clientY, width: box.offsetWidth, height: props.exhibit.height ?? box.offsetHeight };
  corner.addEventListener(
    'pointerup',
    (end) => {
      const width = Math.max(2, Math.min(12, Math.round(((start.width + end.clientX - start.x) / grid.clientWidth) * 12)));
      const down = end.clientY - start.y;
      const height =
        Math.abs(down) < 12 ? props.exhibit.height : Math.max(120, Math.min(4_000, Math.round((start.height + down) / 10) * 10));
      if (width !== props.exhibit.width || height !== props.exhibit.height) change({ ...props.exhibit, width, height });
    },
    { once: true },
  );
}
</script>

<template>
  <div
    ref="frame"
    class="frame"
    :data-exhibit="exhibit.id"
    :class="[{ chosen }, lands]"
    role="group"
    :aria-label="`Exhibit ${name}`"
    @pointerdown.capture="choose"
    @focusin="choose"
    @dragover="over"
    @dragleave="lands = null"
    @drop="drop"
  >
    <div class="tools">
      <v-btn
        :icon="mdiDragVertical"
        variant="text"
        size="small"
        draggable="true"
        :aria-label="`Drag ${name} to another place`"
        title="Drag to move; “Move up” and “Move down” in the settings do the same"
        class="handle"
        @dragstart="beginDrag($event, { kind: 'exhibit', id: exhibit.id }, name)"
        @dragend="endDrag"
      />
      <v-btn
        v-if="exhibit.kind === 'crosstab'"
        :icon="mdiChartLine"
        variant="text"
        size="small"
        :aria-label="`Add chart of ${name}`"
        title="Add chart, in step with this cross-tab"
        @click="draw"
      />
      <FieldPicker v-if="others.length > 0" label="The same by" :choices="others" @pick="same">
        <template #activator="{ props: activator }">
          <v-btn
            :icon="mdiSwapHorizontal"
            variant="text"
            size="small"
            v-bind="activator"
            :aria-owns="undefined"
            :aria-label="`The same as ${name} by …`"
            title="The same by another dimension or measure, as an exhibit below"
          />
        </template>
      </FieldPicker>
      <v-btn :icon="mdiContentDuplicate" variant="text" size="small" :aria-label="`Duplicate ${name}`" title="Duplicate" @click="double" />
      <v-btn
        :icon="mdiContentCopy"
        variant="text"
        size="small"
        :aria-label="`Copy ${name}`"
        title="Copy it, to paste it here or in another report"
        @click="copy(exhibit, (isDataExhibit(exhibit) ? exhibit.dataset : undefined) ?? report.dataset)"
      />
      <v-btn :icon="mdiDeleteOutline" variant="text" size="small" :aria-label="`Remove ${name}`" title="Remove" @click="remove" />
    </div>
    <component :is="edges ?? 'div'" v-bind="edges ? { exhibit } : { class: 'plain' }">
      <div ref="room" :style="scaled.room">
        <div ref="content" :style="scaled.content"><slot /></div>
      </div>
    </component>
    <span v-if="chosen" class="corner" aria-hidden="true" title="Draw the width and height" @pointerdown.stop.prevent="beginResize" />
  </div>
</template>

<style scoped>
.frame {
  position: relative;
  border: 1px solid var(--rule);
  border-radius: 8px;
  background: var(--sheet);
  padding: 8px 12px 12px 8px;
  --paper: var(--sheet);
}
.frame.chosen {
  border-color: var(--sea);
  box-shadow: 0 0 0 1px var(--sea);
}
.frame.before {
  box-shadow: 0 -4px 0 var(--sea);
}
.frame.after {
  box-shadow: 0 4px 0 var(--sea);
}
.tools {
  position: absolute;
  top: -23px;
  right: 10px;
  display: flex;
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 6px;
  opacity: 0;
  z-index: 8;
}
.frame:hover .tools,
.frame:focus-within .tools,
.frame.chosen .tools {
  opacity: 1;
}
.tools button {
  min-width: 28px;
  min-height: 26px;
  display: grid;
  place-items: center;
  color: var(--ink-2);
}
.tools button:hover {
  color: var(--sea);
}
.handle {
  cursor: grab;
}
.plain :deep(.exhibit) {
  margin-top: 2px;
}
.corner {
  position: absolute;
  right: 0;
  bottom: 0;
  width: 18px;
  height: 18px;
  cursor: nwse-resize;
  touch-action: none;
  border-bottom-right-radius: 8px;
  background: linear-gradient(135deg, transparent 55%, var(--sea) 55%);
}
</style>
