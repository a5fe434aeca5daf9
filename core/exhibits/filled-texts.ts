import { dayLabel, parseIsoDate } from '../calendar/index.ts';
import { capitalised, figureText } from '../format/index.ts';
import { findMeasure, type Dataset, type ReaderScope, type Report } from '../model/index.ts';
import { promptName, promptWords, scopePhrase, type PromptWording } from '../prompts/index.ts';
import { kindOf } from './registry.ts';

/** What stands between braces in titles and texts. */
const BRACES = /\{([^{}\n]{1,80})\}/g;

/** A text with a blank for each value, while these are not known. */
export const withBlanks = (text: string): string => text.replaceAll(BRACES, '…');

/** What the texts of a report are filled with. */
export interface FilledWith {
  report: Report;
  /** What is chosen. */
  asked: Pick<ReaderScope, 'scope' | 'choices'>;
  wording: PromptWording;
  /** The last day that there is data for, as an ISO 8601 date. */
  dataTo: string;
  /** Null for a draft. */
  edition: number | null;
  /** The value of a measure in the chosen scope; null where it has none. */
  figure(measure: string): number | null;
}

/** Everything in a report that may hold values. */
export function textsOf(report: Report): string[] {
  const { head = '', foot = '' } = report.pageSetup ?? {};
  return [report.title, report.subtitle, report.note, head, foot, ...report.exhibits.flatMap((exhibit) => kindOf(exhibit).texts(exhibit))];
}

/** The measures that texts of a report name: `{net_sales}`. */
export function measuresInTexts(dataset: Dataset, report: Report): string[] {
  const names = textsOf(report).flatMap((text) => [...text.matchAll(BRACES)].map(([, inner]) => inner.trim()));
  return [...new Set(names.flatMap((name) => findMeasure(dataset, name)?.name ?? []))];
}

/** The scope in words: "2026, Nordic, every channel". */
export function scopeWords({ report, asked, wording }: Pick<FilledWith, 'report' | 'asked' | 'wording'>): string {
  return report.prompts
    .filter(({ hidden }) => !hidden)
    .map((prompt) => promptWords(prompt, asked, wording))
    .join(', ');
}

function valueOf(name: string, values: FilledWith): string | undefined {
  const { report, asked, wording, dataTo, edition } = values;
  const lower = name.toLowerCase();
  if (lower === 'scope') return scopeWords(values);
  if (lower === 'data as of') return dayLabel(parseIsoDate(dataTo)!, wording.locale);
  if (lower === 'edition') return edition === null ? 'draft' : String(edition);
  const named = report.prompts.find((prompt) => prompt.name?.toLowerCase() === lower);
  const fields = report.prompts.flatMap((prompt) => (prompt.kind === 'members' ? prompt.fields : []));
  const field = fields.find((one) => one.toLowerCase() === lower);
  if (!named && field) return scopePhrase(wording, field, asked.scope[field] ?? []);
  const prompt = named ?? report.prompts.find((one) => promptName(one).toLowerCase() === lower);
  if (prompt) return promptWords(prompt, asked, wording);
  const measure = findMeasure(wording.dataset, name);
  return measure && figureText(values.figure(measure.name), measure.format, wording.locale);
}

/**
 * A text with its values: `{scope}`, `{data as of}`, `{edition}`, the name of a prompt or its field, the name of a measure.
 * What is none of these stays as it was written. `written` says how a value is written there.
 */
export function filledText(text: string, values: FilledWith, written = (value: string): string => value): string {
  return text.replaceAll(BRACES, (whole, inner: string, at: number) => {
    const value = valueOf(inner.trim(), values);
    if (value === undefined) return whole;
    // What begins a title begins with a capital.
    return written(at === 0 ? capitalised(value) : value);
  });
}

/** A value within Markdown: every sign that may mean something there, written so that it means itself (CommonMark 0.31, 2.4); one line. */
export const writtenInMarkdown = (value: string): string =>
  value
    .replaceAll(/[\p{Cc}\p{Zl}\p{Zp}]+/gu, ' ')
    .trim()
    .replaceAll(/[!-/:-@[-`{-~]/g, (sign) => `\\${sign}`);
