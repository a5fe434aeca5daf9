import { parseFormula, printFormula, type Syntax } from '../formula/index.ts';
import { AGGREGATES, derivedOf, findMeasure, type AggregateName, type Aggregation, type Dataset, type Exhibit } from '../model/index.ts';

/** Aggregates of one value each, which can take each other's place. */
export const EXCHANGEABLE = (Object.keys(AGGREGATES) as AggregateName[]).filter(
  (name) => AGGREGATES[name].most === 1 && (AGGREGATES[name].least === 1 || AGGREGATES[name].counts),
);

function singleAggregate(formula: string): { node: Extract<Syntax, { kind: 'call' }>; name: AggregateName } | undefined {
  try {
    const node = parseFormula(formula);
    if (node.kind !== 'call' || node.args.length !== 1) return undefined;
    const name = EXCHANGEABLE.find((one) => one === node.name.toLowerCase());
    return name && { node, name };
  } catch {
    return undefined;
  }
}

/** The aggregate of a formula that is a single one of a record value, so that another can take its place. */
export const aggregateOf = (formula: string): AggregateName | undefined => singleAggregate(formula)?.name;

/** Whether a measure can be counted in another way than its own. */
export const canAggregateOtherwise = (formula: string): boolean => aggregateOf(formula) !== undefined;

/** A formula with another aggregate; as it is where it is not a single one. */
export function withAggregate(formula: string, name: AggregateName): string {
  const single = singleAggregate(formula);
  return single ? printFormula({ ...single.node, name }) : formula;
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
      const { label, counts } = AGGREGATES[aggregation!];
      measures.set(nameOf(name, aggregation!), {
        ...measure,
        name: nameOf(name, aggregation!),
        label: `${measure.label}, ${label.toLowerCase()}`,
        heading: undefined,
        formula: withAggregate(measure.formula, aggregation!),
        format: counts ? { kind: 'number', decimals: 0, unit: 'one' } : measure.format,
      });
    }
    return { ...dataset, measures: [...measures.values()] };
  });
  const cells = exhibit.cells.map((cell) => (cell.aggregation ? { ...cell, measure: nameOf(cell.measure, cell.aggregation) } : cell));
  return { dataset: own, exhibit: { ...exhibit, cells } };
}
