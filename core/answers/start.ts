import type { MembersPrompt, ReaderScope, Report, Scope } from '../model/index.ts';
import { initialReaderScope } from '../prompts/index.ts';
import type { AnswerContext } from './context.ts';
import { promptMembers } from './prompt-members.ts';

/** More members than this are not named one by one as somebody's own. */
const MOST_OWN = 50;

/**
 * What is chosen in a report before its reader chooses: the first choices as written, the first or the latest member that has
 * records, or the members that are the reader's own, which `ownMembers` tells (null where everything is).
 */
export async function startOf(
  context: AnswerContext,
  report: Report,
  ownMembers: (field: string) => Promise<string[] | null>,
): Promise<Pick<ReaderScope, 'scope' | 'choices'>> {
  const { scope } = initialReaderScope(report);
  for (const prompt of report.prompts) {
    if (prompt.kind !== 'members' || prompt.start === undefined) continue;
    if (prompt.start === 'own') {
      const own = await ownMembers(prompt.fields[0]);
      if (own && own.length > 0 && own.length <= MOST_OWN) scope[prompt.fields[0]] = own;
    } else if (prompt.start !== 'last_visit') await chooseByOrder(context, report, prompt, prompt.start, scope);
  }
  return { scope, choices: {} };
}

/** Chooses the first or the last member that has records of each field, one under the other. */
async function chooseByOrder(
  context: AnswerContext,
  report: Report,
  prompt: MembersPrompt,
  start: 'first' | 'latest',
  scope: Scope,
): Promise<void> {
  for (const field of prompt.fields) {
    const { members } = await promptMembers(context, report, { scope, choices: {}, where: null }, { field });
    const occurring = members.filter(({ records }) => records > 0);
    const chosen = start === 'first' ? occurring[0] : occurring.at(-1);
    if (chosen) scope[field] = [chosen.member];
  }
}
