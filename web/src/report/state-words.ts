import type { Summary } from '@bold-compass/core/model';

/** The words of the KPI states. */
export const STATE_WORDS = { on: 'On course', drifting: 'Drifting', off: 'Off course', none: 'No reading' } as const;

/** The locale that figures and dates are written in. */
export const LOCALE = 'en-GB';

/** What lines are called that are worked out of the members that are shown. */
export const SUMMARY_WORDS: Record<Summary, string> = {
  average: 'Average of the shown',
  sum: 'Sum of the shown',
  smallest: 'Minimum of visible rows',
  largest: 'Maximum of visible rows',
  median: 'Median of the shown',
};
