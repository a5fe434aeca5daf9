<script setup lang="ts">
import type { ReportView } from '@bold-compass/core/api';
import { dayLabel, parseIsoDate } from '@bold-compass/core/calendar';
import type { Crosstab, Report, Scope } from '@bold-compass/core/model';
import { mdiArrowLeft } from '@mdi/js';
import { onKeyStroke } from '@vueuse/core';
import { computed, nextTick, ref } from 'vue';
import { useRoute, useRouter, type LocationQueryRaw } from 'vue-router';
import ComposeEdges from '../compose/ComposeEdges.vue';
import { useDraft } from '../compose/draft.ts';
import CrosstabExhibit from '../crosstab/CrosstabExhibit.vue';
import CellMargin from './CellMargin.vue';
import { provideReport } from './context.ts';
import KeyHelp from './KeyHelp.vue';
import KpiStrip from './KpiStrip.vue';
import ListExhibit from './ListExhibit.vue';
import ScopeLine from './ScopeLine.vue';
import { LOCALE } from './state-words.ts';
import { cellQuery, readCrosstabState, readScope, scopeQuery, stateQuery } from './url-state.ts';

/** An open report: title, scope line, exhibits and the margin. Composing adds edges to the exhibits and moves nothing. */
const props = defineProps<{ loaded: ReportView; composing: boolean }>();
const emit = defineEmits<{ reload: [] }>();
const route = useRoute();
const router = useRouter();

const draft = useDraft(props.loaded);
const view = computed(() => props.loaded);
const report = computed((): Report => (props.composing ? draft.report.value : props.loaded.report));
const scope = computed(() => readScope(report.value, route.query));
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
provideReport({
  view,
  report,
  scope,
  draft: computed(() => props.composing || props.loaded.edition === null),
  version,
  navigate,
  setScope,
  resetScope,
});

const crosstabs = computed(() => report.value.exhibits.filter((exhibit): exhibit is Crosstab => exhibit.kind === 'crosstab'));
const chosen = computed(() => {
  for (const exhibit of crosstabs.value) {
    const { cell } = readCrosstabState(exhibit, route.query);
    if (cell) return { exhibit, cell };
  }
  return null;
});
function closeMargin(): void {
  if (chosen.value) navigate(cellQuery(chosen.value.exhibit, null), 'rewrite');
}

/** Exhibits are numbered as in a printed report; the strip of key figures is none. */
const numbered = computed(() => report.value.exhibits.filter((exhibit) => exhibit.kind !== 'kpis'));
const folder = computed(() => report.value.folder);
const edition = computed(() => {
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

const shared = ref('');
async function share(): Promise<void> {
  try {
    await navigator.clipboard.writeText(window.location.href);
    shared.value = 'Link copied. It shows what you see now.';
  } catch {
    shared.value = 'Copy the address of this page: it shows what you see now.';
  }
  setTimeout(() => (shared.value = ''), 4_000);
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
  if (typing(event)) return;
  event.preventDefault();
  document.querySelector<HTMLElement>('[data-testid=scope-line] button')?.focus();
});
onKeyStroke('?', (event) => !typing(event) && (help.value = true));
onKeyStroke('Backspace', (event) => {
  if (typing(event) || !cameFrom.value) return;
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
  <div class="layout" :class="{ 'with-margin': chosen }">
    <div class="page">
      <header class="title-block">
        <div class="titles">
          <p class="crumbs">
            <button v-if="cameFrom" type="button" class="back" @click="router.back()">
              <v-icon :icon="mdiArrowLeft" size="15" aria-hidden="true" />Back to where you were
            </button>
            <span v-else>{{ folder }}</span>
          </p>
          <h1>{{ report.title }}</h1>
        </div>
        <div class="actions">
          <span class="edition" role="status">{{ shared || edition }}</span>
          <template v-if="composing">
            <button class="button" type="button" :disabled="!draft.canUndo.value" @click="draft.undo()">Undo</button>
            <button class="button" type="button" :disabled="!draft.canRedo.value" @click="draft.redo()">Redo</button>
            <RouterLink class="button primary" :to="{ query: { ...route.query, compose: undefined } }">Read</RouterLink>
          </template>
          <template v-else>
            <button class="button quiet" type="button" @click="share">Share</button>
            <RouterLink v-if="loaded.canCompose" class="button primary" :to="{ query: { ...route.query, compose: '' } }"
              >Compose</RouterLink
            >
          </template>
        </div>
      </header>
      <ScopeLine />
      <p v-if="loaded.access" class="access muted">You see what is yours: {{ loaded.access }}.</p>
      <p v-if="composing && draft.conflict.value" class="conflict" role="alert">
        {{ draft.conflict.value }} <button type="button" class="button" @click="emit('reload')">Reload their version</button>
      </p>
      <div class="exhibits">
        <template v-for="exhibit in report.exhibits" :key="exhibit.id">
          <KpiStrip v-if="exhibit.kind === 'kpis'" :exhibit="exhibit" class="kpi-strip" />
          <ListExhibit v-else-if="exhibit.kind === 'list'" :exhibit="exhibit" :number="numbered.indexOf(exhibit) + 1" />
          <template v-else>
            <ComposeEdges v-if="composing" :exhibit="exhibit" @change="draft.change($event)" />
            <CrosstabExhibit :exhibit="exhibit" :number="numbered.indexOf(exhibit) + 1" @drill="followDrill" />
          </template>
        </template>
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
.page {
  padding: 14px 26px 40px 30px;
  min-width: 0;
}
.title-block {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: end;
  gap: 4px 24px;
}
.crumbs {
  margin: 0;
  font-size: 13px;
  color: var(--ink-2);
  min-height: 20px;
}
.back {
  display: inline-flex;
  align-items: center;
  gap: 4px;
  color: var(--sea);
  font-weight: 600;
}
.actions {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
}
.edition {
  font-size: 12.5px;
  color: var(--ink-2);
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
.kpi-strip {
  margin-top: 12px;
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
@media (max-width: 700px) {
  .page {
    padding: 12px 14px 30px;
  }
  .margin {
    left: 0;
    bottom: 54px;
  }
  h1 {
    font-size: 22px;
  }
}
</style>
