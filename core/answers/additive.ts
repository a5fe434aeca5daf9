import { planMeasure, type Cell } from '../formula/index.ts';
import { aggregateTraits, type Dataset } from '../model/index.ts';

/** Whether the parts of a measure add up to the whole: a sum or a count, or sums and differences of these. Distinct counts do not. */
export function isAdditive(dataset: Dataset, measure: string): boolean {
  const linear = (cell: Cell): boolean => {
    switch (cell.kind) {
      case 'aggregate':
        return aggregateTraits(cell.call.fn).additive;
      case 'measure':
        return linear(cell.cell);
      case 'moved':
        return cell.move.kind === 'back' && linear(cell.operand);
      case 'apply':
        return ['+', '-', 'negate'].includes(cell.fn) && cell.args.every(linear);
      default:
        return false;
    }
  };
  return linear(planMeasure(dataset, measure).cell);
}
