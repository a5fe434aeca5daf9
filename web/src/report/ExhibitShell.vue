<script setup lang="ts">
import { computed } from 'vue';
import { isPassing } from '../api/client.ts';
import { useReport } from './context.ts';
import ExhibitState from './ExhibitState.vue';
import ProblemState from './ProblemState.vue';

/**
 * What exhibits that answer from data have in common: a title with what it counts in, a note below, and what stands in
 * their place while nothing is there yet, nothing is left, or something is wrong.
 */
const props = defineProps<{
  id: string;
  title: string;
  /** What follows the number of the exhibit. */
  about: string[];
  number: number;
  note: string;
  state: 'loading' | 'empty' | 'shown';
  /** The words while it is loading. */
  loading: string;
  problem: unknown;
  waiting: boolean;
}>();
defineEmits<{ retry: [] }>();
const { fill, resetScope } = useReport();
const headingId = computed(() => `heading-${props.id}`);
/** What passes by itself is said above what is there; the rest stands in its place. */
const passing = computed(() => (isPassing(props.problem) && props.problem instanceof Error ? props.problem.message : ''));
</script>

<template>
  <section class="exhibit" :aria-labelledby="headingId" :aria-busy="waiting">
    <header>
      <h2 :id="headingId">{{ fill(title) }}</h2>
      <span class="muted number">{{ [`Exhibit ${number}`, ...about.filter((one) => one !== '')].join(' · ') }}</span>
      <slot name="tools" />
    </header>
    <slot name="progress" />
    <p v-if="passing" class="trouble" role="alert">{{ passing }}</p>
    <ProblemState v-if="problem && !passing" :error="problem" @retry="$emit('retry')" @reset="resetScope" />
    <ExhibitState v-else-if="state === 'loading'" kind="loading" :title="loading" />
    <ExhibitState
      v-else-if="state === 'empty'"
      kind="empty"
      title="Nothing is left under this choice"
      message="No record fits all of it. Take one condition away, or start over."
    >
      <v-btn @click="resetScope">Back to the first choice</v-btn>
    </ExhibitState>
    <slot v-else />
    <slot name="legend" />
    <p v-if="note" class="note">{{ fill(note) }}</p>
  </section>
</template>

<style scoped>
.exhibit {
  margin-top: 20px;
}
header {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0 12px;
  margin-bottom: 3px;
}
.number {
  font-size: 12.5px;
}
.trouble {
  margin: 0 0 6px;
  padding: 6px 12px;
  background: var(--brass-tint);
  border-left: 3px solid var(--brass-line);
}
.note {
  margin: 6px 0 0;
  font-size: 12.5px;
  color: var(--ink-2);
}
</style>
