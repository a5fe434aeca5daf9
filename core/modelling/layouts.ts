import { usualTotal } from '../exhibits/index.ts';
import { promptTitle } from '../prompts/index.ts';
import { reportSchema, type CalendarDimension, type Dataset, type Report } from '../model/index.ts';
import { lastCompletePeriod } from './asked-period.ts';

/** Layouts that a new report can begin with. */
export const LAYOUTS = [
  { id: 'empty', words: 'An empty page', about: 'Begin with nothing and add what you need.' },
  { id: 'crosstab', words: 'One cross-tab', about: 'Members down the side, time across the top, a scope line above.' },
  { id: 'figures', words: 'Key figures and a cross-tab', about: 'A strip of figures against last year, and what they are made of below.' },
  { id: 'list', words: 'A list of records', about: 'Record by record, in pages, with totals.' },
] as const;
export type LayoutId = (typeof LAYOUTS)[number]['id'];

/** A new report over a dataset, in one of the layouts. */
export function startingReport(id: string, title: string, folder: string, dataset: Dataset, layout: LayoutId): Report {
  const calendar = dataset.dimensions.find((one): one is CalendarDimension => one.kind === 'calendar');
  const year = calendar?.levels.find(({ period }) => period === 'year')?.name;
  const territory = dataset.dimensions.find((one) => one.kind === 'table' && !one.tree);
  const text = dataset.facts[0].fields.find(({ type, hidden }) => type === 'text' && !hidden)?.name;
  const side = territory ? territory.levels.slice(0, 2).map(({ name }) => name) : text ? [text] : [];
  const measures = dataset.measures.filter(({ hidden }) => !hidden);
  const first = measures.slice(0, 1).map(({ name }) => ({ measure: name }));
  const crosstab = {
    kind: 'crosstab',
    id: 'table',
    title: measures[0]?.label ?? 'Cross-tab',
    side: { fields: side },
    top: { fields: year ? [year] : [] },
    cells: first,
    against: calendar ? [{ kind: 'back', amount: 1, unit: 'year' }] : [],
  };
  const kpis = {
    kind: 'kpis',
    id: 'figures',
    title: 'Key figures',
    kpis: measures.slice(0, 4).map(({ name, label, direction }) => ({
      ...{ id: name.replaceAll(/[^a-z0-9]+/gi, '-').toLowerCase(), label, measure: name },
      indicator: { against: { kind: 'back', amount: 1, unit: 'year' }, by: 'ratio', onCourse: 1, drifting: 0.96, direction },
    })),
  };
  const fact = dataset.facts[0];
  const list = {
    kind: 'list',
    id: 'records',
    title: fact.label,
    fact: fact.name,
    columns: fact.fields
      .filter(({ hidden }) => !hidden)
      .slice(0, 8)
      .map((field) => ({ field: field.name, total: usualTotal(field) })),
  };
  const exhibits = {
    empty: [],
    crosstab: [crosstab],
    figures: measures.length > 0 && calendar ? [kpis, crosstab] : [crosstab],
    list: [list],
  }[layout];
  const period = layout === 'figures' ? lastCompletePeriod(dataset, 'period') : null;
  const asked = [...(year && !period ? [year] : []), ...side.slice(0, 1)];
  const ofMembers = asked.map((field) => ({ id: field.replaceAll(/[^a-z0-9]+/gi, '-').toLowerCase(), fields: [field] }));
  const report = reportSchema.parse({
    ...{ schemaVersion: 1, id, title, folder, dataset: dataset.name, exhibits },
    prompts: layout === 'empty' ? [] : [...(period ? [period] : []), ...ofMembers],
  });
  const scopeLine = report.prompts.flatMap((prompt, index) => [
    { text: index === 0 ? `Showing ${dataset.label} for ` : ` and ${promptTitle(prompt, dataset).toLowerCase()} ` },
    { prompt: prompt.id },
    ...(index === report.prompts.length - 1 ? [{ text: '.' }] : []),
  ]);
  return { ...report, scopeLine };
}
