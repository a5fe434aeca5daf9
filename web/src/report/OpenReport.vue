<script setup lang="ts">
import { madeReportSchema, type ReportView } from '@bold-compass/core/api';
import { dayLabel, parseIsoDate } from '@bold-compass/core/calendar';
import { withAggregations } from '@bold-compass/core/crosstab';
import { plainMemberLabel } from '@bold-compass/core/format';
import {
  datasetSchema,
  isDataExhibit,
  measureNamed,
  type Crosstab,
  type Dataset,
  type Exhibit,
  type Report,
  type Scope,
} from '@bold-compass/core/model';
import { newExhibit } from '@bold-compass/core/exhibits';
import { useQueryClient } from '@tanstack/vue-query';
import { onKeyStroke } from '@vueuse/core';
import { computed, defineAsyncComponent, nextTick, ref, watch } from 'vue';
import { useRoute, useRouter, type LocationQueryRaw } from 'vue-router';
import { z } from 'zod';
import { ask } from '../api/client.ts';
import { datasetOf, provideCompose, type Selection } from '../compose/context.ts';
import { dragged, endDrag } from '../compose/dragging.ts';
import { useDraft } from '../compose/draft.ts';
import { placeField, placeMeasure } from '../compose/edges.ts';
import PageTabs from '../compose/PageTabs.vue';
import CellMargin from './CellMargin.vue';
import { provideReport } from './context.ts';
import ExhibitHost from './ExhibitHost.vue';
import KeyHelp from './KeyHelp.vue';
import ScopeLine from './ScopeLine.vue';
import TitleBlock from './TitleBlock.vue';
import { LOCALE } from './state-words.ts';
import { cellQuery, readCrosstabState, readScope, scopeQuery, stateQuery } from './url-state.ts';
import { useValues } from './values.ts';

// What is only there while composing is only fetched then.
const FieldDrawer = defineAsyncComponent(() => import('../compose/FieldDrawer.vue'));
const SettingsMargin = defineAsyncComponent(() => import('../compose/SettingsMargin.vue'));
const AddBar = defineAsyncComponent(() => import('../compose/AddBar.vue'));
const ExhibitFrame = defineAsyncComponent(() => import('../compose/ExhibitFrame.vue'));
const PublishDialog = defineAsyncComponent(() => import('../compose/PublishDialog.vue'));
const EditionsDialog = defineAsyncComponent(() => import('../compose/EditionsDialog.vue'));

/** An open report: title, scope line, exhibits and the margin. Composing adds edges to the exhibits and moves nothing. */
const props = defineProps<{ loaded: ReportView; composing: boolean; glance?: boolean }>();
const emit = defineEmits<{ reload: [] }>();
const route = useRoute();
const router = useRouter();
const queries = useQueryClient();

const draft = useDraft(props.loaded);
/** Datasets that exhibits brought in while composing. */
const brought = ref<Record<string, Dataset>>({});
const view = computed(() => ({ ...props.loaded, datasets: { ...props.loaded.datasets, ...brought.value } }));
const report = computed((): Report => (props.composing ? draft.report.value : props.loaded.report));
/** A glance is at the report as it was composed, whatever stands in the address. */
const query = computed(() => (props.glance ? {} : route.query));
const scope = computed(() => readScope(report.value, query.value));
const version = computed(() =>
  props.composing ? `draft ${draft.revision.value}` : `edition ${props.loaded.edition ?? 'none'} ${props.loaded.revision}`,
);

function navigate(query: LocationQueryRaw, how: 'step' | 'rewrite'): void {
  const target = { query: { ...route.query, ...query } };
  void (how === 'step' ? router.push(target) : router.replace(target));
}
function setScope(next: Scope): void {
  // A chosen cell may not be there any more under another scope; the margin then says so.
  void router.push({ query: { ...stateQuery(route.query), ...scopeQuery(next) } });
}
const resetScope = (): void => void router.push({ query: props.composing ? { compose: '' } : {} });
const label = computed(() => plainMemberLabel(props.loaded.dataset, LOCALE));
const asDraft = computed(() => props.composing || props.loaded.edition === null);
const fill = useValues(view, report, scope, asDraft, label);
provideReport({
  composing: computed(() => props.composing),
  change: draft.change,
  fill,
  view,
  report,
  scope,
  draft: asDraft,
  version,
  navigate,
  setScope,
  resetScope,
});

// Composing ----------------------------------------------------------------------------------------------------------
const selection = ref<Selection | null>(null);
const selected = computed(() => report.value.exhibits.find(({ id }) => id === selection.value?.exhibit));
const datasets = computed((): Record<string, Dataset> => ({ ...view.value.datasets, [props.loaded.dataset.name]: props.loaded.dataset }));
provideCompose({ report, selection, selected, datasets, change: draft.change, setReport: draft.set });
/** An exhibit that was added, or pasted, may answer from a dataset that this report did not know. */
watch(
  () => report.value.exhibits.flatMap((exhibit) => (isDataExhibit(exhibit) && exhibit.dataset ? [exhibit.dataset] : [])),
  async (names) => {
    for (const name of names.filter((one) => !datasets.value[one])) {
      const { dataset } = await ask(z.object({ dataset: datasetSchema, version: z.number() }), 'GET', `/datasets/${name}`);
      brought.value = { ...brought.value, [name]: dataset };
    }
  },
);
const publishing = ref(false);
const editionsShown = ref(false);
const newest = ref(props.loaded.edition);
/** What was done last, for a moment. */
const told = ref('');
function published(number: number): void {
  newest.value = number;
  told.value = `Edition ${number} is published.`;
  setTimeout(() => (told.value = ''), 6_000);
  void queries.invalidateQueries({
    predicate: ({ queryKey }) => queryKey[0] === 'reports' || (queryKey[0] === 'report' && queryKey[2] === false),
  });
}
/** Keeps what is on this page as a report of its own, where someone else saved in the meantime. */
async function keepBoth(): Promise<void> {
  const copy = { ...report.value, title: `${report.value.title} (mine)` };
  const { id } = await ask(madeReportSchema, 'POST', '/reports/import', { report: copy });
  await router.push({ name: 'report', params: { report: id }, query: { compose: '' } });
}

// Pages --------------------------------------------------------------------------------------------------------------
const PAGE_KEY = 'report.page';
const page = computed(() => {
  const asked = route.query[PAGE_KEY];
  return (report.value.pages.find(({ id }) => id === asked) ?? report.value.pages[0])?.id;
});
const turn = (id: string): void => {
  selection.value = null;
  navigate({ [PAGE_KEY]: id }, 'step');
};
const shown = computed(() => {
  const first = report.value.pages[0]?.id;
  return report.value.exhibits.filter((exhibit) => (exhibit.page ?? first) === page.value || page.value === undefined);
});
const canShow = (exhibit: Exhibit): boolean =>
  !isDataExhibit(exhibit) || exhibit.dataset === undefined || datasets.value[exhibit.dataset] !== undefined;

const crosstabs = computed(() => report.value.exhibits.filter((exhibit): exhibit is Crosstab => exhibit.kind === 'crosstab'));
const chosen = computed(() => {
  if (props.composing) return null;
  for (const exhibit of crosstabs.value) {
    const { cell } = readCrosstabState(exhibit, route.query);
    if (cell)
      return { ...withAggregations(datasets.value[exhibit.dataset ?? report.value.dataset] ?? props.loaded.dataset, exhibit), cell };
  }
  return null;
});
function closeMargin(): void {
  if (chosen.value) navigate(cellQuery(chosen.value.exhibit, null), 'rewrite');
}

/** Exhibits are numbered as in a printed report; the strip of key figures is none. */
const numbered = computed(() =>
  report.value.exhibits.filter((exhibit) => exhibit.kind === 'crosstab' || exhibit.kind === 'list').map(({ id }) => id),
);
/** The state that the report is in. */
const state = computed(() => {
  if (props.composing) return draft.status.value;
  const { edition: number, publishedAt } = props.loaded;
  return number === null
    ? 'Draft, not published yet'
    : `Edition ${number}, published ${dayLabel(parseIsoDate(publishedAt!.slice(0, 10))!, LOCALE)}`;
});

/** The step before this page is one of the application's own: Back leads there. */
const cameFrom = computed(() => {
  void route.fullPath;
  const back: unknown = window.history.state?.back;
  return typeof back === 'string' && back.startsWith('/reports/') && !back.startsWith(route.path) ? back : null;
});

const placeOf = ({ width, height }: Exhibit): Record<string, string> => ({
  gridColumn: `span ${width}`,
  ...(height ? { height: `${height}px`, overflow: 'auto' } : {}),
});
/** A field dropped on the empty place starts a cross-tab. */
function startExhibit(): void {
  const what = dragged.value;
  endDrag();
  if (what?.kind !== 'field' && what?.kind !== 'measure') return;
  const dataset = datasetOf({ report, datasets }, selected.value);
  const made = newExhibit('crosstab', report.value, dataset, page.value);
  if (made?.kind !== 'crosstab') return;
  const exhibit = what.kind === 'field' ? placeField(made, 'side', what.name) : placeMeasure(made, measureNamed(dataset, what.name));
  draft.set({ ...report.value, exhibits: [...report.value.exhibits, exhibit] });
  selection.value = { exhibit: exhibit.id };
}

async function followDrill(): Promise<void> {
  // The margin fetches what the cell leads to; the first link is followed as soon as it is there.
  for (let tries = 0; tries < 40; tries++) {
    await nextTick();
    const link = document.querySelector<HTMLElement>('[data-drill]');
    if (link && !document.querySelector('.about.waiting')) return link.click();
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

const typing = (event: KeyboardEvent): boolean => (event.target as HTMLElement).closest('input, textarea, [contenteditable]') !== null;
const help = ref(false);
onKeyStroke('/', (event) => {
  if (typing(event) || props.glance) return;
  event.preventDefault();
  document.querySelector<HTMLElement>('[data-testid=scope-line] button')?.focus();
});
onKeyStroke('?', (event) => !typing(event) && !props.glance && (help.value = true));
onKeyStroke('Backspace', (event) => {
  if (typing(event) || props.glance || !cameFrom.value) return;
  event.preventDefault();
  router.back();
});
onKeyStroke(['z', 'Z'], (event) => {
  if (!props.composing || typing(event) || !(event.ctrlKey || event.metaKey)) return;
  event.preventDefault();
  if (event.shiftKey) draft.redo();
  else draft.undo();
});
</script>

<template>
  <div class="layout" :class="{ 'with-margin': chosen, composing }">
    <FieldDrawer v-if="composing" />
    <div class="page" @pointerdown.self="selection = null">
      <TitleBlock
        :came-from="cameFrom"
        :state="told || state"
        :glance="glance"
        :can-undo="draft.canUndo.value"
        :can-redo="draft.canRedo.value"
        :newest="newest"
        @undo="draft.undo()"
        @redo="draft.redo()"
        @settings="selection = null"
        @editions="editionsShown = true"
        @publish="publishing = true"
      />
      <ScopeLine />
      <p v-if="loaded.access && !glance" class="access muted">You see what is yours: {{ loaded.access }}.</p>
      <p v-if="composing && draft.conflict.value" class="conflict" role="alert">
        {{ draft.conflict.value }} <button type="button" class="button" @click="emit('reload')">Reload their version</button>
        <button type="button" class="button" @click="keepBoth">Keep both</button>
      </p>
      <PageTabs :report="report" :page="page" :composing="composing" @turn="turn" @change="draft.set($event)" />
      <AddBar v-if="composing" :page="page" />
      <div class="exhibits">
        <template v-for="exhibit in shown" :key="exhibit.id">
          <ExhibitFrame v-if="composing && canShow(exhibit)" :exhibit="exhibit" class="placed" :style="placeOf(exhibit)">
            <ExhibitHost :exhibit="exhibit" :number="numbered.indexOf(exhibit.id) + 1" />
          </ExhibitFrame>
          <div v-else-if="canShow(exhibit)" class="placed" :style="placeOf(exhibit)">
            <ExhibitHost :exhibit="exhibit" :number="numbered.indexOf(exhibit.id) + 1" @drill="followDrill" />
          </div>
        </template>
        <div
          v-if="composing"
          class="start"
          :class="{ open: dragged?.kind === 'field' || dragged?.kind === 'measure' }"
          @dragover.prevent
          @drop.prevent="startExhibit"
        >
          {{
            shown.length === 0
              ? 'Drop a field here to start a cross-tab, or add an exhibit above'
              : 'Drop a field here to start a new exhibit'
          }}
        </div>
        <p v-else-if="shown.length === 0" class="muted nothing">There is nothing on this page yet.</p>
      </div>
      <p class="data-as-of muted">
        Data as of {{ dayLabel(parseIsoDate(loaded.dataTo)!, LOCALE) }}.<template v-if="crosstabs.length && !chosen">
          Choose a figure to see why it is what it is, and where it leads.</template
        >
        <button type="button" class="keys" @click="help = true">Keys</button>
      </p>
    </div>
    <aside v-if="chosen" class="margin" aria-label="About the chosen figure">
      <CellMargin :exhibit="chosen.exhibit" :cell="chosen.cell" @close="closeMargin" />
    </aside>
    <SettingsMargin v-if="composing" />
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
    <KeyHelp v-model="help" />
  </div>
</template>

<style scoped>
.layout {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
}
.layout.with-margin {
  grid-template-columns: minmax(0, 1fr) 284px;
}
.layout.composing {
  grid-template-columns: 210px minmax(0, 1fr) 272px;
}
.page {
  padding: 14px 26px 40px 30px;
  min-width: 0;
}
.composing .page {
  padding: 14px 20px 60px;
}
.exhibits {
  display: grid;
  grid-template-columns: repeat(12, minmax(0, 1fr));
  gap: 0 22px;
  align-items: start;
}
.composing .exhibits {
  gap: 28px 14px;
  margin-top: 28px;
}
.placed {
  min-width: 0;
}
.start,
.nothing {
  grid-column: 1 / -1;
}
.start {
  border: 1px dashed var(--rule);
  border-radius: 8px;
  padding: 16px;
  text-align: center;
  color: var(--ink-2);
  font-size: 13px;
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
.margin {
  background: var(--sheet);
  border-left: 1px solid var(--rule);
  padding: 16px 18px 40px;
  position: sticky;
  top: 0;
  height: 100vh;
  overflow-y: auto;
}
@media (max-width: 1099px) {
  .layout.with-margin {
    grid-template-columns: minmax(0, 1fr);
  }
  .margin {
    position: fixed;
    top: auto;
    bottom: 0;
    right: 0;
    left: 60px;
    height: auto;
    max-height: 55vh;
    border-left: 0;
    border-top: 2px solid var(--ink);
    z-index: 15;
    box-shadow: 0 -8px 28px rgb(0 0 0 / 14%);
  }
}
@media (max-width: 1099px) {
  .layout.composing {
    grid-template-columns: 180px minmax(0, 1fr) 240px;
  }
}
@media (max-width: 700px) {
  .placed {
    grid-column: 1 / -1 !important;
  }
  .page {
    padding: 12px 14px 30px;
  }
  .margin {
    left: 0;
    bottom: 54px;
  }
}
</style>
