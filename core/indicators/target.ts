import { printName } from '../formula/index.ts';
import { measureNamed, type Comparison, type Dataset, type Indicator, type Measure } from '../model/index.ts';

/** A measure over the same days some periods back, which is an ordinary formula and its own name. Throws UnknownNameError. */
export function backMeasure(
  dataset: Dataset,
  measure: string,
  { amount, unit }: Omit<Extract<Comparison, { kind: 'back' }>, 'kind'>,
): Measure {
  const formula = `${printName(measure)} back ${amount} ${unit}`;
  const { label, format, direction } = measureNamed(dataset, measure);
  return { name: formula, label, format, direction, formula };
}

/** The measures that the target of an indicator is, as names of the dataset. */
export const targetMeasures = ({ against }: Pick<Indicator, 'against'>): string[] => (against.kind === 'measure' ? [against.measure] : []);
