import {
  fieldLabel,
  findField,
  findMeasure,
  isDataExhibit,
  type Axis,
  type Crosstab,
  type Dataset,
  type Exhibit,
  type List,
  type Report,
} from '../model/index.ts';

const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);
const quoted = (text: string): string => `“${text}”`;

/** What an exhibit is called in a sentence. */
function exhibitName(exhibit: Exhibit): string {
  if (isDataExhibit(exhibit)) return quoted(exhibit.title);
  return { text: 'a text', image: 'a picture', divider: 'a divider' }[exhibit.kind];
}
const KINDS: Record<Exhibit['kind'], string> = {
  crosstab: 'cross-tab',
  list: 'list',
  kpis: 'KPI strip',
  text: 'text',
  image: 'picture',
  divider: 'divider',
};

/** What settings are called, where a change of one is all there is to say. */
const SETTINGS: Record<string, string> = {
  filter: 'its filter',
  conditions: 'its conditions on measures',
  style: 'its style',
  banding: 'its banding',
  blank: 'what stands where there is no value',
  widths: 'its column widths',
  freeze: 'what stays in view',
  measuresOn: 'where its measures stand',
  drills: 'where its figures lead',
  against: 'what its figures are held against',
  note: 'its note',
  width: 'its width',
  height: 'its height',
  page: 'its page',
  order: 'its order',
  groups: 'its groups',
  detail: 'whether it shows single records',
  rowNumbers: 'its row numbers',
  repeatLabels: 'whether group words are repeated',
  paging: 'how it is leafed through',
  kpis: 'its figures',
  text: 'its words',
  source: 'its picture',
  words: 'its description',
  dataset: 'its dataset',
  fact: 'its records',
  levels: 'the settings of levels',
  total: 'its total',
  totalPlace: 'where totals stand',
  summaries: 'its summary lines',
  layout: 'how levels are laid out',
  openLevels: 'what stands open at first',
  hideEmpty: 'whether empty members are hidden',
};

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
  for (const page of after.pages) {
    const old = before.pages.find(({ id }) => id === page.id);
    if (!old) changes.push(`The page ${quoted(page.title)} was added.`);
    else if (old.title !== page.title) changes.push(`The page ${quoted(old.title)} is called ${quoted(page.title)} now.`);
  }
  for (const page of before.pages)
    if (!after.pages.some(({ id }) => id === page.id)) changes.push(`The page ${quoted(page.title)} was removed.`);
  if (!same(before.prompts, after.prompts)) changes.push('What the reader is asked changed.');
  else if (!same(before.scopeLine, after.scopeLine)) changes.push('The words of the scope line changed.');
  for (const exhibit of after.exhibits) {
    const old = before.exhibits.find(({ id }) => id === exhibit.id);
    if (!old) changes.push(`The ${KINDS[exhibit.kind]} ${isDataExhibit(exhibit) ? `${quoted(exhibit.title)} ` : ''}was added.`);
    else changes.push(...exhibitChanges(old, exhibit, datasetOf((isDataExhibit(exhibit) ? exhibit.dataset : undefined) ?? after.dataset)));
  }
  for (const exhibit of before.exhibits)
    if (!after.exhibits.some(({ id }) => id === exhibit.id))
      changes.push(`The ${KINDS[exhibit.kind]} ${isDataExhibit(exhibit) ? `${quoted(exhibit.title)} ` : ''}was removed.`);
  const kept = (report: Report, other: Report): string[] =>
    report.exhibits.map(({ id }) => id).filter((id) => other.exhibits.some((exhibit) => exhibit.id === id));
  if (!same(kept(before, after), kept(after, before))) changes.push('The exhibits stand in another order.');
  return changes;
}

function exhibitChanges(before: Exhibit, after: Exhibit, dataset: Dataset | undefined): string[] {
  if (before.kind !== after.kind) return [`${exhibitName(before)} is a ${KINDS[after.kind]} now.`];
  const name = isDataExhibit(after) ? quoted(after.title) : `The ${KINDS[after.kind]}`;
  const changes: string[] = [];
  if (isDataExhibit(before) && isDataExhibit(after) && before.title !== after.title) {
    changes.push(`The exhibit ${quoted(before.title)} is called ${quoted(after.title)} now.`);
  }
  const told = new Set(['id', 'kind', 'title']);
  if (before.kind === 'crosstab' && after.kind === 'crosstab') {
    changes.push(...crosstabChanges(name, before, after, dataset));
    ['side', 'top', 'cells'].forEach((key) => told.add(key));
  }
  if (before.kind === 'list' && after.kind === 'list') {
    changes.push(...listChanges(name, before, after, dataset));
    told.add('columns');
  }
  return [...changes, ...settingChanges(name, before, after, told)];
}

/** Settings that differ, by their names. */
function settingChanges(name: string, before: object, after: object, told: Set<string>): string[] {
  const values = (of: object): Record<string, unknown> => ({ ...of });
  const [old, now] = [values(before), values(after)];
  const changed = [...new Set([...Object.keys(old), ...Object.keys(now)])].filter((key) => !told.has(key) && !same(old[key], now[key]));
  return changed.map((key) => `${name}: ${SETTINGS[key] ?? `its ${key}`} changed.`);
}

const labelOf = (dataset: Dataset | undefined, name: string): string =>
  dataset && findField(dataset, name) ? fieldLabel(dataset, name) : ((dataset && findMeasure(dataset, name)?.label) ?? name);

function listed(before: string[], after: string[], label: (name: string) => string, name: string, where: string): string[] {
  const added = after.filter((one) => !before.includes(one)).map((one) => `${name}: ${label(one)} was added ${where}.`);
  const gone = before.filter((one) => !after.includes(one)).map((one) => `${name}: ${label(one)} was removed ${where}.`);
  const kept = (one: string[], other: string[]): string[] => one.filter((item) => other.includes(item));
  const moved = same(kept(before, after), kept(after, before)) ? [] : [`${name}: another order ${where}.`];
  return [...added, ...gone, ...moved];
}

function crosstabChanges(name: string, before: Crosstab, after: Crosstab, dataset: Dataset | undefined): string[] {
  const label = (one: string): string => labelOf(dataset, one);
  const axis = (old: Axis, now: Axis, where: string): string[] => [
    ...listed(old.fields, now.fields, label, name, where),
    ...settingChanges(`${name}, ${where}`, old, now, new Set(['fields'])),
  ];
  const cellKey = ({ measure, aggregation }: Crosstab['cells'][number]): string => (aggregation ? `${measure} (${aggregation})` : measure);
  const cells = (of: Crosstab): string[] => of.cells.map(cellKey);
  const shown = after.cells.flatMap((cell) => {
    const old = before.cells.find((one) => cellKey(one) === cellKey(cell));
    return old && !same(old, cell) ? [`${name}: how ${label(cell.measure)} is shown changed.`] : [];
  });
  return [
    ...axis(before.side, after.side, 'down the side'),
    ...axis(before.top, after.top, 'across the top'),
    ...listed(cells(before), cells(after), label, name, 'in the cells'),
    ...shown,
  ];
}

function listChanges(name: string, before: List, after: List, dataset: Dataset | undefined): string[] {
  const label = (one: string): string => labelOf(dataset, one);
  const columns = (of: List): string[] => of.columns.map(({ field, measure }) => field ?? measure ?? '');
  const shown = after.columns.flatMap((column) => {
    const key = column.field ?? column.measure ?? '';
    const old = before.columns.find((one) => (one.field ?? one.measure) === key);
    return old && !same(old, column) ? [`${name}: how ${label(key)} is shown changed.`] : [];
  });
  return [...listed(columns(before), columns(after), label, name, 'among the columns'), ...shown];
}
