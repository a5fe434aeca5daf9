import { printName } from '../formula/index.ts';
import type { CellExhibit, Dataset, Mark, Measure } from '../model/index.ts';
import { nameFor, namesTaken } from './names.ts';

/** Shares of the whole that classes A and B reach up to: the 80/20 rule, common practice, no source. */
const A = 0.8;
const B = 0.95;

/**
 * The class of each member among those beside it: A for the largest that make up four fifths, the one that crosses that
 * included; B up to 95 %; C for the rest. It goes by the order shown, which has to be by the measure, the largest first.
 */
export function paretoMeasure(dataset: Dataset, { name, label, fact }: Measure): Measure {
  const before = `cumulative_share(${printName(name)}) - share(${printName(name)})`;
  const own = { label: `${label}, 80/20 class`, heading: 'Class' };
  return {
    ...{ name: nameFor(own.label, namesTaken(dataset)), ...own, fact, direction: 'higher' },
    format: { kind: 'number', decimals: 0, unit: 'one' },
    formula: `case when ${before} < ${A} then 'A' when ${before} < ${B} then 'B' else 'C' end`,
  };
}

/** A cross-tab whose members go by a measure at every level, the largest first. */
export function largestFirst<Own extends CellExhibit>(exhibit: Own, measure: string): Own {
  const levels = Object.fromEntries(Object.entries(exhibit.side.levels).map(([field, level]) => [field, { ...level, order: undefined }]));
  return { ...exhibit, side: { ...exhibit.side, levels, order: { by: 'measure', measure, at: [], direction: 'desc' } } };
}

/** Standard deviations from the average after which a value is an outlier (common practice, no source). */
const DEVIATIONS = 2;

/** A rule that marks members further than two standard deviations from the average of those beside them; null without members. */
export function outlierRule({ side }: Pick<CellExhibit, 'side'>, { name }: Measure): Mark | null {
  const own = printName(name);
  const at = side.fields.map(
    (field) =>
      `level_is(${printName(field)}) and abs(${own} - (avg(${own} per ${printName(field)}) at parent)) > ${DEVIATIONS} * (stddev(${own} per ${printName(field)}) at parent)`,
  );
  if (at.length === 0) return null;
  const formula = at.length === 1 ? at[0] : at.map((one) => `(${one})`).join(' or ');
  return { kind: 'rule', formula, label: `Outlier: over ${DEVIATIONS} standard deviations off`, tone: 'brass', look: 'ground' };
}
