import { isSame, kindOf, settingChanges } from '../exhibits/index.ts';
import { fieldLabel, findField, isDataExhibit, type Dataset, type Exhibit, type Report, type Sections } from '../model/index.ts';

const quoted = (text: string): string => `“${text}”`;
/** The noun for an exhibit within a sentence: "cross-tab", "KPI strip". */
const nounOf = (exhibit: Exhibit): string => kindOf(exhibit).label.replace(/^[A-Z](?=[a-z])/, (letter) => letter.toLowerCase());
/** What an exhibit is called in a sentence. */
const exhibitName = (exhibit: Exhibit): string => (isDataExhibit(exhibit) ? quoted(exhibit.title) : `a ${nounOf(exhibit)}`);

/**
 * What changed between two documents of a report, as sentences. Everything that differs is told, in words of its own or
 * by the name of the setting.
 */
export function reportChanges(before: Report, after: Report, datasetOf: (name: string) => Dataset | undefined): string[] {
  const changes: string[] = [];
  if (before.title !== after.title) changes.push(`The title was ${quoted(before.title)} and is ${quoted(after.title)} now.`);
  if (before.subtitle !== after.subtitle)
    changes.push(after.subtitle ? `The subtitle is ${quoted(after.subtitle)} now.` : 'The subtitle was removed.');
  if (before.folder !== after.folder) changes.push(`It was moved from ${quoted(before.folder)} to ${quoted(after.folder)}.`);
  if (before.note !== after.note) changes.push('Its description in the library changed.');
  changes.push(...sectionChanges('The report', before.sections, after.sections, datasetOf(after.dataset)));
  for (const page of after.pages) {
    const old = before.pages.find(({ id }) => id === page.id);
    if (!old) changes.push(`The page ${quoted(page.title)} was added.`);
    else if (old.title !== page.title) changes.push(`The page ${quoted(old.title)} is called ${quoted(page.title)} now.`);
    if (old) changes.push(...sectionChanges(`The page ${quoted(page.title)}`, old.sections, page.sections, datasetOf(after.dataset)));
  }
  for (const page of before.pages)
    if (!after.pages.some(({ id }) => id === page.id)) changes.push(`The page ${quoted(page.title)} was removed.`);
  if (!isSame(before.prompts, after.prompts)) changes.push('What the reader is asked changed.');
  else if (!isSame(before.scopeLine, after.scopeLine)) changes.push('The words of the scope line changed.');
  if (!isSame(before.pageSetup, after.pageSetup)) changes.push('How it is printed changed.');
  changes.push(...measureChanges(before, after));
  for (const exhibit of after.exhibits) {
    const old = before.exhibits.find(({ id }) => id === exhibit.id);
    if (!old) changes.push(`The ${nounOf(exhibit)} ${isDataExhibit(exhibit) ? `${quoted(exhibit.title)} ` : ''}was added.`);
    else changes.push(...exhibitChanges(old, exhibit, datasetOf((isDataExhibit(exhibit) ? exhibit.dataset : undefined) ?? after.dataset)));
  }
  for (const exhibit of before.exhibits)
    if (!after.exhibits.some(({ id }) => id === exhibit.id))
      changes.push(`The ${nounOf(exhibit)} ${isDataExhibit(exhibit) ? `${quoted(exhibit.title)} ` : ''}was removed.`);
  const kept = (report: Report, other: Report): string[] =>
    report.exhibits.map(({ id }) => id).filter((id) => other.exhibits.some((exhibit) => exhibit.id === id));
  if (!isSame(kept(before, after), kept(after, before))) changes.push('The exhibits stand in another order.');
  return changes;
}

/** What changed in the measures of the report itself. */
function measureChanges(before: Report, after: Report): string[] {
  const changes: string[] = [];
  for (const measure of after.measures) {
    const old = before.measures.find(({ name }) => name === measure.name);
    const label = quoted(measure.label);
    if (!old) changes.push(`The measure ${label} was added: ${measure.formula}.`);
    else if (old.formula !== measure.formula) changes.push(`The formula of ${label} was ${old.formula} and is ${measure.formula} now.`);
    else if (!isSame(old, measure)) changes.push(`The label, format or description of the measure ${label} changed.`);
  }
  for (const { name, label } of before.measures)
    if (!after.measures.some((measure) => measure.name === name)) changes.push(`The measure ${quoted(label)} was removed.`);
  return changes;
}

/** What changed in how something is repeated in sections. */
function sectionChanges(name: string, before: Sections | undefined, after: Sections | undefined, dataset: Dataset | undefined): string[] {
  const level = ({ field }: Sections): string => (dataset && findField(dataset, field) ? fieldLabel(dataset, field).toLowerCase() : field);
  if (isSame(before, after)) return [];
  if (!after) return [`${name} has no sections any more.`];
  if (before?.field !== after.field) return [`${name} has sections by ${level(after)} now.`];
  return [`${name}: how its sections by ${level(after)} are shown changed.`];
}

function exhibitChanges(before: Exhibit, after: Exhibit, dataset: Dataset | undefined): string[] {
  const kind = kindOf(after);
  if (before.kind !== after.kind) return [`${exhibitName(before)} is a ${nounOf(after)} now.`];
  const name = isDataExhibit(after) ? quoted(after.title) : `The ${nounOf(after)}`;
  const changes: string[] = [];
  if (isDataExhibit(before) && isDataExhibit(after) && before.title !== after.title) {
    changes.push(`The exhibit ${quoted(before.title)} is called ${quoted(after.title)} now.`);
  }
  const { sentences, settings } = kind.changes?.(name, before, after, dataset) ?? { sentences: [], settings: [] };
  if (isDataExhibit(before) && isDataExhibit(after)) changes.push(...sectionChanges(name, before.sections, after.sections, dataset));
  return [...changes, ...sentences, ...settingChanges(name, before, after, new Set(['id', 'kind', 'title', 'sections', ...settings]))];
}
