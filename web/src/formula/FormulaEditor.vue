<script setup lang="ts">
import { autocompletion } from '@codemirror/autocomplete';
import { LRLanguage } from '@codemirror/language';
import { setDiagnostics } from '@codemirror/lint';
import { EditorState } from '@codemirror/state';
import { EditorView, placeholder, tooltips } from '@codemirror/view';
import { formulaParser } from '@bold-compass/core/formula';
import type { Dataset } from '@bold-compass/core/model';
import { styleTags, tags } from '@lezer/highlight';
import { onBeforeUnmount, onMounted, useTemplateRef, watch } from 'vue';
import { codeEditing, codeLook } from '../shell/code-editor.ts';
import { completeFormula } from './completion.ts';
import type { WrittenProblem } from './problems.ts';
import { signatureHelp } from './signature-help.ts';

/** An editor for formulas: highlighting, completion of names and functions, the problem marked at its place. */
const props = defineProps<{ dataset: Dataset; problem: WrittenProblem | null; label: string }>();
const emit = defineEmits<{ apply: []; leave: []; word: [name: string] }>();
const text = defineModel<string>({ required: true });
const host = useTemplateRef<HTMLElement>('host');
let view: EditorView | undefined;

const language = LRLanguage.define({
  parser: formulaParser.configure({
    props: [
      styleTags({
        'Call/Name': tags.function(tags.variableName),
        'where in between and or not is like case when then else end at back per date true false null': tags.keyword,
        String: tags.string,
        Number: tags.number,
        LineComment: tags.comment,
        'Level/Name': tags.typeName,
      }),
    ],
  }),
});

/** The name that the cursor stands in or behind. */
function wordAt(state: EditorState): string {
  const { head } = state.selection.main;
  const before = /[\w\u00a1-\uffff]*\(?[^()]*$/.exec(state.sliceDoc(Math.max(0, head - 200), head))?.[0] ?? '';
  const here = /^[\w\u00a1-\uffff]+/.exec(before)?.[0] ?? '';
  return here.toLowerCase();
}

onMounted(() => {
  view = new EditorView({
    parent: host.value!,
    state: EditorState.create({
      doc: text.value,
      extensions: [
        ...codeLook(props.label),
        tooltips({ parent: document.body }),
        language,
        autocompletion({ icons: false, override: [completeFormula(() => props.dataset)] }),
        signatureHelp(),
        placeholder('A formula, such as growth(net_sales, 1 year)'),
        ...codeEditing([{ key: 'Mod-Enter', run: () => (emit('apply'), true) }], [{ key: 'Escape', run: () => (emit('leave'), true) }]),
        EditorView.updateListener.of((update) => {
          if (update.docChanged) text.value = update.state.doc.toString();
          if (update.docChanged || update.selectionSet) emit('word', wordAt(update.state));
        }),
      ],
    }),
  });
});
onBeforeUnmount(() => view?.destroy());

watch(text, (now) => {
  if (view && view.state.doc.toString() !== now) view.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: now } });
});
watch(
  () => props.problem,
  (problem) => {
    if (!view) return;
    const { length } = view.state.doc;
    const marks = problem
      ? [
          {
            from: Math.min(problem.from, length),
            to: Math.min(Math.max(problem.to, problem.from + 1), length),
            severity: 'error' as const,
            message: problem.message,
          },
        ]
      : [];
    view.dispatch(setDiagnostics(view.state, marks));
  },
  { immediate: true, flush: 'post' },
);

/** Puts a text where the cursor is. */
function insert(words: string): void {
  if (!view) return;
  view.dispatch(view.state.replaceSelection(words));
  view.focus();
}
/** Writes over a part of the text. */
function replace(from: number, to: number, words: string): void {
  view?.dispatch({ changes: { from, to, insert: words }, selection: { anchor: from + words.length } });
  view?.focus();
}
defineExpose({ insert, replace, focus: () => view?.focus() });
</script>

<template>
  <div ref="host" class="formula-editor" @dragover.prevent />
</template>

<style scoped>
.formula-editor {
  min-height: 64px;
  max-height: 220px;
  overflow: auto;
  border: 1px solid var(--rule);
  border-radius: 6px;
  background: var(--sheet);
}
.formula-editor:focus-within {
  border-color: var(--sea);
}
</style>
