<script setup lang="ts">
import { fieldLabel, type Prompt } from '@bold-compass/core/model';
import { choiceOf, excludedMembers, promptTitle, promptWords, scopePhrase } from '@bold-compass/core/prompts';
import { mdiFilterOutline } from '@mdi/js';
import { useMediaQuery } from '@vueuse/core';
import { computed, nextTick, ref, watch } from 'vue';
import { VBottomSheet, VMenu } from 'vuetify/components';
import { useReport } from '../report/context.ts';
import { PROMPT_VIEWS } from './prompt-views.ts';

/** One underlined phrase of the scope line, which opens its choices: below it, or as a sheet where there is little room. */
const props = defineProps<{ prompt: Prompt; field?: string; compact?: boolean }>();
const { scope, choices, wording, asked } = useReport();

const open = ref(false);
const narrow = useMediaQuery('(max-width: 700px)');
const control = ref<HTMLElement | null>(null);

const title = computed(() =>
  props.field ? fieldLabel(wording.value.dataset, props.field) : promptTitle(props.prompt, wording.value.dataset),
);
const phrase = computed(() => {
  const { prompt, field } = props;
  if (prompt.kind !== 'members' || !field) return promptWords(prompt, asked.value, wording.value);
  const out = excludedMembers(choiceOf(prompt, choices.value))?.get(field) ?? [];
  return out.length > 0
    ? promptWords({ ...prompt, fields: [field] }, { ...asked.value, scope: {} }, wording.value)
    : scopePhrase(wording.value, field, scope.value[field] ?? []);
});
const isSet = computed(() => (scope.value[props.field ?? '']?.length ?? 0) > 0);

watch(open, async (isOpen) => {
  if (!isOpen) return;
  await nextTick();
  requestAnimationFrame(() => control.value?.querySelector<HTMLElement>('input, [role=option], button')?.focus());
});
</script>

<template>
  <component
    :is="narrow ? VBottomSheet : VMenu"
    v-model="open"
    v-bind="narrow ? { fullscreen: true, 'aria-label': title } : { closeOnContentClick: false, location: 'bottom start', offset: 6 }"
  >
    <template #activator="{ props: activator }">
      <v-btn
        v-if="compact"
        :icon="mdiFilterOutline"
        variant="text"
        size="x-small"
        class="funnel"
        v-bind="activator"
        :aria-owns="undefined"
        :class="{ set: isSet }"
        :aria-label="`Only some of ${title}`"
        :title="`Only some of ${title}`"
      />
      <button v-else class="phrase" type="button" v-bind="activator" :aria-owns="undefined" :aria-label="`${title}: ${phrase}. Change`">
        {{ phrase }}
      </button>
    </template>
    <v-card class="prompt" :class="{ sheet: narrow }" :aria-label="title">
      <div v-if="narrow" class="head">
        <h2>{{ title }}</h2>
        <v-btn variant="text" @click="open = false">Done</v-btn>
      </div>
      <div ref="control">
        <component :is="PROMPT_VIEWS[prompt.kind].control" :prompt="prompt as never" :field="field ?? ''" @done="open = false" />
      </div>
    </v-card>
  </component>
</template>

<style scoped>
.funnel.set {
  color: var(--sea);
  background: var(--sea-tint);
}
.phrase {
  font-weight: 600;
  color: var(--ink);
  border-bottom: 1.5px dotted var(--brass-line);
  display: inline;
  overflow-wrap: anywhere;
}
.phrase:hover {
  color: var(--sea);
}
.prompt {
  width: min(330px, 92vw);
  padding: 6px;
}
.prompt.sheet {
  width: 100%;
  height: 100%;
  padding: 14px;
  display: block;
  overflow-y: auto;
}
.head {
  display: flex;
  align-items: center;
  justify-content: space-between;
  margin-bottom: 8px;
}
.head h2 {
  font-size: 18px;
}
</style>
