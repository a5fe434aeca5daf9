<script setup lang="ts">
import { madeReportSchema, reportSummarySchema, reportViewSchema, type ReportSummary } from '@bold-compass/core/api';
import { dayLabel, parseIsoDate } from '@bold-compass/core/calendar';
import { mdiDotsHorizontal, mdiStar, mdiStarOutline } from '@mdi/js';
import { useQuery, useQueryClient } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import { z } from 'zod';
import { ApiProblem, ask, isPassing } from '../api/client.ts';
import { useSession } from '../api/session.ts';
import NewReport from '../library/NewReport.vue';
import ReportThumbnail from '../library/ReportThumbnail.vue';
import ExhibitState from '../report/ExhibitState.vue';
import ProblemState from '../report/ProblemState.vue';
import { LOCALE } from '../report/state-words.ts';

const session = useSession();
const router = useRouter();
const queries = useQueryClient();
const search = ref('');
const composes = computed(() => session.person?.role === 'analyst');
const { data, error, failureReason, refetch } = useQuery({
  queryKey: ['reports'],
  queryFn: ({ signal }) => ask(z.array(reportSummarySchema), 'GET', '/reports', undefined, signal),
});

const problem = computed(() => error.value ?? (isPassing(failureReason.value) && !data.value ? failureReason.value : null));
const LAST = 4;
/** Favourites and what was opened last, to be reached at once. */
const shortcuts = computed((): { title: string; reports: ReportSummary[] }[] => {
  const reports = data.value ?? [];
  if (search.value.trim() !== '' || reports.length <= 1) return [];
  const opened = reports.filter(({ openedAt }) => openedAt !== null).sort((a, b) => (a.openedAt! < b.openedAt! ? 1 : -1));
  return [
    { title: 'Favourites', reports: reports.filter(({ favourite }) => favourite) },
    { title: 'Opened last', reports: opened.slice(0, LAST) },
  ].filter((group) => group.reports.length > 0);
});
/** Every report in its folder. */
const groups = computed((): { title: string; reports: ReportSummary[] }[] => {
  const wanted = search.value.trim().toLowerCase();
  const found = (data.value ?? []).filter((report) => `${report.title} ${report.folder} ${report.note}`.toLowerCase().includes(wanted));
  const folders = new Map<string, ReportSummary[]>();
  for (const report of found) folders.set(report.folder, [...(folders.get(report.folder) ?? []), report]);
  return [...folders].map(([folder, reports]) => ({ title: folder || 'Reports', reports }));
});
const folderNames = computed(() => [...new Set((data.value ?? []).map(({ folder }) => folder).filter((folder) => folder !== ''))]);
const day = (stamp: string): string => dayLabel(parseIsoDate(stamp.slice(0, 10))!, LOCALE);
const edition = (report: ReportSummary): string =>
  report.edition === null ? `Draft, changed ${day(report.updatedAt)}` : `Edition ${report.edition}, ${day(report.publishedAt!)}`;

const message = ref('');
/** The report that was put away last, for as long as that can be taken back here. */
const putAway = ref<ReportSummary | null>(null);
async function attempt(action: () => Promise<void>): Promise<void> {
  message.value = '';
  try {
    await action();
  } catch (failure) {
    message.value = failure instanceof ApiProblem ? failure.message : 'This did not work. Try again.';
  }
}
const changed = (): Promise<void> => queries.invalidateQueries({ queryKey: ['reports'] });
const mark = (report: ReportSummary): Promise<void> =>
  attempt(async () => {
    await ask(z.object({}), 'PUT', `/reports/${report.id}/favourite`, { favourite: !report.favourite });
    await changed();
  });
const copy = (report: ReportSummary): Promise<void> =>
  attempt(async () => {
    const { id } = await ask(madeReportSchema, 'POST', `/reports/${report.id}/copy`, {});
    void changed();
    await router.push({ name: 'report', params: { report: id }, query: { compose: '' } });
  });
const remove = (report: ReportSummary): Promise<void> =>
  attempt(async () => {
    await ask(z.object({}), 'DELETE', `/reports/${report.id}`);
    putAway.value = report;
    await changed();
  });
const bringBack = (): Promise<void> =>
  attempt(async () => {
    await ask(z.object({}), 'POST', `/reports/${putAway.value!.id}/bring-back`, {});
    putAway.value = null;
    await changed();
  });
/** Renames or moves by changing the draft: what managers see changes with the next edition. */
const changing = ref<{ id: string; title: string; folder: string } | null>(null);
const saveName = (): Promise<void> =>
  attempt(async () => {
    const { id, title, folder } = changing.value!;
    const { report, revision } = await ask(reportViewSchema, 'GET', `/reports/${id}?draft=true`);
    await ask(z.object({ revision: z.number() }), 'PUT', `/reports/${id}`, {
      report: { ...report, title: title.trim() || report.title, folder: folder.trim() },
      revision,
    });
    changing.value = null;
    queries.removeQueries({ queryKey: ['report', id] });
    await changed();
  });
/** A report as a document: one that can be read, compared and taken in elsewhere. */
const save = (report: ReportSummary): Promise<void> =>
  attempt(async () => {
    const { report: document_ } = await ask(reportViewSchema, 'GET', `/reports/${report.id}?draft=true`);
    const link = document.createElement('a');
    link.href = URL.createObjectURL(new Blob([`${JSON.stringify(document_, null, 2)}\n`], { type: 'application/json' }));
    link.download = `${report.id}.json`;
    link.click();
    URL.revokeObjectURL(link.href);
  });
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
        <input
          v-if="(data?.length ?? 0) > 1"
          v-model="search"
          class="entry search"
          type="search"
          placeholder="Find a report"
          aria-label="Find a report"
        />
        <button v-if="composes" type="button" class="button primary" @click="making = true">New report</button>
      </div>
    </header>
    <p v-if="message" class="failure" role="alert">{{ message }}</p>
    <p v-if="putAway" class="away" role="status">
      “{{ putAway.title }}” was put away. <button type="button" class="button" @click="bringBack">Bring it back</button>
    </p>
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
      v-else-if="groups.length === 0"
      kind="empty"
      :title="`No report is called “${search}”`"
      message="Try another word from its title."
    >
      <button class="button" type="button" @click="search = ''">Show all reports</button>
    </ExhibitState>
    <section v-for="{ title, reports } in groups" v-else :key="title" :aria-label="title">
      <h2 class="folder">{{ title }}</h2>
      <ul>
        <li v-for="report in reports" :key="report.id">
          <RouterLink class="report" :to="{ name: 'report', params: { report: report.id } }">
            <ReportThumbnail :report="report.id" :version="`${report.edition} ${report.updatedAt}`" />
            <span class="title serif">{{ report.title }}</span>
            <span class="note">{{ report.note }}</span>
            <span class="edition">{{ edition(report) }}</span>
          </RouterLink>
          <button
            type="button"
            class="star"
            :class="{ set: report.favourite }"
            :aria-pressed="report.favourite"
            :aria-label="`Favourite: ${report.title}`"
            @click="mark(report)"
          >
            <v-icon :icon="report.favourite ? mdiStar : mdiStarOutline" size="18" />
          </button>
          <v-menu v-if="composes" location="bottom end" :offset="4">
            <template #activator="{ props: activator }">
              <button type="button" class="dots" v-bind="activator" :aria-owns="undefined" :aria-label="`More for ${report.title}`">
                <v-icon :icon="mdiDotsHorizontal" size="20" />
              </button>
            </template>
            <div class="menu-sheet">
              <RouterLink class="menu-item" :to="{ name: 'report', params: { report: report.id }, query: { compose: '' } }"
                >Compose</RouterLink
              >
              <button type="button" class="menu-item" @click="changing = { id: report.id, title: report.title, folder: report.folder }">
                Rename or move
              </button>
              <button type="button" class="menu-item" @click="copy(report)">Make a copy</button>
              <button type="button" class="menu-item" @click="save(report)">Save as a document</button>
              <button type="button" class="menu-item" @click="remove(report)">Put away</button>
            </div>
          </v-menu>
        </li>
      </ul>
    </section>
    <NewReport v-model="making" :folders="folderNames" />
    <v-dialog :model-value="changing !== null" max-width="460" aria-label="Rename or move" @update:model-value="changing = null">
      <form v-if="changing" class="menu-sheet sheet" @submit.prevent="saveName">
        <h2>Rename or move</h2>
        <label>Title <input v-model="changing.title" class="entry" maxlength="200" /></label>
        <label>Folder <input v-model="changing.folder" class="entry" maxlength="200" list="folders" /></label>
        <datalist id="folders"><option v-for="folder in folderNames" :key="folder" :value="folder" /></datalist>
        <p class="muted">Managers see it with the next edition.</p>
        <div class="actions">
          <button type="button" class="button" @click="changing = null">Leave it</button>
          <button type="submit" class="button primary">Save</button>
        </div>
      </form>
    </v-dialog>
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
.folder {
  margin-top: 26px;
  padding-bottom: 6px;
  border-bottom: 2px solid var(--ink);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  position: relative;
  border-bottom: 1px solid var(--rule);
}
li:hover {
  background: var(--sea-tint);
}
.report {
  display: grid;
  grid-template-columns: 168px 1fr auto;
  gap: 2px 20px;
  padding: 10px 84px 11px 8px;
  text-decoration: none;
  color: var(--ink);
}
.report > :first-child {
  grid-row: span 2;
}
.title {
  font-size: 18px;
  align-self: end;
}
.note {
  grid-column: 2;
  grid-row: 2;
  color: var(--ink-2);
}
.edition {
  grid-column: 3;
  grid-row: 1 / span 2;
  color: var(--ink-2);
  font-size: 13px;
  align-self: center;
}
.star,
.dots {
  position: absolute;
  top: calc(50% - 14px);
  right: 42px;
  min-width: 28px;
  min-height: 28px;
  color: var(--ink-2);
}
.dots {
  right: 8px;
}
.star.set {
  color: var(--brass);
}
.menu-item {
  text-decoration: none;
}
.sheet label {
  display: grid;
  gap: 3px;
  font-size: 13px;
  color: var(--ink-2);
}
.actions {
  display: flex;
  justify-content: end;
  gap: 8px;
}
@media (max-width: 700px) {
  .library {
    padding: 16px 16px 40px;
  }
  .report {
    grid-template-columns: 1fr;
    padding-right: 44px;
  }
  .report > :first-child {
    display: none;
  }
  .note,
  .edition {
    grid-column: 1;
    grid-row: auto;
  }
  .star {
    right: 8px;
  }
  .search {
    width: 100%;
  }
}
</style>
