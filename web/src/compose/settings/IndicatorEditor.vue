<script setup lang="ts">
import type { Dataset, Indicator, Target } from '@bold-compass/core/model';
import { computed } from 'vue';
import IndicatorSpread from './IndicatorSpread.vue';

/** When a value is on course: what it is held against, the limits of its states, and where members would stand. */
const props = defineProps<{
  indicator: Indicator;
  dataset: Dataset;
  exhibit: string;
  measure: string;
  /** Fields whose members the limits are tried out on. */
  fields: readonly string[];
  /** Whether values stand beside others of the same parent, as in a table. */
  beside: boolean;
  /** Whether only numbers, and measures beside it, can be held against it. */
  alone?: boolean;
}>();
const emit = defineEmits<{ change: [indicator: Indicator] }>();
const set = (part: Partial<Indicator>): void => emit('change', { ...props.indicator, ...part });
const valueOf = (event: Event): string => (event.target as HTMLInputElement | HTMLSelectElement).value;

const against = computed(() => {
  const { against: now } = props.indicator;
  return now.kind === 'measure' ? `measure ${now.measure}` : now.kind;
});
const TARGETS: Partial<Record<string, () => Target>> = {
  back: () => ({ kind: 'back', amount: 1, unit: 'year' }),
  average: () => ({ kind: 'average', ...(props.beside ? {} : { field: props.fields[0] }) }),
  none: () => ({ kind: 'none' }),
};
function setAgainst(value: string): void {
  const next: Target = value.startsWith('measure ')
    ? { kind: 'measure', measure: value.slice(8) }
    : (TARGETS[value]?.() ?? { kind: 'value', value: 0 });
  // Without a target only the value itself can be held against limits.
  if (next.kind === 'none' && props.indicator.by !== 'spread') setBy('value', next);
  else if (next.kind !== 'none' && (props.indicator.by === 'value' || props.indicator.by === 'spread')) setBy('ratio', next);
  else set({ against: next });
}

type By = Indicator['by'];
type LimitName = 'ahead' | 'onCourse' | 'drifting' | 'far';
/** Limits that make sense at first, by what they are of. */
const FIRST: Record<By, Record<LimitName, number>> = {
  ratio: { ahead: 1.04, onCourse: 1, drifting: 0.96, far: 0.9 },
  difference: { ahead: 0, onCourse: 0, drifting: 0, far: 0 },
  value: { ahead: 0, onCourse: 0, drifting: 0, far: 0 },
  spread: { ahead: 0.8, onCourse: 0.6, drifting: 0.4, far: 0.2 },
};
/** The limits that there are with a number of states. */
const NAMES: Record<number, LimitName[]> = {
  2: ['onCourse'],
  3: ['onCourse', 'drifting'],
  4: ['ahead', 'onCourse', 'drifting'],
  5: ['ahead', 'onCourse', 'drifting', 'far'],
};
const steps = computed(
  () => 1 + (['ahead', 'onCourse', 'drifting', 'far'] as const).filter((name) => props.indicator[name] !== undefined).length,
);
/** States of the same number of members each. */
const even = (count: number, place: number): number => 1 - (place + 1) / count;
function setSteps(count: number, by: By = props.indicator.by, target: Target = props.indicator.against): void {
  const names = NAMES[count];
  const limits = Object.fromEntries(
    (['ahead', 'onCourse', 'drifting', 'far'] as const).map((name) => {
      if (!names.includes(name)) return [name, undefined];
      if (by === 'spread') return [name, even(count, names.indexOf(name))];
      return [name, (by === props.indicator.by ? props.indicator[name] : undefined) ?? mirrored(FIRST[by][name], by)];
    }),
  ) as Record<LimitName, number | undefined>;
  set({ by, against: target, ...limits, onCourse: limits.onCourse ?? 0 });
}
/** Where lower is better, limits are above the target; in a band they are distances from it. */
function mirrored(limit: number, by: By): number {
  if (by !== 'ratio' || props.indicator.direction === 'higher') return limit;
  return props.indicator.direction === 'lower' ? 2 - limit : Math.abs(1 - limit) + 0.02;
}
function setBy(by: By, target: Target = props.indicator.against): void {
  const needsTarget = by === 'ratio' || by === 'difference';
  if (needsTarget && target.kind === 'none') target = { kind: 'value', value: by === 'ratio' ? 1 : 0 };
  setSteps(by === 'spread' ? 3 : steps.value, by, by === 'spread' ? { kind: 'none' } : target);
}
function setDirection(direction: Indicator['direction']): void {
  const { by } = props.indicator;
  if (by !== 'ratio') return set({ direction });
  const own = (name: LimitName): number | undefined => {
    if (props.indicator[name] === undefined) return undefined;
    const limit = FIRST.ratio[name];
    return direction === 'higher' ? limit : direction === 'lower' ? 2 - limit : Math.abs(1 - limit) + 0.02;
  };
  set({ direction, ahead: own('ahead'), onCourse: own('onCourse')!, drifting: own('drifting'), far: own('far') });
}

/** Limits of ratios and of shares are written in percent. */
const factor = computed(() => (props.indicator.by === 'ratio' || props.indicator.by === 'spread' ? 100 : 1));
const shown = (limit: number): number => Math.round(limit * factor.value * 1e4) / 1e4;
function setLimit(which: LimitName, text: string): void {
  const value = Number(text);
  if (text.trim() !== '' && Number.isFinite(value)) set({ [which]: value / factor.value });
}
const STATE_NAMES: Record<LimitName, string> = { ahead: 'Well on course', onCourse: 'On course', drifting: 'Drifting', far: 'Off course' };
const direction = computed(() => ({ higher: 'from', lower: 'below', band: 'within' })[props.indicator.direction]);
const limitNames = computed(() => NAMES[steps.value] ?? NAMES[3]);
const TIMES = ['year', 'quarter', 'month', 'week', 'day'].map((unit) => ({ value: unit, title: `${unit}s` }));
const averageFields = computed(() => props.fields.map((name) => ({ value: name, title: labelOf(name) })));
const labelOf = (name: string): string =>
  props.dataset.dimensions.flatMap(({ levels }) => levels as { name: string; label: string }[]).find((level) => level.name === name)
    ?.label ?? name;
</script>

<template>
  <v-select
    label="Threshold type"
    :model-value="indicator.by"
    :items="[
      { value: 'ratio', title: 'Percent of target' },
      { value: 'difference', title: 'Difference from target' },
      { value: 'value', title: 'The value itself' },
      ...(alone ? [] : [{ value: 'spread', title: 'Percentile of members' }]),
    ]"
    @update:model-value="setBy($event)"
  />
  <template v-if="indicator.by !== 'spread' && indicator.by !== 'value'">
    <v-autocomplete
      label="Compare with"
      :model-value="against"
      :items="[
        { value: 'value', title: 'Number' },
        ...(alone
          ? []
          : [
              { value: 'back', title: 'Earlier period' },
              { value: 'average', title: beside ? 'Average of the members beside it' : 'Average of members' },
            ]),
        ...dataset.measures.map((one) => ({ value: `measure ${one.name}`, title: one.label })),
      ]"
      @update:model-value="setAgainst($event)"
    />
    <v-text-field
      v-if="indicator.against.kind === 'value'"
      label="Number"
      type="number"
      step="any"
      :model-value="indicator.against.value"
      @change="Number.isFinite(Number(valueOf($event))) && set({ against: { kind: 'value', value: Number(valueOf($event)) } })"
    />
    <v-autocomplete
      v-if="indicator.against.kind === 'average' && !beside"
      label="Average of"
      :model-value="indicator.against.field"
      :items="averageFields"
      @update:model-value="set({ against: { kind: 'average', field: $event } })"
    />
    <template v-if="indicator.against.kind === 'back'">
      <v-text-field
        label="Periods back"
        type="number"
        min="1"
        :model-value="indicator.against.amount"
        @change="
          indicator.against.kind === 'back' &&
          set({ against: { ...indicator.against, amount: Math.max(1, Math.round(Number(valueOf($event)) || 1)) } })
        "
      />
      <v-select
        label="Period"
        :model-value="indicator.against.unit"
        :items="TIMES"
        @update:model-value="indicator.against.kind === 'back' && set({ against: { ...indicator.against, unit: $event as 'year' } })"
      />
    </template>
  </template>
  <v-select
    label="Better is"
    :model-value="indicator.direction"
    :items="[
      { value: 'higher', title: 'Higher' },
      { value: 'lower', title: 'Lower' },
      ...(indicator.by === 'ratio' || indicator.by === 'difference' ? [{ value: 'band', title: 'Inside a band' }] : []),
    ]"
    @update:model-value="setDirection($event)"
  />
  <v-select
    label="States"
    :model-value="steps"
    :items="[
      { value: 2, title: 'Two' },
      { value: 3, title: 'Three' },
      { value: 4, title: 'Four' },
      { value: 5, title: 'Five' },
    ]"
    @update:model-value="setSteps($event)"
  />
  <v-text-field
    v-for="name in limitNames"
    :key="name"
    :label="`${STATE_NAMES[name]} ${direction}${factor === 100 ? ', %' : ''}`"
    type="number"
    step="any"
    :model-value="shown(indicator[name] ?? 0)"
    @change="setLimit(name, valueOf($event))"
  />
  <IndicatorSpread v-if="fields.length > 0" :indicator="indicator" :exhibit="exhibit" :measure="measure" :fields="averageFields" />
</template>
