<script setup lang="ts">
import { fieldLabel, type Axis, type Comparison, type Crosstab, type MeasureCondition, type Summary } from '@bold-compass/core/model';
import { computed } from 'vue';
import { SUMMARY_WORDS } from '@bold-compass/core/table';
import { datasetOf, useCompose } from '../context.ts';
import { groupingFields, measureChoices, setAxis, type Edge } from '../edges.ts';
import FilterEditor from './FilterEditor.vue';
import LinkList from './LinkList.vue';
import SettingsSection from './SettingsSection.vue';
import AddChoice from '../../shell/AddChoice.vue';
import FoldedPart from '../../shell/FoldedPart.vue';

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

/** Fields whose members a link can carry along: those of both axes, and what the report asks for. */
const carried = computed(() => [
  ...new Set([
    ...props.exhibit.side.fields,
    ...props.exhibit.top.fields,
    ...report.value.prompts.flatMap((prompt) => (prompt.kind === 'members' ? prompt.fields : [])),
  ]),
]);
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
      <v-select
        :label="total"
        :model-value="exhibit[edge].total"
        :items="[
          { value: 'auto', title: 'Automatic' },
          { value: 'always', title: 'Always' },
          { value: 'never', title: 'Never' },
        ]"
        @update:model-value="axis(edge, { total: $event as Axis['total'] })"
      />
      <v-select
        v-if="exhibit[edge].total !== 'never'"
        label="Total position"
        :model-value="exhibit[edge].totalPlace"
        :items="[
          { value: 'after', title: 'After members' },
          { value: 'before', title: 'Before members' },
        ]"
        @update:model-value="axis(edge, { totalPlace: $event as 'after' })"
      />
      <FoldedPart :title="`Summary lines${exhibit[edge].summaries.length > 0 ? ` (${exhibit[edge].summaries.length})` : ''}`">
        <v-checkbox
          v-for="summary in SUMMARIES"
          :key="summary"
          :label="SUMMARY_WORDS[summary]"
          :aria-label="`${SUMMARY_WORDS[summary]}, ${edge === 'side' ? 'as a row' : 'as a column'}`"
          :model-value="exhibit[edge].summaries.includes(summary)"
          @update:model-value="toggleSummary(edge, summary)"
        />
      </FoldedPart>
    </template>
  </SettingsSection>
  <SettingsSection title="Layout">
    <v-select
      label="Row layout"
      :model-value="exhibit.side.layout"
      :items="[
        { value: 'tree', title: 'Tree' },
        { value: 'columns', title: 'Columns' },
      ]"
      @update:model-value="axis('side', { layout: $event as Axis['layout'] })"
    />
    <v-checkbox
      v-if="exhibit.side.layout === 'columns'"
      label="Repeat labels"
      :model-value="exhibit.side.repeatLabels"
      @update:model-value="axis('side', { repeatLabels: !exhibit.side.repeatLabels })"
    />
    <v-select
      v-if="exhibit.cells.length > 1"
      label="Measure layout"
      :model-value="exhibit.measuresOn"
      :items="[
        { value: 'top', title: 'Side by side' },
        { value: 'side', title: 'Stacked' },
      ]"
      @update:model-value="set({ measuresOn: $event as Crosstab['measuresOn'] })"
    />
    <template v-for="{ edge, words } in EDGES" :key="edge">
      <v-select
        v-if="exhibit[edge].fields.length > 1"
        :label="`${words} open to`"
        :model-value="exhibit[edge].openLevels"
        :items="exhibit[edge].fields.map((field, depth) => ({ value: depth, title: fieldLabel(dataset, field) }))"
        @update:model-value="axis(edge, { openLevels: $event })"
      />
      <v-checkbox
        :label="`Hide empty ${words.toLowerCase()}`"
        :model-value="exhibit[edge].hideEmpty"
        @update:model-value="axis(edge, { hideEmpty: !exhibit[edge].hideEmpty })"
      />
    </template>
  </SettingsSection>
  <SettingsSection title="Filter" :about="exhibit.filter ? 'on' : undefined">
    <FilterEditor :filter="exhibit.filter" :dataset="dataset" :fields="fields" @change="set({ filter: $event })" />
  </SettingsSection>
  <SettingsSection title="Conditions on measures" :about="conditions.length ? String(conditions.length) : undefined">
    <div v-for="(condition, index) in conditions" :key="index" class="condition">
      <p>
        Only {{ fieldLabel(dataset, condition.field).toLowerCase() }} whose
        <v-btn variant="plain" class="inline" @click="set({ conditions: conditions.filter((_, at) => at !== index) })">Remove</v-btn>
      </p>
      <v-select
        :model-value="condition.measure"
        aria-label="Measure of the condition"
        :items="measures.map((measure) => ({ value: measure.name, title: measure.label }))"
        @update:model-value="setCondition(index, { measure: $event })"
      />
      <v-select
        :model-value="condition.op"
        aria-label="Comparison"
        :items="[
          { value: 'gt', title: 'Is above' },
          { value: 'ge', title: 'Is at least' },
          { value: 'lt', title: 'Is below' },
          { value: 'le', title: 'Is at most' },
        ]"
        @update:model-value="setCondition(index, { op: $event as 'gt' })"
      />
      <v-select
        :model-value="condition.value === 'average' ? 'average' : 'number'"
        aria-label="Compare with"
        :items="[
          { value: 'average', title: 'The average' },
          { value: 'number', title: 'Number' },
        ]"
        @update:model-value="setCondition(index, { value: $event === 'average' ? 'average' : 0 })"
      />
      <v-text-field
        v-if="condition.value !== 'average'"
        type="number"
        step="any"
        :model-value="condition.value"
        aria-label="Number of the condition"
        @change="Number.isFinite(Number(valueOf($event))) && setCondition(index, { value: Number(valueOf($event)) })"
      />
    </div>
    <AddChoice
      label="Add condition on members of"
      :items="fields.map((field) => ({ value: field.name, title: field.label, group: field.group }))"
      @add="addCondition"
    />
  </SettingsSection>
  <SettingsSection title="Style">
    <v-select
      label="Style"
      :model-value="exhibit.style"
      :items="[
        { value: 'yearbook', title: 'Yearbook' },
        { value: 'ledger', title: 'Ledger' },
        { value: 'open', title: 'Open' },
      ]"
      @update:model-value="set({ style: $event as Crosstab['style'] })"
    />
    <v-select
      v-if="exhibit.side.fields.length > 0"
      label="Banding"
      :model-value="exhibit.banding ?? ''"
      :items="[
        { value: '', title: 'None' },
        ...exhibit.side.fields.map((field) => ({ value: field, title: `By ${fieldLabel(dataset, field).toLowerCase()}` })),
      ]"
      @update:model-value="set({ banding: $event || undefined })"
    />
    <v-text-field
      label="Missing values as"
      class="short"
      :model-value="exhibit.blank"
      maxlength="20"
      @change="set({ blank: valueOf($event) })"
    />
    <v-checkbox label="Freeze headings" :model-value="exhibit.freeze" @update:model-value="set({ freeze: !exhibit.freeze })" />
    <v-btn v-if="Object.keys(exhibit.widths).length > 0" variant="plain" class="inline" @click="set({ widths: {} })">
      Reset column widths
    </v-btn>
  </SettingsSection>
  <SettingsSection title="Comparisons" :about="exhibit.against.length ? String(exhibit.against.length) : undefined">
    <p v-for="(against, index) in exhibit.against" :key="index" class="row">
      {{ againstWords(against) }}
      <v-btn variant="plain" class="inline" @click="set({ against: exhibit.against.filter((_, at) => at !== index) })">Remove</v-btn>
    </p>
    <AddChoice
      label="Add comparison"
      :items="[
        ...times.map((one) => ({ value: one.value, title: one.words })),
        ...measures.map((measure) => ({ value: measure.name, title: measure.label })),
      ]"
      @add="addAgainst"
    />
  </SettingsSection>
  <SettingsSection title="Drill-through" :about="exhibit.drills.length ? String(exhibit.drills.length) : undefined">
    <LinkList
      :links="exhibit.drills"
      :report="report"
      :dataset="dataset"
      :fields="carried"
      records
      :most="20"
      @change="set({ drills: $event })"
    >
      <template #default="{ link, set: setLink }">
        <v-select
          label="Link on"
          :model-value="link.from ?? 'cells'"
          :items="[
            { value: 'cells', title: 'Figures' },
            { value: 'labels', title: 'Row labels' },
          ]"
          @update:model-value="setLink({ from: $event === 'cells' ? undefined : 'labels', level: undefined, measures: undefined })"
        />
        <v-select
          v-if="link.from === 'labels'"
          label="Level"
          :model-value="link.level ?? ''"
          :items="[
            { value: '', title: 'All levels' },
            ...exhibit.side.fields.map((name) => ({ value: name, title: fieldLabel(dataset, name) })),
          ]"
          @update:model-value="setLink({ level: $event || undefined })"
        />
        <v-select
          v-else-if="exhibit.cells.length > 1"
          label="Measures"
          multiple
          :model-value="link.measures ?? []"
          :items="
            exhibit.cells.map(({ measure }) => ({ value: measure, title: measures.find(({ name }) => name === measure)?.label ?? measure }))
          "
          placeholder="All"
          @update:model-value="setLink({ measures: $event.length > 0 ? $event : undefined })"
        />
      </template>
    </LinkList>
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
</style>
