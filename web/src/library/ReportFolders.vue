<script setup lang="ts">
import type { ReportSummary } from '@bold-compass/core/api';
import { useWindowVirtualizer } from '@tanstack/vue-virtual';
import { computed, onMounted, ref, useTemplateRef, watch } from 'vue';

/** Reports in their folders. Of thousands, those in view are drawn. */
const props = defineProps<{ reports: ReportSummary[] }>();
defineSlots<{ default(props: { report: ReportSummary }): unknown }>();

type Line = { kind: 'folder'; title: string } | { kind: 'report'; report: ReportSummary };
const lines = computed((): Line[] => {
  const folders = new Map<string, ReportSummary[]>();
  for (const report of props.reports) {
    const known = folders.get(report.folder);
    if (known) known.push(report);
    else folders.set(report.folder, [report]);
  }
  return [...folders].flatMap(([folder, reports]): Line[] => [
    { kind: 'folder', title: folder || 'Reports' },
    ...reports.map((report): Line => ({ kind: 'report', report })),
  ]);
});

const list = useTemplateRef<HTMLElement>('list');
const top = ref(0);
const place = (): void => void (top.value = (list.value?.getBoundingClientRect().top ?? 0) + window.scrollY);
onMounted(place);
/** Up to this many are all drawn, so that the browser's own search finds them. */
const DRAWN_WHOLE = 120;
const FOLDER = 58;
const REPORT = 128;
const virtualizer = useWindowVirtualizer(
  computed(() => ({
    count: lines.value.length,
    estimateSize: (index: number) => (lines.value[index]?.kind === 'folder' ? FOLDER : REPORT),
    getItemKey: (index: number) => {
      const line = lines.value[index];
      return line.kind === 'folder' ? `folder ${line.title}` : line.report.id;
    },
    overscan: lines.value.length <= DRAWN_WHOLE ? lines.value.length : 4,
    scrollMargin: top.value,
  })),
);
watch(lines, place, { flush: 'post' });
const shown = computed(() => virtualizer.value.getVirtualItems().map((item) => ({ ...item, line: lines.value[item.index] })));
/** Measures a line as it is drawn: on a phone they wrap. */
const measure = (element: unknown): void => {
  if (element instanceof HTMLElement) virtualizer.value.measureElement(element);
};
</script>

<template>
  <ul ref="list" class="folders" :style="{ height: `${virtualizer.getTotalSize()}px` }" aria-label="Reports in their folders">
    <li
      v-for="{ key, index, start, line } in shown"
      :key="String(key)"
      :ref="measure"
      :data-index="index"
      :aria-setsize="lines.length"
      :aria-posinset="index + 1"
      :style="{ transform: `translateY(${start - top}px)` }"
    >
      <h2 v-if="line.kind === 'folder'" class="folder">{{ line.title }}</h2>
      <slot v-else :report="line.report" />
    </li>
  </ul>
</template>

<style scoped>
.folders {
  position: relative;
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  position: absolute;
  top: 0;
  left: 0;
  width: 100%;
}
.folder {
  padding: 26px 0 6px;
  border-bottom: 2px solid var(--ink);
}
</style>
