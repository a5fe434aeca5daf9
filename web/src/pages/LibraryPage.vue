<script setup lang="ts">
import { reportSummarySchema, type ReportSummary } from '@bold-compass/core/api';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { z } from 'zod';
import { ask, isPassing } from '../api/client.ts';
import { useSession } from '../api/session.ts';
import NewReport from '../library/NewReport.vue';
import { useReportActions } from '../library/actions.ts';
import RenameReport from '../library/RenameReport.vue';
import ReportFolders from '../library/ReportFolders.vue';
import ReportCard from '../library/ReportCard.vue';
import ExhibitState from '../report/ExhibitState.vue';
import ProblemState from '../report/ProblemState.vue';

const session = useSession();
const search = ref('');
const composes = computed(() => session.person?.role === 'analyst');
const { data, error, failureReason, refetch } = useQuery({
  queryKey: ['reports'],
  queryFn: ({ signal }) => ask(z.array(reportSummarySchema), 'GET', '/reports', undefined, signal),
  // Thousands of reports are searched with every key: not through proxies.
  shallow: true,
});

const problem = computed(() => error.value ?? (isPassing(failureReason.value) && !data.value ? failureReason.value : null));
const LAST = 4;
/** Favourites and what was opened last, to be reached at once. */
const marked = computed((): { title: string; reports: ReportSummary[] }[] => {
  const reports = data.value ?? [];
  if (reports.length <= 1) return [];
  const opened = reports.filter(({ openedAt }) => openedAt !== null).sort((a, b) => (a.openedAt! < b.openedAt! ? 1 : -1));
  return [
    { title: 'Favourites', reports: reports.filter(({ favourite }) => favourite) },
    { title: 'Opened last', reports: opened.slice(0, LAST) },
  ].filter((group) => group.reports.length > 0);
});
const shortcuts = computed(() => (search.value.trim() === '' ? marked.value : []));
/** What is searched, put together once. */
const searchable = computed(() =>
  (data.value ?? []).map((report) => ({ report, words: `${report.title} ${report.folder} ${report.note}`.toLowerCase() })),
);
const found = computed(() => {
  const wanted = search.value.trim().toLowerCase();
  return searchable.value.filter(({ words }) => words.includes(wanted)).map(({ report }) => report);
});
const folderNames = computed(() => [...new Set((data.value ?? []).map(({ folder }) => folder).filter((folder) => folder !== ''))]);
const { message, moveToBin, mark, copy, remove, restore, rename, save } = useReportActions();
const renaming = ref<ReportSummary | null>(null);
async function saveName(title: string, folder: string): Promise<void> {
  if (renaming.value && (await rename(renaming.value.id, title, folder))) renaming.value = null;
}
const making = ref(false);
</script>

<template>
  <div class="library">
    <header>
      <div>
        <h1>Reports</h1>
        <p class="muted">
          {{ composes ? 'Yours to compose, and what is published.' : `What is published for you, ${session.person?.name}.` }}
        </p>
      </div>
      <div class="tools">
        <v-text-field
          v-if="(data?.length ?? 0) > 1"
          v-model="search"
          class="search"
          type="search"
          placeholder="Find a report"
          aria-label="Find a report"
        />
        <v-btn v-if="composes" color="primary" variant="flat" @click="making = true">New report</v-btn>
      </div>
    </header>
    <p v-if="message" class="failure" role="alert">{{ message }}</p>
    <p v-if="moveToBin" class="away" role="status">“{{ moveToBin.title }}” was deleted. <v-btn @click="restore">Restore</v-btn></p>
    <nav v-for="{ title, reports } in shortcuts" :key="title" class="shortcuts" :aria-label="title">
      <span class="muted">{{ title }}</span>
      <RouterLink v-for="report in reports" :key="report.id" :to="{ name: 'report', params: { report: report.id } }">{{
        report.title
      }}</RouterLink>
    </nav>
    <ProblemState v-if="problem" :error="problem" @retry="refetch()" />
    <ExhibitState v-else-if="!data" kind="loading" title="Loading the reports" />
    <ExhibitState
      v-else-if="data.length === 0"
      kind="empty"
      title="Nothing is published yet"
      message="As soon as an analyst publishes a report for you, it stands here."
    />
    <ExhibitState
      v-else-if="found.length === 0"
      kind="empty"
      :title="`No report matches “${search}”`"
      message="Try another word from its title."
    >
      <v-btn @click="search = ''">Show all reports</v-btn>
    </ExhibitState>
    <ReportFolders v-else v-slot="{ report }" :reports="found">
      <ReportCard
        :report="report"
        :composes="composes"
        @mark="mark(report)"
        @rename="renaming = report"
        @copy="copy(report)"
        @save="save(report)"
        @remove="remove(report)"
      />
    </ReportFolders>
    <NewReport v-model="making" :folders="folderNames" />
    <RenameReport :report="renaming" :folders="folderNames" :problem="message" @close="renaming = null" @save="saveName" />
  </div>
</template>

<style scoped>
.library {
  max-width: 1060px;
  padding: 22px 30px 60px;
}
header,
.tools {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: end;
  gap: 10px 14px;
}
header p {
  margin: 2px 0 0;
}
.search {
  width: 240px;
}
.failure,
.away {
  margin: 12px 0 0;
  padding: 6px 12px;
  background: var(--brass-tint);
  border-left: 3px solid var(--brass-line);
}
.shortcuts {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 18px;
  margin-top: 10px;
  font-size: 13.5px;
}
.shortcuts a {
  color: var(--sea);
  min-height: 24px;
}
@media (max-width: 700px) {
  .library {
    padding: 16px 16px 40px;
  }
  .search {
    width: 100%;
  }
}
</style>
