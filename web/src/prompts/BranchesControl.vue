<script setup lang="ts">
import { membersResponseSchema } from '@bold-compass/core/api';
import { findField, type PromptOf } from '@bold-compass/core/model';
import { branchesChoice, branchesOf, choiceOf } from '@bold-compass/core/prompts';
import { mdiChevronDown, mdiChevronRight } from '@mdi/js';
import { useQueries } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { ask } from '../api/client.ts';
import { useReport } from '../report/context.ts';
import { branchLines, isUnder } from './branch-lines.ts';

/** A hierarchy as a tree: whole branches at any level, or all but these. */
const props = defineProps<{ prompt: PromptOf<'branches'> }>();
const emit = defineEmits<{ done: [] }>();
const { report, asked, choices, draft, version, view, setChoice } = useReport();

const search = ref('');
const opened = ref(new Set<string>());
const chosen = computed(() => branchesOf(choiceOf(props.prompt, choices.value)));
/** A tree of people ends at any level, so each is asked for; in other hierarchies the finest leads to all. */
const asking = computed(() => {
  const place = findField(view.value.dataset, props.prompt.fields[0]);
  return place?.kind === 'level' && place.dimension.tree ? props.prompt.fields : props.prompt.fields.slice(-1);
});
const answers = useQueries({
  queries: computed(() =>
    asking.value.map((field) => ({
      queryKey: ['branches', report.value.id, version.value, props.prompt.id, field, asked.value],
      queryFn: ({ signal }: { signal: AbortSignal }) => {
        const body = { ...asked.value, field, prompt: props.prompt.id, tree: true, draft: draft.value };
        return ask(membersResponseSchema, 'POST', `/reports/${report.value.id}/members`, body, signal);
      },
    })),
  ),
});
const error = computed(() => answers.value.find((one) => one.error)?.error);
const members = computed(() => answers.value.flatMap((one) => one.data?.members ?? []));
const lines = computed(() => branchLines(members.value, opened.value, search.value));
const isChosen = (path: readonly string[]): boolean => chosen.value.paths.some((one) => isUnder(path, one));
const isPart = (path: readonly string[]): boolean => chosen.value.paths.some((one) => one.length > path.length && isUnder(one, path));
function toggle(path: string[]): void {
  const { paths, isLeftOut } = chosen.value;
  const others = paths.filter((one) => !isUnder(one, path));
  // A branch that stands under a chosen one takes its place.
  const above = others.filter((one) => !isUnder(path, one));
  const next = paths.some((one) => one.join('\u0000') === path.join('\u0000')) ? others : [...(props.prompt.multiple ? above : []), path];
  setChoice(props.prompt.id, branchesChoice(next, isLeftOut));
}
function unfold(key: string): void {
  const next = new Set(opened.value);
  if (!next.delete(key)) next.add(key);
  opened.value = next;
}
</script>

<template>
  <div class="branches">
    <v-text-field v-model="search" type="search" placeholder="Find in all levels" aria-label="Find a member" />
    <p v-if="error" class="muted">The choices could not be fetched. Close this, and open it again.</p>
    <v-virtual-scroll :items="lines" :item-height="30" :height="Math.min(lines.length * 30, 320)" item-key="key">
      <template #default="{ item }">
        <div class="line" :style="{ paddingLeft: `${item.path.length * 16 - 16}px` }">
          <v-btn
            v-if="item.canOpen"
            :icon="item.isOpen ? mdiChevronDown : mdiChevronRight"
            variant="text"
            size="x-small"
            :aria-label="item.isOpen ? `Close ${item.label}` : `Open ${item.label}`"
            :aria-expanded="item.isOpen"
            @click="unfold(item.key)"
          />
          <span v-else class="gap" />
          <v-checkbox
            :label="item.label"
            :model-value="isChosen(item.path)"
            :indeterminate="!isChosen(item.path) && isPart(item.path)"
            @update:model-value="toggle(item.path)"
          />
        </div>
      </template>
    </v-virtual-scroll>
    <p v-if="members.length > 0 && lines.length === 0" class="muted">No member matches “{{ search }}”.</p>
    <div class="foot">
      <v-checkbox
        class="but"
        label="All but these"
        :model-value="chosen.isLeftOut"
        :disabled="chosen.paths.length === 0"
        @update:model-value="setChoice(prompt.id, branchesChoice(chosen.paths, Boolean($event)))"
      />
      <v-btn variant="text" @click="setChoice(prompt.id, [])">All</v-btn>
      <v-btn variant="text" @click="emit('done')">Done</v-btn>
    </div>
  </div>
</template>

<style scoped>
.branches {
  display: grid;
  gap: 4px;
}
.line {
  display: flex;
  align-items: center;
  height: 30px;
}
.gap {
  width: 28px;
}
.muted {
  margin: 4px 8px;
  font-size: 12.5px;
}
.foot {
  display: flex;
  align-items: center;
  border-top: 1px solid var(--rule-2);
}
.but {
  flex: 1;
}
</style>
