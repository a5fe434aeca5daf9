import { fieldLabel, findField, findMeasure, type Dataset } from '../model/index.ts';

export const isSame = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

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
  chart: 'how it is drawn',
  back: 'what it compares with',
  most: 'how many members it names',
  effects: 'price, volume and mix',
  openLevels: 'what stands open at first',
  hideEmpty: 'whether empty members are hidden',
};

/** Settings that differ, by their names; `described` are those that have words of their own. */
export function settingChanges(name: string, before: object, after: object, described: ReadonlySet<string>): string[] {
  const values = (of: object): Record<string, unknown> => ({ ...of });
  const [old, now] = [values(before), values(after)];
  const changed = [...new Set([...Object.keys(old), ...Object.keys(now)])].filter(
    (key) => !described.has(key) && !isSame(old[key], now[key]),
  );
  return changed.map((key) => `${name}: ${SETTINGS[key] ?? `its ${key}`} changed.`);
}

/** The label of a field or a measure; its name where the dataset does not know it. */
export const labelOf = (dataset: Dataset | undefined, name: string): string =>
  dataset && findField(dataset, name) ? fieldLabel(dataset, name) : ((dataset && findMeasure(dataset, name)?.label) ?? name);

/** What was added to, removed from or moved within a list of names. */
export function listed(before: string[], after: string[], label: (name: string) => string, name: string, where: string): string[] {
  const added = after.filter((one) => !before.includes(one)).map((one) => `${name}: ${label(one)} was added ${where}.`);
  const gone = before.filter((one) => !after.includes(one)).map((one) => `${name}: ${label(one)} was removed ${where}.`);
  const kept = (one: string[], other: string[]): string[] => one.filter((item) => other.includes(item));
  const moved = isSame(kept(before, after), kept(after, before)) ? [] : [`${name}: another order ${where}.`];
  return [...added, ...gone, ...moved];
}
