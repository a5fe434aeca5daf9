import { closeBrackets, closeBracketsKeymap, completionKeymap } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { bracketMatching, HighlightStyle, syntaxHighlighting } from '@codemirror/language';
import type { Extension } from '@codemirror/state';
import { EditorView, keymap, type KeyBinding } from '@codemirror/view';
import { tags } from '@lezer/highlight';

const look = HighlightStyle.define([
  { tag: [tags.keyword, tags.operatorKeyword], color: 'var(--sea)', fontWeight: '600' },
  { tag: tags.function(tags.variableName), color: 'var(--sea)', fontWeight: '600' },
  { tag: [tags.string, tags.special(tags.string)], color: 'var(--brass)' },
  { tag: tags.number, color: 'var(--on-text)' },
  { tag: tags.comment, color: 'var(--ink-2)', fontStyle: 'italic' },
  { tag: tags.typeName, color: 'var(--drift-text)' },
]);
const frame = EditorView.theme({
  '&': { backgroundColor: 'var(--sheet)', color: 'var(--ink)', fontSize: '14px', height: '100%' },
  '.cm-content': { fontFamily: 'ui-monospace, "DejaVu Sans Mono", monospace', caretColor: 'var(--ink)' },
  '.cm-placeholder': { color: 'var(--ink-2)' },
  '.cm-cursor': { borderLeftColor: 'var(--ink)' },
  '.cm-gutters': { backgroundColor: 'var(--sheet)', color: 'var(--ink-2)', border: 'none' },
  '&.cm-focused .cm-selectionBackground, .cm-selectionBackground, ::selection': { backgroundColor: 'var(--sea-tint)' },
  // Above what lies at the foot of a page.
  '.cm-tooltip': {
    zIndex: '1100',
    backgroundColor: 'var(--sheet)',
    color: 'var(--ink)',
    border: '1px solid var(--rule)',
    borderRadius: '6px',
  },
  '.cm-tooltip.cm-completionInfo': { fontFamily: 'var(--sans)', fontSize: '13px', padding: '6px 10px' },
  '.cm-tooltip.cm-signature': { fontSize: '12.5px', padding: '3px 9px', color: 'var(--ink-2)' },
  '.cm-signature strong': { color: 'var(--ink)' },
  '.cm-tooltip-autocomplete ul li[aria-selected]': { backgroundColor: 'var(--sea)', color: 'var(--on-sea)' },
  '.cm-completionDetail': { fontFamily: 'var(--sans)', fontStyle: 'normal', marginLeft: '14px', opacity: '0.8' },
});

/** How an editor of a language looks, under the page's content security policy. */
export function codeLook(label: string): Extension[] {
  const nonce = document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content;
  return [
    ...(nonce ? [EditorView.cspNonce.of(nonce)] : []),
    syntaxHighlighting(look),
    frame,
    EditorView.lineWrapping,
    EditorView.contentAttributes.of({ 'aria-label': label }),
  ];
}

/** How an editor is typed in. `first` are keys before those of the editor; `last` come after completion had its turn. */
export const codeEditing = (first: KeyBinding[], last: KeyBinding[] = []): Extension[] => [
  history(),
  bracketMatching(),
  closeBrackets(),
  keymap.of([...first, ...closeBracketsKeymap, ...completionKeymap, ...last, ...historyKeymap, ...defaultKeymap]),
];
