import { parseFormula } from './parse.ts';

/** Every name that a formula calls a field or a measure by, in small letters. Empty for a text that is no formula. */
export function namesIn(formula: string): Set<string> {
  const names = new Set<string>();
  const look = (node: unknown): void => {
    if (typeof node !== 'object' || node === null) return;
    // What a prompt is called is no name of the dataset.
    if ('kind' in node && node.kind === 'call' && 'name' in node && node.name === 'prompt') return;
    if ('kind' in node && node.kind === 'name' && 'name' in node) names.add(String(node.name).toLowerCase());
    Object.values(node).forEach(look);
  };
  try {
    look(parseFormula(formula));
  } catch {
    return names;
  }
  return names;
}
