<script setup lang="ts">
import type { ListRow } from '@bold-compass/core/api';
import { countWords, unitWords } from '@bold-compass/core/format';
import { factNamed, fieldLabel, type List } from '@bold-compass/core/model';
import { useVirtualizer } from '@tanstack/vue-virtual';
import { computed, ref } from 'vue';
import { useRoute } from 'vue-router';
import { isPassing } from '../api/client.ts';
import { useReport } from './context.ts';
import ExhibitState from './ExhibitState.vue';
import { drawnColumns, TOTAL_WORDS, totalText, valueText, type DrawnColumn } from './list-columns.ts';
import { useListLines } from './list-lines.ts';
import ProblemState from './ProblemState.vue';
import PromptMenu from './PromptMenu.vue';
import { LOCALE } from './state-words.ts';

const props = defineProps<{ exhibit: List; number: number }>();
const route = useRoute();
const { report, scope, draft, version, view, composing, change, fill, navigate, resetScope } = useReport();
const PAGE = 50;
const LINE_HEIGHT = 27;

const text = (key: string): string[] => {
  const value = route.query[`${props.exhibit.id}.${key}`];
  return (Array.isArray(value) ? value : [value]).filter((one): one is string => typeof one === 'string');
};
type Order = { field: string; direction: 'asc' | 'desc' }[];
const order = computed((): Order => {
  const words = text('order');
  const asked = Array.from({ length: Math.floor(words.length / 2) }, (_, index) => ({
    field: words[index * 2],
    direction: words[index * 2 + 1] === 'desc' ? ('desc' as const) : ('asc' as const),
  })).filter(({ field }) => props.exhibit.columns.some((column) => column.field === field));
  return asked.length > 0 ? asked : props.exhibit.order;
});
const page = computed(() => Math.max(1, Math.floor(Number(text('page')[0] ?? 1)) || 1));
const scrolls = computed(() => props.exhibit.paging === 'scroll');

const scroller = ref<HTMLElement | null>(null);
const seen = ref({ first: 0, count: 60 });
const wanted = computed(() => (scrolls.value ? seen.value : { first: (page.value - 1) * PAGE, count: PAGE }));
const path = computed(() => `/reports/${report.value.id}/exhibits/${props.exhibit.id}/list`);
const question = computed(() => ({ scope: scope.value, draft: draft.value, order: order.value }));
const { answer, lines, waiting, problem, retry } = useListLines(path, version, question, wanted);

const virtualizer = useVirtualizer(
  computed(() => ({
    count: scrolls.value ? (answer.value?.lines ?? 0) : 0,
    getScrollElement: () => scroller.value,
    estimateSize: () => LINE_HEIGHT,
    overscan: 12,
    onChange: (own: { range: { startIndex: number; endIndex: number } | null }) => {
      if (!own.range) return;
      const first = Math.max(0, own.range.startIndex - 20);
      if (first !== seen.value.first) seen.value = { first, count: own.range.endIndex - first + 40 };
    },
  })),
);
const shown = computed((): { at: number; row: ListRow | undefined }[] => {
  if (scrolls.value) return virtualizer.value.getVirtualItems().map(({ index }) => ({ at: index, row: lines.value.get(index) }));
  const { first, count } = wanted.value;
  return Array.from({ length: Math.max(0, Math.min(count, (answer.value?.lines ?? 0) - first)) }, (_, index) => ({
    at: first + index,
    row: lines.value.get(first + index),
  }));
});
const spaceBefore = computed(() => (scrolls.value ? (virtualizer.value.getVirtualItems()[0]?.start ?? 0) : 0));
const spaceAfter = computed(() => {
  const last = virtualizer.value.getVirtualItems().at(-1);
  return scrolls.value && last ? virtualizer.value.getTotalSize() - last.end : 0;
});

const dataset = computed(() => view.value.dataset);
const fact = computed(() => factNamed(dataset.value, props.exhibit.fact));
const columns = computed(() => drawnColumns(dataset.value, props.exhibit));
const groups = computed(() => props.exhibit.groups.map(({ field }) => fieldLabel(dataset.value, field)));
/** Columns before those of the document: the row number, and a place for the words of groups. */
const before = computed(() => (props.exhibit.rowNumbers ? 1 : 0) + (props.exhibit.groups.length > 0 ? 1 : 0));

const pages = computed(() => Math.max(1, Math.ceil((answer.value?.lines ?? 0) / PAGE)));
const directionOf = (field: string | null): 'asc' | 'desc' | null => order.value.find((one) => one.field === field)?.direction ?? null;
/** Orders by a column; with a modifier key the orders there are stay, and this one is added or turned. */
function orderBy(field: string, added: boolean): void {
  const now = directionOf(field);
  const own = { field, direction: now === 'asc' ? ('desc' as const) : ('asc' as const) };
  const next = added ? [...order.value.filter((one) => one.field !== field), own] : [own];
  const query = next.flatMap((one) => [one.field, one.direction]);
  navigate({ [`${props.exhibit.id}.order`]: query, [`${props.exhibit.id}.page`]: undefined }, 'step');
}
const turnTo = (to: number): void => navigate({ [`${props.exhibit.id}.page`]: to > 1 ? String(to) : undefined }, 'step');
const units = computed(() =>
  [
    ...new Set(
      columns.value.map(({ format }) => (format.kind === 'number' ? '' : unitWords(format, LOCALE))).filter((word) => word !== ''),
    ),
  ].join(', '),
);
/** Fields whose members can be chosen from their heading. */
const canFilter = ({ field, type }: DrawnColumn): boolean => field !== null && (type === 'text' || type === 'boolean');
const headingId = computed(() => `heading-${props.exhibit.id}`);
const isLink = (value: unknown): value is string => typeof value === 'string' && /^(https?:|mailto:)/.test(value);
const isPicture = (value: unknown): value is string => typeof value === 'string' && /^(data:image\/|\/)/.test(value);
const passing = computed(() => (problem.value && isPassing(problem.value) && problem.value instanceof Error ? problem.value.message : ''));

/** Draws a width at the right edge of a heading. */
function beginResize(column: DrawnColumn, event: PointerEvent): void {
  const handle = event.currentTarget as HTMLElement;
  const start = { x: event.clientX, width: handle.parentElement!.offsetWidth };
  handle.setPointerCapture(event.pointerId);
  handle.addEventListener(
    'pointerup',
    (end) => {
      const width = Math.round(Math.max(30, Math.min(800, start.width + end.clientX - start.x)));
      if (end.clientX !== start.x) setWidth(column, width);
    },
    { once: true },
  );
}
function setWidth({ index }: DrawnColumn, width: number | undefined): void {
  change({ ...props.exhibit, columns: props.exhibit.columns.map((one, at) => (at === index ? { ...one, width } : one)) });
}
</script>

<template>
  <section class="exhibit" :aria-labelledby="headingId" :aria-busy="waiting">
    <header>
      <h2 :id="headingId">{{ fill(exhibit.title) }}</h2>
      <span class="muted number"
        >Exhibit {{ number }}<template v-if="answer"> · {{ countWords(answer.records, fact.record, LOCALE) }}</template
        ><template v-if="units"> · {{ units }}</template></span
      >
    </header>
    <p v-if="passing" class="trouble" role="alert">{{ passing }}</p>
    <ProblemState v-if="problem && !passing" :error="problem" @retry="retry()" @reset="resetScope" />
    <ExhibitState v-else-if="!answer" kind="loading" title="Fetching the records" />
    <ExhibitState
      v-else-if="answer.records === 0"
      kind="empty"
      title="Nothing is left under this choice"
      message="No record fits all of it. Take one condition away, or start over."
    >
      <button class="button" type="button" @click="resetScope">Back to the first choice</button>
    </ExhibitState>
    <template v-else>
      <div
        ref="scroller"
        class="scroller"
        :style="exhibit.height ? { maxHeight: `${Math.max(120, exhibit.height - 60)}px` } : undefined"
        tabindex="0"
        role="group"
        aria-label="Rows of the list"
      >
        <table :class="{ waiting }" :aria-rowcount="answer.lines + 2">
          <thead>
            <tr>
              <th v-if="exhibit.rowNumbers" scope="col" class="numeric counter">No.</th>
              <th v-if="groups.length > 0" scope="col" class="group-head">{{ groups.join(' › ') }}</th>
              <th
                v-for="column in columns"
                :key="column.index"
                scope="col"
                :class="{ numeric: column.numeric }"
                :style="
                  column.width ? { width: `${column.width}px`, minWidth: `${column.width}px`, maxWidth: `${column.width}px` } : undefined
                "
                :aria-sort="
                  directionOf(column.field) === 'asc' ? 'ascending' : directionOf(column.field) === 'desc' ? 'descending' : undefined
                "
              >
                <button
                  v-if="column.field"
                  type="button"
                  :title="`Order by ${column.heading.toLowerCase()}; with Shift or Ctrl, after the orders there are`"
                  @click="orderBy(column.field, $event.shiftKey || $event.ctrlKey || $event.metaKey)"
                >
                  {{ column.heading
                  }}<span v-if="directionOf(column.field)" class="arrow" aria-hidden="true"
                    >{{ directionOf(column.field) === 'asc' ? '↑' : '↓'
                    }}<sub v-if="order.length > 1">{{ order.findIndex((one) => one.field === column.field) + 1 }}</sub></span
                  >
                </button>
                <span v-else>{{ column.heading }}</span>
                <PromptMenu
                  v-if="canFilter(column)"
                  :prompt="{ id: `list-${column.index}`, fields: [column.field!], multiple: true, initial: {} }"
                  :field="column.field!"
                  compact
                />
                <span
                  v-if="composing"
                  class="resize"
                  aria-hidden="true"
                  @pointerdown.stop="beginResize(column, $event)"
                  @dblclick.stop="setWidth(column, undefined)"
                />
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-if="spaceBefore > 0" aria-hidden="true" :style="{ height: `${spaceBefore}px` }">
              <td :colspan="columns.length + before" />
            </tr>
            <tr v-for="{ at, row } in shown" :key="at" :class="row?.kind" :aria-rowindex="at + 2">
              <td v-if="!row" class="missing" :colspan="columns.length + before">…</td>
              <template v-else-if="row.kind === 'record'">
                <td v-if="exhibit.rowNumbers" class="numeric muted">{{ new Intl.NumberFormat(LOCALE).format(row.number) }}</td>
                <td v-if="groups.length > 0" class="muted">{{ exhibit.repeatLabels ? row.groups.join(' › ') : '' }}</td>
                <td
                  v-for="column in columns"
                  :key="column.index"
                  :class="{ numeric: column.numeric, missing: row.values[column.index] === null, fitted: column.width }"
                >
                  <a
                    v-if="column.as === 'link' && isLink(row.values[column.index])"
                    :href="String(row.values[column.index])"
                    target="_blank"
                    rel="noopener noreferrer"
                    >{{ row.values[column.index] }}</a
                  >
                  <img
                    v-else-if="column.as === 'image' && isPicture(row.values[column.index])"
                    :src="String(row.values[column.index])"
                    :alt="column.heading"
                    class="in-cell"
                  />
                  <template v-else>{{ valueText(row.values[column.index], column) }}</template>
                </td>
              </template>
              <template v-else>
                <td v-if="exhibit.rowNumbers" />
                <td class="group" :style="{ paddingLeft: `${(row.depth - 1) * 14}px` }">
                  {{ row.groups.at(-1) }}<template v-if="row.kind === 'footer'"> total</template>
                  <small v-if="row.kind !== 'footer'" class="muted">{{ countWords(row.records, fact.record, LOCALE) }}</small>
                </td>
                <td v-for="column in columns" :key="column.index" :class="{ numeric: column.numeric }">
                  {{ row.kind === 'header' && exhibit.groups[row.depth - 1]?.footer ? '' : totalText(row.totals[column.index], column) }}
                </td>
              </template>
            </tr>
            <tr v-if="spaceAfter > 0" aria-hidden="true" :style="{ height: `${spaceAfter}px` }">
              <td :colspan="columns.length + before" />
            </tr>
          </tbody>
          <tfoot>
            <tr>
              <td v-if="before > 0" :colspan="before">All {{ fact.record.many }}</td>
              <td v-for="(column, position) in columns" :key="column.index" :class="{ numeric: column.numeric }">
                <template v-if="position === 0 && before === 0">All {{ fact.record.many }}</template>
                <template v-else-if="column.total || column.field === null">
                  {{ totalText(answer.totals[column.index], column) }}<small v-if="column.total">{{ TOTAL_WORDS[column.total] }}</small>
                </template>
              </td>
            </tr>
          </tfoot>
        </table>
      </div>
      <nav v-if="!scrolls && pages > 1" class="pages" aria-label="Pages of the list">
        <button class="button" type="button" :disabled="page <= 1" @click="turnTo(page - 1)">Back a page</button>
        <span>Page {{ page }} of {{ new Intl.NumberFormat(LOCALE).format(pages) }}</span>
        <button class="button" type="button" :disabled="page >= pages" @click="turnTo(page + 1)">On a page</button>
      </nav>
    </template>
    <p v-if="exhibit.note" class="note">{{ fill(exhibit.note) }}</p>
  </section>
</template>

<style scoped>
.exhibit {
  margin-top: 20px;
}
header {
  display: flex;
  align-items: baseline;
  gap: 12px;
  margin-bottom: 5px;
}
.number {
  font-size: 12.5px;
}
.trouble {
  margin: 0 0 6px;
  padding: 6px 12px;
  background: var(--brass-tint);
  border-left: 3px solid var(--brass-line);
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
th {
  position: sticky;
  top: 0;
  background: var(--paper);
  border-bottom: 1px solid var(--ink);
  text-align: left;
  font-weight: 400;
  color: var(--ink-2);
  padding: 3px 18px 3px 0;
  white-space: nowrap;
  z-index: 1;
}
th button {
  min-height: 24px;
  min-width: 26px;
  text-align: inherit;
}
th button:hover {
  color: var(--sea);
  text-decoration: underline;
}
.arrow {
  color: var(--sea);
  font-weight: 700;
  margin-left: 3px;
}
td {
  padding: 3px 18px 3px 0;
  white-space: nowrap;
  border-bottom: 1px solid var(--rule-2);
}
.numeric {
  text-align: right;
}
.header .group,
.group-line {
  font-weight: 600;
}
td.group small {
  margin-left: 8px;
  font-weight: 400;
}
tr.header td,
tr.footer td,
tr.group td {
  font-weight: 600;
}
tr.header td {
  border-bottom-color: var(--rule);
}
tr.footer td {
  border-bottom: 1px solid var(--rule);
}
tbody tr {
  height: 27px;
}
.fitted {
  max-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
}
.counter {
  width: 64px;
}
.in-cell {
  display: block;
  height: 22px;
}
.resize {
  position: absolute;
  inset: 2px 4px 2px auto;
  width: 8px;
  cursor: col-resize;
  touch-action: none;
}
.resize:hover {
  background: linear-gradient(var(--sea), var(--sea)) center / 2px 100% no-repeat;
}
.note {
  margin: 6px 0 0;
  font-size: 12.5px;
  color: var(--ink-2);
}
td a {
  color: var(--sea);
}
.missing {
  color: var(--ink-3);
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
