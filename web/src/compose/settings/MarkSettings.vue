<script setup lang="ts">
import { MARK_KINDS, readyRules, sparklineFields } from '@bold-compass/core/marks';
import type { CellExhibit, Dataset, Mark, MarkKindName, MarkOf } from '@bold-compass/core/model';
import { computed } from 'vue';
import { movedBy } from '../../drag/landing.ts';
import AddChoice from '../../shell/AddChoice.vue';
import RuleSettings from './RuleSettings.vue';

/** What is drawn with the figures of a measure, one below the other; of rules the first that holds counts. */
const props = defineProps<{ marks: readonly Mark[]; dataset: Dataset; exhibit: CellExhibit; measure: string; percent: boolean }>();
const emit = defineEmits<{ change: [marks: Mark[]] }>();
const set = (index: number, mark: Mark): void =>
  emit(
    'change',
    props.marks.map((one, at) => (at === index ? mark : one)),
  );
const move = (index: number, by: -1 | 1): void => emit('change', movedBy(props.marks, index, by));
/** Several rules make sense, and one of everything else. */
const offered = computed(() =>
  Object.values(MARK_KINDS)
    .filter(({ kind }) => kind === 'rule' || !props.marks.some((mark) => mark.kind === kind))
    .filter(({ create }) => create({ dataset: props.dataset, exhibit: props.exhibit }) !== null)
    .map(({ kind, label }) => ({ value: kind, title: label })),
);
function add(kind: string): void {
  const mark = MARK_KINDS[kind as MarkKindName].create({ dataset: props.dataset, exhibit: props.exhibit });
  if (mark) emit('change', [...props.marks, mark]);
}
const SCALES = [
  { value: 'column', title: 'Per column' },
  { value: 'row', title: 'Per row' },
  { value: 'table', title: 'Whole table' },
  { value: 'siblings', title: 'Per parent' },
];
const others = computed(() => [
  { value: '', title: 'None' },
  ...props.dataset.measures.filter(({ hidden }) => !hidden).map(({ name, label }) => ({ value: name, title: label })),
]);
const numberOf = (event: Event): number => Number((event.target as HTMLInputElement).value);
function setNumber(event: Event, take: (value: number) => Mark, index: number): void {
  const value = numberOf(event);
  if (Number.isFinite(value)) set(index, take(value));
}
const periodsOf = (value: number): number => Math.min(60, Math.max(2, Math.round(value)));
const isKind = <Kind extends MarkKindName>(mark: Mark, kind: Kind): mark is MarkOf<Kind> => mark.kind === kind;
</script>

<template>
  <fieldset v-for="(mark, index) in marks" :key="index" class="mark">
    <legend>{{ MARK_KINDS[mark.kind].label }}</legend>
    <v-select
      v-if="isKind(mark, 'bar') || isKind(mark, 'shade')"
      label="Scale"
      :model-value="mark.scale"
      :items="SCALES"
      @update:model-value="set(index, { ...mark, scale: $event })"
    />
    <template v-if="isKind(mark, 'bar')">
      <v-autocomplete
        label="Target"
        :model-value="mark.target ?? ''"
        :items="others"
        @update:model-value="set(index, { ...mark, target: $event || undefined })"
      />
    </template>
    <template v-else-if="isKind(mark, 'shade')">
      <v-select
        label="Colours"
        :model-value="mark.colours"
        :items="[
          { value: 'one', title: 'One, darker is more' },
          { value: 'two', title: 'Two, about a middle' },
        ]"
        @update:model-value="set(index, { ...mark, colours: $event })"
      />
      <v-text-field
        v-if="mark.colours === 'two'"
        label="Middle"
        type="number"
        step="any"
        :suffix="percent ? '%' : ''"
        :model-value="percent ? mark.middle * 100 : mark.middle"
        @change="setNumber($event, (value) => ({ ...mark, middle: percent ? value / 100 : value }), index)"
      />
    </template>
    <template v-else-if="isKind(mark, 'arrow')">
      <v-select
        label="Against"
        :model-value="mark.along"
        :items="[
          { value: 'columns', title: 'Previous column' },
          { value: 'rows', title: 'Previous row' },
        ]"
        @update:model-value="set(index, { ...mark, along: $event })"
      />
      <v-text-field
        label="Unchanged within"
        type="number"
        min="0"
        step="any"
        :suffix="percent ? 'points' : '%'"
        :model-value="mark.threshold * 100"
        @change="setNumber($event, (value) => ({ ...mark, threshold: Math.min(1000, Math.max(0, value / 100)) }), index)"
      />
    </template>
    <template v-else-if="isKind(mark, 'sparkline')">
      <v-select
        label="Through"
        :model-value="mark.field"
        :items="sparklineFields(dataset)"
        @update:model-value="set(index, { ...mark, field: $event })"
      />
      <v-text-field
        label="Periods at most"
        type="number"
        min="2"
        max="60"
        :model-value="mark.periods"
        @change="setNumber($event, (value) => ({ ...mark, periods: periodsOf(value) }), index)"
      />
      <v-select
        label="Type"
        :model-value="mark.draw"
        :items="[
          { value: 'line', title: 'Line' },
          { value: 'columns', title: 'Columns' },
        ]"
        @update:model-value="set(index, { ...mark, draw: $event })"
      />
      <v-select
        label="Scale"
        :model-value="mark.scale"
        :items="[
          { value: 'own', title: 'Own scale' },
          { value: 'common', title: 'One scale for all' },
        ]"
        @update:model-value="set(index, { ...mark, scale: $event })"
      />
      <v-checkbox label="Show figure" :model-value="mark.figure" @update:model-value="set(index, { ...mark, figure: $event === true })" />
    </template>
    <RuleSettings
      v-else-if="isKind(mark, 'rule')"
      :rule="mark"
      :dataset="dataset"
      :ready="readyRules(dataset, exhibit, measure)"
      @change="set(index, $event)"
    />
    <div class="actions-line">
      <v-btn v-if="mark.kind === 'rule'" variant="plain" class="inline" :disabled="index === 0" @click="move(index, -1)">Move up</v-btn>
      <v-btn v-if="mark.kind === 'rule'" variant="plain" class="inline" :disabled="index === marks.length - 1" @click="move(index, 1)"
        >Move down</v-btn
      >
      <v-btn
        variant="plain"
        class="inline"
        @click="
          emit(
            'change',
            marks.filter((_, at) => at !== index),
          )
        "
        >Remove {{ MARK_KINDS[mark.kind].label.toLowerCase() }}</v-btn
      >
    </div>
  </fieldset>
  <AddChoice v-if="offered.length > 0" label="Add format" :items="offered" @add="add" />
</template>

<style scoped>
.mark {
  display: grid;
  gap: 8px;
  border: 0;
  border-bottom: 1px solid var(--rule-2);
  padding: 0 0 8px;
  min-width: 0;
}
legend {
  font-weight: 600;
  padding: 2px 0 6px;
}
</style>
