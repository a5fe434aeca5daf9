<script setup lang="ts">
import type { ListRow } from '@bold-compass/core/api';
import { LOCALE, countWords, unitWords } from '@bold-compass/core/format';
import { AGGREGATES, factNamed, fieldLabel, type List } from '@bold-compass/core/model';
import { listColumns, listLine, listState, totalText, type ListLine as ListLineOfTable } from '@bold-compass/core/table';
import { useElementSize } from '@vueuse/core';
import { computed, ref, watch } from 'vue';
import { readWidths, widthQuery } from '../report/reader-widths.ts';
import { useReport } from '../report/context.ts';
import BearingNeedle from '../report/BearingNeedle.vue';
import ExhibitShell from '../report/ExhibitShell.vue';
import { useLinks, type ReadyLink } from '../report/links.ts';
import { useListLines } from './lines.ts';
import { recordPlace } from './record-place.ts';
import { listFile } from '../report/table-files.ts';
import FileDownload from '../shell/FileDownload.vue';
import type { FileChoice } from '../shell/use-file.ts';
import ListHead from './ListHead.vue';
import ListLine from './ListLine.vue';
import { orderedBy, orderIn, orderWords } from './order.ts';
import { useLongScroll } from './use-long-scroll.ts';

/** A list: records or groups of them, leafed through or scrolled, with totals. */
const props = defineProps<{ exhibit: List; number: number }>();
const { report, asked, draft, versionOf, view, composing, change, navigate, fill, address } = useReport();
const PAGE = 50;
/** In pixels, as the lines are drawn. */
const LINE_HEIGHT = 27;

const text = (key: string): string[] => {
  const value = address.value[`${props.exhibit.id}.${key}`];
  return (Array.isArray(value) ? value : [value]).filter((one): one is string => typeof one === 'string');
};
const order = computed(() => orderIn(text('order'), props.exhibit));
const page = computed(() => Math.max(1, Math.floor(Number(text('page')[0] ?? 1)) || 1));
const scrolls = computed(() => props.exhibit.paging === 'scroll');

const scroller = ref<HTMLElement | null>(null);
/** None until the first answer tells how many there are. */
const lineCount = ref<number | null>(null);
const scrolled = useLongScroll(
  scroller,
  computed(() => (scrolls.value ? (lineCount.value ?? 0) : 0)),
  LINE_HEIGHT,
);
const wanted = computed(() => {
  if (!scrolls.value) return { first: (page.value - 1) * PAGE, count: PAGE };
  return lineCount.value === null ? { first: 0, count: PAGE } : scrolled.value;
});
const path = computed(() => `/reports/${report.value.id}/exhibits/${props.exhibit.id}/list`);
const question = computed(() => ({ ...asked.value, draft: draft.value, order: order.value }));
const version = computed(() => versionOf(props.exhibit.id));
const { answer, lines, waiting, problem, retry } = useListLines(path, version, question, wanted);
watch(answer, (now) => (lineCount.value = now?.lines ?? null), { flush: 'sync' });
/** While scrolling, columns keep the widths that the first lines gave them, so that little jumps. */
const least = ref<number[]>([]);
function keepWidths(): void {
  if (!scrolls.value || least.value.length > 0) return;
  least.value = [...(scroller.value?.querySelectorAll('th') ?? [])].map((head) => head.offsetWidth);
}
watch(lines, keepWidths, { flush: 'post' });
const { width: room } = useElementSize(scroller);
watch([() => props.exhibit, room], () => (least.value = []));
const shown = computed((): { at: number; line: ListLineOfTable | undefined }[] => {
  const { first, count } = wanted.value;
  return Array.from({ length: Math.max(0, Math.min(count, (lineCount.value ?? 0) - first)) }, (_, index) => {
    const row = lines.value.get(first + index);
    return { at: first + index, line: row && listLine(props.exhibit, fact.value, columns.value, row, LOCALE) };
  });
});
const space = computed(() => (scrolls.value ? scrolled.value : { before: 0, after: 0 }));

const dataset = computed(() => view.value.dataset);
const fact = computed(() => factNamed(dataset.value, props.exhibit.fact));
/** The columns, as wide as the report says or the reader drew them. */
const columns = computed(() => {
  const drawn = composing.value ? {} : readWidths(address.value, props.exhibit.id);
  return listColumns(dataset.value, props.exhibit).map((column) =>
    drawn[column.index] === undefined ? column : { ...column, width: drawn[column.index] ?? undefined },
  );
});
const groups = computed(() => props.exhibit.groups.map(({ field }) => fieldLabel(dataset.value, field)));
/** Columns before those of the document: the row number, and a place for the words of groups. */
const before = computed(() => (props.exhibit.rowNumbers ? 1 : 0) + (props.exhibit.groups.length > 0 ? 1 : 0));
const pages = computed(() => Math.max(1, Math.ceil((lineCount.value ?? 0) / PAGE)));

function orderBy(field: string, added: boolean): void {
  const { id } = props.exhibit;
  navigate({ [`${id}.order`]: orderWords(orderedBy(order.value, field, added)), [`${id}.page`]: undefined }, 'step');
}
const totalStates = computed(() => columns.value.map((column) => (answer.value ? listState(column, answer.value.totals) : null)));
const turnTo = (to: number): void => navigate({ [`${props.exhibit.id}.page`]: to > 1 ? String(to) : undefined }, 'step');
function setWidth(index: number, width: number | undefined): void {
  if (!composing.value) return navigate(widthQuery(address.value, props.exhibit.id, String(index), width ?? null), 'rewrite');
  change({ ...props.exhibit, columns: props.exhibit.columns.map((one, at) => (at === index ? { ...one, width } : one)) });
}
const { readyLink, follow } = useLinks();
/** A column of links, while it is read. */
const linked = computed(() => (props.exhibit.links?.length && !composing.value ? 1 : 0));
/** The links of a record, with what its columns say of dimensions. */
function linksOf(row: ListRow | undefined): ReadyLink[] {
  const { links = [] } = props.exhibit;
  if (!row || row.kind !== 'record' || links.length === 0 || composing.value) return [];
  const place = recordPlace(dataset.value, props.exhibit, row.values);
  return links.map((link) => readyLink(props.exhibit, link, place));
}
const files = computed((): FileChoice[] => [
  {
    ...{ title: 'List as shown, CSV', name: fill(props.exhibit.title) },
    rows: (signal, progress) =>
      listFile({ dataset: dataset.value, list: props.exhibit, groups: groups.value }, path.value, question.value, signal, progress),
  },
  {
    ...{ title: 'Copy list', name: fill(props.exhibit.title), to: 'clipboard' },
    rows: (signal, progress) =>
      listFile({ dataset: dataset.value, list: props.exhibit, groups: groups.value }, path.value, question.value, signal, progress),
  },
]);
const units = computed(() => {
  const words = new Set(columns.value.filter(({ numeric }) => numeric).map(({ format }) => unitWords(format, LOCALE)));
  return words.size > 1 ? '' : [...words].join();
});
</script>

<template>
  <ExhibitShell
    :id="exhibit.id"
    :title="exhibit.title"
    :number="number"
    :about="[answer ? countWords(answer.records, fact.record, LOCALE) : '', units]"
    :note="exhibit.note"
    :state="!answer ? 'loading' : answer.records === 0 ? 'empty' : 'shown'"
    loading="Fetching the records"
    :problem="problem"
    :waiting="waiting"
    @retry="retry()"
  >
    <template #tools>
      <span class="tools">
        <FileDownload v-if="answer && answer.records > 0 && !composing" :choices="files" :label="`Download ${fill(exhibit.title)}`" />
      </span>
    </template>
    <template v-if="answer">
      <div
        ref="scroller"
        class="scroller"
        :style="exhibit.height ? { maxHeight: `${Math.max(120, exhibit.height - 60)}px` } : undefined"
        tabindex="0"
        role="group"
        aria-label="Rows of the list"
      >
        <table :class="{ waiting }" :aria-rowcount="answer.lines + 2">
          <ListHead
            :exhibit="exhibit"
            :columns="columns"
            :groups="groups"
            :order="order"
            :composing="composing"
            :least="least"
            @order="orderBy"
            @resize="setWidth"
          />
          <tbody>
            <tr v-if="space.before > 0" aria-hidden="true" :style="{ height: `${space.before}px` }">
              <td :colspan="columns.length + before + linked" />
            </tr>
            <ListLine
              v-for="{ at, line } in shown"
              :key="at"
              :aria-rowindex="at + 2"
              :line="line"
              :columns="columns"
              :numbered="exhibit.rowNumbers"
              :grouped="exhibit.groups.length > 0"
              :links="linksOf(lines.get(at))"
              @follow="follow"
            />
            <tr v-if="space.after > 0" aria-hidden="true" :style="{ height: `${space.after}px` }">
              <td :colspan="columns.length + before + linked" />
            </tr>
          </tbody>
          <tfoot>
            <tr>
              <td v-if="before > 0" :colspan="before">All {{ fact.record.many }}</td>
              <td v-for="(column, position) in columns" :key="column.index" :class="{ numeric: column.numeric }">
                <template v-if="position === 0 && before === 0">All {{ fact.record.many }}</template>
                <template v-else-if="column.total || column.field === null">
                  {{ totalText(answer.totals[column.index], column, LOCALE) }}
                  <BearingNeedle
                    v-if="totalStates[position]"
                    :state="totalStates[position]!.state"
                    :turn="totalStates[position]!.bearing"
                  />
                  <small v-if="column.total">{{ AGGREGATES[column.total].label.toLowerCase() }}</small>
                </template>
              </td>
              <td v-if="linked" />
            </tr>
          </tfoot>
        </table>
      </div>
      <nav v-if="!scrolls && pages > 1" class="pages" aria-label="Pages of the list">
        <v-btn :disabled="page <= 1" @click="turnTo(page - 1)">Previous page</v-btn>
        <span>Page {{ page }} of {{ new Intl.NumberFormat(LOCALE).format(pages) }}</span>
        <v-btn :disabled="page >= pages" @click="turnTo(page + 1)">Next page</v-btn>
      </nav>
    </template>
  </ExhibitShell>
</template>

<style scoped>
.tools {
  margin-left: auto;
}
.scroller {
  overflow: auto;
  max-height: max(420px, calc(100vh - 230px));
  border-top: 2px solid var(--ink);
  border-bottom: 2px solid var(--ink);
}
table {
  border-collapse: separate;
  border-spacing: 0;
  width: 100%;
  font-size: 13px;
}
td {
  padding: 3px 18px 3px 0;
  white-space: nowrap;
  border-bottom: 1px solid var(--rule-2);
}
.numeric {
  text-align: right;
}
tfoot td {
  position: sticky;
  bottom: 0;
  background: var(--paper);
  border-top: 1px solid var(--ink);
  border-bottom: 0;
  font-weight: 700;
}
tfoot small {
  display: block;
  font-weight: 400;
  color: var(--ink-2);
  line-height: 1;
  padding-bottom: 2px;
}
.pages {
  display: flex;
  align-items: center;
  gap: 14px;
  margin-top: 10px;
}
</style>
