/** The words of the KPI states. */
export const STATE_WORDS = { on: 'On course', drifting: 'Drifting', off: 'Off course', none: 'No reading' } as const;

/** The locale that figures and dates are written in. */
export const LOCALE = 'en-GB';
