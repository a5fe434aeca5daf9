import { conditionWords } from '../format/index.ts';
import { fieldLabel, findField, type Filter, type ReaderScope, type Report } from '../model/index.ts';
import type { PromptWording } from './kind.ts';
import { scopePhrase, shownFields } from './member-words.ts';
import { promptWords } from './state.ts';

/** Fields that a link carried along and that no prompt of the report asks for, with their members. */
export function carriedScope(
  { prompts }: Report,
  scope: ReaderScope['scope'],
  { dataset }: Pick<PromptWording, 'dataset'>,
): [field: string, members: string[]][] {
  return Object.entries(scope).filter(
    ([field, members]) =>
      members.length > 0 &&
      findField(dataset, field) &&
      !prompts.some((prompt) => prompt.kind === 'members' && prompt.fields.includes(field)),
  );
}

/** The sentence that says what a report shows, with what came along a link: "Showing net sales for 2026 in every region." */
export function scopeSentence(
  report: Report,
  { scope, choices, where }: Pick<ReaderScope, 'scope' | 'choices'> & { where: Filter | null },
  wording: PromptWording,
): string {
  const sentence = report.scopeLine
    .map((piece) => {
      if ('text' in piece) return piece.text;
      const prompt = report.prompts.find(({ id, hidden }) => id === piece.prompt && !hidden);
      if (prompt?.kind !== 'members') return prompt ? promptWords(prompt, { scope, choices }, wording) : '';
      return shownFields(wording.dataset, prompt.fields, scope)
        .map((field) => scopePhrase(wording, field, scope[field] ?? []))
        .join(' › ');
    })
    .join('');
  const carried = carriedScope(report, scope, wording).map(
    ([field, members]) => `${fieldLabel(wording.dataset, field)} ${scopePhrase(wording, field, members, false)}`,
  );
  return [sentence, ...conditionWords(wording.dataset, where, wording.label), ...carried].filter((words) => words !== '').join(' · ');
}
