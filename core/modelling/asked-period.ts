import { calendarsOf, type Dataset, type Period, type PromptOf } from '../model/index.ts';

/** What managers meet about, the most usual first. */
const PERIODS: readonly Period[] = ['month', 'quarter', 'year', 'week', 'day'];

/**
 * Asks for a period, at first the last complete one: figures that are held against earlier ones have readings in it, while over
 * all time there is nothing earlier. Null where a dataset has no calendar.
 */
export function lastCompletePeriod(dataset: Dataset, id: string): PromptOf<'period'> | null {
  const calendar = calendarsOf(dataset)[0];
  const unit = calendar && PERIODS.find((period) => calendar.levels.some((level) => level.period === period));
  return unit ? { id, kind: 'period', calendar: calendar.name, initial: { last: 1, unit } } : null;
}
