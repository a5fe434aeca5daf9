<script setup lang="ts">
import { conditionWords } from '@bold-compass/core/format';
import { fieldLabel } from '@bold-compass/core/model';
import { computed } from 'vue';
import { carriedScope, scopePhrase, shownFields } from '@bold-compass/core/prompts';
import { useReport } from '../report/context.ts';
import { whereQuery } from '../report/url-state.ts';
import PromptPhrase from './PromptPhrase.vue';

/** The sentence that says what the report is showing; each phrase opens its choices. */
defineProps<{ notes: string[] }>();
const { report, scope, where, view, label, wording, setScope, navigate } = useReport();

const pieces = computed(() =>
  report.value.scopeLine.map((piece) =>
    'text' in piece ? { text: piece.text } : { prompt: report.value.prompts.find(({ id, hidden }) => id === piece.prompt && !hidden) },
  ),
);
/** Conditions that came along a link and that no prompt of this report asks for. */
const carried = computed(() => carriedScope(report.value, scope.value, wording.value));

/** Conditions that came along a link beside the scope, in words. */
const conditions = computed(() => conditionWords(view.value.dataset, where.value, label.value));
function drop(field: string): void {
  const next = { ...scope.value };
  delete next[field];
  setScope(next);
}
</script>

<template>
  <p class="scope serif" data-testid="scope-line">
    <template v-for="(piece, index) in pieces" :key="index">
      <template v-if="'text' in piece">{{ piece.text }}</template>
      <template v-else-if="piece.prompt?.kind === 'members'">
        <template v-for="(field, step) in shownFields(view.dataset, piece.prompt.fields, scope)" :key="field"
          ><span v-if="step > 0" class="step" aria-hidden="true">›</span><PromptPhrase :prompt="piece.prompt" :field="field"
        /></template>
      </template>
      <PromptPhrase v-else-if="piece.prompt" :prompt="piece.prompt" />
    </template>
    <span v-if="conditions.length > 0" class="carried">
      {{ conditions.join('; ') }}
      <button type="button" class="drop" aria-label="Remove the conditions of the link" @click="navigate(whereQuery(null), 'step')">
        ×
      </button>
    </span>
    <template v-for="[field, members] in carried" :key="field">
      <span class="carried">
        {{ fieldLabel(view.dataset, field) }} {{ scopePhrase(wording, field, members, false) }}
        <button type="button" class="drop" :aria-label="`Remove the condition on ${fieldLabel(view.dataset, field)}`" @click="drop(field)">
          ×
        </button>
      </span>
    </template>
  </p>
  <p v-for="note in notes" :key="note" class="note" role="status">{{ note }}</p>
</template>

<style scoped>
.scope {
  font-size: 16px;
  font-weight: 400;
  line-height: 1.65;
  color: var(--ink-2);
  margin: 6px 0 0;
}
.step {
  color: var(--brass-line);
  margin: 0 3px;
}
.carried {
  font-family: var(--sans);
  font-size: 13px;
  color: var(--ink);
  background: var(--sea-tint);
  border-radius: 5px;
  padding: 2px 2px 2px 8px;
  margin-left: 6px;
  white-space: nowrap;
}
.drop {
  min-width: 24px;
  min-height: 24px;
  text-align: center;
  font-size: 15px;
  color: var(--ink-2);
}
.drop:hover {
  color: var(--off-text);
}
.note {
  margin: 2px 0 0;
  font-size: 13px;
  color: var(--drift-text);
}
</style>
