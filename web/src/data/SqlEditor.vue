<script setup lang="ts">
import { autocompletion } from '@codemirror/autocomplete';
import { PostgreSQL, sql, type SQLNamespace } from '@codemirror/lang-sql';
import { lintGutter, setDiagnostics } from '@codemirror/lint';
import { Compartment, EditorState } from '@codemirror/state';
import { EditorView, lineNumbers, placeholder } from '@codemirror/view';
import { onBeforeUnmount, onMounted, ref, watch } from 'vue';
import { codeEditing, codeLook } from '../shell/code-editor.ts';

/** An editor for SQL: highlighting, completion of tables and columns, the fault marked at its place. */
const props = defineProps<{ schema: SQLNamespace; fault: { message: string; position: number | null } | null; label: string }>();
const emit = defineEmits<{ run: [] }>();
const text = defineModel<string>({ required: true });

const host = ref<HTMLElement | null>(null);
const language = new Compartment();
let view: EditorView | undefined;

const withSchema = () => sql({ dialect: PostgreSQL, schema: props.schema, defaultSchema: 'public', upperCaseKeywords: true });

onMounted(() => {
  view = new EditorView({
    parent: host.value!,
    state: EditorState.create({
      doc: text.value,
      extensions: [
        ...codeLook(props.label),
        lineNumbers(),
        autocompletion({ icons: false }),
        lintGutter(),
        placeholder('SELECT … FROM …'),
        language.of(withSchema()),
        ...codeEditing([{ key: 'Mod-Enter', run: () => (emit('run'), true) }]),
        EditorView.updateListener.of((update) => {
          if (update.docChanged) text.value = update.state.doc.toString();
        }),
      ],
    }),
  });
});
onBeforeUnmount(() => view?.destroy());

watch(
  () => props.schema,
  () => view?.dispatch({ effects: language.reconfigure(withSchema()) }),
);
watch(text, (now) => {
  if (view && view.state.doc.toString() !== now) view.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: now } });
});
watch(
  () => props.fault,
  (fault) => {
    if (!view) return;
    const { length } = view.state.doc;
    if (!fault || fault.position === null) return view.dispatch(setDiagnostics(view.state, []));
    const from = Math.min(fault.position, length);
    const word = /^[\w"]+/.exec(view.state.sliceDoc(from, from + 60))?.[0].length ?? 1;
    view.dispatch(setDiagnostics(view.state, [{ from, to: Math.min(length, from + word), severity: 'error', message: fault.message }]));
  },
);

/** Puts a text where the cursor is. */
function insert(word: string): void {
  if (!view) return;
  view.dispatch(view.state.replaceSelection(word));
  view.focus();
}
defineExpose({ insert });
</script>

<template>
  <div ref="host" class="editor" />
</template>

<style scoped>
.editor {
  height: 240px;
  border: 1px solid var(--rule);
  border-radius: 6px;
  overflow: hidden;
  resize: vertical;
}
.editor:focus-within {
  border-color: var(--sea);
}
</style>
