<script setup lang="ts">
import type { DataTable, Finding, JoinSuggestion } from '@bold-compass/core/api';
import type { Dataset, Fact, Link } from '@bold-compass/core/model';
import { computed, ref } from 'vue';
import { recordFields } from '../compose/edges.ts';
import DateField from '../shell/DateField.vue';
import FindingList from './FindingList.vue';

/** A fact: what its records are called, and its joins. */
const props = defineProps<{ fact: Fact; dataset: Dataset; tables: DataTable[]; findings: Finding[]; suggestions: JoinSuggestion[] }>();
const emit = defineEmits<{ change: [fact: Fact]; join: [suggestion: JoinSuggestion]; remove: [] }>();

const change = (part: Partial<Fact>): void => emit('change', { ...props.fact, ...part });
const columns = computed(() => props.tables.find((one) => one.table === props.fact.table)?.columns ?? []);
const labelOf = (column: string): string => columns.value.find((one) => one.column === column)?.label ?? column;
const free = computed(() => props.dataset.dimensions.filter(({ name }) => !props.fact.links.some((link) => link.dimension === name)));
/** Only what has dates can be compared with earlier ones. */
const hasDates = computed(() =>
  props.fact.links.some(({ dimension }) => props.dataset.dimensions.some((one) => one.kind === 'calendar' && one.name === dimension)),
);
const joining = ref({ dimension: '', column: '' });
const isDate = computed(() => props.dataset.dimensions.find(({ name }) => name === joining.value.dimension)?.kind === 'calendar');
const fitting = computed(() =>
  columns.value.filter(({ type }) => (isDate.value ? type === 'date' || type === 'datetime' : type === 'integer' || type === 'text')),
);
function addLink(): void {
  change({ links: [...props.fact.links, { dimension: joining.value.dimension, column: joining.value.column }] });
  joining.value = { dimension: '', column: '' };
}
const setLink = (dimension: string, part: Partial<Link>): void =>
  change({ links: props.fact.links.map((link) => (link.dimension === dimension ? { ...link, ...part } : link)) });
/** Levels that a fact can be kept at; the first is the finest, which needs no saying. */
function grainsOf(name: string): { value: string; words: string }[] {
  const dimension = props.dataset.dimensions.find((one) => one.name === name);
  if (!dimension || (dimension.kind === 'table' && dimension.tree)) return [];
  const finest = dimension.kind === 'calendar' ? dimension.levels.find(({ period }) => period === 'day') : dimension.levels.at(-1);
  const coarser =
    dimension.kind === 'calendar'
      ? dimension.levels.filter(({ period }) => period === 'month' || period === 'quarter' || period === 'year')
      : dimension.levels.slice(0, -1);
  return [{ value: '', words: finest?.label ?? 'Day' }, ...coarser.map(({ name: value, label }) => ({ value, words: label }))];
}
/** Fields that a record has one value of: what it may be shown with behind a figure. */
const columnChoices = computed(() =>
  recordFields(props.dataset, props.fact.name).map(({ name, label }) => ({ value: name, title: label })),
);
</script>

<template>
  <section class="panel" :aria-label="fact.label">
    <v-text-field
      label="Fact"
      class="field"
      :model-value="fact.label"
      @change="change({ label: ($event.target as HTMLInputElement).value.trim() || fact.label })"
    />
    <div class="two">
      <v-text-field
        label="Record, singular"
        class="field"
        :model-value="fact.record.one"
        @change="change({ record: { ...fact.record, one: ($event.target as HTMLInputElement).value.trim() || 'record' } })"
      />
      <v-text-field
        label="Record, plural"
        class="field"
        :model-value="fact.record.many"
        @change="change({ record: { ...fact.record, many: ($event.target as HTMLInputElement).value.trim() || 'records' } })"
      />
    </div>
    <DateField
      v-if="hasDates"
      label="Complete from"
      :model-value="fact.completeFrom ?? ''"
      @update:model-value="change({ completeFrom: $event || undefined })"
    />
    <v-autocomplete
      label="Record columns"
      multiple
      chips
      closable-chips
      :items="columnChoices"
      :model-value="fact.recordColumns ?? []"
      placeholder="Default"
      persistent-placeholder
      @update:model-value="change({ recordColumns: $event.length > 0 ? $event : undefined })"
    />
    <h2 class="part">Joins</h2>
    <ul>
      <li v-for="link in fact.links" :key="link.dimension">
        <span
          ><strong>{{ labelOf(link.column) }}</strong> joins
          {{ dataset.dimensions.find(({ name }) => name === link.dimension)?.label }}</span
        >
        <v-btn
          variant="plain"
          :aria-label="`Remove the join to ${link.dimension}`"
          class="inline"
          @click="change({ links: fact.links.filter((one) => one !== link) })"
        >
          Remove
        </v-btn>
        <v-select
          v-if="grainsOf(link.dimension).length > 1"
          label="Grain"
          class="kept"
          :model-value="link.level ?? ''"
          :items="grainsOf(link.dimension).map((grain) => ({ value: grain.value, title: grain.words }))"
          @update:model-value="setLink(link.dimension, { level: $event || undefined })"
        />
        <FindingList :findings="findings.filter(({ about }) => about.dimension === link.dimension)" />
      </li>
    </ul>
    <template v-if="suggestions.length > 0">
      <h2 class="part">Suggested</h2>
      <ul>
        <li v-for="one in suggestions" :key="`${one.column} ${one.table}`">
          <span
            ><strong>{{ labelOf(one.column) }}</strong> matches {{ one.tableLabel }}: {{ Math.round(one.matched * 100) }} % of its values
            are keys there.</span
          >
          <v-btn @click="emit('join', one)">Join</v-btn>
        </li>
      </ul>
    </template>
    <form v-if="free.length > 0" class="join" aria-label="Add a join" @submit.prevent="addLink">
      <v-select
        v-model="joining.dimension"
        aria-label="Dimension to join"
        :items="[{ value: '', title: 'Join a dimension' }, ...free.map((dimension) => ({ value: dimension.name, title: dimension.label }))]"
      />
      <v-select
        v-model="joining.column"
        aria-label="By the column"
        :items="[{ value: '', title: 'By a column' }, ...fitting.map((column) => ({ value: column.column, title: column.label }))]"
      />
      <v-btn type="submit" :disabled="!joining.dimension || !joining.column">Join</v-btn>
    </form>
    <v-btn variant="text" :disabled="dataset.facts.length === 1" @click="emit('remove')">Remove fact</v-btn>
  </section>
</template>

<style scoped>
.panel {
  display: grid;
  gap: 10px;
}
.panel > .v-btn {
  justify-self: start;
}
.field {
  display: grid;
  font-size: 13px;
  color: var(--ink-2);
  width: 100%;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
  width: 100%;
}
li {
  padding: 6px 0;
  border-bottom: 1px solid var(--rule-2);
}
.kept {
  display: flex;
  gap: 6px;
  align-items: center;
  font-size: 13px;
  color: var(--ink-2);
}
.link {
  margin-left: 8px;
}
.join {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
</style>
