<script setup lang="ts">
import { fieldUsesSchema, measureUseSchema } from '@bold-compass/core/api';
import { namesIn } from '@bold-compass/core/formula';
import type { Dataset, Field, Measure } from '@bold-compass/core/model';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { z } from 'zod';
import { ask } from '../api/client.ts';
import { TYPE_NAMES } from '../data/type-names.ts';
import {
  fieldEntries,
  fieldFault,
  formatWords,
  measureFault,
  measuresNaming,
  newCalculatedField,
  newMeasure,
  withField,
  withMeasure,
  type FieldEntry,
} from './definition-edits.ts';
import FieldEditor from './FieldEditor.vue';
import MeasureEditor from './MeasureEditor.vue';

/** All measures and fields of a dataset as a table to read, with an editor at its side for the chosen one. */
const props = defineProps<{ dataset: Dataset }>();
const emit = defineEmits<{ change: [dataset: Dataset] }>();

const search = ref('');
const isWanted = (one: { name: string; label: string; description?: string }): boolean =>
  `${one.label} ${one.name} ${one.description ?? ''}`.toLowerCase().includes(search.value.trim().toLowerCase());
const { data: uses } = useQuery({
  queryKey: ['measures'],
  queryFn: ({ signal }) => ask(z.array(measureUseSchema), 'GET', '/measures', undefined, signal),
});
const count = (number: number, word: string): string[] => (number === 0 ? [] : [`${number} ${word}${number === 1 ? '' : 's'}`]);
function usedIn({ name }: Measure): string {
  const use = uses.value?.find((one) => one.dataset === props.dataset.name && one.name === name);
  return [...count(use?.usedBy.length ?? 0, 'report'), ...count(measuresNaming(props.dataset, name), 'measure')].join(', ') || 'Nothing';
}

const { data: fieldUses } = useQuery({
  queryKey: computed(() => ['field uses', props.dataset.name]),
  queryFn: ({ signal }) => ask(fieldUsesSchema, 'GET', `/datasets/${props.dataset.name}/field-uses`, undefined, signal),
});
function fieldUsedIn({ name }: { name: string }): string {
  const formulas = props.dataset.facts
    .flatMap(({ fields }) => fields)
    .filter((one) => one.formula && namesIn(one.formula).has(name.toLowerCase()));
  const counts = [
    ...count(fieldUses.value?.[name]?.length ?? 0, 'report'),
    ...count(measuresNaming(props.dataset, name), 'measure'),
    ...count(formulas.length, 'field'),
  ];
  return counts.join(', ') || 'Nothing';
}

/** Measures by the records they count; those over several, or over other measures, come last. */
const measureGroups = computed(() => {
  const groups = new Map<string, Measure[]>();
  for (const { name } of props.dataset.facts) groups.set(name, []);
  for (const measure of props.dataset.measures.filter(isWanted)) {
    const group = measure.folder ?? measure.fact ?? '';
    groups.set(group, [...(groups.get(group) ?? []), measure]);
  }
  const labelOf = (group: string): string => props.dataset.facts.find(({ name }) => name === group)?.label ?? (group || 'Calculated');
  return [...groups].filter(([, members]) => members.length > 0).map(([group, measures]) => ({ label: labelOf(group), measures }));
});
const fieldGroups = computed(() => {
  const groups = new Map<string, FieldEntry[]>();
  for (const entry of fieldEntries(props.dataset).filter(({ field }) => isWanted(field)))
    groups.set(entry.ownerLabel, [...(groups.get(entry.ownerLabel) ?? []), entry]);
  return [...groups].map(([label, entries]) => ({ label, entries }));
});

/** What the editor is about: "measure net_sales", "field quantity". */
const chosen = ref('');
const chosenMeasure = computed(() => props.dataset.measures.find(({ name }) => chosen.value === `measure ${name}`));
const chosenField = computed(() => fieldEntries(props.dataset).find(({ field }) => chosen.value === `field ${field.name}`));

const setMeasure = (name: string, part: Partial<Measure>): void => emit('change', withMeasure(props.dataset, name, part));
function addMeasure(like?: Measure): void {
  const measure = newMeasure(props.dataset, like);
  search.value = '';
  emit('change', { ...props.dataset, measures: [measure, ...props.dataset.measures] });
  chosen.value = `measure ${measure.name}`;
}
function removeMeasure(name: string): void {
  chosen.value = '';
  emit('change', { ...props.dataset, measures: props.dataset.measures.filter((measure) => measure.name !== name) });
}
const setField = (entry: FieldEntry, part: Partial<Field>): void => emit('change', withField(props.dataset, entry, part));
function addField(owner: string): void {
  const field = newCalculatedField(props.dataset, owner);
  search.value = '';
  const facts = props.dataset.facts.map((fact) => (fact.name === owner ? { ...fact, fields: [field, ...fact.fields] } : fact));
  emit('change', { ...props.dataset, facts });
  chosen.value = `field ${field.name}`;
}
function removeField({ field: { name }, owner }: FieldEntry): void {
  chosen.value = '';
  const facts = props.dataset.facts.map((fact) =>
    fact.name === owner ? { ...fact, fields: fact.fields.filter((field) => field.name !== name) } : fact,
  );
  emit('change', { ...props.dataset, facts });
}
</script>

<template>
  <div>
    <div class="bar">
      <v-text-field
        v-model="search"
        class="search"
        type="search"
        placeholder="Find by label, name or description"
        aria-label="Find a measure or field"
      />
      <v-btn @click="addMeasure()">New measure</v-btn>
      <v-menu>
        <template #activator="{ props: activator }"><v-btn v-bind="activator" :aria-owns="undefined">New calculated field</v-btn></template>
        <v-list role="menu" aria-label="Of which fact">
          <v-list-item v-for="fact in dataset.facts" :key="fact.name" role="menuitem" :title="fact.label" @click="addField(fact.name)" />
        </v-list>
      </v-menu>
    </div>
    <v-table class="all" aria-label="Measures">
      <thead>
        <tr>
          <th scope="col">Measure</th>
          <th scope="col">Formula</th>
          <th scope="col">Format</th>
          <th scope="col">Used in</th>
        </tr>
      </thead>
      <tbody v-for="group in measureGroups" :key="group.label">
        <tr class="group">
          <th colspan="4" scope="rowgroup">{{ group.label }}</th>
        </tr>
        <tr
          v-for="measure in group.measures"
          :key="measure.name"
          class="line"
          :class="{ chosen: measure === chosenMeasure }"
          @click="chosen = `measure ${measure.name}`"
        >
          <td>
            <v-btn variant="plain" class="inline name" :aria-pressed="measure === chosenMeasure">{{ measure.label }}</v-btn>
            <span v-if="measureFault(dataset, measure)" class="fault" :title="measureFault(dataset, measure)">!</span>
            <span v-if="measure.hidden" class="muted"> hidden</span>
          </td>
          <td>
            <code>{{ measure.formula }}</code>
          </td>
          <td>{{ formatWords(measure.format) }}</td>
          <td>{{ usedIn(measure) }}</td>
        </tr>
      </tbody>
    </v-table>
    <v-table class="all" aria-label="Fields">
      <thead>
        <tr>
          <th scope="col">Field</th>
          <th scope="col">Name in formulas</th>
          <th scope="col">Type</th>
          <th scope="col">Used in</th>
        </tr>
      </thead>
      <tbody v-for="group in fieldGroups" :key="group.label">
        <tr class="group">
          <th colspan="4" scope="rowgroup">{{ group.label }}</th>
        </tr>
        <tr
          v-for="entry in group.entries"
          :key="entry.field.name"
          class="line"
          :class="{ chosen: chosenField?.field === entry.field }"
          @click="chosen = `field ${entry.field.name}`"
        >
          <td>
            <v-btn variant="plain" class="inline name" :aria-pressed="chosenField?.field === entry.field">{{ entry.field.label }}</v-btn>
            <span v-if="fieldFault(dataset, entry)" class="fault" :title="fieldFault(dataset, entry)">!</span>
            <span v-if="entry.field.hidden" class="muted"> hidden</span>
          </td>
          <td>
            <code>{{ entry.field.formula ? `${entry.field.name} = ${entry.field.formula}` : entry.field.name }}</code>
          </td>
          <td>{{ TYPE_NAMES[entry.field.type] }}</td>
          <td>{{ fieldUsedIn(entry.field) }}</td>
        </tr>
      </tbody>
    </v-table>
    <p v-if="measureGroups.length + fieldGroups.length === 0" class="muted">Nothing matches “{{ search }}”.</p>
    <MeasureEditor
      v-if="chosenMeasure"
      :key="chosenMeasure.name"
      :measure="chosenMeasure"
      :dataset="dataset"
      @change="setMeasure(chosenMeasure.name, $event)"
      @duplicate="addMeasure(chosenMeasure)"
      @remove="removeMeasure(chosenMeasure.name)"
      @close="chosen = ''"
    />
    <FieldEditor
      v-else-if="chosenField"
      :key="chosenField.field.name"
      :entry="chosenField"
      :dataset="dataset"
      @change="setField(chosenField, $event)"
      @remove="removeField(chosenField)"
      @close="chosen = ''"
    />
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  margin: 14px 0;
}
.search {
  max-width: 320px;
  margin-right: auto;
}
.all {
  margin-bottom: 26px;
}
.group th {
  height: 34px;
  padding: 8px 0 0 !important;
  text-align: left;
  font-weight: 700 !important;
  color: var(--ink) !important;
  border-bottom: 1px solid var(--rule-2);
}
.line {
  cursor: pointer;
}
.line td:nth-child(n + 3) {
  white-space: nowrap;
}
.line:hover td {
  background: color-mix(in srgb, var(--sea-tint) 45%, transparent);
}
.line.chosen td {
  background: var(--sea-tint);
}
.name.v-btn.inline {
  color: var(--ink);
  font-size: inherit;
  text-decoration: none;
}
.chosen .name.v-btn.inline {
  font-weight: 700;
}
code {
  font-family: ui-monospace, 'DejaVu Sans Mono', monospace;
  font-size: 12.5px;
  color: var(--ink-2);
  overflow-wrap: anywhere;
}
.fault {
  display: inline-grid;
  place-items: center;
  width: 17px;
  height: 17px;
  margin-left: 6px;
  border-radius: 50%;
  background: var(--brass-tint);
  color: var(--off-text);
  font-weight: 700;
  font-size: 12px;
}
</style>
