<script setup lang="ts">
import { reportSummarySchema, type ReportSummary } from '@bold-compass/core/api';
import { dayLabel, parseIsoDate } from '@bold-compass/core/calendar';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { z } from 'zod';
import { ask, isPassing } from '../api/client.ts';
import { useSession } from '../api/session.ts';
import ExhibitState from '../report/ExhibitState.vue';
import ProblemState from '../report/ProblemState.vue';

const session = useSession();
const search = ref('');
const { data, error, failureReason, refetch } = useQuery({
  queryKey: ['reports'],
  queryFn: ({ signal }) => ask(z.array(reportSummarySchema), 'GET', '/reports', undefined, signal),
});

const problem = computed(() => error.value ?? (isPassing(failureReason.value) && !data.value ? failureReason.value : null));
const folders = computed(() => {
  const wanted = search.value.trim().toLowerCase();
  const groups = new Map<string, ReportSummary[]>();
  for (const report of data.value ?? []) {
    if (wanted && !`${report.title} ${report.folder} ${report.note}`.toLowerCase().includes(wanted)) continue;
    groups.set(report.folder, [...(groups.get(report.folder) ?? []), report]);
  }
  return [...groups];
});
const day = (stamp: string): string => dayLabel(parseIsoDate(stamp.slice(0, 10))!, 'en-GB');
const edition = (report: ReportSummary): string =>
  report.edition === null ? `Draft, changed ${day(report.updatedAt)}` : `Edition ${report.edition}, ${day(report.publishedAt!)}`;
</script>

<template>
  <div class="library">
    <header>
      <div>
        <h1>Reports</h1>
        <p class="muted">What is published for you, {{ session.person?.name }}.</p>
      </div>
      <v-text-field v-if="(data?.length ?? 0) > 1" v-model="search" class="search" label="Find a report" clearable />
    </header>
    <ProblemState v-if="problem" :error="problem" @retry="refetch()" />
    <ExhibitState v-else-if="!data" kind="loading" title="Loading the reports" />
    <ExhibitState
      v-else-if="data.length === 0"
      kind="empty"
      title="Nothing is published yet"
      message="As soon as an analyst publishes a report for you, it stands here."
    />
    <ExhibitState
      v-else-if="folders.length === 0"
      kind="empty"
      :title="`No report is called “${search}”`"
      message="Try another word from its title."
    >
      <button class="button" type="button" @click="search = ''">Show all reports</button>
    </ExhibitState>
    <section v-for="[folder, reports] in folders" v-else :key="folder" :aria-label="folder || 'Reports'">
      <h2 class="folder">{{ folder || 'Reports' }}</h2>
      <ul>
        <li v-for="report in reports" :key="report.id">
          <RouterLink class="report" :to="{ name: 'report', params: { report: report.id } }">
            <span class="title serif">{{ report.title }}</span>
            <span class="note">{{ report.note }}</span>
            <span class="edition">{{ edition(report) }}</span>
          </RouterLink>
        </li>
      </ul>
    </section>
  </div>
</template>

<style scoped>
.library {
  max-width: 1000px;
  padding: 22px 30px 60px;
}
header {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: end;
  gap: 12px 24px;
}
header p {
  margin: 2px 0 0;
}
.search {
  max-width: 260px;
}
.folder {
  margin-top: 30px;
  padding-bottom: 6px;
  border-bottom: 2px solid var(--ink);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
.report {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 2px 24px;
  padding: 12px 8px 13px;
  border-bottom: 1px solid var(--rule);
  text-decoration: none;
  color: var(--ink);
}
.report:hover {
  background: var(--sea-tint);
}
.title {
  font-size: 18px;
}
.note {
  grid-row: 2;
  color: var(--ink-2);
}
.edition {
  color: var(--ink-2);
  font-size: 13px;
  align-self: center;
}
@media (max-width: 700px) {
  .library {
    padding: 16px 16px 40px;
  }
  .report {
    grid-template-columns: 1fr;
  }
  .search {
    max-width: none;
    width: 100%;
  }
}
</style>
