import { parseFormula, printFormula } from '../formula/index.ts';
import { derivedOf, findMeasure, type Aggregation, type Dataset, type Exhibit } from '../model/index.ts';

/** Whether a measure is a single aggregate of a record value, so that another aggregate can take its place. */
export function canAggregateOtherwise(formula: string): boolean {
  try {
    const node = parseFormula(formula);
    return node.kind === 'call' && node.args.length === 1;
  } catch {
    return false;
  }
}

/** A measure's formula with another aggregate; as it is where it is not a single one. */
function aggregated(formula: string, aggregation: Aggregation): string {
  const node = parseFormula(formula);
  return node.kind === 'call' && node.args.length === 1 ? printFormula({ ...node, name: aggregation }) : formula;
}

/**
 * Measures of a cross-tab that are counted in another way than their own become measures of the dataset, under names of
 * their own; everything that answers by measure then answers for them too.
 */
export function withAggregations<Own extends Exhibit>(dataset: Dataset, exhibit: Own): { dataset: Dataset; exhibit: Own } {
  if (!('cells' in exhibit)) return { dataset, exhibit };
  const changed = exhibit.cells.filter(({ aggregation }) => aggregation);
  if (changed.length === 0) return { dataset, exhibit };
  const nameOf = (measure: string, aggregation: Aggregation): string => `${measure} (${aggregation})`;
  const key = JSON.stringify(changed.map(({ measure, aggregation }) => [measure, aggregation]).sort());
  const own = derivedOf(dataset, `aggregations ${key}`, () => {
    const measures = new Map(dataset.measures.map((measure) => [measure.name, measure]));
    for (const { measure: name, aggregation } of changed) {
      const measure = findMeasure(dataset, name);
      if (!measure) continue;
      const counts = aggregation === 'count' || aggregation === 'count_distinct';
      measures.set(nameOf(name, aggregation!), {
        ...measure,
        name: nameOf(name, aggregation!),
        label: `${measure.label}, ${AGGREGATION_WORDS[aggregation!].toLowerCase()}`,
        heading: undefined,
        formula: aggregated(measure.formula, aggregation!),
        format: counts ? { kind: 'number', decimals: 0, unit: 'one' } : measure.format,
      });
    }
    return { ...dataset, measures: [...measures.values()] };
  });
  const cells = exhibit.cells.map((cell) => (cell.aggregation ? { ...cell, measure: nameOf(cell.measure, cell.aggregation) } : cell));
  return { dataset: own, exhibit: { ...exhibit, cells } };
}

/** What each aggregate is called. */
export const AGGREGATION_WORDS: Record<Aggregation, string> = {
  sum: 'Sum',
  avg: 'Average',
  min: 'Minimum',
  max: 'Maximum',
  count: 'Count',
  count_distinct: 'Distinct count',
  median: 'Median',
  stddev: 'Standard deviation',
};
