<script setup lang="ts">
import { PAPERS, type PrintedPages } from '@bold-compass/core/exports';
import { isDataExhibit, pageSetupSchema } from '@bold-compass/core/model';
import { kindOf } from '@bold-compass/core/exhibits';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { useElementSize } from '@vueuse/core';
import type { PDFDocumentProxy } from 'pdfjs-dist';
import { computed, onBeforeUnmount, ref, shallowRef, useTemplateRef, watch } from 'vue';
import { useCompose } from '../compose/context.ts';
import { useComposeView } from '../compose/compose-view.ts';
import ExhibitState from '../report/ExhibitState.vue';
import { useReport } from '../report/context.ts';
import { breaksOf, movedBreak, withBreak } from './breaks.ts';
import PaperPage from './PaperPage.vue';
import { openPages, print, printedPages } from './printed-pages.ts';
import { usePagesRequest } from './pages-request.ts';

/** The pages of a report as they are printed, live, while it is composed. */
const { report: asked, version, fill } = useReport();
const { report, setReport } = useCompose();
const view = useComposeView();
const request = usePagesRequest();
const { data, error, isFetching, refetch } = useQuery({
  queryKey: computed(() => ['printed pages', asked.value.id, version.value, request.value]),
  queryFn: ({ signal }) => printedPages(request.value, signal),
  placeholderData: keepPreviousData,
  shallow: true,
});

/** What is drawn: the last pages that came, until the next ones are ready. */
const drawn = shallowRef<{ file: PDFDocumentProxy; pages: PrintedPages['pages'] } | null>(null);
let isGone = false;
/** Whether the last pages that came could not be drawn here. */
const isUnreadable = ref(false);
watch(
  data,
  async (pages) => {
    if (!pages) return;
    const file = await openPages(pages).catch(() => null);
    if (isGone || data.value !== pages) return void file?.destroy();
    isUnreadable.value = file === null;
    if (!file) return;
    const before = drawn.value?.file;
    drawn.value = { file, pages: pages.pages };
    void before?.destroy();
  },
  { immediate: true },
);
onBeforeUnmount(() => {
  isGone = true;
  void drawn.value?.file.destroy();
});

const pages = computed(() => drawn.value?.pages ?? []);
const breaks = computed(() => breaksOf(pages.value, report.value.exhibits));
const endingOf = (page: number) => breaks.value.find((one) => one.page === page) ?? null;
function nameOf(id: string): string {
  const exhibit = report.value.exhibits.find((one) => one.id === id);
  if (!exhibit) return 'what is no more';
  return isDataExhibit(exhibit) ? `“${fill(exhibit.title)}”` : `the ${kindOf(exhibit).label.toLowerCase()}`;
}

// How large pages are drawn. -----------------------------------------------------------------------------------------
const room = useTemplateRef<HTMLElement>('room');
const { width } = useElementSize(room);
const GAP = 16;
const widest = computed(() => pages.value.reduce((most, page) => Math.max(most, page.width), 1));
/** The largest scale at which so many pages stand beside each other. */
const fitting = (count: number): number => Math.max(0.1, (width.value - GAP * (count - 1) - 2 * count - 2) / count / widest.value);
const zoom = computed(() => view.value.pagesZoom);
const scale = computed(() => (zoom.value === 'two' ? fitting(2) : zoom.value === 'width' ? fitting(1) : zoom.value / 100));
const percent = computed(() => (pages.value.length === 0 ? 100 : Math.round(scale.value * 100)));
const setZoom = (to: number | 'two' | 'width'): void => void (view.value = { ...view.value, pagesZoom: to });

const setup = computed(() => report.value.pageSetup ?? pageSetupSchema.parse({}));
const about = computed(() => {
  const continued = new Set(pages.value.flatMap(({ parts }) => parts.filter(({ continues }) => continues).map(({ exhibit }) => exhibit)));
  return [`${PAPERS[setup.value.size].label} ${setup.value.orientation}`, ...[...continued].map((id) => `${nameOf(id)} goes on`)].join(
    ' · ',
  );
});
</script>

<template>
  <section class="pages-view" aria-label="Pages">
    <header>
      <p class="count">
        <strong v-if="drawn" role="status">{{ pages.length }} {{ pages.length === 1 ? 'page' : 'pages' }}</strong>
        <span class="muted">{{ about }}{{ isFetching ? ' · being laid out' : '' }}</span>
      </p>
      <div class="zoom">
        <span class="muted percent">{{ percent }} %</span>
        <v-slider
          class="slider"
          aria-label="Zoom, in percent"
          :model-value="percent"
          :min="20"
          :max="200"
          :step="5"
          hide-details
          @update:model-value="setZoom($event)"
        />
        <v-btn variant="plain" class="inline" :aria-pressed="zoom === 'two'" @click="setZoom('two')">Two pages</v-btn>
        <v-btn variant="plain" class="inline" :aria-pressed="zoom === 'width'" @click="setZoom('width')">Page width</v-btn>
        <v-btn :disabled="!data" @click="data && print(data)">Print</v-btn>
      </div>
    </header>
    <ExhibitState v-if="error" kind="failed" title="The pages cannot be laid out" :message="error.message">
      <v-btn @click="refetch()">Try again</v-btn>
    </ExhibitState>
    <ExhibitState
      v-else-if="isUnreadable"
      kind="failed"
      title="The pages cannot be drawn in this browser"
      message="Export shows them as PDF."
    />
    <ExhibitState v-else-if="!drawn" kind="loading" title="Laying out the pages" />
    <div ref="room" class="room" :class="{ waiting: isFetching }">
      <template v-if="drawn && !error && !isUnreadable">
        <PaperPage
          v-for="(page, index) in pages"
          :key="index"
          :file="drawn.file"
          :page="page"
          :number="index + 1"
          :of="pages.length"
          :scale="scale"
          :ending="endingOf(index)"
          :name-of="nameOf"
          @move="setReport(movedBreak(report, endingOf(index)!, $event))"
          @clear="setReport(withBreak(report, endingOf(index)!.exhibit, false))"
        />
      </template>
    </div>
  </section>
</template>

<style scoped>
header {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  gap: 4px 20px;
  margin: 10px 0;
}
.count {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  margin: 0;
  font-size: 13.5px;
}
.zoom {
  display: flex;
  align-items: center;
  gap: 12px;
  font-size: 13px;
}
.percent {
  min-width: 44px;
  text-align: right;
}
.slider {
  width: 120px;
}
.zoom [aria-pressed='true'] {
  color: var(--ink);
  font-weight: 700;
  text-decoration: none;
}
.room {
  display: flex;
  flex-wrap: wrap;
  gap: 16px;
  min-height: 200px;
  overflow-x: auto;
}
.waiting {
  opacity: 0.85;
}
</style>
