import { signedPercent } from '../format/index.ts';
import type { CellMeasure, Mark, MarkKindName, MarkOf, Measure } from '../model/index.ts';

/** What is drawn with a figure. Places are from 0, the left or the foot, to 1. */
export interface CellMarks {
  bar?: { from: number; to: number; isNegative: boolean; target: number | null };
  /** From 0 to 1; about a middle from −1 to 1. */
  shade?: { amount: number; colours: 'one' | 'two' };
  arrow?: { turn: -1 | 0 | 1; isGood: boolean | null; words: string };
  sparkline?: { draw: 'line' | 'columns'; zero: number; values: (number | null)[]; hasFigure: boolean };
  rule?: { tone: MarkOf<'rule'>['tone']; look: MarkOf<'rule'>['look']; words: string };
}

interface Marked {
  measure: Measure;
  /** What the cell holds. */
  value: unknown;
  locale: string;
}

/** What each kind of mark adds to a cell, from the numbers that it came to. */
const DRAWN: { [Kind in MarkKindName]: (own: MarkOf<Kind>, numbers: number[], marked: Marked) => CellMarks } = {
  bar: (_own, [from, to, target], { value }) => ({
    bar: { from, to, isNegative: typeof value === 'number' && value < 0, target: target ?? null },
  }),
  shade: ({ colours }, [amount]) => ({ shade: { amount, colours } }),
  arrow({ along }, [turn, change], { measure: { direction, format }, locale }) {
    const isGood = turn === 0 ? null : turn > 0 === (direction === 'higher');
    const amount = signedPercent(change, locale, format.kind === 'percent' ? 'pt' : '%');
    const words = `${amount} on the ${along === 'columns' ? 'column' : 'row'} before`;
    return { arrow: { turn: Math.sign(turn) as -1 | 0 | 1, isGood, words } };
  },
  sparkline: ({ draw, figure }, [zero, ...values]) => ({
    sparkline: { draw, zero, values: values.map((value) => (value < 0 ? null : value)), hasFigure: figure },
  }),
  rule: ({ tone, look, label, formula }) => ({ rule: { tone, look, words: label || formula } }),
};

/**
 * What is drawn with a figure: of several marks of one kind the first that there is. `numbersOf` gives what a mark came to, by
 * its place among those of the cell.
 */
export function cellMarks(
  { marks = [] }: Pick<CellMeasure, 'marks'>,
  marked: Marked,
  numbersOf: (index: number) => readonly number[] | null,
): CellMarks | null {
  let drawn: CellMarks | null = null;
  marks.forEach((mark: Mark, index) => {
    const numbers = numbersOf(index);
    if (numbers) drawn = { ...DRAWN[mark.kind](mark as never, [...numbers], marked), ...drawn };
  });
  return drawn;
}
