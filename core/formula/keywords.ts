import * as terms from './grammar/parser.terms.js';

const KEYWORDS: Record<string, number> = {
  date: terms.date,
  true: terms._true,
  false: terms._false,
  null: terms._null,
  where: terms.where,
  in: terms._in,
  between: terms.between,
  and: terms.and,
  or: terms.or,
  not: terms.not,
  is: terms.is,
  like: terms.like,
  at: terms.at,
  back: terms.back,
  per: terms.per,
  case: terms._case,
  when: terms.when,
  then: terms.then,
  else: terms._else,
  end: terms.end,
};

/** Whether a name is a word of the language, and so has to be quoted. */
export const isKeyword = (name: string): boolean => Object.hasOwn(KEYWORDS, name.toLowerCase());

/** Tells the parser which names are keywords, whatever their case; -1 for a plain name. */
export function keywordTerm(name: string): number {
  return KEYWORDS[name.toLowerCase()] ?? -1;
}
