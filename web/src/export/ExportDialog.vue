<script setup lang="ts">
import { EXPORT_FORMAT_NAMES, exportFormat, PAPERS, type ExportFormatName } from '@bold-compass/core/exports';
import { dayLabel, parseIsoDate } from '@bold-compass/core/calendar';
import { isDataExhibit, PAPER_NAMES, pageSetupSchema, type ExpandedTo } from '@bold-compass/core/model';
import { LOCALE } from '@bold-compass/core/format';
import { scopeSentence } from '@bold-compass/core/prompts';
import { mdiClose } from '@mdi/js';
import { computed, ref, watch } from 'vue';
import { useRoute } from 'vue-router';
import { useSession } from '../api/session.ts';
import { useReport } from '../report/context.ts';
import type { PagesRequest } from '../paper/printed-pages.ts';
import ExportList from './ExportList.vue';
import { dataExhibits, levelsToOpen, viewStates, type ReportView } from './view-states.ts';
import { useYourExports } from './your-exports.ts';

/** What a reader takes out of a report: the format, what of the report, and what the file will say. `settled` waits until a draft is saved. */
const props = defineProps<{
  settled: () => Promise<void>;
  /** The section that is open; empty where none is. */
  openSection: string;
}>();
const emit = defineEmits<{ print: [request: PagesRequest] }>();
const isShown = defineModel<boolean>({ required: true });
const route = useRoute();
const session = useSession();
const { report, view, asked, draft, wording, fill } = useReport();

const format = ref<ExportFormatName>('pdf');
const chosen = computed(() => exportFormat(format.value));
const pages = ref<string[]>([]);
const { expandedTo } = report.value.pageSetup ?? pageSetupSchema.parse({});
const opened = ref<'screen' | 'level' | 'all'>(expandedTo.to);
const level = ref<string | undefined>(expandedTo.to === 'level' ? expandedTo.label : undefined);
/** Of what is repeated: each of its sections, or the one that is open. */
const sections = ref<'each' | 'open'>('each');
const hasSections = computed(
  () =>
    report.value.sections !== undefined ||
    [...report.value.pages, ...report.value.exhibits.filter(isDataExhibit)].some((one) => one.sections),
);
const exhibit = ref<string>();
/** How the report says that it looks on paper; the reader may have other paper. */
const paper = ref({ ...(report.value.pageSetup ?? pageSetupSchema.parse({})) });
const { exports, problem, start, cancel, remove } = useYourExports(isShown);
const busy = ref(false);

const shownReport = computed((): ReportView => ({
  report: report.value,
  datasetOf: (name) => (name === undefined ? view.value.dataset : (view.value.datasets[name] ?? view.value.dataset)),
  asked: asked.value,
  query: route.query,
  inEachSection: sections.value === 'each' && chosen.value.carries === 'report',
}));
watch(
  isShown,
  (now) => {
    if (!now) return;
    pages.value = report.value.pages.map(({ id }) => id);
    problem.value = '';
  },
  { immediate: true },
);
const levels = computed(() => levelsToOpen(shownReport.value, pages.value));
const tables = computed(() => dataExhibits(shownReport.value, []).map(({ id, title }) => ({ value: id, title: fill(title) })));
watch(
  [levels, tables],
  () => {
    if (!level.value || !levels.value.includes(level.value)) level.value = levels.value[1] ?? levels.value[0];
    if (!tables.value.some(({ value }) => value === exhibit.value)) exhibit.value = tables.value[0]?.value;
  },
  { immediate: true },
);
const openedTo = computed((): ExpandedTo =>
  opened.value === 'level' && level.value ? { to: 'level', label: level.value } : opened.value === 'all' ? { to: 'all' } : { to: 'screen' },
);
const sentence = computed(() => scopeSentence(report.value, asked.value, wording.value));
const nothing = computed(() =>
  chosen.value.carries === 'table' ? exhibit.value === undefined : report.value.pages.length > 0 && pages.value.length === 0,
);
const papers = PAPER_NAMES.map((value) => ({ value, title: PAPERS[value].label }));

const request = (): PagesRequest => ({
  report: report.value.id,
  draft: draft.value,
  ...asked.value,
  pages: pages.value.length === report.value.pages.length ? [] : pages.value,
  sections: sections.value,
  exhibit: chosen.value.carries === 'table' ? exhibit.value : undefined,
  exhibits: viewStates(shownReport.value, [], openedTo.value),
  pageSetup: paper.value,
});

async function make(): Promise<void> {
  // Enter sends the form, whatever the button says.
  if (busy.value || nothing.value) return;
  busy.value = true;
  try {
    await props.settled();
    await start({ format: format.value, ...request() });
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <v-dialog v-model="isShown" max-width="960" scrollable aria-label="Export">
    <v-card tag="form" class="export" @submit.prevent="make">
      <header>
        <h2>Export</h2>
        <span class="muted">{{ fill(report.title) }}</span>
        <v-btn :icon="mdiClose" variant="text" size="small" aria-label="Close" class="close" @click="isShown = false" />
      </header>
      <div class="body">
        <v-radio-group v-model="format" class="formats" aria-label="Format" hide-details>
          <v-radio v-for="name in EXPORT_FORMAT_NAMES" :key="name" :value="name" :class="{ chosen: name === format }">
            <template #label>
              <span class="kind">
                <strong>{{ exportFormat(name).label }}</strong>
                <span class="muted">{{ exportFormat(name).note }}</span>
              </span>
            </template>
          </v-radio>
        </v-radio-group>
        <div class="options">
          <div class="columns">
            <section v-if="chosen.carries === 'table'">
              <v-select v-model="exhibit" :items="tables" label="Exhibit" />
            </section>
            <section v-else-if="report.pages.length > 1" role="group" aria-labelledby="export-pages">
              <h3 id="export-pages">Pages</h3>
              <v-checkbox
                v-for="page in report.pages"
                :key="page.id"
                v-model="pages"
                :value="page.id"
                :label="page.title"
                density="compact"
                hide-details
              />
            </section>
            <section v-if="hasSections && chosen.carries === 'report'">
              <h3 id="export-sections">Sections</h3>
              <v-radio-group v-model="sections" aria-labelledby="export-sections" density="compact" hide-details>
                <v-radio value="each" label="Every section" />
                <v-radio value="open" :label="openSection === '' ? 'All together' : `${openSection} only`" />
              </v-radio-group>
            </section>
            <section v-if="levels.length > 1">
              <h3 id="export-rows">Rows</h3>
              <v-radio-group v-model="opened" aria-labelledby="export-rows" density="compact" hide-details>
                <v-radio value="screen" label="As on screen" />
                <v-radio value="level">
                  <template #label>
                    <span class="to-level">
                      Expanded to
                      <v-select
                        v-model="level"
                        :items="levels"
                        aria-label="Level"
                        density="compact"
                        hide-details
                        @update:model-value="opened = 'level'"
                      />
                    </span>
                  </template>
                </v-radio>
                <v-radio value="all" label="Fully expanded" />
              </v-radio-group>
            </section>
            <section v-if="chosen.isPaged">
              <h3>Paper</h3>
              <div class="paper">
                <v-select v-model="paper.size" :items="papers" label="Size" density="compact" hide-details />
                <v-radio-group v-model="paper.orientation" inline density="compact" hide-details aria-label="Orientation">
                  <v-radio value="landscape" label="Landscape" />
                  <v-radio value="portrait" label="Portrait" />
                </v-radio-group>
              </div>
            </section>
          </div>
          <section v-if="format !== 'csv'" class="says">
            <h3>The file will say</h3>
            <blockquote class="serif">
              {{ sentence }}<br />Data as of {{ dayLabel(parseIsoDate(view.dataTo)!, LOCALE) }}.
              <template v-if="view.access">Made for {{ session.person?.name }}, who sees: {{ view.access }}.</template>
            </blockquote>
          </section>
          <p v-if="problem" class="failure" role="alert">{{ problem }}</p>
        </div>
      </div>
      <section v-if="exports.length > 0" class="yours" aria-labelledby="your-exports">
        <h3 id="your-exports">Your exports</h3>
        <ExportList :exports="exports" @cancel="cancel" @remove="remove" />
      </section>
      <footer>
        <span class="muted">Exports hold only what you may see, and are kept here for a day.</span>
        <v-btn variant="text" @click="isShown = false">Close</v-btn>
        <v-btn v-if="chosen.isPaged" :disabled="nothing" @click="emit('print', request())">Print</v-btn>
        <v-btn color="primary" variant="flat" type="submit" :disabled="nothing" :loading="busy">Export {{ chosen.label }}</v-btn>
      </footer>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.export {
  overflow-y: auto;
}
header {
  display: flex;
  align-items: baseline;
  gap: 12px;
  padding: 16px 22px 12px;
  border-bottom: 1px solid var(--rule);
}
h2 {
  margin: 0;
}
.close {
  margin-left: auto;
  align-self: center;
}
.body {
  display: grid;
  grid-template-columns: 308px 1fr;
}
.formats {
  padding: 12px;
  border-right: 1px solid var(--rule);
}
.formats :deep(.v-selection-control) {
  align-items: start;
  padding: 4px 8px 6px;
  border-radius: 6px;
}
.formats :deep(.v-label) {
  opacity: 1;
  padding-top: 7px;
}
.formats :deep(.v-selection-control__wrapper) {
  margin-top: 1px;
}
.formats .chosen {
  background: var(--sea-tint);
}
.kind {
  display: grid;
  font-size: 13px;
  line-height: 1.35;
}
.kind strong {
  font-size: 14px;
}
.options {
  padding: 16px 22px;
  min-width: 0;
}
.columns {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(220px, 1fr));
  gap: 14px 26px;
}
h3 {
  margin: 0 0 4px;
  font-family: var(--sans);
  font-size: 13px;
  font-weight: 600;
  color: var(--ink-2);
}
.to-level {
  display: inline-flex;
  align-items: center;
  gap: 10px;
}
.to-level .v-select {
  min-width: 130px;
}
.paper {
  display: grid;
  gap: 8px;
  justify-items: start;
}
.paper .v-select {
  width: 150px;
}
.says {
  margin-top: 16px;
}
blockquote {
  margin: 0;
  padding: 2px 0 2px 14px;
  border-left: 2px solid var(--brass-line);
  font-size: 14.5px;
  font-weight: 400;
}
.failure {
  margin: 12px 0 0;
  padding: 6px 12px;
  background: var(--brass-tint);
  border-left: 3px solid var(--brass-line);
}
.yours {
  padding: 10px 22px;
  background: var(--paper);
  border-top: 1px solid var(--rule);
}
footer {
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 12px 22px;
  border-top: 1px solid var(--rule);
}
footer .muted {
  margin-right: auto;
  font-size: 12.5px;
}
@media (max-width: 700px) {
  .body {
    grid-template-columns: 1fr;
  }
  .formats {
    border-right: 0;
    border-bottom: 1px solid var(--rule);
  }
  footer {
    flex-wrap: wrap;
  }
}
</style>
