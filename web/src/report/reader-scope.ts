import { possibleResponseSchema, type ReportView } from '@bold-compass/core/api';
import { fieldLabel, type Choices, type ReaderScope, type Report, type Scope } from '@bold-compass/core/model';
import { namedWords } from '@bold-compass/core/prompts';
import { useOwnStorage } from '../shell/own-storage.ts';
import { computed, ref, watch, type ComputedRef } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { ask } from '../api/client.ts';
import { useLeaving } from '../shell/go-on.ts';
import { carriesScope, choiceQuery, readChoices, readScope, readWhere, scopeQuery, stateQuery } from './url-state.ts';

/** What the reader of an open report chose, as the address holds it, and how it changes. */
export function useReaderScope(report: ComputedRef<Report>, loaded: () => ReportView, composing: () => boolean) {
  const route = useRoute();
  const router = useRouter();
  const leaving = useLeaving();
  /** What was chosen in this report when it was left. */
  const lastVisit = useOwnStorage<Scope>(`last scope ${loaded().report.id}`, {});
  const first = computed((): Scope => {
    const kept = report.value.prompts.flatMap((prompt) =>
      prompt.kind === 'members' && prompt.start === 'last_visit' ? prompt.fields : [],
    );
    const before = Object.fromEntries(kept.flatMap((field) => (lastVisit.value[field] ? [[field, lastVisit.value[field]]] : [])));
    return { ...loaded().start.scope, ...before };
  });
  // What is remembered is not looked at where the address says what was chosen: it follows from that.
  const scope = computed(() => readScope(report.value, route.query, carriesScope(route.query) ? {} : first.value));
  const choices = computed((): Choices => {
    const all = readChoices(report.value, route.query);
    if (!composing()) return all;
    // What stands in the place of other names is written down as it is while composing.
    const swapping = new Set(report.value.prompts.filter(({ kind }) => kind === 'measure' || kind === 'dimension').map(({ id }) => id));
    return Object.fromEntries(Object.entries(all).filter(([id]) => !swapping.has(id) && !id.includes('.')));
  });
  const where = computed(() => readWhere(route.query));
  const asked = computed((): ReaderScope => ({ scope: scope.value, choices: choices.value, where: where.value }));
  watch(scope, (now) => {
    if (carriesScope(route.query)) lastVisit.value = now;
  });

  /** What choices were dropped since others made them impossible, in words. */
  const notes = ref<string[]>([]);
  function go(next: Scope): void {
    // A chosen cell may not be there any more under another scope; the margin then says so.
    void router.push({ query: { ...stateQuery(route.query), ...scopeQuery(next) } });
  }
  /** Choices of members so far: an answer about an earlier one comes too late. */
  let choicesMade = 0;
  function setScope(next: Scope, changed?: string): void {
    const own = ++choicesMade;
    notes.value = [];
    const others = report.value.prompts.some(
      (prompt) =>
        prompt.kind === 'members' &&
        (prompt.linked || prompt.fields.includes(changed ?? '')) &&
        prompt.fields.some((field) => field !== changed && (next[field]?.length ?? 0) > 0),
    );
    // At once, so that the next choice begins with this one; what it makes impossible is dropped as soon as that is known.
    go(next);
    if (!changed || !others) return;
    const body = { ...asked.value, scope: next, changed, draft: composing() || loaded().edition === null };
    // What comes after the page was left, or another choice was made, is about nothing that is shown.
    ask(possibleResponseSchema, 'POST', `/reports/${report.value.id}/possible`, body, leaving).then(
      ({ scope: left, dropped }) => {
        if (leaving.aborted || own !== choicesMade || dropped.length === 0) return;
        void router.replace({ query: { ...stateQuery(route.query), ...scopeQuery(left) } });
        notes.value = dropped.map(
          ({ field, labels }) =>
            `${namedWords(labels)} ${labels.length === 1 ? 'was' : 'were'} dropped from ${fieldLabel(loaded().dataset, field).toLowerCase()}: nothing is left there under the new choice.`,
        );
      },
      // What cannot be told stays chosen: the exhibits say what is wrong with it.
      () => undefined,
    );
  }
  function setChoice(prompt: string, choice: readonly string[] | undefined, next: Scope = scope.value): void {
    if (next !== scope.value) choicesMade++;
    notes.value = [];
    void router.push({ query: { ...stateQuery(route.query), ...scopeQuery(next), ...choiceQuery(prompt, choice) } });
  }
  return { scope, choices, where, asked, setScope, setChoice, notes };
}
