import { exhibitAsChosen, inStep } from '../exhibits/index.ts';
import type { DataExhibit, Dataset, ReaderScope, Report } from '../model/index.ts';
import { conditionsFor, type DataDays } from '../prompts/index.ts';
import { askedIn, type Asked } from './scope.ts';

/**
 * An exhibit as a reader chose to see it, and what it is asked under. `own` is the report's dataset, with its measures and what
 * its prompts stand for, and the days that there is data for; `other` is the exhibit's, where that is another one: it is asked
 * under what it shares, and shows what it is written with.
 */
export function openExhibit<Own extends DataExhibit>(
  report: Report,
  written: Own,
  chosen: ReaderScope,
  own: { dataset: Dataset; days: DataDays },
  other: Dataset | null,
): { exhibit: Own; asked: Asked } {
  const exhibit = inStep(report.exhibits, written);
  const asked = conditionsFor(report, chosen, own, exhibit);
  return { exhibit: exhibitAsChosen(report, chosen.choices, exhibit, own.dataset, other), asked: other ? askedIn(other, asked) : asked };
}
