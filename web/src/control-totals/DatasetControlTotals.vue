<script setup lang="ts">
import type { Dataset } from '@bold-compass/core/model';
import { useQueryClient } from '@tanstack/vue-query';
import { storeToRefs } from 'pinia';
import { computed, ref } from 'vue';
import { z } from 'zod';
import { ApiProblem, ask } from '../api/client.ts';
import { useSession } from '../api/session.ts';
import ProblemState from '../report/ProblemState.vue';
import ControlTotalList from './ControlTotalList.vue';
import { useControlTotals } from './control-totals.ts';

/** The control totals of a dataset: those that do not tie out first. */
const props = defineProps<{ dataset: Dataset }>();
const queries = useQueryClient();
const { person } = storeToRefs(useSession());
const { data, error, refetch } = useControlTotals(computed(() => props.dataset.name));
const sorted = computed(() => [...(data.value ?? [])].sort((a, b) => Number(a.state === 'ties') - Number(b.state === 'ties')));
const problem = ref('');
async function remove(id: string): Promise<void> {
  problem.value = '';
  try {
    await ask(z.object({}), 'DELETE', `/datasets/${props.dataset.name}/control-totals/${id}`);
  } catch (failure) {
    problem.value = failure instanceof ApiProblem ? failure.message : 'It could not be deleted. Try again.';
  }
  await queries.invalidateQueries({ queryKey: ['control totals'] });
}
</script>

<template>
  <div class="part">
    <p class="muted">
      Figures that must hold. Choose a figure in a report and pin it with what the books say; it is checked with every refresh and every
      change of a formula.
    </p>
    <ProblemState v-if="error" :error="error" @retry="refetch()" />
    <p v-if="problem" role="alert" class="failure">{{ problem }}</p>
    <p v-if="data?.length === 0">None is pinned yet.</p>
    <ControlTotalList v-else-if="data" :totals="sorted" :dataset="dataset" :can-change="person?.role === 'analyst'" @remove="remove" />
  </div>
</template>

<style scoped>
.part {
  max-width: 760px;
  padding-top: 12px;
}
.failure {
  color: var(--off-text);
}
</style>
