import { findField, isSameDimension, type Dataset, type Prompt, type Report } from '@bold-compass/core/model';

/** An id for a prompt, made of its field. */
function promptId(report: Report, field: string): string {
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
  const above = report.prompts.find((prompt) => isAbove(dataset, prompt.fields.at(-1)!, field));
  if (above) {
    const prompts = report.prompts.map((prompt) => (prompt === above ? { ...prompt, fields: [...prompt.fields, ...fields] } : prompt));
    return { ...report, prompts };
  }
  const prompt: Prompt = { id: promptId(report, field), fields, multiple: true, initial: {} };
  const words = report.scopeLine.at(-1);
  const ends = words && 'text' in words && words.text.trim() === '.';
  const before = ends ? report.scopeLine.slice(0, -1) : report.scopeLine;
  const joint = report.prompts.length === 0 && before.length === 0 ? 'Showing ' : `, ${promptLabel(dataset, fields).toLowerCase()} `;
  return { ...report, prompts: [...report.prompts, prompt], scopeLine: [...before, { text: joint }, { prompt: prompt.id }, { text: '.' }] };
}

/** What some fields are called together: the tree they are the levels of, or the first of them. */
export function promptLabel(dataset: Dataset, fields: string[]): string {
  const place = findField(dataset, fields[0]);
  if (!place) return fields[0];
  return fields.length > 1 && place.kind === 'level' && place.dimension.tree ? place.dimension.label : place.label;
}

/** Takes a field out of what the reader is asked; a prompt without fields goes, with its place in the scope line. */
export function askNoLonger(report: Report, field: string): Report {
  const prompts = report.prompts.map((prompt) => ({ ...prompt, fields: prompt.fields.filter((one) => one !== field) }));
  const gone = new Set(prompts.filter(({ fields }) => fields.length === 0).map(({ id }) => id));
  const scopeLine = report.scopeLine.flatMap((piece, index): Report['scopeLine'] => {
    if ('prompt' in piece) return gone.has(piece.prompt) ? [] : [piece];
    const next = report.scopeLine[index + 1];
    // The words that lead to a prompt go with it, but for those that begin the sentence.
    return next && 'prompt' in next && gone.has(next.prompt) && index > 0 ? [] : [piece];
  });
  // What began the sentence leads on to the next prompt.
  const [first, second] = scopeLine;
  if (first && second && 'text' in first && 'text' in second) scopeLine[1] = { text: second.text.replace(/^,\s*/, '') };
  const left = prompts.filter(({ id }) => !gone.has(id));
  return { ...report, prompts: left, scopeLine: left.length === 0 ? [] : scopeLine };
}
