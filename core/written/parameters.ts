import type { QueryParameter } from '../model/index.ts';

/** A query whose `:name` parameters became numbered placeholders. */
export interface BoundText {
  text: string;
  /** Parameters in the order of their numbers. */
  names: string[];
  /** Position in the written text of a position in this one, both counted from 0. */
  written(position: number): number;
}

/**
 * Parts of SQL in which a colon is no parameter: texts, quoted names, dollar-quoted texts, comments and casts, by
 * PostgreSQL's lexical rules; then the parameters themselves.
 */
const TOKENS =
  /[eE]'(?:[^'\\]|''|\\[\s\S])*'|'(?:[^']|'')*'|"(?:[^"]|"")*"|\$([A-Za-z_]\w*)?\$[\s\S]*?\$\1\$|--[^\n]*|\/\*[\s\S]*?\*\/|::|:([a-z][a-z0-9_]*)/g;

/** Without a cast the server takes the type that the query needs there. */
const CASTS: Record<QueryParameter['type'], string> = { any: '', text: '::text', number: '::numeric', date: '::date' };

/** The names of the parameters in a query, in order, each once. */
export function parameterNames(text: string): string[] {
  return [...new Set([...text.matchAll(TOKENS)].flatMap((match) => (match[2] ? [match[2]] : [])))];
}

/** Turns `:name` into placeholders. What parameters hold never becomes a part of the text. */
export function bindParameters(text: string, parameters: QueryParameter[]): BoundText {
  const names = parameterNames(text);
  const shifts: { at: number; by: number }[] = [];
  let shift = 0;
  const bound = text.replaceAll(TOKENS, (whole: string, _tag: string | undefined, name: string | undefined, offset: number) => {
    if (!name) return whole;
    const type = parameters.find((parameter) => parameter.name === name)?.type ?? 'any';
    const placeholder = `$${names.indexOf(name) + 1}${CASTS[type]}`;
    shift += placeholder.length - whole.length;
    shifts.push({ at: offset + whole.length + shift, by: shift });
    return placeholder;
  });
  return {
    text: bound,
    names,
    written: (position) => Math.max(0, position - (shifts.findLast(({ at }) => position >= at)?.by ?? 0)),
  };
}
