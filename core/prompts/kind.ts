import type { MemberLabel } from '../format/index.ts';
import type { Dataset, Filter, Prompt, PromptValue } from '../model/index.ts';

/** First and last day that there is data for, counted from 1970-01-01. */
export interface DataDays {
  first: number;
  last: number;
}

/** What the words for a choice are made with. */
export interface PromptWording {
  dataset: Dataset;
  label: MemberLabel;
  locale: string;
  days: DataDays;
}

/** Names that stand for others within exhibits: measures for measures, fields for a run of fields. */
export interface Swap {
  measures: ReadonlyMap<string, string>;
  fields: readonly { from: readonly string[]; to: readonly string[] }[];
}

/** What a prompt is made of when it is added. */
export interface NewPrompt {
  id: string;
  dataset: Dataset;
  /** The field, measure or calendar that it is about; the kind's first offer where nothing is said. */
  about?: string;
}

/**
 * A kind of prompt. With its schema in the model and its record in the interface, this is all there is to it. Choices are
 * texts, as an address holds them; none mean that nothing is chosen.
 */
export interface PromptKind<Own extends Prompt> {
  kind: Own['kind'];
  /** The noun for it, as it is offered. */
  label: string;
  /** What it is for, in a sentence. */
  about: string;
  /** Names of the dataset that it reads. */
  names(own: Own): { fields: string[]; measures: string[] };
  /** What it cannot be calculated for, in words, though every name is there. */
  faults?(own: Own, dataset: Dataset): string[];
  /** What it is called where it has no label. */
  title(own: Own, dataset: Dataset): string;
  /** The choice at first, as written in the report. */
  initial(own: Own): string[];
  /** The same with a choice as its first; undefined where it always starts with its first offer. */
  startingWith?(own: Own, choice: readonly string[]): Own;
  /** Whether texts from outside are a choice of it. */
  isChoice(own: Own, choice: readonly string[], dataset: Dataset): boolean;
  /** The members that a choice names, which only those may learn of who see them. */
  membersNamed?(own: Own, choice: readonly string[]): { field: string; member: string }[];
  /** The condition that a choice is. */
  condition?(own: Own, choice: readonly string[], context: { dataset: Dataset; days: DataDays }): Filter | null;
  /** What a choice stands for in formulas. */
  value?(own: Own, choice: readonly string[]): PromptValue;
  /** Where a choice that is a stretch begins and ends, for what asks for both by name; null where an end is open. */
  ends?(own: Own, choice: readonly string[], context: { dataset: Dataset; days: DataDays } | null): { from: PromptValue; to: PromptValue };
  swap?(own: Own, choice: readonly string[]): Swap;
  /** A choice within the scope line. */
  words(own: Own, choice: readonly string[], wording: PromptWording): string;
  /** A new one; null where the dataset has nothing for it. */
  create(made: NewPrompt): Own | null;
}
