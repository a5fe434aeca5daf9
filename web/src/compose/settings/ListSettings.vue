<script setup lang="ts">
import {
  AGGREGATES,
  fieldLabel,
  findField,
  findMeasure,
  isNumberType,
  listAggregateSchema,
  measureNamed,
  type Indicator,
  type List,
  type ListColumn,
} from '@bold-compass/core/model';
import { mdiDragVertical } from '@mdi/js';
import { computed, ref } from 'vue';
import { movedBy } from '../../drag/landing.ts';
import OrderedList from '../../drag/OrderedList.vue';
import { datasetOf, useCompose } from '../context.ts';
import { measureChoices, recordFields } from '../edges.ts';
import { hasRoomForColumns, hasRoomForGroups } from '../list-edges.ts';
import FilterEditor from './FilterEditor.vue';
import FormatFields from '../../shell/FormatFields.vue';
import IndicatorEditor from './IndicatorEditor.vue';
import LinkList from './LinkList.vue';
import SettingsSection from './SettingsSection.vue';
import AddChoice from '../../shell/AddChoice.vue';

/** A list: its columns, its groups, and how it is leafed through. */
const props = defineProps<{ exhibit: List }>();
const compose = useCompose();
const { change, report } = compose;
const dataset = computed(() => datasetOf(compose, props.exhibit));
const set = (part: Partial<List>): void => change({ ...props.exhibit, ...part });
const valueOf = (event: Event): string => (event.target as HTMLInputElement | HTMLSelectElement).value;

/** What a record says of dimensions, and what the report asks for. */
const carried = computed(() => [
  ...new Set([
    ...props.exhibit.columns.flatMap(({ field }) => (field && findField(dataset.value, field)?.kind === 'level' ? [field] : [])),
    ...report.value.prompts.flatMap((prompt) => (prompt.kind === 'members' ? prompt.fields : [])),
  ]),
]);
/** Targets are measures of other columns, hidden or not. */
const shownMeasures = computed(() => {
  const names = new Set(props.exhibit.columns.flatMap(({ measure }) => measure ?? []));
  return { ...dataset.value, measures: dataset.value.measures.filter(({ name }) => names.has(name)) };
});
const firstIndicator = ({ measure }: ListColumn): Indicator => ({
  ...{ against: { kind: 'none' }, by: 'value', onCourse: 0 },
  direction: (measure && findMeasure(dataset.value, measure)?.direction) || 'higher',
});
const opened = ref(-1);
const labelOf = ({ field, measure }: ListColumn): string =>
  field
    ? findField(dataset.value, field)
      ? fieldLabel(dataset.value, field)
      : field
    : (findMeasure(dataset.value, measure!)?.label ?? measure!);
const setColumn = (index: number, part: Partial<ListColumn>): void =>
  set({ columns: props.exhibit.columns.map((one, at) => (at === index ? { ...one, ...part } : one)) });
const move = (index: number, by: -1 | 1): void => set({ columns: movedBy(props.exhibit.columns, index, by) });
const fields = computed(() => recordFields(dataset.value, props.exhibit.fact));
const measures = computed(() => measureChoices(dataset.value));
function add(value: string): void {
  const column = value.startsWith('measure ') ? { measure: value.slice(8) } : { field: value };
  if (value) set({ columns: [...props.exhibit.columns, column] });
}
const isNumber = ({ field }: ListColumn): boolean => {
  const place = field ? findField(dataset.value, field) : undefined;
  return place?.kind === 'fact' || place?.kind === 'attribute' ? isNumberType(place.field.type) : false;
};
/** The aggregates that a column can have in footers: texts and dates are not added up. */
const aggregationsOf = (column: ListColumn): { value: string; title: string }[] => [
  { value: '', title: 'None' },
  ...listAggregateSchema.options
    .filter((name) => isNumber(column) || AGGREGATES[name].counts)
    .map((value) => ({ value, title: AGGREGATES[value].label })),
];
const formatOf = (column: ListColumn) => {
  if (column.format) return column.format;
  if (column.measure) return measureNamed(dataset.value, column.measure).format;
  const place = findField(dataset.value, column.field!);
  const scale = place?.kind === 'fact' || place?.kind === 'attribute' ? place.field.scale : 0;
  return { kind: 'number' as const, decimals: scale, unit: 'one' as const };
};

const setGroup = (index: number, part: Partial<List['groups'][number]>): void =>
  set({ groups: props.exhibit.groups.map((one, at) => (at === index ? { ...one, ...part } : one)) });
const moveGroup = (index: number, by: -1 | 1): void => set({ groups: movedBy(props.exhibit.groups, index, by) });
const freeGroups = computed(() =>
  fields.value.filter(({ name }) => !props.exhibit.groups.some(({ field }) => field === name) && hasRoomForGroups(props.exhibit, [name])),
);
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
    <v-select
      v-if="dataset.facts.length > 1"
      label="Records"
      :model-value="exhibit.fact"
      :items="dataset.facts.map((fact) => ({ value: fact.name, title: fact.label }))"
      @update:model-value="setFact($event)"
    />
    <OrderedList
      v-slot="{ item: column, index, grip }"
      :items="exhibit.columns"
      :key-of="(column, index) => `${column.field ?? column.measure} ${index}`"
      tag="ul"
      class="columns"
      @order="set({ columns: $event })"
    >
      <div class="line">
        <v-icon class="handle" v-bind="grip" :icon="mdiDragVertical" size="16" aria-hidden="true" />
        <v-btn
          variant="text"
          :class="{ hidden: column.hidden }"
          :aria-expanded="opened === index"
          class="name"
          @click="opened = opened === index ? -1 : index"
        >
          {{ column.heading ?? labelOf(column) }}
        </v-btn>
        <span v-if="column.total" class="muted">{{ AGGREGATES[column.total].label.toLowerCase() }}</span>
      </div>
      <div v-if="opened === index" class="form">
        <v-text-field
          label="Heading"
          maxlength="60"
          :model-value="column.heading ?? ''"
          :placeholder="labelOf(column)"
          @change="setColumn(index, { heading: valueOf($event).trim() || undefined })"
        />
        <v-select
          v-if="column.field"
          label="Aggregation"
          :model-value="column.total ?? ''"
          :items="aggregationsOf(column)"
          @update:model-value="setColumn(index, { total: ($event || undefined) as ListColumn['total'] })"
        />
        <FormatFields
          v-if="column.measure || isNumber(column)"
          :format="formatOf(column)"
          :own="column.format !== undefined"
          @change="setColumn(index, { format: $event })"
        />
        <v-select
          v-else
          label="Show as"
          :model-value="column.as ?? 'text'"
          :items="[
            { value: 'text', title: 'Text' },
            { value: 'link', title: 'Link' },
            { value: 'image', title: 'Picture' },
          ]"
          @update:model-value="setColumn(index, { as: $event as ListColumn['as'] })"
        />
        <template v-if="column.measure || isNumber(column)">
          <v-checkbox
            label="Show indicator"
            :model-value="column.indicator !== undefined"
            @update:model-value="setColumn(index, { indicator: column.indicator ? undefined : firstIndicator(column) })"
          />
          <IndicatorEditor
            v-if="column.indicator"
            :indicator="column.indicator"
            :dataset="shownMeasures"
            :exhibit="exhibit.id"
            :measure="column.measure ?? ''"
            :fields="[]"
            :beside="false"
            alone
            @change="setColumn(index, { indicator: $event })"
          />
        </template>
        <v-checkbox
          label="Hidden"
          :model-value="column.hidden"
          @update:model-value="setColumn(index, { hidden: column.hidden ? undefined : true })"
        />
        <div class="actions-line">
          <v-btn variant="plain" :disabled="index === 0" class="inline" @click="move(index, -1)">Move left</v-btn>
          <v-btn variant="plain" :disabled="index === exhibit.columns.length - 1" class="inline" @click="move(index, 1)">
            Move right
          </v-btn>
          <v-btn
            variant="plain"
            :disabled="exhibit.columns.length === 1"
            class="inline"
            @click="set({ columns: exhibit.columns.filter((_, at) => at !== index) })"
          >
            Remove
          </v-btn>
        </div>
      </div>
    </OrderedList>
    <AddChoice
      v-if="hasRoomForColumns(exhibit, 1)"
      label="Add a column"
      :items="[
        ...fields.map((field) => ({ value: field.name, title: field.label, group: field.group })),
        ...measures.map((measure) => ({ value: `measure ${measure.name}`, title: measure.label, group: 'Measures' })),
      ]"
      @add="add"
    />
  </SettingsSection>
  <SettingsSection title="Style">
    <v-select
      label="Banding"
      :model-value="exhibit.banding ?? ''"
      :items="[
        { value: '', title: 'None' },
        { value: 'rows', title: 'Every second record' },
        { value: 'groups', title: 'Headers and footers of groups' },
      ]"
      @update:model-value="set({ banding: ($event || undefined) as List['banding'] })"
    />
  </SettingsSection>
  <SettingsSection title="Groups" :about="exhibit.groups.length ? String(exhibit.groups.length) : 'none'" :open="exhibit.groups.length > 0">
    <OrderedList
      v-slot="{ item: group, index, grip }"
      :items="exhibit.groups"
      :key-of="({ field }) => field"
      tag="ul"
      class="columns"
      @order="set({ groups: $event })"
    >
      <p>
        <v-icon class="handle" v-bind="grip" :icon="mdiDragVertical" size="16" aria-hidden="true" />
        {{ index + 1 }}. {{ fieldLabel(dataset, group.field) }}
      </p>
      <div class="actions-line">
        <v-btn variant="plain" class="inline" :disabled="index === 0" @click="moveGroup(index, -1)">Move up</v-btn>
        <v-btn variant="plain" class="inline" :disabled="index === exhibit.groups.length - 1" @click="moveGroup(index, 1)">Move down</v-btn>
        <v-btn variant="plain" class="inline" @click="set({ groups: exhibit.groups.filter((_, at) => at !== index) })">Remove</v-btn>
      </div>
      <v-checkbox label="Header" :model-value="group.header" @update:model-value="setGroup(index, { header: !group.header })" />
      <v-checkbox label="Footer" :model-value="group.footer" @update:model-value="setGroup(index, { footer: !group.footer })" />
      <v-checkbox
        v-if="group.header && group.footer"
        label="Totals in the header too"
        :model-value="group.headerTotals ?? false"
        @update:model-value="setGroup(index, { headerTotals: group.headerTotals ? undefined : true })"
      />
    </OrderedList>
    <AddChoice
      label="Group by"
      :items="freeGroups.map((field) => ({ value: field.name, title: field.label, group: field.group }))"
      @add="set({ groups: [...exhibit.groups, { field: $event, header: true, footer: true }] })"
    />
    <template v-if="exhibit.groups.length > 0">
      <v-checkbox label="Show records" :model-value="exhibit.detail" @update:model-value="set({ detail: !exhibit.detail })" />
      <v-checkbox
        v-if="exhibit.detail"
        label="Repeat group labels"
        :model-value="exhibit.repeatLabels"
        @update:model-value="set({ repeatLabels: !exhibit.repeatLabels })"
      />
    </template>
  </SettingsSection>
  <SettingsSection title="Filter" :about="exhibit.filter ? 'on' : undefined">
    <FilterEditor :filter="exhibit.filter" :dataset="dataset" :fields="fields" @change="set({ filter: $event })" />
  </SettingsSection>
  <SettingsSection title="Rows">
    <v-checkbox label="Row numbers" :model-value="exhibit.rowNumbers" @update:model-value="set({ rowNumbers: !exhibit.rowNumbers })" />
    <v-select
      label="Paging"
      :model-value="exhibit.paging"
      :items="[
        { value: 'pages', title: 'Pages' },
        { value: 'scroll', title: 'Scrolling' },
      ]"
      @update:model-value="set({ paging: $event as List['paging'] })"
    />
  </SettingsSection>
  <SettingsSection title="Links" :about="exhibit.links?.length ? String(exhibit.links.length) : undefined">
    <LinkList
      :links="exhibit.links ?? []"
      :report="report"
      :dataset="dataset"
      :fields="carried"
      :records="false"
      :most="10"
      @change="set({ links: $event.length > 0 ? $event : undefined })"
    />
  </SettingsSection>
</template>

<style scoped>
.columns :deep(> li) {
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
.name.v-btn.v-btn--size-default {
  flex: 1;
  height: 28px;
  padding: 0 4px;
  justify-content: flex-start;
  font-weight: 400;
  color: var(--ink);
}
.name.hidden.v-btn {
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
