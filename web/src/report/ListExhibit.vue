<script setup lang="ts">
import { listResponseSchema } from '@bold-compass/core/api';
import { dayLabel, parseIsoDate } from '@bold-compass/core/calendar';
import { cellText, countWords, NO_VALUE, unitWords } from '@bold-compass/core/format';
import { factNamed, fieldLabel, fieldPlace, type List, type ListColumn, type NumberFormat } from '@bold-compass/core/model';
import { keepPreviousData, useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { ask, isPassing } from '../api/client.ts';
import { useReport } from './context.ts';
import ExhibitState from './ExhibitState.vue';
import ProblemState from './ProblemState.vue';
import { LOCALE } from './state-words.ts';

const props = defineProps<{ exhibit: List; number: number }>();
const route = useRoute();
const { report, scope, draft, version, view, navigate, resetScope } = useReport();
const PAGE = 50;

const text = (key: string): string[] => {
  const value = route.query[`${props.exhibit.id}.${key}`];
  return (Array.isArray(value) ? value : [value]).filter((one): one is string => typeof one === 'string');
};
const order = computed(() => {
  const [field, direction] = text('order');
  return field && props.exhibit.columns.some((column) => column.field === field)
    ? [{ field, direction: direction === 'desc' ? ('desc' as const) : ('asc' as const) }]
    : props.exhibit.order;
});
const page = computed(() => Math.max(1, Math.floor(Number(text('page')[0] ?? 1)) || 1));

const { data, error, failureReason, isPlaceholderData, refetch } = useQuery({
  queryKey: computed(() => ['list', report.value.id, version.value, props.exhibit.id, scope.value, order.value, page.value]),
  queryFn: ({ signal }) =>
    ask(
      listResponseSchema,
      'POST',
      `/reports/${report.value.id}/exhibits/${props.exhibit.id}/list`,
      { scope: scope.value, draft: draft.value, order: order.value, offset: (page.value - 1) * PAGE, limit: PAGE },
      signal,
    ),
  placeholderData: keepPreviousData,
});

const fact = computed(() => factNamed(view.value.dataset, props.exhibit.fact));
const columns = computed(() =>
  props.exhibit.columns.map((column) => {
    const place = fieldPlace(view.value.dataset, column.field);
    const type =
      place.kind === 'period' ? 'text' : place.kind === 'level' ? (place.level.labelColumn ? 'text' : place.level.type) : place.field.type;
    const scale = place.kind === 'fact' || place.kind === 'attribute' ? place.field.scale : 0;
    const format: NumberFormat = column.format ?? { kind: 'number', decimals: scale, unit: 'one' };
    // Numbers that name something are not counted in thousands.
    const names = column.total === undefined || column.total === 'count_distinct';
    return {
      ...column,
      heading: column.heading ?? fieldLabel(view.value.dataset, column.field),
      type,
      format,
      numeric: type === 'decimal' || (type === 'integer' && !names),
      names: names && type === 'integer',
    };
  }),
);
type Column = (typeof columns.value)[number];

function show(value: string | number | boolean | null, column: Column): string {
  if (value === null) return NO_VALUE;
  if (typeof value === 'boolean') return value ? 'Yes' : 'No';
  if (typeof value === 'number') return column.names ? String(value) : cellText(value, column.format, LOCALE);
  return column.type === 'date' ? dayLabel(parseIsoDate(value)!, LOCALE, 'short') : value;
}
const TOTAL_WORDS: Record<NonNullable<ListColumn['total']>, string> = {
  sum: 'sum',
  avg: 'average',
  min: 'smallest',
  max: 'largest',
  count: 'count',
  count_distinct: 'different',
};
const showTotal = (value: number | null, column: Column): string =>
  column.total === undefined
    ? ''
    : cellText(
        value,
        column.total === 'count_distinct' || column.total === 'count' ? { kind: 'number', decimals: 0, unit: 'one' } : column.format,
        LOCALE,
      );

const pages = computed(() => Math.max(1, Math.ceil((data.value?.total ?? 0) / PAGE)));
const directionOf = (field: string): 'asc' | 'desc' | null => (order.value[0]?.field === field ? order.value[0].direction : null);
const orderBy = (field: string): void =>
  navigate(
    { [`${props.exhibit.id}.order`]: [field, directionOf(field) === 'asc' ? 'desc' : 'asc'], [`${props.exhibit.id}.page`]: undefined },
    'step',
  );
const turnTo = (to: number): void => navigate({ [`${props.exhibit.id}.page`]: to > 1 ? String(to) : undefined }, 'step');
const problem = computed(() => error.value ?? (!data.value && isPassing(failureReason.value) ? failureReason.value : null));
const units = computed(() =>
  [
    ...new Set(
      columns.value
        .map((column) => (column.format.kind === 'number' ? '' : unitWords(column.format, LOCALE)))
        .filter((word) => word !== ''),
    ),
  ].join(', '),
);
const headingId = computed(() => `heading-${props.exhibit.id}`);
</script>

<template>
  <section class="exhibit" :aria-labelledby="headingId" :aria-busy="isPlaceholderData">
    <header>
      <h2 :id="headingId">{{ exhibit.title }}</h2>
      <span class="muted number"
        >Exhibit {{ number }}<template v-if="data"> · {{ countWords(data.total, fact.record, LOCALE) }}</template
        ><template v-if="units"> · {{ units }}</template></span
      >
    </header>
    <p v-if="data && isPassing(failureReason)" class="trouble" role="alert">{{ failureReason?.message }}</p>
    <ProblemState v-if="problem" :error="problem" @retry="refetch()" @reset="resetScope" />
    <ExhibitState v-else-if="!data" kind="loading" title="Fetching the records" />
    <ExhibitState
      v-else-if="data.total === 0"
      kind="empty"
      title="Nothing is left under this choice"
      message="No record fits all of it. Take one condition away, or start over."
    >
      <button class="button" type="button" @click="resetScope">Back to the first choice</button>
    </ExhibitState>
    <template v-else>
      <div class="scroller" tabindex="0" role="group" aria-label="Rows of the list">
        <table :class="{ waiting: isPlaceholderData }">
          <thead>
            <tr>
              <th
                v-for="column in columns"
                :key="column.field"
                scope="col"
                :class="{ numeric: column.numeric }"
                :aria-sort="
                  directionOf(column.field) === 'asc' ? 'ascending' : directionOf(column.field) === 'desc' ? 'descending' : undefined
                "
              >
                <button type="button" :title="`Order by ${column.heading.toLowerCase()}`" @click="orderBy(column.field)">
                  {{ column.heading
                  }}<span v-if="directionOf(column.field)" class="arrow" aria-hidden="true">{{
                    directionOf(column.field) === 'asc' ? '↑' : '↓'
                  }}</span>
                </button>
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(row, index) in data.rows" :key="index">
              <td
                v-for="(column, position) in columns"
                :key="column.field"
                :class="{ numeric: column.numeric, missing: row[position] === null }"
              >
                {{ show(row[position], column) }}
              </td>
            </tr>
          </tbody>
          <tfoot>
            <tr>
              <td v-for="(column, position) in columns" :key="column.field" :class="{ numeric: column.numeric }">
                <template v-if="position === 0">All {{ fact.record.many }}</template>
                <template v-else-if="column.total">
                  {{ showTotal(data.totals[position], column) }}<small>{{ TOTAL_WORDS[column.total] }}</small>
                </template>
              </td>
            </tr>
          </tfoot>
        </table>
      </div>
      <nav v-if="pages > 1" class="pages" aria-label="Pages of the list">
        <button class="button" type="button" :disabled="page <= 1" @click="turnTo(page - 1)">Back a page</button>
        <span>Page {{ page }} of {{ new Intl.NumberFormat(LOCALE).format(pages) }}</span>
        <button class="button" type="button" :disabled="page >= pages" @click="turnTo(page + 1)">On a page</button>
      </nav>
    </template>
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
