import { fieldLabel, fieldsOf, findField, isDataExhibit, type Dataset, type ReaderScope, type Report } from '@bold-compass/core/model';
import { promptKindOf, promptTitle } from '@bold-compass/core/prompts';
import { chosenSections } from '@bold-compass/core/sections';
import { listWords } from '@bold-compass/core/format';
import type { DatasetReader } from '../data/index.ts';
import { ApiError } from '../problems/index.ts';

/**
 * Checks a scope that may have been edited by hand. Throws ApiError `scope-unknown` for a field that is none, and for
 * members that do not exist or are not the reader's to see: the two are not told apart.
 */
export async function checkAsked(reader: DatasetReader, report: Report, { scope, choices, where }: ReaderScope): Promise<void> {
  const { dataset } = reader;
  await checkChoices(reader, report, choices);
  await checkSections(reader, report, choices);
  const unknown = fieldsOf(where).find((field) => !findField(dataset, field));
  if (unknown)
    throw new ApiError('scope-unknown', `The address asks for "${unknown}", which this report does not know.`, { field: unknown });
  for (const [field, values] of Object.entries(scope)) {
    if (!findField(dataset, field)) {
      throw new ApiError('scope-unknown', `The address asks for "${field}", which this report does not know.`, { field });
    }
    if (values.length === 0) continue;
    const visible = await reader.visibleMembers(field);
    const unknown = values.filter((value) => !visible.has(value));
    if (unknown.length > 0) throw new ApiError('scope-unknown', unknownWords(dataset, field, unknown), { field, values: unknown });
  }
}

/** Choices of prompts that the report has not, or not any more, are nobody's question. */
async function checkChoices(reader: DatasetReader, { prompts }: Report, choices: ReaderScope['choices']): Promise<void> {
  const { dataset } = reader;
  for (const prompt of prompts) {
    const choice = choices[prompt.id];
    if (choice === undefined) continue;
    const kind = promptKindOf(prompt);
    if (!kind.isChoice(prompt, choice, dataset)) {
      throw new ApiError(
        'scope-unknown',
        `The address asks for something that “${promptTitle(prompt, dataset)}” does not offer. Choose again.`,
        {
          prompt: prompt.id,
        },
      );
    }
    for (const { field, member } of kind.membersNamed?.(prompt, choice) ?? []) {
      if (!(await reader.isVisible(field, member)))
        throw new ApiError('scope-unknown', unknownWords(dataset, field, [member]), { field, values: [member] });
    }
  }
}

/** Sections of an exhibit over another dataset go by a level there, where access rules hold for its members. */
async function checkSections(reader: DatasetReader, { exhibits }: Report, choices: ReaderScope['choices']): Promise<void> {
  const own = exhibits.flatMap((exhibit) => (isDataExhibit(exhibit) && exhibit.dataset === undefined ? [exhibit.id] : []));
  for (const { field, member } of [...chosenSections(choices), ...own.flatMap((id) => chosenSections(choices, id))]) {
    if (!findField(reader.dataset, field))
      throw new ApiError('scope-unknown', `The address asks for a section of "${field}", which this report does not know.`, { field });
    if (member !== null && !(await reader.isVisible(field, member)))
      throw new ApiError('scope-unknown', unknownWords(reader.dataset, field, [member]), { field, values: [member] });
  }
}

function unknownWords(dataset: Dataset, field: string, unknown: string[]): string {
  const label = fieldLabel(dataset, field).toLowerCase();
  const named = listWords(
    unknown.slice(0, 3).map((value) => `“${value}”`),
    'or',
  );
  return `There is no ${label} ${named} here, or it is not among what you may see.`;
}
