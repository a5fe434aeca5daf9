<script setup lang="ts">
import { LOCALE, unitsWhereTheyDiffer } from '@bold-compass/core/format';
import type { List } from '@bold-compass/core/model';
import type { TableColumn } from '@bold-compass/core/table';
import { computed } from 'vue';
import PromptPhrase from '../prompts/PromptPhrase.vue';
import WidthHandle from '../report/WidthHandle.vue';
import { useWidthDrawing } from '../report/width-drawing.ts';
import { directionOf, type ListOrder } from './order.ts';

/**
 * The headings of a list: they order and filter it, and their widths are drawn. `least` are the widths, in
 * pixels, that headings keep from the left on.
 */
const props = defineProps<{
  exhibit: List;
  columns: TableColumn[];
  groups: string[];
  order: ListOrder;
  composing: boolean;
  least: number[];
}>();
const emit = defineEmits<{ order: [field: string, added: boolean]; resize: [index: number, width: number | undefined] }>();

const drawing = useWidthDrawing((what, width) => emit('resize', Number(what), width));
const { drawing: drawnWidths } = drawing;
const widthOf = ({ index, width }: TableColumn): number | undefined => drawnWidths.value[index] ?? width;
const before = computed(() => (props.exhibit.rowNumbers ? 1 : 0) + (props.groups.length > 0 ? 1 : 0));
const kept = (position: number): Record<string, string> | undefined =>
  props.least[position] ? { minWidth: `${props.least[position]}px` } : undefined;
function styleOf(column: TableColumn, position: number): Record<string, string> | undefined {
  const width = widthOf(column);
  if (width === undefined) return kept(before.value + position);
  return { width: `${width}px`, minWidth: `${width}px`, maxWidth: `${width}px` };
}
/** The width that a heading has on the page now. */
const widthNow = (event: Event): number => (event.currentTarget as HTMLElement).parentElement!.offsetWidth;
const ARIA_SORT = { asc: 'ascending', desc: 'descending' } as const;
function sort(column: TableColumn): 'ascending' | 'descending' | undefined {
  const direction = directionOf(props.order, column.field);
  return direction ? ARIA_SORT[direction] : undefined;
}
const units = computed(() =>
  unitsWhereTheyDiffer(
    props.columns.map(({ numeric, format }) => (numeric ? format : null)),
    LOCALE,
  ),
);
/** Fields whose members can be chosen from their heading. */
const canFilter = ({ field, type }: TableColumn): boolean => field !== null && (type === 'text' || type === 'boolean');
</script>

<template>
  <thead>
    <tr>
      <th v-if="exhibit.rowNumbers" scope="col" class="numeric counter" :style="kept(0)">No.</th>
      <th v-if="groups.length > 0" scope="col" :style="kept(before - 1)">{{ groups.join(' › ') }}</th>
      <th
        v-for="(column, position) in columns"
        :key="column.index"
        scope="col"
        :class="{ numeric: column.numeric }"
        :style="styleOf(column, position)"
        :aria-sort="sort(column)"
      >
        <button
          v-if="column.field"
          type="button"
          :title="`Order by ${column.heading.toLowerCase()}; with Shift or Ctrl, after the orders there are`"
          @click="emit('order', column.field, $event.shiftKey || $event.ctrlKey || $event.metaKey)"
        >
          {{ column.heading
          }}<span v-if="sort(column)" class="arrow" aria-hidden="true"
            >{{ sort(column) === 'ascending' ? '↑' : '↓'
            }}<sub v-if="order.length > 1">{{ order.findIndex((one) => one.field === column.field) + 1 }}</sub></span
          >
        </button>
        <span v-else>{{ column.heading }}</span>
        <small v-if="units[position]" class="unit">{{ units[position] }}</small>
        <PromptPhrase
          v-if="canFilter(column)"
          :prompt="{ id: `list-${column.index}`, kind: 'members', fields: [column.field!], multiple: true, initial: {} }"
          :field="column.field!"
          compact
        />
        <WidthHandle
          :words="column.heading"
          :width="widthOf(column) ?? 0"
          @begin="drawing.begin(String(column.index), widthNow($event), $event)"
          @key="drawing.byKey(String(column.index), widthNow($event), $event)"
          @fit="emit('resize', column.index, undefined)"
        />
      </th>
      <th v-if="exhibit.links?.length && !composing" scope="col">Links</th>
    </tr>
  </thead>
</template>

<style scoped>
.unit {
  margin-left: 0.35em;
  color: var(--ink-2);
}
th {
  box-sizing: border-box;
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
.counter {
  width: 64px;
}
.numeric {
  text-align: right;
}
</style>
