import { exhibitAsChosen, inStep, missingNames } from '@bold-compass/core/exhibits';
import type { Exhibit } from '@bold-compass/core/model';
import type { ReportContext } from './context.ts';

/** An exhibit as the reader chose to see it; composing shows it as it is written. */
export function shownExhibit<Own extends Exhibit>(
  { report, view, choices, composing }: Pick<ReportContext, 'report' | 'view' | 'choices' | 'composing'>,
  written: Own,
): Own {
  const exhibit = inStep(report.value.exhibits, written);
  const { dataset, datasets } = view.value;
  const other = 'dataset' in exhibit && exhibit.dataset && exhibit.dataset !== dataset.name ? datasets[exhibit.dataset] : undefined;
  // What reads names that are gone says so, as it is written.
  const { fields, measures } = missingNames(exhibit, other ?? dataset);
  if (composing.value || fields.length + measures.length > 0) return exhibit;
  return exhibitAsChosen(report.value, choices.value, exhibit, dataset, other);
}
