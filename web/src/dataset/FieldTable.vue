<script setup lang="ts">
import { describeProblem, FormulaError, planCalculatedField, planMeasure, printName } from '@bold-compass/core/formula';
import type { Dataset, Field, Measure } from '@bold-compass/core/model';
import { computed, ref } from 'vue';
import { TYPE_NAMES } from '../data/type-names.ts';
import AddChoice from '../shell/AddChoice.vue';

/** All measures and fields of a dataset: what they are called, mean and look like. Found by label, name or description. */
const props = defineProps<{ dataset: Dataset }>();
const emit = defineEmits<{ change: [dataset: Dataset] }>();

const search = ref('');
const wanted = (one: { name: string; label: string; description?: string }): boolean =>
  `${one.label} ${one.name} ${one.description ?? ''}`.toLowerCase().includes(search.value.trim().toLowerCase());
const measures = computed(() => props.dataset.measures.filter(wanted));
interface Row {
  field: Field;
  of: string;
  path: ['fact' | 'level' | 'attribute', string];
}
const fields = computed((): Row[] =>
  [
    ...props.dataset.facts.flatMap((fact) => fact.fields.map((field): Row => ({ field, of: fact.label, path: ['fact', fact.name] }))),
    ...props.dataset.dimensions.flatMap((dimension) =>
      dimension.kind === 'table'
        ? [
            ...dimension.levels.map((field): Row => ({ field, of: dimension.label, path: ['level', dimension.name] })),
            ...dimension.attributes.map((field): Row => ({ field, of: dimension.label, path: ['attribute', dimension.name] })),
          ]
        : [],
    ),
  ].filter(({ field }) => wanted(field)),
);

const setMeasure = (name: string, part: Partial<Measure>): void =>
  emit('change', { ...props.dataset, measures: props.dataset.measures.map((one) => (one.name === name ? { ...one, ...part } : one)) });
function setField({ field, path: [kind, owner] }: Row, part: Partial<Field>): void {
  const put = <Own extends Field>(all: Own[]): Own[] => all.map((one) => (one.name === field.name ? { ...one, ...part } : one));
  emit('change', {
    ...props.dataset,
    facts: props.dataset.facts.map((fact) => (kind === 'fact' && fact.name === owner ? { ...fact, fields: put(fact.fields) } : fact)),
    dimensions: props.dataset.dimensions.map((dimension) => {
      if (dimension.kind !== 'table' || dimension.name !== owner || kind === 'fact') return dimension;
      return kind === 'level' ? { ...dimension, levels: put(dimension.levels) } : { ...dimension, attributes: put(dimension.attributes) };
    }),
  });
}
/** What is wrong with a formula, while it stands. */
function faultOf(plan: () => unknown): string {
  try {
    plan();
    return '';
  } catch (error) {
    return error instanceof FormulaError ? describeProblem(error.problem) : (error as Error).message;
  }
}
const fault = ({ name }: Measure): string => faultOf(() => planMeasure(props.dataset, name));
function fieldFault({ field, path: [kind, owner] }: Row): string {
  const fact = props.dataset.facts.find(({ name }) => name === owner);
  return kind === 'fact' && fact && field.formula ? faultOf(() => planCalculatedField(props.dataset, fact, field)) : '';
}
const isNumber = ({ type }: Field): boolean => type === 'integer' || type === 'decimal';
/** A field of one value per record, worked out from others of its fact. */
function addField(owner: string): void {
  const fact = props.dataset.facts.find(({ name }) => name === owner);
  if (!fact) return;
  const taken = new Set(props.dataset.facts.flatMap((one) => one.fields.map(({ name }) => name)));
  let name = 'calculated_field';
  for (let number = 2; taken.has(name); number++) name = `calculated_field_${number}`;
  const first = fact.fields.find((field) => isNumber(field) && !field.formula);
  const field: Field = {
    ...{ name, label: 'Calculated field', column: `calculated ${name}`, type: 'decimal', scale: 2 },
    formula: first ? printName(first.name) : '0',
  };
  search.value = '';
  const facts = props.dataset.facts.map((one) => (one.name === owner ? { ...one, fields: [field, ...one.fields] } : one));
  emit('change', { ...props.dataset, facts });
}
function removeField({ field, path: [, owner] }: Row): void {
  const facts = props.dataset.facts.map((one) =>
    one.name === owner ? { ...one, fields: one.fields.filter(({ name }) => name !== field.name) } : one,
  );
  emit('change', { ...props.dataset, facts });
}
/** The aggregate and field of a formula that is no more than that; others are written by hand. */
const PLAIN = /^(\w+)\(([^()]*)\)$/;
const AGGREGATIONS = ['sum', 'avg', 'min', 'max', 'count', 'count_distinct', 'median', 'mode', 'stddev', 'variance'];
function aggregation({ formula }: Measure): string {
  const fn = PLAIN.exec(formula.trim())?.[1] ?? '';
  return AGGREGATIONS.includes(fn) ? fn : '';
}
function setAggregation(measure: Measure, fn: string): void {
  const argument = PLAIN.exec(measure.formula.trim())?.[2] ?? '';
  setMeasure(measure.name, { formula: `${fn}(${argument})` });
}
function addMeasure(): void {
  const taken = new Set(props.dataset.measures.map(({ name }) => name));
  let name = 'new_measure';
  for (let number = 2; taken.has(name); number++) name = `new_measure_${number}`;
  const measure: Measure = {
    ...{ name, label: 'New measure', formula: 'count()', fact: props.dataset.facts[0].name, direction: 'higher' },
    format: { kind: 'number', decimals: 0, unit: 'one' },
  };
  search.value = '';
  emit('change', { ...props.dataset, measures: [measure, ...props.dataset.measures] });
}
const AGGREGATION_WORDS: Record<string, string> = {
  ...{ sum: 'Sum', avg: 'Average', min: 'Minimum', max: 'Maximum', count: 'Count', count_distinct: 'Distinct count' },
  ...{ median: 'median', mode: 'most frequent', stddev: 'standard deviation', variance: 'variance' },
};
const valueOf = (event: Event): string => (event.target as HTMLInputElement | HTMLSelectElement).value;
</script>

<template>
  <div class="fields">
    <div class="bar">
      <input
        v-model="search"
        type="search"
        class="entry"
        placeholder="Find by label, name or description"
        aria-label="Find a measure or field"
      />
      <button type="button" class="button" @click="addMeasure">New measure</button>
    </div>
    <h2>Measures</h2>
    <div class="scroll">
      <table class="ruled">
        <thead>
          <tr>
            <th scope="col">Label</th>
            <th scope="col">Formula</th>
            <th scope="col">Of</th>
            <th scope="col">Format</th>
            <th scope="col">Better is</th>
            <th scope="col">Description</th>
            <th scope="col">Hidden</th>
            <td />
          </tr>
        </thead>
        <tbody>
          <tr v-for="measure in measures" :key="measure.name">
            <td>
              <input
                class="entry"
                :value="measure.label"
                :aria-label="`Label of ${measure.name}`"
                @change="setMeasure(measure.name, { label: valueOf($event).trim() || measure.label })"
              />
              <code>{{ measure.name }}</code>
            </td>
            <td class="formula">
              <input
                class="entry mono"
                :value="measure.formula"
                :aria-label="`Formula of ${measure.label}`"
                :aria-invalid="fault(measure) !== ''"
                @change="setMeasure(measure.name, { formula: valueOf($event) })"
              />
              <label v-if="aggregation(measure)" class="aggregation"
                >Aggregation
                <select
                  class="choice"
                  :value="aggregation(measure)"
                  :aria-label="`Aggregation of ${measure.label}`"
                  @change="setAggregation(measure, valueOf($event))"
                >
                  <option v-for="fn in AGGREGATIONS" :key="fn" :value="fn">{{ AGGREGATION_WORDS[fn] }}</option>
                </select>
              </label>
              <span v-if="fault(measure)" class="fault">{{ fault(measure) }}</span>
            </td>
            <td>
              <select
                class="choice"
                :value="measure.fact ?? ''"
                :aria-label="`Fact of ${measure.label}`"
                @change="setMeasure(measure.name, { fact: valueOf($event) || undefined })"
              >
                <option value="">other measures</option>
                <option v-for="fact in dataset.facts" :key="fact.name" :value="fact.name">{{ fact.label }}</option>
              </select>
            </td>
            <td class="format">
              <select
                class="choice"
                :value="measure.format.kind"
                :aria-label="`Format of ${measure.label}`"
                @change="
                  setMeasure(measure.name, {
                    format: {
                      ...measure.format,
                      kind: valueOf($event) as Measure['format']['kind'],
                      currency: valueOf($event) === 'currency' ? (measure.format.currency ?? 'EUR') : undefined,
                    },
                  })
                "
              >
                <option value="number">number</option>
                <option value="currency">euro</option>
                <option value="percent">percent</option>
                <option value="duration">duration</option>
              </select>
              <select
                class="choice"
                :value="measure.format.decimals"
                :aria-label="`Decimals of ${measure.label}`"
                @change="setMeasure(measure.name, { format: { ...measure.format, decimals: Number(valueOf($event)) } })"
              >
                <option v-for="digits in 5" :key="digits" :value="digits - 1">.{{ '0'.repeat(digits - 1) || '–' }}</option>
              </select>
              <select
                class="choice"
                :value="measure.format.unit"
                :aria-label="`Unit of ${measure.label}`"
                @change="setMeasure(measure.name, { format: { ...measure.format, unit: valueOf($event) as Measure['format']['unit'] } })"
              >
                <option value="one">ones</option>
                <option value="thousand">thousands</option>
                <option value="million">millions</option>
              </select>
            </td>
            <td>
              <select
                class="choice"
                :value="measure.direction"
                :aria-label="`Better for ${measure.label}`"
                @change="setMeasure(measure.name, { direction: valueOf($event) as Measure['direction'] })"
              >
                <option value="higher">higher</option>
                <option value="lower">lower</option>
              </select>
            </td>
            <td>
              <input
                class="entry"
                :value="measure.description ?? ''"
                :aria-label="`Description of ${measure.label}`"
                @change="setMeasure(measure.name, { description: valueOf($event).trim() || undefined })"
              />
            </td>
            <td>
              <input
                type="checkbox"
                :checked="measure.hidden"
                :aria-label="`Hide ${measure.label}`"
                @change="setMeasure(measure.name, { hidden: !measure.hidden || undefined })"
              />
            </td>
            <td>
              <button
                type="button"
                class="link"
                :aria-label="`Remove ${measure.label}`"
                @click="emit('change', { ...dataset, measures: dataset.measures.filter(({ name }) => name !== measure.name) })"
              >
                Remove
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <div class="fields-head">
      <h2>Fields</h2>
      <label
        >Calculate one from others of
        <AddChoice label="New calculated field of" words="choose a fact" @add="addField">
          <option v-for="fact in dataset.facts" :key="fact.name" :value="fact.name">{{ fact.label }}</option>
        </AddChoice>
      </label>
    </div>
    <div class="scroll">
      <table class="ruled">
        <thead>
          <tr>
            <th scope="col">Label</th>
            <th scope="col">Of</th>
            <th scope="col">Type</th>
            <th scope="col">Folder</th>
            <th scope="col">Description</th>
            <th scope="col">Hidden</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in fields" :key="row.field.name">
            <td>
              <input
                class="entry"
                :value="row.field.label"
                :aria-label="`Label of ${row.field.name}`"
                @change="setField(row, { label: valueOf($event).trim() || row.field.label })"
              />
              <code>{{ row.field.name }}</code>
            </td>
            <td>{{ row.of }}</td>
            <td v-if="row.field.formula" class="calculated">
              <input
                class="entry mono"
                :value="row.field.formula"
                :aria-label="`Formula of ${row.field.label}`"
                :aria-invalid="fieldFault(row) !== ''"
                @change="setField(row, { formula: valueOf($event).trim() || row.field.formula })"
              />
              <span v-if="fieldFault(row)" class="fault">{{ fieldFault(row) }}</span>
              <label
                >kept to
                <select
                  class="choice"
                  :value="row.field.scale"
                  :aria-label="`Decimals of ${row.field.label}`"
                  @change="setField(row, { scale: Number(valueOf($event)) })"
                >
                  <option v-for="digits in 7" :key="digits" :value="digits - 1">{{ digits - 1 }}</option>
                </select>
                decimals
              </label>
              <button type="button" class="link" :aria-label="`Remove ${row.field.label}`" @click="removeField(row)">Remove</button>
            </td>
            <td v-else>{{ TYPE_NAMES[row.field.type] }}</td>
            <td>
              <input
                class="entry"
                :value="row.field.folder ?? ''"
                :aria-label="`Folder of ${row.field.label}`"
                @change="setField(row, { folder: valueOf($event).trim() || undefined })"
              />
            </td>
            <td>
              <input
                class="entry"
                :value="row.field.description ?? ''"
                :aria-label="`Description of ${row.field.label}`"
                @change="setField(row, { description: valueOf($event).trim() || undefined })"
              />
            </td>
            <td>
              <input
                type="checkbox"
                :checked="row.field.hidden"
                :aria-label="`Hide ${row.field.label}`"
                @change="setField(row, { hidden: !row.field.hidden || undefined })"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </div>
</template>

<style scoped>
.bar {
  display: flex;
  gap: 10px;
  margin-bottom: 8px;
}
.bar .entry {
  width: 300px;
}
h2 {
  margin-top: 16px;
  padding-bottom: 5px;
  border-bottom: 2px solid var(--ink);
}
.scroll {
  overflow-x: auto;
}
td .entry {
  width: 100%;
  min-width: 110px;
}
code {
  font-size: 11.5px;
  color: var(--ink-2);
}
.formula {
  min-width: 320px;
}
.mono {
  font-family: ui-monospace, 'DejaVu Sans Mono', monospace;
  font-size: 12.5px;
}
.aggregation,
.calculated label {
  font-size: 12px;
  color: var(--ink-2);
}
.calculated {
  min-width: 230px;
}
.fields-head {
  display: flex;
  justify-content: space-between;
  align-items: end;
  margin-top: 16px;
  border-bottom: 2px solid var(--ink);
  font-size: 13px;
}
.fields-head h2 {
  border: 0;
}
.fault {
  color: var(--off-text);
  display: block;
}
.format {
  white-space: nowrap;
}

.ruled {
  font-size: 13px;
}
</style>
