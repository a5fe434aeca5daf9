<script setup lang="ts">
import { findMeasure, type PromptOf } from '@bold-compass/core/model';
import { choiceOf } from '@bold-compass/core/prompts';
import { mdiRadioboxBlank, mdiRadioboxMarked } from '@mdi/js';
import { computed, ref } from 'vue';
import { useReport } from '../report/context.ts';
import { moveAmong } from './move-among.ts';

/** One of a few: a measure, a dimension, on or off. */
const props = defineProps<{ prompt: PromptOf<'measure' | 'dimension' | 'switch'> }>();
const emit = defineEmits<{ done: [] }>();
const { choices, view, setChoice } = useReport();
const list = ref<HTMLElement | null>(null);

const offered = computed((): { value: string; title: string }[] => {
  const { prompt } = props;
  if (prompt.kind === 'measure')
    return prompt.measures.map((name) => ({ value: name, title: findMeasure(view.value.dataset, name)?.label ?? name }));
  if (prompt.kind === 'dimension') return prompt.choices.map(({ label }) => ({ value: label, title: label }));
  return [
    { value: 'on', title: prompt.on },
    { value: 'off', title: prompt.off },
  ];
});
const chosen = computed(() => {
  const [choice] = choiceOf(props.prompt, choices.value);
  return choice ?? (props.prompt.kind === 'switch' ? 'off' : offered.value[0]?.value);
});
function choose(value: string): void {
  setChoice(props.prompt.id, [value]);
  emit('done');
}
</script>

<template>
  <div ref="list" @keydown="moveAmong(list, $event)">
    <v-list role="listbox" aria-label="Choices">
      <v-list-item
        v-for="one in offered"
        :key="one.value"
        role="option"
        :aria-selected="chosen === one.value"
        :prepend-icon="chosen === one.value ? mdiRadioboxMarked : mdiRadioboxBlank"
        :title="one.title"
        @click="choose(one.value)"
      />
    </v-list>
  </div>
</template>
