import {
  allOf,
  isDataExhibit,
  type Choices,
  type Dataset,
  type Exhibit,
  type Filter,
  type MembersPrompt,
  type Prompt,
  type PromptValues,
  type ReaderScope,
  type Report,
  type Scope,
} from '../model/index.ts';
import { askedInSections, chosenSections } from '../sections/index.ts';
import type { DataDays, PromptWording, Swap } from './kind.ts';
import { excludedMembers } from './members.ts';
import { scopePhrase } from './member-words.ts';
import { promptKindOf } from './registry.ts';

type Asking = Pick<Report, 'prompts'>;

/** What stands chosen in a prompt: what the reader set, else its first choice. */
export const choiceOf = (prompt: Prompt, choices: Choices): string[] => choices[prompt.id] ?? promptKindOf(prompt).initial(prompt);

/** Members chosen in a report before its reader chooses any. */
export const initialScope = ({ prompts }: Asking): Scope =>
  Object.fromEntries(
    prompts.flatMap((prompt) =>
      prompt.kind !== 'members'
        ? []
        : prompt.fields.flatMap((field) => {
            const members = prompt.initial[field] ?? [];
            return members.length > 0 ? [[field, members] as const] : [];
          }),
    ),
  );

/** What a report is asked under before its reader chooses anything. */
export const initialReaderScope = (report: Asking): ReaderScope => ({ scope: initialScope(report), choices: {}, where: null });

/** What formulas, texts and links call a prompt. */
export const promptName = (prompt: Prompt): string =>
  prompt.name ?? (prompt.kind === 'members' ? prompt.fields[0] : 'field' in prompt ? prompt.field : prompt.id.replaceAll('-', '_'));

/** What a prompt is shown under. */
export const promptTitle = (prompt: Prompt, dataset: Dataset): string => prompt.label || promptKindOf(prompt).title(prompt, dataset);

/** Whether a prompt is about an exhibit. */
export function reaches({ reach }: Prompt, { pages }: Pick<Report, 'pages'>, exhibit: Exhibit): boolean {
  if (!reach || (reach.pages.length === 0 && reach.exhibits.length === 0)) return true;
  const page = exhibit.page ?? pages[0]?.id;
  return reach.exhibits.includes(exhibit.id) || (page !== undefined && reach.pages.includes(page));
}

/** Chosen members of a prompt for members, by field. */
const chosenOf = ({ fields }: MembersPrompt, scope: Scope): [string, string[]][] =>
  fields.flatMap((field) => ((scope[field]?.length ?? 0) > 0 ? [[field, scope[field]] as [string, string[]]] : []));

/** Whether a prompt is answered. */
export function isAnswered(prompt: Prompt, { scope, choices }: Pick<ReaderScope, 'scope' | 'choices'>): boolean {
  if (prompt.kind === 'members' && chosenOf(prompt, scope).length > 0) return true;
  return prompt.kind === 'measure' || prompt.kind === 'dimension' || prompt.kind === 'switch' || choiceOf(prompt, choices).some(Boolean);
}

/** Prompts that have to be answered before anything is calculated. */
export const unanswered = ({ prompts }: Asking, state: Pick<ReaderScope, 'scope' | 'choices'>): Prompt[] =>
  prompts.filter((prompt) => prompt.required && !isAnswered(prompt, state));

/** The conditions that choices are, of all prompts but those left out. */
export function choiceConditions(
  { prompts }: Asking,
  choices: Choices,
  context: { dataset: Dataset; days: DataDays },
  isMeant: (prompt: Prompt) => boolean = () => true,
): Filter | null {
  return allOf(
    ...prompts.filter(isMeant).map((prompt) => promptKindOf(prompt).condition?.(prompt, choiceOf(prompt, choices), context) ?? null),
  );
}

/** What a reader asks an exhibit under: members, and all other conditions. */
export interface AskedConditions {
  scope: Scope;
  where: Filter | null;
}

/** The part of what a reader set that is about an exhibit; about the report as a whole where none is named. */
export function conditionsFor(
  report: Pick<Report, 'prompts' | 'pages'>,
  { scope, choices, where }: ReaderScope,
  context: { dataset: Dataset; days: DataDays },
  exhibit?: Exhibit,
): AskedConditions {
  const isMeant = (prompt: Prompt): boolean => exhibit === undefined || reaches(prompt, report, exhibit);
  const fieldsOf = (prompt: Prompt): string[] => (prompt.kind === 'members' ? prompt.fields : []);
  const own = new Set(report.prompts.filter(isMeant).flatMap(fieldsOf));
  // Chosen in a prompt that is about other exhibits only.
  const isElsewhere = (field: string): boolean => !own.has(field) && report.prompts.some((prompt) => fieldsOf(prompt).includes(field));
  const chosen = {
    scope: Object.fromEntries(Object.entries(scope).filter(([field]) => !isElsewhere(field))),
    where: allOf(where, choiceConditions(report, choices, context, isMeant)),
  };
  return askedInSections(chosen, chosenSections(choices, exhibit?.id));
}

/**
 * What the prompts of a report stand for in formulas and in the queries of live sources: a prompt by its name, and of one that
 * chooses a stretch both ends, as `name_from` and `name_to` (days in ISO 8601). What moves with the data needs the `context`.
 */
export function promptValues(
  { prompts }: Asking,
  { scope, choices }: Pick<ReaderScope, 'scope' | 'choices'>,
  context: { dataset: Dataset; days: DataDays } | null = null,
): PromptValues {
  const values: PromptValues = {};
  for (const prompt of prompts) {
    const name = promptName(prompt).toLowerCase();
    if (prompt.kind === 'members') {
      for (const field of prompt.fields) {
        const chosen = scope[field] ?? [];
        // Several members are no single value.
        values[(prompt.fields.length === 1 ? name : field).toLowerCase()] = { type: 'text', value: chosen.length === 1 ? chosen[0] : null };
      }
    } else {
      const value = promptKindOf(prompt).value?.(prompt, choiceOf(prompt, choices));
      if (value) values[name] = value;
      const ends = promptKindOf(prompt).ends?.(prompt, choiceOf(prompt, choices), context);
      if (ends) Object.assign(values, { [`${name}_from`]: ends.from, [`${name}_to`]: ends.to });
    }
  }
  return values;
}

/** What stands for other names in an exhibit, as the reader chose. */
export function swapsFor(report: Pick<Report, 'prompts' | 'pages'>, choices: Choices, exhibit: Exhibit): Swap[] {
  if (!isDataExhibit(exhibit)) return [];
  return report.prompts
    .filter((prompt) => reaches(prompt, report, exhibit))
    .flatMap((prompt) => promptKindOf(prompt).swap?.(prompt, choiceOf(prompt, choices)) ?? [])
    .filter(({ measures, fields }) => measures.size > 0 || fields.length > 0);
}

/** What is chosen in a prompt, as the scope line says it. */
export function promptWords(prompt: Prompt, { scope, choices }: Pick<ReaderScope, 'scope' | 'choices'>, wording: PromptWording): string {
  const choice = choiceOf(prompt, choices);
  if (prompt.kind !== 'members') return promptKindOf(prompt).words(prompt, choice, wording);
  const excluded = excludedMembers(choice);
  const wordsOf = (field: string): string =>
    (excluded?.get(field) ?? []).length > 0
      ? promptKindOf(prompt).words({ ...prompt, fields: [field] }, choice, wording)
      : scopePhrase(wording, field, scope[field] ?? []);
  // What a finer level stands open to needs no words beside the coarser ones.
  const [first, ...finer] = prompt.fields;
  const set = finer.filter((field) => (scope[field]?.length ?? 0) > 0 || (excluded?.get(field)?.length ?? 0) > 0);
  return [first, ...set].map(wordsOf).join(', ');
}

/** A prompt that starts with what is chosen in it now; itself where it cannot. */
export function startingWith(prompt: Prompt, { scope, choices }: Pick<ReaderScope, 'scope' | 'choices'>): Prompt {
  if (prompt.kind === 'members') {
    return { ...prompt, start: undefined, initial: Object.fromEntries(chosenOf(prompt, scope)) };
  }
  return promptKindOf(prompt).startingWith?.(prompt, choiceOf(prompt, choices)) ?? prompt;
}
