<script setup lang="ts">
import { computed } from 'vue';
import { useReport } from '../report/context.ts';
import ExhibitHost from '../report/ExhibitHost.vue';
import { shownExhibit } from '../report/shown-exhibit.ts';

/** An exhibit as it is shown in the section around it. */
const props = defineProps<{ id: string; number: number }>();
const context = useReport();
const exhibit = computed(() => {
  const written = context.report.value.exhibits.find(({ id }) => id === props.id);
  return written && shownExhibit(context, written);
});
</script>

<template>
  <ExhibitHost v-if="exhibit" :exhibit="exhibit" :number="number" />
</template>
