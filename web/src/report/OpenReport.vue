<script setup lang="ts">
import { controlTotalSchema, madeReportSchema, type ReportView } from '@bold-compass/core/api';
import { dayLabel, parseIsoDate } from '@bold-compass/core/calendar';
import { isCellExhibit, withReportMeasures, type ReaderScope, type Report } from '@bold-compass/core/model';
import { askableReport, inStep, measuresOfReport } from '@bold-compass/core/exhibits';
import { sectionsOnPage, withSectionsOnPage } from '@bold-compass/core/sections';
import { promptTitle, promptValues, unanswered } from '@bold-compass/core/prompts';
import { LOCALE, listWords } from '@bold-compass/core/format';
import { useMediaQuery } from '@vueuse/core';
import { mdiChartLine, mdiFormatListText, mdiGauge, mdiTable } from '@mdi/js';
import { useQuery, useQueryClient } from '@tanstack/vue-query';
import { computed, defineAsyncComponent, onMounted, ref, shallowRef, useTemplateRef, watch } from 'vue';
import { useRoute, useRouter, type LocationQueryRaw } from 'vue-router';
import { z } from 'zod';
import { ask } from '../api/client.ts';
import UntiedNotice from '../control-totals/UntiedNotice.vue';
import { dragged } from '../compose/dragging.ts';
import { useDraft } from '../compose/draft.ts';
import { useComposing } from '../compose/use-composing.ts';
import PageTabs from '../compose/PageTabs.vue';
import { useComposeView } from '../compose/compose-view.ts';
import { provideReport } from './context.ts';
import ExhibitGrid from './ExhibitGrid.vue';
import KeyHelp from './KeyHelp.vue';
import { useReportKeys } from './keys.ts';
import { pageQuery, usePages } from './pages.ts';
import ScopeLine from '../prompts/ScopeLine.vue';
import PrintedPages from '../paper/PrintedPages.vue';
import { useReaderScope } from './reader-scope.ts';
import { useMemberLabels } from './member-labels.ts';
import { useGoOn } from '../shell/go-on.ts';
import TitleBlock from './TitleBlock.vue';
import { cutTrail, trailTo } from './trail.ts';
import { provideFigures } from './figures.ts';
import { askedInSection, readExhibitSections } from '../sections/address.ts';
import { useSections } from '../sections/use-sections.ts';
import { useValues } from './values.ts';

// The margin is fetched with the first figure that is chosen, and what is only there while composing then.
const CellMargin = defineAsyncComponent(() => import('./CellMargin.vue'));
const FieldDrawer = defineAsyncComponent(() => import('../compose/FieldDrawer.vue'));
const SettingsMargin = defineAsyncComponent(() => import('../compose/SettingsMargin.vue'));
const FormulaPanel = defineAsyncComponent(() => import('../compose/FormulaPanel.vue'));
const ExportDialog = defineAsyncComponent(() => import('../export/ExportDialog.vue'));
const SideSheet = defineAsyncComponent(() => import('./SideSheet.vue'));
const AddBar = defineAsyncComponent(() => import('../compose/AddBar.vue'));
const PagesView = defineAsyncComponent(() => import('../paper/PagesView.vue'));
const SectionedContent = defineAsyncComponent(() => import('../sections/SectionedContent.vue'));
const PublishDialog = defineAsyncComponent(() => import('../compose/PublishDialog.vue'));
const EditionsDialog = defineAsyncComponent(() => import('../compose/EditionsDialog.vue'));

/** An open report: title, scope line, exhibits and the margin. Composing adds edges to the exhibits and moves nothing. */
const props = defineProps<{ loaded: ReportView; composing: boolean }>();
const emit = defineEmits<{ reload: [] }>();
const route = useRoute();
const router = useRouter();
const queries = useQueryClient();
const goOn = useGoOn();

const draft = useDraft(props.loaded);
/** The document, and the part of it that can be asked: prompts for what the dataset lost are left out. */
const wholeReport = computed((): Report => (props.composing ? draft.report.value : props.loaded.report));
const report = computed(() => askableReport(wholeReport.value, withReportMeasures(props.loaded.dataset, wholeReport.value.measures)));
const { page, exhibits: onPage } = usePages(report);
const {
  scope,
  choices: chosenSoFar,
  where,
  asked: askedOfAll,
  setScope,
  setChoice,
  notes,
} = useReaderScope(
  report,
  () => props.loaded,
  () => props.composing,
);
/** The dataset with the report's own measures, and what its prompts stand for in formulas. */
const dataset = computed(() =>
  withReportMeasures(
    props.loaded.dataset,
    measuresOfReport(report.value, props.loaded.dataset),
    promptValues(report.value, { scope: scope.value, choices: chosenSoFar.value }),
  ),
);
const { selection, datasets, written, startExhibit, addExhibit } = useComposing(
  wholeReport,
  () => ({ dataset: dataset.value, datasets: props.loaded.datasets }),
  draft,
);
const view = computed(() => ({ ...props.loaded, dataset: dataset.value, datasets: datasets.value }));
const version = computed(() =>
  props.composing ? `draft ${draft.revision.value}` : `edition ${props.loaded.edition ?? 'none'} ${props.loaded.revision}`,
);

/**
 * What the answers of an exhibit hang on: while composing on nothing but how it was saved itself, so that a change of one
 * does not ask the others again.
 */
function versionOf(id: string): string {
  if (!props.composing) return version.value;
  const { exhibits, measures, prompts } = draft.saved.value;
  const own = exhibits.find((exhibit) => exhibit.id === id);
  return `draft ${JSON.stringify([own && inStep(exhibits, own), measures, prompts])}`;
}
function navigate(query: LocationQueryRaw, how: 'step' | 'rewrite'): void {
  const target = { query: { ...route.query, ...query } };
  void (how === 'step' ? router.push(target) : router.replace(target));
}
const resetScope = (): void => void router.push({ query: props.composing ? { compose: '' } : {} });
const asDraft = computed(() => props.composing || props.loaded.edition === null);
/** What is open in the sheet at the side. */
const sheet = shallowRef<{ href: string; label: string } | null>(null);
const memberLabels = useMemberLabels(report, dataset, scope, asDraft);
const fill = useValues(view, report, askedOfAll, asDraft);
const pageSections = useSections({
  sections: computed(() => sectionsOnPage(report.value, page.value)),
  ...{ dataset, report: props.loaded.report.id, page, asked: askedOfAll, draft: asDraft, version, navigate },
  composing: computed(() => props.composing),
  write: (sections) => draft.set(withSectionsOnPage(wholeReport.value, page.value, sections)),
});
/** What is asked where nothing below says otherwise: in the section that is open. */
const asked = computed((): ReaderScope => {
  if (props.composing) return askedOfAll.value;
  const choices = { ...askedOfAll.value.choices, ...readExhibitSections(report.value, route.query) };
  return askedInSection({ ...askedOfAll.value, choices }, pageSections.open.value?.section);
});
const choices = computed(() => asked.value.choices);
const address = computed(() => route.query);

watch(
  () => fill(report.value.title),
  (title) => (document.title = `${title} · Bold Compass`),
  { immediate: true },
);
const context = provideReport({
  composing: computed(() => props.composing),
  change: draft.change,
  fill,
  view,
  report,
  scope,
  choices,
  where,
  asked,
  address,
  draft: asDraft,
  version,
  versionOf,
  navigate,
  setScope,
  setChoice,
  resetScope,
  memberLabels,
  openBeside: (href, label) => (sheet.value = { href, label }),
});

const publishing = ref(false);
const exporting = ref(false);
const printer = useTemplateRef<InstanceType<typeof PrintedPages>>('printer');
const editionsShown = ref(false);
/** What of its figures does not tie out: asked for by itself, so that the report opens without waiting for it. */
const { data: untied } = useQuery({
  queryKey: computed(() => ['control totals', 'report', props.loaded.report.id, props.composing, props.loaded.revision]),
  queryFn: ({ signal }) =>
    ask(
      z.array(controlTotalSchema),
      'GET',
      `/reports/${props.loaded.report.id}/control-totals${props.composing ? '?draft=true' : ''}`,
      undefined,
      signal,
    ),
});
const newest = ref(props.loaded.edition);
/** What was done last, for a moment. */
const notice = ref('');
function published(number: number): void {
  newest.value = number;
  notice.value = `Edition ${number} is published.`;
  setTimeout(() => (notice.value = ''), 6_000);
  void queries.invalidateQueries({
    predicate: ({ queryKey }) => queryKey[0] === 'reports' || (queryKey[0] === 'report' && queryKey[2] === false),
  });
}
/** Keeps what is on this page as a report of its own, where someone else saved in the meantime. */
async function keepBoth(): Promise<void> {
  const copy = { ...wholeReport.value, title: `${wholeReport.value.title} (mine)` };
  const { id } = await ask(madeReportSchema, 'POST', '/reports/import', { report: copy });
  await goOn({ name: 'report', params: { report: id }, query: { compose: '' } });
}

/** What has to be chosen before anything is calculated. */
const asking = computed(() => (props.composing ? [] : unanswered(report.value, asked.value)));
const turn = (id: string): void => {
  selection.value = null;
  navigate(pageQuery(id), 'step');
};
/** Whether what is composed is looked at as it is printed. */
const asPages = computed(() => props.composing && route.query.compose === 'pages');
const hasCells = computed(() => report.value.exhibits.some(isCellExhibit));
const { chosen, choose, recordsShown } = provideFigures(context, onPage);
function closeMargin(): void {
  if (chosen.value) choose(chosen.value.exhibit, null);
}

// Ready before the first figure is chosen.
onMounted(() => setTimeout(() => void import('./CellMargin.vue'), 1_500));

/** The state that the report is in. */
const state = computed(() => {
  if (props.composing) return draft.status.value;
  const { edition: number, publishedAt } = props.loaded;
  return number === null
    ? 'Draft, not published yet'
    : `Edition ${number}, published ${dayLabel(parseIsoDate(publishedAt!.slice(0, 10))!, LOCALE)}`;
});

// Whoever comes from elsewhere than another report came through none.
const before: unknown = window.history.state?.back;
if (typeof before === 'string' && !/^\/reports\/./.test(before)) cutTrail(props.loaded.report.id, 0);
/** The reports that led here. */
const trail = computed(() => trailTo(report.value.id));
function backTo(index: number): void {
  const crumb = trail.value[index];
  cutTrail(report.value.id, index);
  void router.push(crumb.path);
}

/** What an empty page offers to begin with. */
const BEGINNINGS = [
  { kind: 'crosstab', title: 'Start a cross-tab', icon: mdiTable },
  { kind: 'chart', title: 'Start a chart', icon: mdiChartLine },
  { kind: 'list', title: 'Start a list', icon: mdiFormatListText },
  { kind: 'kpis', title: 'Start a KPI strip', icon: mdiGauge },
] as const;
const composeView = useComposeView();
function showSettings(): void {
  selection.value = null;
  composeView.value.settingsHidden = false;
}
const narrow = useMediaQuery('(max-width: 1099px)');
const help = ref(false);
useReportKeys({
  focusScope: () => document.querySelector<HTMLElement>('[data-testid=scope-line] button')?.focus(),
  help: () => (help.value = true),
  back() {
    if (trail.value.length === 0) return false;
    backTo(trail.value.length - 1);
    return true;
  },
  undoes: () => props.composing,
  undo: draft.undo,
  redo: draft.redo,
});
</script>

<template>
  <div :class="{ composing, writing: composing && written !== null }">
    <FieldDrawer v-if="composing && !asPages" />
    <div class="page" @pointerdown.self="selection = null">
      <TitleBlock
        :trail="trail"
        :state="notice || state"
        :can-undo="draft.canUndo.value"
        :can-redo="draft.canRedo.value"
        :last-step="draft.lastStep.value"
        :next-step="draft.nextStep.value"
        :newest="newest"
        @back="backTo"
        @undo="draft.undo()"
        @redo="draft.redo()"
        @settings="showSettings"
        @editions="editionsShown = true"
        @publish="publishing = true"
        @export="exporting = true"
      />
      <ScopeLine :notes="notes" />
      <UntiedNotice :totals="untied ?? []" :dataset-of="(name) => datasets[name] ?? dataset" />
      <p v-if="loaded.access" class="access muted">You see what is yours: {{ loaded.access }}.</p>
      <p v-if="composing && draft.conflict.value" class="conflict" role="alert">
        {{ draft.conflict.value }} <v-btn @click="emit('reload')">Reload their version</v-btn>
        <v-btn @click="keepBoth">Keep both</v-btn>
      </p>
      <PageTabs v-if="!asPages" :report="wholeReport" :page="page" :composing="composing" @turn="turn" @change="draft.set($event)" />
      <AddBar v-if="composing && !asPages" :page="page" />
      <p v-if="asking.length > 0" class="serif asking" role="status">
        Choose {{ listWords(asking.map((prompt) => promptTitle(prompt, dataset).toLowerCase())) }} to run this report.
      </p>
      <PagesView v-else-if="asPages" />
      <template v-else>
        <SectionedContent v-if="pageSections.sections.value && onPage.length > 0" :state="pageSections">
          <ExhibitGrid :exhibits="onPage" />
        </SectionedContent>
        <ExhibitGrid v-else :exhibits="onPage" />
        <div
          v-if="composing"
          class="start"
          :class="{ open: dragged?.kind === 'field' || dragged?.kind === 'measure' }"
          @dragover.prevent
          @drop.prevent="startExhibit(page)"
        >
          <template v-if="onPage.length > 0">Drop a field here to start a new exhibit</template>
          <template v-else>
            <p class="serif invitation">This page is empty</p>
            <div class="beginnings">
              <v-btn v-for="{ kind, title, icon } in BEGINNINGS" :key="kind" :prepend-icon="icon" @click="addExhibit(kind, page)">{{
                title
              }}</v-btn>
            </div>
            <p>Or drop a field here to start a cross-tab.</p>
          </template>
        </div>
        <p v-else-if="onPage.length === 0" class="muted nothing">There is nothing on this page yet.</p>
      </template>
      <p class="data-as-of muted">
        Data as of {{ dayLabel(parseIsoDate(loaded.dataTo)!, LOCALE) }}.<template v-if="hasCells && !asPages && (composing || !chosen)">
          Choose a figure to see why it is what it is, and where it leads.</template
        >
        <v-btn variant="text" class="keys" @click="help = true">Keys</v-btn>
      </p>
    </div>
    <v-navigation-drawer
      v-if="chosen && !composing"
      permanent
      tag="aside"
      class="margin"
      :location="narrow ? 'bottom' : 'right'"
      :width="284"
      aria-label="About the chosen figure"
    >
      <CellMargin v-model:records="recordsShown" :figure="chosen" @close="closeMargin" />
    </v-navigation-drawer>
    <SettingsMargin v-if="composing" :as-pages="asPages" />
    <FormulaPanel v-if="composing && written" :key="written.measure.name" :open="written" />
    <template v-if="composing">
      <PublishDialog
        v-model="publishing"
        :report="report.id"
        :newest="newest"
        :settled="draft.settled"
        :revision="() => draft.revision.value"
        @published="published"
      />
      <EditionsDialog v-model="editionsShown" :report="report.id" :newest="newest" @back="draft.set" />
    </template>
    <ExportDialog
      v-if="exporting"
      v-model="exporting"
      :settled="draft.settled"
      :open-section="pageSections.open.value?.label ?? ''"
      @print="printer?.start($event)"
    />
    <PrintedPages ref="printer" :settled="draft.settled" @tell="notice = $event" />
    <KeyHelp v-model="help" />
    <SideSheet :sheet="sheet" @close="sheet = null" />
  </div>
</template>

<style scoped>
.margin :deep(.v-navigation-drawer__content) {
  padding: 16px 18px 40px;
}
.page {
  padding: 14px 26px 40px 30px;
  min-width: 0;
}
.composing .page {
  padding: 14px 20px 60px;
}
.writing .page {
  padding-bottom: 48vh;
}
.start {
  margin-top: 28px;
  border: 1px dashed var(--rule);
  border-radius: 8px;
  padding: 16px;
  text-align: center;
  color: var(--ink-2);
  font-size: 13px;
}
.invitation {
  font-size: 17px;
  color: var(--ink);
}
.beginnings {
  display: flex;
  flex-wrap: wrap;
  justify-content: center;
  gap: 10px;
  margin: 12px 0;
}
.start.open {
  border-color: var(--sea);
  background: var(--sea-tint);
}
.access {
  margin: 2px 0 0;
  font-size: 13px;
}
.conflict {
  margin: 8px 0 0;
  padding: 8px 12px;
  background: var(--brass-tint);
  border-left: 3px solid var(--brass-line);
}
.asking {
  margin: 28px 0;
  padding: 22px;
  border-top: 2px solid var(--ink);
  border-bottom: 1px solid var(--rule);
  font-size: 17px;
}
.data-as-of {
  margin: 14px 0 0;
  font-size: 12.5px;
}
.keys {
  color: var(--sea);
  text-decoration: underline;
  min-height: 24px;
  padding: 0 4px;
}
@media (max-width: 700px) {
  .page {
    padding: 12px 14px 30px;
  }
}
</style>
