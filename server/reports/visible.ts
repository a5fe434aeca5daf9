import { exhibitWithoutHidden, withoutHidden } from '@bold-compass/core/exhibits';
import { reportSchema, type Report } from '@bold-compass/core/model';
import { sightOf, type DatasetReader } from '../data/index.ts';

/**
 * A document as a reader gets it, held against the members that they may see: what conditions, orders and prompts of its maker
 * name is left out where it is not the reader's to see, as if there were no such member, so that nobody learns which of the
 * two it is. What the report shows is calculated from the document as it is.
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
      return exhibitWithoutHidden(exhibit, sightOf(own));
    }),
  );
  const rest = await withoutHidden(reportSchema, { ...report, exhibits: [] }, sightOf(reader));
  return { ...rest, exhibits };
}
