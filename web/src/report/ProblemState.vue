<script setup lang="ts">
import { computed } from 'vue';
import { ApiProblem, isPassing } from '../api/client.ts';
import ExhibitState from './ExhibitState.vue';

/** A failed question in plain words. */
const props = defineProps<{ error: unknown }>();
const emit = defineEmits<{ retry: []; reset: [] }>();

const problem = computed(() => (props.error instanceof ApiProblem ? props.error.problem : null));
const kind = computed(() => {
  const code = problem.value?.code;
  if (code === 'too-large') return 'too-large' as const;
  if (code === 'not-allowed' || code === 'report-not-found') return 'no-access' as const;
  return 'failed' as const;
});
const scopeFault = computed(() => problem.value?.code === 'scope-unknown' || problem.value?.code === 'too-large');
</script>

<template>
  <ExhibitState
    :kind="kind"
    :title="problem?.title ?? 'This did not work'"
    :message="problem?.detail ?? 'Something unforeseen happened on this page. Try again.'"
  >
    <v-btn v-if="scopeFault" color="primary" variant="flat" @click="emit('reset')">Back to the first choice</v-btn>
    <v-btn v-else-if="!isPassing(props.error)" @click="emit('retry')">Try again</v-btn>
    <slot />
  </ExhibitState>
</template>
