import { kindOf } from '@bold-compass/core/exhibits';
import type { Prompt, Report } from '@bold-compass/core/model';
import { isVisiblePath, isVisibleTo, withoutHidden, type DatasetReader, type IsVisible } from '../data/index.ts';

/**
 * What comes from outside and names members, held against those that the person may see. A member that is not theirs is
 * treated as one that does not exist, so that nobody learns from an answer which of the two it is. Every path, key and
 * document goes through here; scopes go through `checkScope`.
 */

const seenBy =
  (reader: DatasetReader): IsVisible =>
  (field, member) =>
    reader.isVisible(field, member);

/**
 * A document as a reader gets it: members that conditions, orders and prompts of its maker name are left out where they
 * are not the reader's to see. What the report shows is worked out from the document as it is.
 */
export async function visibleDocument(
  reader: DatasetReader,
  report: Report,
  readerOf: (dataset: string) => Promise<DatasetReader | null>,
): Promise<Report> {
  if (reader.restriction === null) return report;
  const exhibits = await Promise.all(
    report.exhibits.map(async (exhibit) => {
      const dataset = 'dataset' in exhibit && typeof exhibit.dataset === 'string' ? exhibit.dataset : undefined;
      const own = dataset === undefined || dataset === report.dataset ? reader : await readerOf(dataset);
      // Where the dataset is gone nobody can say what its members are.
      if (own === null)
        return {
          kind: 'text',
          id: exhibit.id,
          page: exhibit.page,
          width: exhibit.width,
          text: 'The dataset of this exhibit is no longer there.',
        } as typeof exhibit;
      const kind = kindOf(exhibit);
      const seen = (await withoutHidden(exhibit, seenBy(own), kind.axes?.(exhibit) ?? [])) as typeof exhibit;
      return kind.withoutHidden?.(seen, isVisibleTo(own)) ?? seen;
    }),
  );
  const prompts = await Promise.all(report.prompts.map((prompt) => visiblePrompt(reader, prompt)));
  const rest = { ...report, exhibits: [], prompts: [] };
  return { ...((await withoutHidden(rest, seenBy(reader), [])) as Report), exhibits, prompts };
}

/** A prompt without first choices that are not the reader's to see. */
async function visiblePrompt(reader: DatasetReader, prompt: Prompt): Promise<Prompt> {
  if (prompt.kind !== 'branches') return (await withoutHidden(prompt, seenBy(reader), [])) as Prompt;
  const initial: string[][] = [];
  for (const path of prompt.initial) if (await isVisiblePath(reader, prompt.fields, path)) initial.push(path);
  return { ...prompt, initial };
}
