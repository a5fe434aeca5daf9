import { fieldsOf, kpiStripSchema, measureNamed, type Kpi, type KpiStrip, type Measure } from '../model/index.ts';
import { indicatorMeasures } from '../indicators/index.ts';
import type { ExhibitKind } from './kind.ts';
import { otherName } from './swap.ts';

/** A key figure over a measure, held against last year until another comparison is chosen. */
export function newKpi({ name, label, direction }: Measure, taken: string[] = []): Kpi {
  const base = name.replaceAll(/[^a-z0-9]+/gi, '-').toLowerCase() || 'figure';
  let id = base;
  for (let number = 2; taken.includes(id); number++) id = `${base}-${number}`;
  return {
    ...{ id, label, measure: name, words: '', show: 'figure' },
    indicator: { against: { kind: 'back', amount: 1, unit: 'year' }, by: 'ratio', onCourse: 1, drifting: 0.96, direction },
  };
}

export const kpiStripKind: ExhibitKind<KpiStrip> = {
  kind: 'kpis',
  label: 'KPI strip',
  id: 'figures',
  isNumbered: false,
  names: ({ kpis, filter }) => ({
    fields: [
      ...fieldsOf(filter),
      ...kpis.flatMap(({ trend, rollUp, indicator: { against } }) => [
        ...(trend ? [trend.field] : []),
        ...(rollUp ? [rollUp.field] : []),
        ...(against.kind === 'average' && against.field ? [against.field] : []),
      ]),
    ],
    measures: kpis.flatMap(({ measure, indicator }) => [measure, ...indicatorMeasures(indicator)]),
  }),
  links: ({ kpis }) => kpis.flatMap(({ link }) => link ?? []),
  texts: ({ title, note }) => [title, note],
  swapped: (own, swap, dataset) => ({
    ...own,
    kpis: own.kpis.map((kpi) => {
      const measure = otherName(swap, kpi.measure);
      if (measure === kpi.measure) return kpi;
      const { label, direction } = measureNamed(dataset, measure);
      // A target is for its own measure; what stands for it is held against last year.
      const { indicator, words } = kpi.indicator.against.kind === 'measure' ? newKpi(measureNamed(dataset, measure)) : kpi;
      return { ...kpi, measure, label, format: undefined, indicator: { ...indicator, direction }, words };
    }),
  }),
  create({ id, page, dataset, otherDataset }) {
    const measures = dataset.measures.filter(({ hidden }) => !hidden).slice(0, 3);
    if (measures.length === 0) return null;
    const kpis = measures.map((measure) => newKpi(measure));
    return kpiStripSchema.parse({ kind: 'kpis', id, page, dataset: otherDataset, title: 'Key figures', kpis });
  },
};
