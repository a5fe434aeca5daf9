<script setup lang="ts">
import { withAggregations } from '@bold-compass/core/crosstab';
import { isDataExhibit, type Exhibit } from '@bold-compass/core/model';
import { computed } from 'vue';
import { provideReport, useReport } from './context.ts';
import { EXHIBIT_VIEWS } from './exhibit-views.ts';

/** Any exhibit, with the dataset that it answers from. */
const props = defineProps<{ exhibit: Exhibit; number: number }>();
const emit = defineEmits<{ drill: [from: 'cells' | 'labels'] }>();
const outer = useReport();

const own = computed(() => {
  const { exhibit } = props;
  const { dataset, datasets } = outer.view.value;
  const answers = isDataExhibit(exhibit) && exhibit.dataset ? (datasets[exhibit.dataset] ?? dataset) : dataset;
  return withAggregations(answers, exhibit);
});
provideReport({ ...outer, view: computed(() => ({ ...outer.view.value, dataset: own.value.dataset })) });
</script>

<template>
  <component :is="EXHIBIT_VIEWS[own.exhibit.kind]" :exhibit="own.exhibit" :number="number" @drill="emit('drill', $event)" />
</template>
