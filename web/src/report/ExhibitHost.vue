<script setup lang="ts">
import { withAggregations } from '@bold-compass/core/crosstab';
import { isDataExhibit, type Exhibit } from '@bold-compass/core/model';
import { computed } from 'vue';
import CrosstabExhibit from '../crosstab/CrosstabExhibit.vue';
import { provideReport, useReport } from './context.ts';
import ImageExhibit from './ImageExhibit.vue';
import KpiStrip from './KpiStrip.vue';
import ListExhibit from '../list/ListExhibit.vue';
import TextExhibit from './TextExhibit.vue';

/** Any exhibit, with the dataset that it answers from. */
const props = defineProps<{ exhibit: Exhibit; number: number }>();
const emit = defineEmits<{ drill: [] }>();
const outer = useReport();

const own = computed(() => {
  const { exhibit } = props;
  const { dataset, datasets } = outer.view.value;
  const answers = isDataExhibit(exhibit) && exhibit.dataset ? (datasets[exhibit.dataset] ?? dataset) : dataset;
  return exhibit.kind === 'crosstab' ? withAggregations(answers, exhibit) : { exhibit, dataset: answers };
});
provideReport({ ...outer, view: computed(() => ({ ...outer.view.value, dataset: own.value.dataset })) });
</script>

<template>
  <CrosstabExhibit v-if="own.exhibit.kind === 'crosstab'" :exhibit="own.exhibit" :number="number" @drill="emit('drill')" />
  <ListExhibit v-else-if="own.exhibit.kind === 'list'" :exhibit="own.exhibit" :number="number" />
  <KpiStrip v-else-if="own.exhibit.kind === 'kpis'" :exhibit="own.exhibit" />
  <TextExhibit v-else-if="own.exhibit.kind === 'text'" :exhibit="own.exhibit" />
  <ImageExhibit v-else-if="own.exhibit.kind === 'image'" :exhibit="own.exhibit" />
  <hr v-else class="divider" />
</template>

<style scoped>
.divider {
  border: 0;
  border-top: 1px solid var(--ink);
  margin: 18px 0 4px;
}
</style>
