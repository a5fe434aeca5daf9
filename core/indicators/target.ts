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

/** A measure as it is judged: what its target is hangs on both. */
export interface JudgedMeasure {
  measure: string;
  indicator?: Indicator;
}

/** The measure that a target is, among those of `withMarkMeasures`; null where it is none. Throws UnknownNameError. */
export function targetName(dataset: Dataset, { measure, indicator }: JudgedMeasure): string | null {
  if (indicator?.against.kind === 'back') return backMeasure(dataset, measure, indicator.against).name;
  return indicator?.against.kind === 'measure' ? indicator.against.measure : null;
}

/** The names of the dataset that an indicator reads. */
export const indicatorMeasures = (indicator: Indicator | undefined): string[] =>
  indicator?.against.kind === 'measure' ? [indicator.against.measure] : [];
