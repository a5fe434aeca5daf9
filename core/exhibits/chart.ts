import { asCrosstab, chartSchema, fieldPlace, type Chart, type Dataset } from '../model/index.ts';
import { crosstabKind } from './crosstab.ts';
import type { ExhibitKind } from './kind.ts';

/** The months of the first calendar: most charts begin with them. */
function monthsOf(dataset: Dataset): string | undefined {
  const calendar = dataset.dimensions.find((dimension) => dimension.kind === 'calendar');
  const months = calendar?.levels.find(({ name }) => {
    const place = fieldPlace(dataset, name);
    return place.kind === 'period' && place.level.period === 'month';
  });
  return (months ?? calendar?.levels[0])?.name;
}

/** A chart reads, checks and tells what the cross-tab that it draws does. */
export const chartKind: ExhibitKind<Chart> = {
  kind: 'chart',
  label: 'Chart',
  id: 'chart',
  isNumbered: true,
  names: (own) => crosstabKind.names(asCrosstab(own)),
  faults: (own, dataset) => crosstabKind.faults?.(asCrosstab(own), dataset) ?? [],
  axes: ({ side, top }) => [side.fields, top.fields],
  links: ({ drills }) => drills,
  texts: ({ title, note }) => [title, note],
  swapped(own, swap, dataset) {
    const { side, top, cells, conditions, drills } = crosstabKind.swapped!(asCrosstab(own), swap, dataset);
    return { ...own, side, top, cells, conditions, drills };
  },
  inSection(own, left) {
    const { side, top, conditions } = crosstabKind.inSection!(asCrosstab(own), left);
    return { ...own, side, top, conditions };
  },
  async withAssets(own, other) {
    const { shapes } = own.chart.map;
    if (!shapes) return own;
    const source = await other(shapes.source);
    return { ...own, chart: { ...own.chart, map: { ...own.chart.map, shapes: { ...shapes, source } } } };
  },
  changes: (name, before, after, dataset) => crosstabKind.changes!(name, asCrosstab(before), asCrosstab(after), dataset),
  create({ id, page, dataset, otherDataset }) {
    const measure = dataset.measures.find(({ hidden }) => !hidden);
    const months = monthsOf(dataset);
    return chartSchema.parse({
      ...{ kind: 'chart', id, page, dataset: otherDataset, title: 'New chart', width: 6 },
      side: { fields: months ? [months] : [] },
      top: { fields: [] },
      cells: measure ? [{ measure: measure.name }] : [],
      chart: { kind: months ? 'line' : 'bar' },
    });
  },
};
