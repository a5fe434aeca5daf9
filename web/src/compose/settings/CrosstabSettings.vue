<script setup lang="ts">
import { reportSummarySchema } from '@bold-compass/core/api';
import { fieldLabel, type Axis, type Comparison, type Crosstab, type MeasureCondition, type Summary } from '@bold-compass/core/model';
import { useQuery } from '@tanstack/vue-query';
import { computed } from 'vue';
import { z } from 'zod';
import { ask } from '../../api/client.ts';
import { SUMMARY_WORDS } from '@bold-compass/core/table';
import { datasetOf, useCompose } from '../context.ts';
import { groupingFields, measureChoices, setAxis, type Edge } from '../edges.ts';
import FilterEditor from './FilterEditor.vue';
import SettingsSection from './SettingsSection.vue';
import AddChoice from '../../shell/AddChoice.vue';

/** A cross-tab as a whole: totals, order, filters, look, and where its figures lead. */
const props = defineProps<{ exhibit: Crosstab }>();
const compose = useCompose();
const { report, change } = compose;
const dataset = computed(() => datasetOf(compose, props.exhibit));
const set = (part: Partial<Crosstab>): void => change({ ...props.exhibit, ...part });
const axis = (edge: Edge, part: Partial<Axis>): void => change(setAxis(props.exhibit, edge, part));
const valueOf = (event: Event): string => (event.target as HTMLInputElement | HTMLSelectElement).value;
const EDGES: { edge: Edge; words: string; total: string }[] = [
  { edge: 'side', words: 'Rows', total: 'Total of the rows' },
  { edge: 'top', words: 'Columns', total: 'Total of the columns' },
];
const SUMMARIES = Object.keys(SUMMARY_WORDS) as Summary[];
function toggleSummary(edge: Edge, summary: Summary): void {
  const { summaries } = props.exhibit[edge];
  axis(edge, { summaries: summaries.includes(summary) ? summaries.filter((one) => one !== summary) : [...summaries, summary] });
}
const measures = computed(() => measureChoices(dataset.value));
const fields = computed(() => groupingFields(dataset.value));

const conditions = computed(() => props.exhibit.conditions);
function addCondition(field: string): void {
  const measure = props.exhibit.cells[0]?.measure ?? measures.value[0]?.name;
  if (field && measure) set({ conditions: [...conditions.value, { field, measure, op: 'gt', value: 'average' }] });
}
const setCondition = (index: number, part: Partial<MeasureCondition>): void =>
  set({ conditions: conditions.value.map((one, at) => (at === index ? { ...one, ...part } : one)) });

const { data: reports } = useQuery({
  queryKey: ['reports'],
  queryFn: ({ signal }) => ask(z.array(reportSummarySchema), 'GET', '/reports', undefined, signal),
});
const leads = computed(
  () => reports.value?.filter(({ id }) => id !== report.value.id && !props.exhibit.drills.some((drill) => drill.report === id)) ?? [],
);
function addDrill(id: string): void {
  const found = reports.value?.find((one) => one.id === id);
  if (found) set({ drills: [...props.exhibit.drills, { report: id, label: found.title }] });
}
const times: { value: string; words: string; against: Comparison }[] = [
  { value: 'year', words: 'the same days, last year', against: { kind: 'back', amount: 1, unit: 'year' } },
  { value: 'month', words: 'the same days, last month', against: { kind: 'back', amount: 1, unit: 'month' } },
];
const againstWords = (against: Comparison): string =>
  against.kind === 'measure'
    ? (measures.value.find(({ name }) => name === against.measure)?.label ?? against.measure)
    : against.kind === 'back'
      ? `${against.amount} ${against.unit} before`
      : String(against.value);
function addAgainst(value: string): void {
  const found = times.find((one) => one.value === value)?.against;
  const against: Comparison = found ?? { kind: 'measure', measure: value };
  if (value) set({ against: [...props.exhibit.against, against] });
}
</script>

<template>
  <SettingsSection title="Totals">
    <template v-for="{ edge, total } in EDGES" :key="edge">
      <label
        >{{ total }}
        <select class="choice" :value="exhibit[edge].total" @change="axis(edge, { total: valueOf($event) as Axis['total'] })">
          <option value="auto">where it says more</option>
          <option value="always">always</option>
          <option value="never">never</option>
        </select>
      </label>
      <label v-if="exhibit[edge].total !== 'never'"
        >It stands
        <select class="choice" :value="exhibit[edge].totalPlace" @change="axis(edge, { totalPlace: valueOf($event) as 'after' })">
          <option value="after">after the members</option>
          <option value="before">before the members</option>
        </select>
      </label>
      <details class="sub">
        <summary>Other lines{{ exhibit[edge].summaries.length > 0 ? ` (${exhibit[edge].summaries.length})` : '' }}</summary>
        <label v-for="summary in SUMMARIES" :key="summary"
          >{{ SUMMARY_WORDS[summary]
          }}<input
            type="checkbox"
            :aria-label="`${SUMMARY_WORDS[summary]}, ${edge === 'side' ? 'as a row' : 'as a column'}`"
            :checked="exhibit[edge].summaries.includes(summary)"
            @change="toggleSummary(edge, summary)"
        /></label>
      </details>
    </template>
  </SettingsSection>
  <SettingsSection title="Layout and first view">
    <label
      >Levels of the rows
      <select class="choice" :value="exhibit.side.layout" @change="axis('side', { layout: valueOf($event) as Axis['layout'] })">
        <option value="tree">as a tree</option>
        <option value="columns">as columns</option>
      </select>
    </label>
    <label v-if="exhibit.side.layout === 'columns'"
      >Words on each row
      <input type="checkbox" :checked="exhibit.side.repeatLabels" @change="axis('side', { repeatLabels: !exhibit.side.repeatLabels })"
    /></label>
    <label v-if="exhibit.cells.length > 1"
      >Measures
      <select class="choice" :value="exhibit.measuresOn" @change="set({ measuresOn: valueOf($event) as Crosstab['measuresOn'] })">
        <option value="top">side by side</option>
        <option value="side">one below the other</option>
      </select>
    </label>
    <template v-for="{ edge, words } in EDGES" :key="edge">
      <label v-if="exhibit[edge].fields.length > 1"
        >{{ words }} open at first
        <select class="choice" :value="exhibit[edge].openLevels" @change="axis(edge, { openLevels: Number(valueOf($event)) })">
          <option v-for="(field, depth) in exhibit[edge].fields" :key="field" :value="depth">
            to {{ fieldLabel(dataset, field).toLowerCase() }}
          </option>
        </select>
      </label>
      <label
        >Hide empty {{ words.toLowerCase() }}
        <input type="checkbox" :checked="exhibit[edge].hideEmpty" @change="axis(edge, { hideEmpty: !exhibit[edge].hideEmpty })"
      /></label>
    </template>
  </SettingsSection>
  <SettingsSection title="Filter" :about="exhibit.filter ? 'on' : undefined">
    <FilterEditor :filter="exhibit.filter" :dataset="dataset" :fields="fields" @change="set({ filter: $event })" />
  </SettingsSection>
  <SettingsSection title="Conditions on measures" :about="conditions.length ? String(conditions.length) : undefined">
    <div v-for="(condition, index) in conditions" :key="index" class="condition">
      <p>
        Only {{ fieldLabel(dataset, condition.field).toLowerCase() }} whose
        <button type="button" class="link" @click="set({ conditions: conditions.filter((_, at) => at !== index) })">Remove</button>
      </p>
      <select
        class="choice"
        :value="condition.measure"
        aria-label="Measure of the condition"
        @change="setCondition(index, { measure: valueOf($event) })"
      >
        <option v-for="measure in measures" :key="measure.name" :value="measure.name">{{ measure.label }}</option>
      </select>
      <select class="choice" :value="condition.op" aria-label="Comparison" @change="setCondition(index, { op: valueOf($event) as 'gt' })">
        <option value="gt">is above</option>
        <option value="ge">is at least</option>
        <option value="lt">is below</option>
        <option value="le">is at most</option>
      </select>
      <select
        class="choice"
        :value="condition.value === 'average' ? 'average' : 'number'"
        aria-label="Held against"
        @change="setCondition(index, { value: valueOf($event) === 'average' ? 'average' : 0 })"
      >
        <option value="average">the average of all</option>
        <option value="number">a number</option>
      </select>
      <input
        v-if="condition.value !== 'average'"
        class="entry"
        type="number"
        step="any"
        :value="condition.value"
        aria-label="Number of the condition"
        @change="Number.isFinite(Number(valueOf($event))) && setCondition(index, { value: Number(valueOf($event)) })"
      />
    </div>
    <AddChoice class="wide" label="Keep only some members of" words="keep only some members of …" @add="addCondition">
      <option v-for="field in fields" :key="field.name" :value="field.name">{{ field.group }}: {{ field.label }}</option>
    </AddChoice>
  </SettingsSection>
  <SettingsSection title="Look">
    <label
      >Style
      <select class="choice" :value="exhibit.style" @change="set({ style: valueOf($event) as Crosstab['style'] })">
        <option value="yearbook">yearbook</option>
        <option value="ledger">ledger</option>
        <option value="open">open</option>
      </select>
    </label>
    <label v-if="exhibit.side.fields.length > 0"
      >Shade by turns
      <select class="choice" :value="exhibit.banding ?? ''" @change="set({ banding: valueOf($event) || undefined })">
        <option value="">nothing</option>
        <option v-for="field in exhibit.side.fields" :key="field" :value="field">
          each {{ fieldLabel(dataset, field).toLowerCase() }}
        </option>
      </select>
    </label>
    <label
      >Where there is no value <input class="entry short" :value="exhibit.blank" maxlength="20" @change="set({ blank: valueOf($event) })"
    /></label>
    <label
      >Keep labels and headings in view <input type="checkbox" :checked="exhibit.freeze" @change="set({ freeze: !exhibit.freeze })"
    /></label>
    <button v-if="Object.keys(exhibit.widths).length > 0" type="button" class="link" @click="set({ widths: {} })">
      Fit all widths again
    </button>
  </SettingsSection>
  <SettingsSection title="Comparisons" :about="exhibit.against.length ? String(exhibit.against.length) : undefined">
    <p v-for="(against, index) in exhibit.against" :key="index" class="row">
      {{ againstWords(against) }}
      <button type="button" class="link" @click="set({ against: exhibit.against.filter((_, at) => at !== index) })">Remove</button>
    </p>
    <AddChoice class="wide" label="Hold figures against" words="add …" @add="addAgainst">
      <option v-for="one in times" :key="one.value" :value="one.value">{{ one.words }}</option>
      <option v-for="measure in measures" :key="measure.name" :value="measure.name">{{ measure.label }}</option>
    </AddChoice>
  </SettingsSection>
  <SettingsSection title="Drill-through" :about="exhibit.drills.length ? String(exhibit.drills.length) : undefined">
    <div v-for="(drill, index) in exhibit.drills" :key="drill.report" class="row">
      <input
        class="entry"
        :value="drill.label"
        :aria-label="`Words of the link to ${drill.report}`"
        @change="
          set({ drills: exhibit.drills.map((one, at) => (at === index ? { ...one, label: valueOf($event).trim() || one.label } : one)) })
        "
      />
      <button type="button" class="link" @click="set({ drills: exhibit.drills.filter((_, at) => at !== index) })">Remove</button>
    </div>
    <AddChoice v-if="leads.length > 0" class="wide" label="Lead to a report" words="lead to …" @add="addDrill">
      <option v-for="one in leads" :key="one.id" :value="one.id">{{ one.title }}</option>
    </AddChoice>
  </SettingsSection>
</template>

<style scoped>
.short {
  width: 60px;
}
.condition {
  display: grid;
  gap: 4px;
  border-left: 3px solid var(--sea-tint);
  padding-left: 8px;
  font-size: 13px;
}
.condition p,
.row {
  margin: 0;
  display: flex;
  justify-content: space-between;
  gap: 6px;
  align-items: center;
  font-size: 13px;
}
.sub summary {
  cursor: pointer;
  color: var(--sea);
  font-size: 12.5px;
  min-height: 24px;
}
</style>
