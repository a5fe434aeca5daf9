import { findField, isSameDimension, type Dataset, type MembersPrompt, type Prompt, type Report } from '@bold-compass/core/model';
import { promptTitle } from '@bold-compass/core/prompts';

/** An id for a prompt, made of its field. */
export function promptId(report: Report, field: string): string {
  const base =
    field
      .toLowerCase()
      .replaceAll(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '') || 'prompt';
  const taken = new Set(report.prompts.map(({ id }) => id));
  let id = base;
  for (let number = 2; taken.has(id); number++) id = `${base}-${number}`;
  return id;
}

/** Whether a field is a coarser level of the same dimension as another one. */
function isAbove(dataset: Dataset, coarser: string, finer: string): boolean {
  const [above, below] = [findField(dataset, coarser), findField(dataset, finer)];
  if (!above || !below || !isSameDimension(above, below)) return false;
  return 'depth' in above && 'depth' in below && above.depth < below.depth;
}

/**
 * Asks the reader for some fields, from coarse to fine: below the prompt of a coarser level of their dimension where there
 * is one, so that the choices follow each other, else by a prompt of their own at the end of the scope line.
 */
export function askReader(report: Report, dataset: Dataset, fields: string[]): Report {
  const [field] = fields;
  const above = report.prompts.find(
    (prompt): prompt is MembersPrompt => prompt.kind === 'members' && isAbove(dataset, prompt.fields.at(-1)!, field),
  );
  if (above) {
    const prompts = report.prompts.map((prompt) => (prompt === above ? { ...prompt, fields: [...prompt.fields, ...fields] } : prompt));
    return { ...report, prompts };
  }
  return withPrompt(
    report,
    { id: promptId(report, field), kind: 'members', fields, multiple: true, initial: {} },
    promptLabel(dataset, fields),
  );
}

/** A report that asks one thing more, at the end of its scope line. */
export function withPrompt(report: Report, prompt: Prompt, label: string): Report {
  const words = report.scopeLine.at(-1);
  const ends = words && 'text' in words && words.text.trim() === '.';
  const before = ends ? report.scopeLine.slice(0, -1) : report.scopeLine;
  const joint = report.prompts.length === 0 && before.length === 0 ? 'Showing ' : `, ${label.toLowerCase()} `;
  return { ...report, prompts: [...report.prompts, prompt], scopeLine: [...before, { text: joint }, { prompt: prompt.id }, { text: '.' }] };
}

/** What some fields are called together: the tree they are the levels of, or the first of them. */
const promptLabel = (dataset: Dataset, fields: string[]): string =>
  promptTitle({ id: 'label', kind: 'members', fields, multiple: true, initial: {} }, dataset);

/** Takes a field out of what the reader is asked; a prompt without fields goes, with its place in the scope line. */
export function askNoLonger(report: Report, field: string): Report {
  const prompts = report.prompts.map((prompt) =>
    prompt.kind === 'members' ? { ...prompt, fields: prompt.fields.filter((one) => one !== field) } : prompt,
  );
  const gone = prompts.filter((prompt) => prompt.kind === 'members' && prompt.fields.length === 0);
  return withoutPrompts(
    { ...report, prompts },
    gone.map(({ id }) => id),
  );
}

/** A report that asks some things no longer, and says nothing of them in its scope line. */
export function withoutPrompts(report: Report, ids: readonly string[]): Report {
  const gone = new Set(ids);
  const scopeLine = report.scopeLine.flatMap((piece, index): Report['scopeLine'] => {
    if ('prompt' in piece) return gone.has(piece.prompt) ? [] : [piece];
    const next = report.scopeLine[index + 1];
    // The words that lead to a prompt go with it, but for those that begin the sentence.
    return next && 'prompt' in next && gone.has(next.prompt) && index > 0 ? [] : [piece];
  });
  // What began the sentence leads on to the next prompt.
  const [first, second] = scopeLine;
  if (first && second && 'text' in first && 'text' in second) scopeLine[1] = { text: second.text.replace(/^,\s*/, '') };
  const left = report.prompts.filter(({ id }) => !gone.has(id));
  return { ...report, prompts: left, scopeLine: left.length === 0 ? [] : scopeLine };
}
