<script setup lang="ts">
import { drawnSeries, type ChartFigure } from '@bold-compass/core/chart';
import { cellText } from '@bold-compass/core/format';
import { computed } from 'vue';

/** What a chart forecasts, as a table: period by period, with the ends of its interval. */
const props = defineProps<{ figure: ChartFigure; interval: number }>();
const series = computed(() => drawnSeries(props.figure).filter(({ forecast }) => forecast && forecast.points.length > 0));
const periods = computed(() =>
  props.figure.categories.flatMap(({ name }, index) => {
    const points = series.value.map(({ forecast }) => forecast?.points[index] ?? null);
    return points.some((point) => point !== null) ? [{ label: name, points }] : [];
  }),
);
</script>

<template>
  <section v-if="periods.length > 0" class="forecast" aria-label="Forecast">
    <table class="ruled">
      <caption>
        Forecast, with
        {{
          interval
        }}
        % interval
      </caption>
      <thead>
        <tr>
          <th scope="col">Period</th>
          <template v-for="one in series" :key="one.key">
            <th scope="col" class="figure">{{ one.label }}</th>
            <th scope="col" class="figure">Low</th>
            <th scope="col" class="figure">High</th>
          </template>
        </tr>
      </thead>
      <tbody>
        <tr v-for="{ label, points } in periods" :key="label">
          <th scope="row">{{ label }}</th>
          <template v-for="(point, index) in points" :key="series[index].key">
            <td class="figure">{{ cellText(point?.value ?? null, series[index].format, figure.locale) }}</td>
            <td class="figure muted">{{ cellText(point?.low ?? null, series[index].format, figure.locale) }}</td>
            <td class="figure muted">{{ cellText(point?.high ?? null, series[index].format, figure.locale) }}</td>
          </template>
        </tr>
      </tbody>
    </table>
    <p v-for="one in series" :key="one.key" class="muted words">{{ series.length > 1 ? `${one.label}: ` : '' }}{{ one.forecast?.words }}</p>
  </section>
</template>

<style scoped>
.forecast {
  margin-top: 10px;
}
caption {
  text-align: left;
  font-weight: 600;
  padding: 4px 0;
}
th,
td {
  padding-right: 22px;
}
th[scope='row'] {
  color: var(--ink);
  border-bottom-color: var(--rule-2);
}
.figure {
  text-align: right;
}
.words {
  font-size: 12.5px;
  margin: 4px 0 0;
}
</style>
