<script setup lang="ts">
import { cellRecordsSchema, type CellRecords, type ViewState } from '@bold-compass/core/api';
import { LOCALE, countWords, figureText } from '@bold-compass/core/format';
import { factNamed, measureNamed, type CellExhibit } from '@bold-compass/core/model';
import { listColumns, listLine } from '@bold-compass/core/table';
import { mdiClose, mdiDownload } from '@mdi/js';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { ask } from '../api/client.ts';
import { useReport } from './context.ts';
import { useFollowing } from './following.ts';
import { useFile } from '../shell/use-file.ts';
import ProblemState from './ProblemState.vue';
import { recordsFile } from './table-files.ts';
import type { ChosenCell } from './url-state.ts';

/** The records behind a figure: as many as it counts, to be ordered, leafed through and taken along. */
const props = defineProps<{ exhibit: CellExhibit; cell: ChosenCell; viewState: ViewState | undefined; place: string; measure: string }>();
const isOpen = defineModel<boolean>({ required: true });
const { report, draft, versionOf, view } = useReport();
const asked = useFollowing(() => props.exhibit);

const PAGE = 50;
const page = ref(1);
const sortBy = ref<{ key: string; order: 'asc' | 'desc' }[]>([]);
const part = ref<string | undefined>(undefined);
const order = computed(() => sortBy.value.map(({ key, order: direction }) => ({ field: key, direction })));

const question = computed(() => ({
  ...{ ...props.cell, viewState: props.viewState, ...asked.value, draft: draft.value },
  ...{ order: order.value, ...(part.value ? { part: part.value } : {}) },
}));
const path = computed(() => `/reports/${report.value.id}/exhibits/${props.exhibit.id}/records`);
const fetchPage = (offset: number, limit: number, signal?: AbortSignal): Promise<CellRecords> =>
  ask(cellRecordsSchema, 'POST', path.value, { ...question.value, offset, limit }, signal);
const { data, error, isFetching, refetch } = useQuery({
  queryKey: computed(() => ['cell records', path.value, versionOf(props.exhibit.id), question.value, page.value]),
  queryFn: ({ signal }) => fetchPage((page.value - 1) * PAGE, PAGE, signal),
  placeholderData: keepPreviousData,
});

const dataset = computed(() => view.value.dataset);
const own = computed(() => data.value && factNamed(dataset.value, data.value.list.fact));
/** The dates of what is shown, where these are others than the cell's. */
const dates = computed(() => data.value?.parts.find(({ key }) => key === data.value?.part)?.dates ?? '');
const columns = computed(() => (data.value ? listColumns(dataset.value, data.value.list) : []));
const headers = computed(() =>
  columns.value.map(({ name, heading, numeric }) => ({
    key: name,
    title: heading,
    align: numeric ? ('end' as const) : ('start' as const),
  })),
);
const lineOf = (records: CellRecords, row: CellRecords['page']['rows'][number]): string[] =>
  listLine(records.list, own.value!, columns.value, row, LOCALE).cells.map(({ text }) => text);
const rows = computed(() =>
  (data.value?.page.rows ?? []).map((row) => {
    const cells = lineOf(data.value!, row);
    return Object.fromEntries(columns.value.map(({ name }, index) => [name, cells[index]]));
  }),
);
const count = computed(() => data.value?.page.records ?? 0);
const pages = computed(() => Math.max(1, Math.ceil(count.value / PAGE)));
const format = computed(() => measureNamed(dataset.value, props.measure).format);

// A file of all of them --------------------------------------------------------------------------------------------
const { done, problem, make, cancel } = useFile();
const download = (): Promise<void> =>
  make({
    title: 'Records',
    name: `${props.place} ${own.value?.label ?? 'records'}`,
    rows: (signal, progress) => recordsFile(dataset.value, fetchPage, signal, progress),
  });
function choosePart(key: string): void {
  part.value = key;
  page.value = 1;
  sortBy.value = [];
}
</script>

<template>
  <v-dialog v-model="isOpen" max-width="1180" scrollable :aria-label="`Records behind ${place}`">
    <v-card class="records">
      <div class="head">
        <div>
          <h2 class="serif">{{ own?.label ?? 'Records' }} of {{ place }}</h2>
          <p v-if="data && own" class="muted">
            {{ countWords(count, own.record, LOCALE) }}{{ dates ? `, ${dates}` : '' }}; {{ data.measure.label.toLowerCase() }}
            {{
              figureText(
                data.measure.value,
                { ...format, unit: 'one', decimals: Math.max(format.decimals, format.kind === 'currency' ? 2 : 0) },
                LOCALE,
              )
            }}
          </p>
        </div>
        <v-btn-toggle v-if="data && data.parts.length > 1" :model-value="data.part" mandatory @update:model-value="choosePart">
          <v-btn v-for="one in data.parts" :key="one.key" :value="one.key">{{ [one.label, one.dates].filter(Boolean).join(', ') }}</v-btn>
        </v-btn-toggle>
        <div class="tools">
          <v-btn v-if="done === null" :prepend-icon="mdiDownload" :disabled="count === 0" @click="download">Download CSV</v-btn>
          <template v-else>
            <v-progress-linear :model-value="done * 100" class="progress" aria-label="Records fetched" />
            <v-btn variant="text" @click="cancel">Cancel</v-btn>
          </template>
          <v-btn :icon="mdiClose" variant="text" aria-label="Close the records" @click="isOpen = false" />
        </div>
      </div>
      <p v-if="problem" role="alert" class="failure">{{ problem }}</p>
      <ProblemState v-if="error && !data" :error="error" @retry="refetch()" @reset="isOpen = false" />
      <v-data-table-server
        v-else
        v-model:page="page"
        v-model:sort-by="sortBy"
        :headers="headers"
        :items="rows"
        :items-length="count"
        :items-per-page="PAGE"
        :loading="isFetching"
        multi-sort
        fixed-header
        hide-default-footer
        density="compact"
        class="table"
        :aria-label="`${own?.label ?? 'Records'} of ${place}`"
        no-data-text="There are no records behind this figure."
      >
        <template #[`body.append`]>
          <tr v-if="data && columns.some(({ total }) => total)" class="total">
            <td v-for="(column, index) in columns" :key="column.name" :class="{ numeric: column.numeric }">
              {{
                index === 0 && !column.total
                  ? 'Total'
                  : typeof data.page.totals[column.index] === 'number'
                    ? figureText(data.page.totals[column.index] as number, column.format, LOCALE)
                    : ''
              }}
            </td>
          </tr>
        </template>
      </v-data-table-server>
      <div class="foot">
        <v-btn variant="text" :disabled="page <= 1" @click="page--">Previous page</v-btn>
        <span class="muted" role="status">Page {{ page }} of {{ pages }}</span>
        <v-btn variant="text" :disabled="page >= pages" @click="page++">Next page</v-btn>
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.records {
  padding: 18px 22px 10px;
  max-height: 88vh;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 18px;
  align-items: start;
}
.head > :first-child {
  flex: 1;
  min-width: 240px;
}
.head h2,
.head p {
  margin: 0;
}
.tools {
  display: flex;
  align-items: center;
  gap: 6px;
}
.progress {
  width: 130px;
}
.table {
  margin-top: 10px;
  overflow: auto;
}
.table :deep(td) {
  white-space: nowrap;
}
.total td {
  font-weight: 700;
  border-top: 1px solid var(--ink);
}
.numeric {
  text-align: end;
}
.failure {
  color: var(--off-text);
}
.foot {
  display: flex;
  align-items: center;
  justify-content: end;
  gap: 8px;
}
</style>
