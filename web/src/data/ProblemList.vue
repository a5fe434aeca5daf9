<script setup lang="ts">
import type { Choice, Problem } from '@bold-compass/core/imports';
import { figure } from './use-import.ts';
import { saveCsv } from '../shell/save-file.ts';
import FoldedPart from '../shell/FoldedPart.vue';

/** Everything that does not fit, counted over the whole file, with a choice for each. */
const props = defineProps<{ problems: Problem[]; rows: number }>();
const emit = defineEmits<{ choose: [id: string, choice: Choice] }>();

const WORDS: Record<Choice, (problem: Problem) => string> = {
  stop: () => 'Stop',
  empty: () => 'Leave empty',
  skip: () => 'Skip row',
  round: () => 'Round',
  widen: () => 'Keep all digits: more decimal places',
  cut: () => 'Cut or fill the row',
};

/** The examples as a file to work through elsewhere. */
function download(problem: Problem): void {
  const rows = problem.examples.map(({ row, text }) => ({ row, column: problem.column, text }));
  saveCsv('does-not-fit.csv', rows);
}
</script>

<template>
  <section class="problems" aria-label="Problems">
    <template v-if="props.problems.length === 0">
      <h2>No problems</h2>
      <p class="muted">Each of the {{ figure(rows) }} rows was held against the types. Empty cells become missing values.</p>
    </template>
    <template v-else>
      <h2>Problems</h2>
      <article v-for="problem in problems" :key="problem.id" :class="{ settled: problem.choice !== 'stop' }">
        <p>
          <strong v-if="problem.column">{{ problem.column }}: </strong>{{ figure(problem.count) }} {{ problem.words }}.
        </p>
        <p v-if="problem.hint" class="muted">{{ problem.hint }}</p>
        <FoldedPart
          v-if="problem.examples.length > 0"
          :title="problem.examples.length < problem.count ? `The first ${problem.examples.length}` : 'Show rows'"
        >
          <ul>
            <li v-for="(example, index) in problem.examples" :key="index">
              Row {{ figure(example.row) }}<template v-if="example.text">: “{{ example.text }}”</template>
            </li>
          </ul>
          <v-btn variant="plain" class="inline" @click="download(problem)">Export as CSV</v-btn>
        </FoldedPart>
        <v-select
          label="Action"
          :model-value="problem.choice"
          :items="problem.choices.map((choice) => ({ value: choice, title: WORDS[choice](problem) }))"
          @update:model-value="emit('choose', problem.id, $event as Choice)"
        />
      </article>
    </template>
  </section>
</template>

<style scoped>
.problems {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
article {
  border-left: 3px solid var(--off);
  padding: 2px 0 4px 10px;
}
article.settled {
  border-color: var(--rule);
}
ul {
  list-style: none;
  padding: 0;
  margin: 2px 0;
  max-height: 180px;
  overflow-y: auto;
  font-size: 13px;
}
label {
  display: flex;
  gap: 6px;
  align-items: center;
  margin-top: 2px;
}
</style>
