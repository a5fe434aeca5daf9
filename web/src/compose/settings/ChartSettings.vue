<script setup lang="ts">
import { CHART_KINDS_BY_NAME, chartKindOf, isThroughTime, proposedKind } from '@bold-compass/core/chart';
import { steppedWith } from '@bold-compass/core/exhibits';
import {
  CHART_KINDS,
  fieldLabel,
  SERIES_COLOURS,
  type Chart,
  type ChartScale,
  type ChartSettings,
  type ReferenceLine,
  type SeriesSettings,
} from '@bold-compass/core/model';
import { computed } from 'vue';
import { shownFigures } from '../../chart/shown-figures.ts';
import AddChoice from '../../shell/AddChoice.vue';
import FoldedPart from '../../shell/FoldedPart.vue';
import { datasetOf, useCompose } from '../context.ts';
import { fieldsGoneThrough } from '../edges.ts';
import DataSettings from './DataSettings.vue';
import MapSettings from './MapSettings.vue';
import NoteSettings from './NoteSettings.vue';
import OpenLevels from './OpenLevels.vue';
import SettingsSection from './SettingsSection.vue';
import TrendSettings from './TrendSettings.vue';

/** A chart as a whole: its kind, its series, its scales, and what is drawn across it. */
const props = defineProps<{ exhibit: Chart }>();
const compose = useCompose();
const { change, report } = compose;
const stepped = computed(() => steppedWith(report.value.exhibits, props.exhibit));
const dataset = computed(() => datasetOf(compose, props.exhibit));
const chart = computed(() => props.exhibit.chart);
const kind = computed(() => chartKindOf(chart.value.kind));
const set = (part: Partial<ChartSettings>): void => change({ ...props.exhibit, chart: { ...chart.value, ...part } });
const valueOf = (event: Event): string => (event.target as HTMLInputElement).value;

/** Of periods that are gone through only one is drawn at a time. */
const proposal = computed(() => {
  const { side, top, cells } = props.exhibit;
  const fields = top.fields.slice(fieldsGoneThrough(props.exhibit, 'top'));
  return proposedKind(dataset.value, { side, top: { ...top, fields }, cells });
});
const kinds = CHART_KINDS.map((name) => ({
  value: name,
  title: CHART_KINDS_BY_NAME[name].label,
  subtitle: CHART_KINDS_BY_NAME[name].about,
}));

const series = computed(() => shownFigures.get(props.exhibit.id)?.series ?? []);
function setSeries(key: string, part: Partial<SeriesSettings>): void {
  const own = Object.fromEntries(Object.entries({ ...chart.value.series[key], ...part }).filter(([, value]) => value !== undefined));
  const others = Object.fromEntries(Object.entries(chart.value.series).filter(([name]) => name !== key));
  set({ series: Object.keys(own).length > 0 ? { ...others, [key]: own } : others });
}
const STYLES = [
  { value: 'yearbook', title: 'Yearbook', subtitle: 'Fine lines, like the rest of the page' },
  { value: 'bold', title: 'Bold', subtitle: 'Large letters and strong lines, to be read from far' },
  { value: 'monochrome', title: 'Black and white', subtitle: 'Patterns and greys in the place of colours' },
];
/** Points leave ways behind them, the bars of a single series marks. */
const hasTrails = computed(() => {
  const { trails } = kind.value;
  return chart.value.through && (trails === 'ways' || (trails === 'marks' && series.value.length === 1));
});
const COLOURS = Array.from({ length: SERIES_COLOURS }, (_, index) => ({ value: index, title: `Colour ${index + 1}` }));

const numberOf = (text: string): number | undefined => (text.trim() !== '' && Number.isFinite(Number(text)) ? Number(text) : undefined);
const setScale = (which: 'scale' | 'second', part: Partial<ChartScale>): void => set({ [which]: { ...chart.value[which], ...part } });
/** The axes of values that a kind has, each with the part of the settings that is about it. */
const scales = computed((): { which: 'scale' | 'second'; title: string; logarithmic: boolean }[] => {
  const { family, valueAxes } = kind.value;
  const values = { which: 'scale' as const, title: 'Value axis', logarithmic: family !== 'single' };
  if (valueAxes === 2)
    return [
      { ...values, title: 'Vertical axis' },
      { which: 'second', title: 'Horizontal axis', logarithmic: true },
    ];
  if (family === 'axis' && series.value.some(({ second }) => second))
    return [values, { which: 'second', title: 'Second axis', logarithmic: true }];
  return valueAxes === 1 ? [values] : [];
});
/** Whether lines can go on from what is drawn, or through it. */
const goesOn = computed(() => kind.value.family === 'axis' && !kind.value.inOneLine);

const setLine = (index: number, part: Partial<ReferenceLine>): void =>
  set({ lines: chart.value.lines.map((one, at) => (at === index ? { ...one, ...part } : one)) });
/** Reference lines whose value is calculated. */
const LINES = { average: 'Average', median: 'Median', limits: 'Control limits' } as const;
/** Control limits are there once. */
const lineChoices = computed(() => [
  { value: 'number', title: 'Value or band' },
  ...Object.entries(LINES)
    .filter(([value]) => value !== 'limits' || !chart.value.lines.some(({ at }) => at === 'limits'))
    .map(([value, title]) => ({ value, title })),
]);
function addLine(at: string): void {
  if (at) set({ lines: [...chart.value.lines, { at: at === 'number' ? 0 : (at as keyof typeof LINES), label: '' }] });
}
const passesTime = computed(() => kind.value.timeAxis && isThroughTime(dataset.value, props.exhibit));
const hasSeries = computed(() => props.exhibit.top.fields.length > 0 || props.exhibit.cells.length > 1);
</script>

<template>
  <SettingsSection title="Chart" open>
    <p v-if="stepped" class="proposal">
      In step with “{{ stepped.title }}”.
      <v-btn variant="plain" class="inline" @click="set({ inStepWith: undefined })">Detach</v-btn>
    </p>
    <v-select
      label="Chart type"
      :model-value="chart.kind"
      :items="kinds"
      item-props
      :hint="kind.about"
      persistent-hint
      @update:model-value="set({ kind: $event })"
    />
    <p v-if="proposal.kind !== chart.kind" class="proposal">
      {{ proposal.reason }}
      <v-btn variant="plain" class="inline" @click="set({ kind: proposal.kind })">
        Change to {{ chartKindOf(proposal.kind).label.toLowerCase() }}
      </v-btn>
    </p>
    <v-select
      v-if="hasSeries && (kind.stacks || chart.arrangement !== 'grouped')"
      label="Series"
      :model-value="chart.arrangement"
      :items="[
        { value: 'grouped', title: 'Grouped' },
        { value: 'stacked', title: 'Stacked' },
        { value: 'share', title: '100 % stacked' },
      ]"
      @update:model-value="set({ arrangement: $event as ChartSettings['arrangement'] })"
    />
    <v-select
      v-if="passesTime"
      label="Periods without records"
      :model-value="chart.emptyPeriods"
      :items="[
        { value: 'zero', title: 'Zero for sums and counts' },
        { value: 'gap', title: 'A gap' },
        { value: 'hidden', title: 'Left out' },
      ]"
      @update:model-value="set({ emptyPeriods: $event as ChartSettings['emptyPeriods'] })"
    />
    <template v-if="!stepped">
      <OpenLevels :exhibit="exhibit" edge="side" words="Axis" />
      <OpenLevels :exhibit="exhibit" edge="top" words="Series" />
    </template>
    <v-checkbox
      v-if="hasTrails"
      label="Trails of the periods before"
      :model-value="chart.through?.trails ?? false"
      @update:model-value="set({ through: { trails: $event ?? false } })"
    />
    <v-checkbox
      v-if="!chart.through && exhibit.top.fields.length > 0"
      :label="`Small multiples by ${fieldLabel(dataset, exhibit.top.fields[0]).toLowerCase()}`"
      :model-value="chart.panels"
      @update:model-value="set({ panels: !chart.panels })"
    />
  </SettingsSection>
  <MapSettings v-if="kind.family === 'places'" :exhibit="exhibit" />
  <SettingsSection title="Colours and labels">
    <v-select
      label="Style"
      :model-value="chart.style"
      :items="STYLES"
      item-props
      @update:model-value="set({ style: $event as ChartSettings['style'] })"
    />
    <v-select
      label="Colours"
      :model-value="chart.colours"
      :items="[
        { value: 'order', title: 'By order' },
        { value: 'member', title: 'By member' },
        { value: 'state', title: 'By state' },
      ]"
      @update:model-value="set({ colours: $event as ChartSettings['colours'] })"
    />
    <v-text-field
      v-if="kind.shades"
      label="Midpoint"
      type="number"
      step="any"
      placeholder="automatic"
      :model-value="chart.middle ?? ''"
      @change="set({ middle: numberOf(valueOf($event)) })"
    />
    <v-select
      v-if="kind.legend"
      label="Legend"
      :model-value="chart.legend"
      :items="[
        { value: 'auto', title: 'Series labels' },
        { value: 'top', title: 'Above' },
        { value: 'right', title: 'At the right' },
        { value: 'bottom', title: 'Below' },
        { value: 'none', title: 'None' },
      ]"
      @update:model-value="set({ legend: $event as ChartSettings['legend'] })"
    />
    <v-select
      v-if="kind.writesValues"
      label="Values"
      :model-value="chart.values"
      :items="[
        { value: 'auto', title: 'Where there is room' },
        { value: 'always', title: 'Always' },
        { value: 'never', title: 'Never' },
      ]"
      @update:model-value="set({ values: $event as ChartSettings['values'] })"
    />
  </SettingsSection>
  <SettingsSection v-if="series.length > 1 || kind.family === 'axis'" title="Series" :about="String(series.length)">
    <FoldedPart v-for="one in series" :key="one.key" :title="one.label">
      <v-select
        v-if="kind.family === 'axis' && !kind.lying"
        label="Type"
        :model-value="one.as"
        :items="[
          { value: 'column', title: 'Columns' },
          { value: 'line', title: 'Line' },
          { value: 'area', title: 'Area' },
          { value: 'step', title: 'Steps' },
        ]"
        @update:model-value="setSeries(one.key, { as: $event as SeriesSettings['as'] })"
      />
      <v-select
        label="Colour"
        :model-value="chart.series[one.key]?.colour ?? -1"
        :items="[{ value: -1, title: 'Automatic' }, ...COLOURS]"
        @update:model-value="setSeries(one.key, { colour: $event < 0 ? undefined : $event })"
      />
      <v-checkbox
        v-if="kind.family === 'axis'"
        label="Second axis"
        :model-value="one.second"
        @update:model-value="setSeries(one.key, { second: !one.second })"
      />
      <v-checkbox
        v-if="one.as !== 'column'"
        label="Dotted line"
        :model-value="one.dashed"
        @update:model-value="setSeries(one.key, { dashed: one.dashed ? undefined : true })"
      />
      <v-checkbox
        v-if="chart.forecast"
        label="Forecast"
        :model-value="chart.series[one.key]?.forecast ?? true"
        @update:model-value="setSeries(one.key, { forecast: $event ? undefined : false })"
      />
      <v-checkbox
        label="Hide"
        :model-value="one.hidden"
        @update:model-value="setSeries(one.key, { hidden: one.hidden ? undefined : true })"
      />
    </FoldedPart>
  </SettingsSection>
  <SettingsSection v-for="{ which, title, logarithmic } in scales" :key="which" :title="title">
    <v-text-field
      label="Minimum"
      type="number"
      step="any"
      placeholder="automatic"
      :model-value="chart[which].min ?? ''"
      @change="setScale(which, { min: numberOf(valueOf($event)) })"
    />
    <v-text-field
      label="Maximum"
      type="number"
      step="any"
      placeholder="automatic"
      :model-value="chart[which].max ?? ''"
      @change="setScale(which, { max: numberOf(valueOf($event)) })"
    />
    <v-checkbox
      v-if="logarithmic"
      label="Logarithmic"
      :model-value="chart[which].logarithmic ?? false"
      @update:model-value="setScale(which, { logarithmic: chart[which].logarithmic ? undefined : true })"
    />
  </SettingsSection>
  <TrendSettings v-if="goesOn || kind.family === 'points'" :exhibit="exhibit" />
  <SettingsSection
    v-if="kind.family === 'axis'"
    title="Reference lines"
    :about="chart.lines.length ? String(chart.lines.length) : undefined"
  >
    <div v-for="(line, index) in chart.lines" :key="index" class="line">
      <p>
        {{ typeof line.at === 'number' ? 'Value' : LINES[line.at] }}
        <v-btn variant="plain" class="inline" @click="set({ lines: chart.lines.filter((_, at) => at !== index) })">Remove</v-btn>
      </p>
      <template v-if="typeof line.at === 'number'">
        <v-text-field
          label="From"
          type="number"
          step="any"
          :model-value="line.at"
          @change="setLine(index, { at: numberOf(valueOf($event)) ?? 0 })"
        />
        <v-text-field
          label="To"
          type="number"
          step="any"
          placeholder="a line only"
          :model-value="line.to ?? ''"
          @change="setLine(index, { to: numberOf(valueOf($event)) })"
        />
      </template>
      <v-text-field
        label="Label"
        maxlength="60"
        :model-value="line.label"
        placeholder="automatic"
        @change="setLine(index, { label: valueOf($event).trim() })"
      />
    </div>
    <AddChoice label="Add reference line" :items="lineChoices" @add="addLine" />
  </SettingsSection>
  <NoteSettings v-if="kind.notes" :exhibit="exhibit" />
  <DataSettings :exhibit="exhibit" />
</template>

<style scoped>
.proposal {
  font-size: 13px;
  color: var(--ink-2);
}
.line {
  display: grid;
  gap: 4px;
  border-left: 3px solid var(--sea-tint);
  padding-left: 8px;
}
.line p {
  display: flex;
  justify-content: space-between;
  font-size: 13px;
}
</style>
