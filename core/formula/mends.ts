import { inPattern } from '../format/index.ts';
import { findMeasure, type Dataset } from '../model/index.ts';
import { printName } from './print.ts';

/** A formula as it was probably meant. */
export interface Mend {
  /** What is done: "Write = for ==". */
  words: string;
  formula: string;
}

type Attempt = (dataset: Dataset, formula: string) => Mend | null;

/** What stands outside of texts and quoted names, changed. */
const outside = (formula: string, change: (part: string) => string): string =>
  formula.replaceAll(/'(?:[^']|'')*'|"(?:[^"]|"")*"|[^'"]+/g, (part) =>
    part.startsWith("'") || part.startsWith('"') ? part : change(part),
  );

const changed = (words: string, formula: string, mended: string): Mend | null => (mended === formula ? null : { words, formula: mended });

/** Names in the place of labels, the longest first, so that "Net sales" is not read as "Net". */
const labels: Attempt = (dataset, formula) => {
  const fields = [
    ...dataset.dimensions.flatMap(({ levels }): { name: string; label: string }[] => levels),
    ...dataset.facts.flatMap(({ fields: own }) => own),
  ];
  const named = [...dataset.measures, ...fields]
    .filter(({ name, label }) => label.toLowerCase() !== name.toLowerCase() && label.length > 1)
    .sort((a, b) => b.label.length - a.label.length);
  for (const { name, label } of named) {
    const place = new RegExp(`(?<![\\p{L}\\p{N}_"'])["']?${inPattern(label)}["']?(?![\\p{L}\\p{N}_(])`, 'iu');
    if (place.test(formula)) return { words: `Write ${name} for ${label}`, formula: formula.replace(place, printName(name)) };
  }
  return null;
};

/** A condition on a measure that is one aggregate goes into that. */
const whereOfMeasure: Attempt = (dataset, formula) => {
  const found = /(?:"([^"]+)"|([\p{L}_][\p{L}\p{N}_]*))\s+where\s+([^()]*(?:\([^()]*\)[^()]*)*)/iu.exec(formula);
  const measure = found && findMeasure(dataset, found[1] ?? found[2]);
  const aggregate = measure && /^(\w+)\(([^()]*(?:\([^()]*\)[^()]*)*)\)\s*$/.exec(measure.formula.trim());
  if (!found || !aggregate) return null;
  const [, fn, argument] = aggregate;
  const condition = found[3].trim();
  const own = /\swhere\s/i.test(argument)
    ? `${argument} and (${condition})`
    : `${argument}${argument.trim() === '' ? '' : ' '}where ${condition}`;
  return {
    words: `Write ${fn}(… where …) for ${measure.label}`,
    formula: formula.slice(0, found.index) + `${fn}(${own.trim()})` + formula.slice(found.index + found[0].length),
  };
};

/** Ends what was begun and not ended, in the order in which it was. */
const closed: Attempt = (_dataset, formula) => {
  const open: string[] = [];
  let extra = false;
  outside(formula, (part) => {
    for (const [word] of part.matchAll(/[()]|\bcase\b|\bend\b/gi)) {
      const own = word.toLowerCase();
      if (own === '(') open.push(')');
      else if (own === 'case') open.push(' end');
      else if (open.at(-1)?.trim() === own) open.pop();
      else extra = true;
    }
    return part;
  });
  if (extra || open.length === 0) return null;
  const rest = open.reverse().join('');
  return { words: `Add ${rest.trim()} at the end`, formula: formula.trimEnd() + rest };
};

/** Slips that are common practice elsewhere; each is offered only where the formula is sound after it. No source. */
const ATTEMPTS: Attempt[] = [
  (_dataset, formula) =>
    changed(
      'Write = for ==',
      formula,
      outside(formula, (part) => part.replaceAll('==', '=')),
    ),
  (_dataset, formula) =>
    changed(
      'Write <> for !=',
      formula,
      outside(formula, (part) => part.replaceAll('!=', '<>')),
    ),
  (_dataset, formula) =>
    changed(
      'Write , for ;',
      formula,
      outside(formula, (part) => part.replaceAll(';', ',')),
    ),
  (_dataset, formula) =>
    changed(
      'Leave ; out',
      formula,
      outside(formula, (part) => part.replaceAll(';', '')),
    ),
  (_dataset, formula) =>
    changed(
      'Write and, or for &&, ||',
      formula,
      outside(formula, (part) => part.replaceAll('&&', ' and ').replaceAll('||', ' or ')),
    ),
  (_dataset, formula) => changed('Leave = out', formula, formula.replace(/^\s*=\s*/, '')),
  (_dataset, formula) =>
    changed(
      'Leave [ ] out',
      formula,
      outside(formula, (part) => part.replaceAll(/\[([\w .]+)\]/g, (_all, name: string) => printName(name))),
    ),
  (dataset, formula) =>
    changed(
      'Write the text in single quotes',
      formula,
      formula.replaceAll(/"((?:[^"]|"")*)"/g, (own, text: string) =>
        dataset.measures.some(({ name }) => name === text) ? own : `'${text.replaceAll('""', '"').replaceAll("'", "''")}'`,
      ),
    ),
  closed,
  (_dataset, formula) => changed('Leave the last bracket out', formula, formula.replace(/\)\s*$/, '')),
  labels,
  whereOfMeasure,
];

/** Two slips in one formula are found together, not more. */
const MOST_SLIPS = 2;

/** The first way to mend a formula after which it is sound; null where none is known. `isSound` tells whether a formula is. */
export function mendOf(dataset: Dataset, formula: string, isSound: (formula: string) => boolean): Mend | null {
  let tried: Mend[] = [{ words: '', formula }];
  for (let slips = 0; slips < MOST_SLIPS; slips++) {
    const next = tried.flatMap((before) =>
      ATTEMPTS.flatMap((attempt) => {
        const mend = attempt(dataset, before.formula);
        return mend
          ? [{ ...mend, words: before.words === '' ? mend.words : `${before.words}; ${mend.words[0].toLowerCase()}${mend.words.slice(1)}` }]
          : [];
      }),
    );
    const sound = next.find((mend) => isSound(mend.formula));
    if (sound) return sound;
    tried = next;
  }
  return null;
}
