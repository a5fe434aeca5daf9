<script setup lang="ts">
import { isDataExhibit, type Prompt, type PromptReach } from '@bold-compass/core/model';
import { openedByLink, promptKindOf, promptName, promptTitle, promptWords, startingWith } from '@bold-compass/core/prompts';
import { computed } from 'vue';
import { useReport } from '../../../report/context.ts';
import { useCompose } from '../../context.ts';
import { PROMPT_SETTINGS } from './prompt-settings.ts';

/** The settings of a prompt: those that every kind has, and its own. */
const props = defineProps<{ prompt: Prompt }>();
const emit = defineEmits<{ change: [prompt: Prompt] }>();
const { report } = useCompose();
const { asked, wording } = useReport();

const set = (part: Partial<Prompt>): void => emit('change', { ...props.prompt, ...part } as Prompt);
const textOf = (event: Event): string => (event.target as HTMLInputElement).value.trim();
const kind = computed(() => promptKindOf(props.prompt));
/** What formulas call it, where that is a name of theirs. */
function setName(text: string): void {
  const name = text.toLowerCase().replaceAll(/[^\p{L}\p{N}_]+/gu, '_');
  set({ name: name || undefined });
}
const places = computed(() => [
  ...report.value.pages.map(({ id, title }) => ({ value: `page ${id}`, title: `Page: ${title}` })),
  ...report.value.exhibits.flatMap((exhibit) =>
    isDataExhibit(exhibit) ? [{ value: `exhibit ${exhibit.id}`, title: exhibit.title || exhibit.id }] : [],
  ),
]);
const chosenPlaces = computed(() => {
  const { pages = [], exhibits = [] } = props.prompt.reach ?? {};
  return [...pages.map((id) => `page ${id}`), ...exhibits.map((id) => `exhibit ${id}`)];
});
function setReach(chosen: string[]): void {
  const of = (what: string): string[] => chosen.filter((one) => one.startsWith(`${what} `)).map((one) => one.slice(what.length + 1));
  const reach: PromptReach = { pages: of('page'), exhibits: of('exhibit') };
  set({ reach: chosen.length > 0 ? reach : undefined });
}
/** What is chosen in the scope line now. */
const now = computed(() => promptWords(props.prompt, asked.value, wording.value));
const isLeftOffByLinks = computed(() => props.prompt.id in openedByLink({ prompts: [props.prompt] }));
const canStart = computed(() => props.prompt.kind === 'members' || kind.value.startingWith !== undefined);
</script>

<template>
  <div class="editor">
    <p class="muted">{{ kind.about }}</p>
    <component :is="PROMPT_SETTINGS[prompt.kind]" :prompt="prompt as never" @change="emit('change', $event)" />
    <v-text-field
      label="Label"
      :model-value="prompt.label ?? ''"
      :placeholder="promptTitle(prompt, wording.dataset)"
      maxlength="80"
      @change="set({ label: textOf($event) || undefined })"
    />
    <v-text-field
      label="Name"
      hint="In formulas and texts"
      persistent-hint
      :model-value="prompt.name ?? ''"
      :placeholder="promptName(prompt)"
      maxlength="80"
      @change="setName(textOf($event))"
    />
    <v-autocomplete
      label="Applies to"
      multiple
      :items="places"
      :model-value="chosenPlaces"
      placeholder="The whole report"
      persistent-placeholder
      @update:model-value="setReach($event)"
    />
    <v-checkbox
      v-if="prompt.kind !== 'measure' && prompt.kind !== 'dimension' && prompt.kind !== 'switch'"
      label="Required"
      :model-value="prompt.required ?? false"
      @update:model-value="set({ required: $event ? true : undefined })"
    />
    <p v-if="isLeftOffByLinks" class="muted">Links to this report leave its default off, so that they show what was counted.</p>
    <v-checkbox
      label="Hidden, filled by links only"
      :model-value="prompt.hidden ?? false"
      @update:model-value="set({ hidden: $event ? true : undefined })"
    />
    <v-btn v-if="canStart" variant="text" class="start" @click="emit('change', startingWith(prompt, asked))">
      Set as default: {{ now }}
    </v-btn>
  </div>
</template>

<style scoped>
.editor {
  display: grid;
  gap: 8px;
  padding: 4px 4px 10px;
}
.muted {
  font-size: 12.5px;
  margin: 0;
}
.start {
  justify-content: start;
  white-space: normal;
  height: auto;
  text-align: left;
}
</style>
