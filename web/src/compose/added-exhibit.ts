import { fieldsOf, findField, isDataExhibit, type Dataset, type Exhibit, type Prompt, type Report } from '@bold-compass/core/model';
import { lastCompletePeriod } from '@bold-compass/core/modelling';
import { promptTitle, reaches } from '@bold-compass/core/prompts';
import { promptId, withPrompt } from './prompts.ts';

/** Whether a prompt, or a filter, can cut the time that an exhibit is about. */
function choosesTime(prompt: Prompt, dataset: Dataset): boolean {
  if (prompt.kind === 'period' || prompt.kind === 'dates') return true;
  return 'fields' in prompt && prompt.fields.some((field) => isOfCalendar(dataset, field));
}
function isOfCalendar(dataset: Dataset, field: string): boolean {
  return findField(dataset, field)?.dimension?.kind === 'calendar';
}

/** Whether an exhibit holds figures against the same ones of earlier periods. */
const looksBack = (exhibit: Exhibit): boolean =>
  exhibit.kind === 'kpis' && exhibit.kpis.some(({ indicator }) => indicator.against.kind === 'back');

/**
 * A report with one exhibit more. Key figures that are held against earlier ones have nothing before all time: where nothing
 * chooses a period for them, the reader is asked for one, of these figures alone if the page shows other data.
 */
export function withExhibit(report: Report, exhibit: Exhibit, dataset: Dataset): Report {
  const added = { ...report, exhibits: [...report.exhibits, exhibit] };
  const isAsked =
    report.prompts.some((prompt) => reaches(prompt, report, exhibit) && choosesTime(prompt, dataset)) ||
    (isDataExhibit(exhibit) && fieldsOf(exhibit.filter).some((field) => isOfCalendar(dataset, field)));
  if (!looksBack(exhibit) || isAsked || dataset.name !== report.dataset) return added;
  const prompt = lastCompletePeriod(dataset, promptId(report, 'period'));
  if (!prompt) return added;
  const isAlone = !report.exhibits.some(isDataExhibit);
  const asked: Prompt = isAlone ? prompt : { ...prompt, reach: { pages: [], exhibits: [exhibit.id] } };
  return withPrompt(added, asked, promptTitle(asked, dataset));
}
