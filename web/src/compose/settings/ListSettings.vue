<script setup lang="ts">
import { fieldLabel, findField, findMeasure, measureNamed, type List, type ListColumn } from '@bold-compass/core/model';
import { mdiDragVertical } from '@mdi/js';
import { computed, ref } from 'vue';
import { VueDraggable } from 'vue-draggable-plus';
import { TOTAL_WORDS } from '../../list/total-words.ts';
import { datasetOf, useCompose } from '../context.ts';
import { measureChoices, recordFields } from '../edges.ts';
import FilterEditor from './FilterEditor.vue';
import FormatEditor from './FormatEditor.vue';
import SettingsSection from './SettingsSection.vue';
import AddChoice from '../../shell/AddChoice.vue';

/** A list: its columns, its groups, and how it is leafed through. */
const props = defineProps<{ exhibit: List }>();
const compose = useCompose();
const { change } = compose;
const dataset = computed(() => datasetOf(compose, props.exhibit));
const set = (part: Partial<List>): void => change({ ...props.exhibit, ...part });
const valueOf = (event: Event): string => (event.target as HTMLInputElement | HTMLSelectElement).value;

const opened = ref(-1);
const labelOf = ({ field, measure }: ListColumn): string =>
  field
    ? findField(dataset.value, field)
      ? fieldLabel(dataset.value, field)
      : field
    : (findMeasure(dataset.value, measure!)?.label ?? measure!);
const setColumn = (index: number, part: Partial<ListColumn>): void =>
  set({ columns: props.exhibit.columns.map((one, at) => (at === index ? { ...one, ...part } : one)) });
function move(index: number, by: -1 | 1): void {
  const columns = [...props.exhibit.columns];
  const [column] = columns.splice(index, 1);
  columns.splice(index + by, 0, column);
  set({ columns });
}
const fields = computed(() => recordFields(dataset.value, props.exhibit.fact));
const measures = computed(() => measureChoices(dataset.value));
function add(value: string): void {
  const column = value.startsWith('measure ') ? { measure: value.slice(8) } : { field: value };
  if (value) set({ columns: [...props.exhibit.columns, column] });
}
const isNumber = ({ field }: ListColumn): boolean => {
  const place = field ? findField(dataset.value, field) : undefined;
  return place?.kind === 'fact' || place?.kind === 'attribute' ? place.field.type === 'integer' || place.field.type === 'decimal' : false;
};
const formatOf = (column: ListColumn) => {
  if (column.format) return column.format;
  if (column.measure) return measureNamed(dataset.value, column.measure).format;
  const place = findField(dataset.value, column.field!);
  const scale = place?.kind === 'fact' || place?.kind === 'attribute' ? place.field.scale : 0;
  return { kind: 'number' as const, decimals: scale, unit: 'one' as const };
};

const freeGroups = computed(() => fields.value.filter(({ name }) => !props.exhibit.groups.some(({ field }) => field === name)));
function setFact(fact: string): void {
  const known = recordFields(dataset.value, fact);
  const kept = props.exhibit.columns.filter(({ field }) => field === undefined || known.some(({ name }) => name === field));
  const columns = kept.length > 0 ? kept : known.slice(-5).map(({ name }) => ({ field: name }));
  const groups = props.exhibit.groups.filter(({ field }) => known.some(({ name }) => name === field));
  set({ fact, columns, groups, order: [], filter: null });
}
</script>

<template>
  <SettingsSection title="Columns" open>
    <label v-if="dataset.facts.length > 1"
      >Records
      <select class="choice" :value="exhibit.fact" @change="setFact(valueOf($event))">
        <option v-for="fact in dataset.facts" :key="fact.name" :value="fact.name">{{ fact.label }}</option>
      </select>
    </label>
    <VueDraggable
      :model-value="exhibit.columns"
      tag="ul"
      class="columns"
      handle=".handle"
      :animation="120"
      @update:model-value="set({ columns: $event as ListColumn[] })"
    >
      <li v-for="(column, index) in exhibit.columns" :key="`${column.field ?? column.measure} ${index}`">
        <div class="line">
          <v-icon class="handle" :icon="mdiDragVertical" size="16" aria-hidden="true" />
          <button
            type="button"
            class="name"
            :class="{ hidden: column.hidden }"
            :aria-expanded="opened === index"
            @click="opened = opened === index ? -1 : index"
          >
            {{ column.heading ?? labelOf(column) }}
          </button>
          <span v-if="column.total" class="muted">{{ TOTAL_WORDS[column.total] }}</span>
        </div>
        <div v-if="opened === index" class="form">
          <label class="stacked"
            >Heading
            <input
              class="entry"
              maxlength="60"
              :value="column.heading ?? ''"
              :placeholder="labelOf(column)"
              @change="setColumn(index, { heading: valueOf($event).trim() || undefined })"
          /></label>
          <label v-if="column.field"
            >In headers, footers and totals
            <select
              class="choice"
              :value="column.total ?? ''"
              @change="setColumn(index, { total: (valueOf($event) || undefined) as ListColumn['total'] })"
            >
              <option value="">nothing</option>
              <template v-for="(words, name) in TOTAL_WORDS" :key="name">
                <option v-if="isNumber(column) || name === 'count' || name === 'count_distinct'" :value="name">{{ words }}</option>
              </template>
            </select>
          </label>
          <FormatEditor
            v-if="column.measure || isNumber(column)"
            :format="formatOf(column)"
            :own="column.format !== undefined"
            @change="setColumn(index, { format: $event })"
          />
          <label v-else
            >Texts are
            <select class="choice" :value="column.as ?? 'text'" @change="setColumn(index, { as: valueOf($event) as ListColumn['as'] })">
              <option value="text">texts</option>
              <option value="link">links</option>
              <option value="image">pictures</option>
            </select>
          </label>
          <label
            >Hidden
            <input type="checkbox" :checked="column.hidden" @change="setColumn(index, { hidden: column.hidden ? undefined : true })"
          /></label>
          <div class="actions-line">
            <button type="button" class="link" :disabled="index === 0" @click="move(index, -1)">Move left</button>
            <button type="button" class="link" :disabled="index === exhibit.columns.length - 1" @click="move(index, 1)">
              to the right
            </button>
            <button
              type="button"
              class="link"
              :disabled="exhibit.columns.length === 1"
              @click="set({ columns: exhibit.columns.filter((_, at) => at !== index) })"
            >
              Remove
            </button>
          </div>
        </div>
      </li>
    </VueDraggable>
    <AddChoice class="wide" label="Add a column" words="add a column …" @add="add">
      <option v-for="field in fields" :key="field.name" :value="field.name">{{ field.group }}: {{ field.label }}</option>
      <option v-for="measure in measures" :key="measure.name" :value="`measure ${measure.name}`">Measure: {{ measure.label }}</option>
    </AddChoice>
  </SettingsSection>
  <SettingsSection title="Groups" :about="exhibit.groups.length ? String(exhibit.groups.length) : 'none'" :open="exhibit.groups.length > 0">
    <div v-for="(group, index) in exhibit.groups" :key="group.field" class="group">
      <p>
        {{ index + 1 }}. {{ fieldLabel(dataset, group.field) }}
        <button type="button" class="link" @click="set({ groups: exhibit.groups.filter((_, at) => at !== index) })">Remove</button>
      </p>
      <label
        >A header
        <input
          type="checkbox"
          :checked="group.header"
          @change="set({ groups: exhibit.groups.map((one, at) => (at === index ? { ...one, header: !one.header } : one)) })"
      /></label>
      <label
        >A footer
        <input
          type="checkbox"
          :checked="group.footer"
          @change="set({ groups: exhibit.groups.map((one, at) => (at === index ? { ...one, footer: !one.footer } : one)) })"
      /></label>
    </div>
    <AddChoice
      class="wide"
      label="Group by"
      words="group by …"
      @add="set({ groups: [...exhibit.groups, { field: $event, header: true, footer: true }] })"
    >
      <option v-for="field in freeGroups" :key="field.name" :value="field.name">{{ field.group }}: {{ field.label }}</option>
    </AddChoice>
    <template v-if="exhibit.groups.length > 0">
      <label>Show single records <input type="checkbox" :checked="exhibit.detail" @change="set({ detail: !exhibit.detail })" /></label>
      <label v-if="exhibit.detail"
        >Group words on each row
        <input type="checkbox" :checked="exhibit.repeatLabels" @change="set({ repeatLabels: !exhibit.repeatLabels })"
      /></label>
    </template>
  </SettingsSection>
  <SettingsSection title="Filter" :about="exhibit.filter ? 'on' : undefined">
    <FilterEditor :filter="exhibit.filter" :dataset="dataset" :fields="fields" @change="set({ filter: $event })" />
  </SettingsSection>
  <SettingsSection title="Rows">
    <label>Row numbers <input type="checkbox" :checked="exhibit.rowNumbers" @change="set({ rowNumbers: !exhibit.rowNumbers })" /></label>
    <label
      >Many rows
      <select class="choice" :value="exhibit.paging" @change="set({ paging: valueOf($event) as List['paging'] })">
        <option value="pages">in pages</option>
        <option value="scroll">scrolled</option>
      </select>
    </label>
  </SettingsSection>
</template>

<style scoped>
.columns {
  list-style: none;
  margin: 0;
  padding: 0;
}
.columns > li {
  border-bottom: 1px solid var(--rule-2);
}
.line {
  display: flex;
  align-items: center;
  gap: 4px;
  font-size: 13px;
}
.handle {
  cursor: grab;
}
.name {
  flex: 1;
  text-align: left;
  min-height: 26px;
}
.name.hidden {
  text-decoration: line-through;
  color: var(--ink-2);
}
.form {
  display: grid;
  gap: 6px;
  padding: 2px 0 8px 20px;
}
.group p {
  display: flex;
  gap: 12px;
  justify-content: space-between;
  margin: 0;
  font-size: 13px;
}
.group {
  display: grid;
  gap: 3px;
}
</style>
