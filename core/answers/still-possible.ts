import type { PossibleResponse } from '../api/index.ts';
import type { MembersPrompt, ReaderScope, Report } from '../model/index.ts';
import type { AnswerContext } from './context.ts';
import { promptMembers } from './prompt-members.ts';

/** Whether a choice of one prompt can make one of another impossible. */
const follows = (prompt: MembersPrompt, changed: string): boolean => prompt.fields.includes(changed) || prompt.linked === true;

/**
 * The choices that are left after one changed: a finer field of its prompt keeps the members that are still there, a linked
 * prompt those that still occur. What goes is told with its words, so that nothing is dropped without a note.
 */
export async function stillPossible(
  context: AnswerContext,
  report: Report,
  chosen: ReaderScope,
  changed: string,
): Promise<PossibleResponse> {
  const scope = { ...chosen.scope };
  const dropped: PossibleResponse['dropped'] = [];
  for (const prompt of report.prompts) {
    if (prompt.kind !== 'members' || !follows(prompt, changed)) continue;
    const from = prompt.fields.includes(changed) ? prompt.fields.indexOf(changed) + 1 : 0;
    for (const field of prompt.fields.slice(from)) {
      const members = scope[field] ?? [];
      if (members.length === 0) continue;
      const offered = await promptMembers(context, report, { ...chosen, scope }, { field, prompt: prompt.id });
      const left = new Set(offered.members.map(({ member }) => member));
      const gone = members.filter((member) => !left.has(member));
      if (gone.length === 0) continue;
      scope[field] = members.filter((member) => left.has(member));
      if (scope[field].length === 0) delete scope[field];
      const words = await wordsOf(context, field);
      dropped.push({ field, labels: gone.map(words) });
    }
  }
  return { scope, dropped };
}

async function wordsOf({ data }: AnswerContext, field: string): Promise<(member: string) => string> {
  const labels = await data.labels(field);
  return (member) => labels?.get(member) ?? member;
}
