<script setup lang="ts">
import { calendarsOf, findMeasure, type Prompt } from '@bold-compass/core/model';
import { PROMPT_KINDS, promptTitle } from '@bold-compass/core/prompts';
import { mdiChevronDown, mdiChevronRight, mdiClose } from '@mdi/js';
import { computed, ref } from 'vue';
import { PROMPT_VIEWS } from '../../../prompts/prompt-views.ts';
import AddChoice from '../../../shell/AddChoice.vue';
import type { Choice } from '../../../shell/choices.ts';
import { datasetOf, useCompose } from '../../context.ts';
import { groupingFields, measureChoices, recordFields } from '../../edges.ts';
import { askReader, promptId, withoutPrompts, withPrompt } from '../../prompts.ts';
import PromptEditor from './PromptEditor.vue';

/** What the report asks its reader: each prompt with its settings, and what can be asked beside. */
const compose = useCompose();
const { report, setReport } = compose;
const dataset = computed(() => datasetOf(compose, undefined));
const opened = ref('');
/** The same for as long as no prompt changes: changes elsewhere draw nothing anew here. */
const prompts = computed(() => report.value.prompts);
const asked = computed(() => new Set(prompts.value.flatMap((prompt) => (prompt.kind === 'members' ? prompt.fields : []))));
const replace = (prompt: Prompt): void =>
  setReport({ ...report.value, prompts: report.value.prompts.map((one) => (one.id === prompt.id ? prompt : one)) });

/** What a prompt of each kind can be about. */
const abouts = computed((): Record<Prompt['kind'], Choice[]> => {
  const fields = groupingFields(dataset.value).map(({ name, label }) => ({ value: name, title: label }));
  const numbers = dataset.value.facts
    .flatMap(({ name }) => recordFields(dataset.value, name))
    .map(({ name, label }) => ({ value: name, title: label }));
  const all = [...new Map([...fields, ...numbers].map((one) => [one.value, one])).values()];
  const hierarchies = dataset.value.dimensions.flatMap(({ kind, label, levels }) =>
    kind === 'table' ? [{ value: levels[0].name, title: label }] : [],
  );
  const measures = measureChoices(dataset.value).map(({ name, label }) => ({ value: name, title: label }));
  return {
    members: fields.filter(({ value }) => !asked.value.has(value)),
    branches: hierarchies,
    period: calendarsOf(dataset.value).map(({ name, label }) => ({ value: name, title: label })),
    ...{ dates: all, range: all, text: fields, measure: measures, dimension: hierarchies },
    switch: [{ value: '', title: 'Condition on or off' }],
    number: [{ value: '', title: 'Number for formulas' }],
  };
});
const offers = computed((): Choice[] =>
  Object.values(PROMPT_KINDS).flatMap(({ kind, label, create }) =>
    abouts.value[kind].flatMap(({ value, title }) =>
      create({ id: 'offer', dataset: dataset.value, about: value || undefined })
        ? [{ value: `${kind} ${value}`, title, group: label }]
        : [],
    ),
  ),
);
function add(offer: string): void {
  const [kind] = offer.split(' ', 1) as [Prompt['kind']];
  const about = offer.slice(kind.length + 1);
  if (kind === 'members') {
    const field = groupingFields(dataset.value).find(({ name }) => name === about);
    if (field) setReport(askReader(report.value, dataset.value, field.fields));
    return;
  }
  const id = promptId(report.value, about || kind);
  const prompt = PROMPT_KINDS[kind].create({ id, dataset: dataset.value, about: about || undefined });
  if (!prompt) return;
  setReport(withPrompt(report.value, prompt, promptTitle(prompt, dataset.value)));
  opened.value = id;
}
const kindLabel = (prompt: Prompt): string => PROMPT_KINDS[prompt.kind].label;
const titleOf = (prompt: Prompt): string =>
  prompt.kind === 'measure' && !prompt.label
    ? `${findMeasure(dataset.value, prompt.measures[0])?.label ?? 'Measure'} or another`
    : promptTitle(prompt, dataset.value);
</script>

<template>
  <div v-for="prompt in prompts" :key="prompt.id" class="prompt">
    <div class="line">
      <v-btn
        variant="text"
        class="name"
        :prepend-icon="PROMPT_VIEWS[prompt.kind].icon"
        :append-icon="opened === prompt.id ? mdiChevronDown : mdiChevronRight"
        :aria-expanded="opened === prompt.id"
        :title="kindLabel(prompt)"
        @click="opened = opened === prompt.id ? '' : prompt.id"
      >
        {{ titleOf(prompt) }}
      </v-btn>
      <v-btn
        :icon="mdiClose"
        variant="text"
        size="small"
        :aria-label="`Remove the prompt for ${titleOf(prompt)}`"
        @click="setReport(withoutPrompts(report, [prompt.id]))"
      />
    </div>
    <PromptEditor v-if="opened === prompt.id" :prompt="prompt" @change="replace" />
  </div>
  <AddChoice label="Add prompt" :items="offers" @add="add" />
</template>

<style scoped>
.prompt {
  border-left: 3px solid var(--sea-tint);
  padding-left: 4px;
}
.line {
  display: flex;
  align-items: center;
  justify-content: space-between;
}
.name {
  flex: 1;
  min-width: 0;
  justify-content: start;
  font-weight: 600;
}
</style>
