import type { Swap } from '../prompts/index.ts';

/** The measure that stands in the place of another. */
export const otherName = ({ measures }: Swap, name: string): string => measures.get(name) ?? name;

/** Fields with a run of them exchanged for other ones; those that stand there already are not there twice. */
export function otherFields({ fields: swaps }: Swap, fields: readonly string[]): string[] {
  let own = [...fields];
  for (const { from, to } of swaps) {
    const at = own.findIndex((_, index) => from.every((field, step) => own[index + step] === field));
    if (at < 0) continue;
    const rest = [...own.slice(0, at), ...own.slice(at + from.length)];
    own = [...own.slice(0, at), ...to.filter((field) => !rest.includes(field)), ...own.slice(at + from.length)];
  }
  return own;
}
