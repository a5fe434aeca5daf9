import { FUNCTION_HELP } from '@bold-compass/core/formula';
import { EditorState, StateField, type Extension } from '@codemirror/state';
import { showTooltip, type Tooltip } from '@codemirror/view';

/** A call that a place in a formula stands in: the function, where its arguments begin, and which of them the place is in. */
interface OpenCall {
  name: string;
  from: number;
  argument: number;
}

const QUOTES = ["'", '"'];

/** The innermost call whose brackets are open at a place of a text; null outside of all. Brackets in texts are none. */
export function openCall(text: string, at: number): OpenCall | null {
  const open: { name: string; from: number; argument: number }[] = [];
  for (let index = 0; index < at; index++) {
    const char = text[index];
    if (QUOTES.includes(char)) {
      const end = text.indexOf(char, index + 1);
      if (end < 0 || end >= at) return null;
      index = end;
    } else if (char === '-' && text[index + 1] === '-') {
      const end = text.indexOf('\n', index);
      if (end < 0 || end >= at) return null;
      index = end;
    } else if (char === '(') {
      const name = /[\w\u00a1-\uffff]*\s*$/.exec(text.slice(0, index))?.[0].trim().toLowerCase() ?? '';
      open.push({ name, from: index + 1, argument: 0 });
    } else if (char === ')') open.pop();
    else if (char === ',' && open.length > 0) open.at(-1)!.argument++;
  }
  return open.findLast(({ name }) => name !== '') ?? null;
}

/** A signature in three parts: before the argument that is being written, that argument, and after it. */
export function signatureParts(signature: string, argument: number): [string, string, string] {
  const start = signature.indexOf('(') + 1;
  const end = signature.lastIndexOf(')');
  if (start === 0 || end < start) return [signature, '', ''];
  const list = signature.slice(start, end).split(',');
  const position = Math.min(argument, list.length - 1);
  const before = list.slice(0, position).join(',') + (position > 0 ? ',' : '');
  return [
    signature.slice(0, start) + before,
    list[position],
    list
      .slice(position + 1)
      .map((one) => `,${one}`)
      .join('') + signature.slice(end),
  ];
}

function tooltipAt(state: EditorState): Tooltip | null {
  const { head } = state.selection.main;
  const call = openCall(state.doc.toString(), head);
  const help = call && FUNCTION_HELP.find(({ name, signature }) => name === call.name && signature.startsWith(`${name}(`));
  if (!call || !help) return null;
  return {
    pos: call.from,
    above: true,
    create() {
      const dom = document.createElement('div');
      dom.className = 'cm-signature';
      const [before, argument, after] = signatureParts(help.signature, call.argument);
      const strong = document.createElement('strong');
      strong.textContent = argument;
      dom.append(before, strong, after);
      return { dom };
    },
  };
}

/** Shows the signature of the function that is being written, with the argument at hand in bold. */
export const signatureHelp = (): Extension =>
  StateField.define<Tooltip | null>({
    create: tooltipAt,
    update: (known, transaction) => (transaction.docChanged || transaction.selection ? tooltipAt(transaction.state) : known),
    provide: (field) => showTooltip.from(field),
  });
