<script setup lang="ts">
import { membersResponseSchema } from '@bold-compass/core/api';
import { fieldLabel, type PromptOf } from '@bold-compass/core/model';
import { choiceOf } from '@bold-compass/core/prompts';
import { useQuery } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { ask } from '../api/client.ts';
import { useReport } from '../report/context.ts';

/** A text that is searched for, with the texts there are that hold it. */
const props = defineProps<{ prompt: PromptOf<'text'> }>();
const emit = defineEmits<{ done: [] }>();
const { report, asked, choices, draft, version, view, setChoice } = useReport();
const MOST = 8;

const chosen = computed(() => choiceOf(props.prompt, choices.value)[0] ?? '');
const typed = ref(chosen.value);
const { data } = useQuery({
  queryKey: computed(() => ['members', report.value.id, version.value, props.prompt.id, asked.value]),
  queryFn: ({ signal }) => {
    const body = { ...asked.value, field: props.prompt.field, prompt: props.prompt.id, draft: draft.value };
    return ask(membersResponseSchema, 'POST', `/reports/${report.value.id}/members`, body, signal);
  },
});
const matching = computed(() => {
  const wanted = typed.value.trim().toLowerCase();
  return (data.value?.members ?? []).filter(({ label }) => label.toLowerCase().includes(wanted));
});
function take(text: string): void {
  typed.value = text;
  setChoice(props.prompt.id, text.trim() === '' ? [] : [text.trim()]);
  emit('done');
}
</script>

<template>
  <form class="text" @submit.prevent="take(typed)">
    <v-text-field
      v-model="typed"
      type="search"
      :placeholder="`Part of a ${fieldLabel(view.dataset, prompt.field).toLowerCase()}`"
      :aria-label="fieldLabel(view.dataset, prompt.field)"
      maxlength="200"
    />
    <v-list aria-label="Suggestions">
      <v-list-item v-for="one in matching.slice(0, MOST)" :key="one.member" :title="one.label" @click="take(one.label)" />
    </v-list>
    <div class="foot">
      <span class="muted">{{ data ? `${matching.length} match` : '' }}</span>
      <v-btn variant="text" :disabled="chosen === '' && typed === ''" @click="take('')">Clear</v-btn>
      <v-btn type="submit" color="primary">Show</v-btn>
    </div>
  </form>
</template>

<style scoped>
.text {
  padding: 4px;
}
.foot {
  display: flex;
  align-items: center;
  gap: 8px;
}
.foot .muted {
  flex: 1;
  padding-left: 6px;
  font-size: 12.5px;
}
</style>
