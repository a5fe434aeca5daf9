/** The locale that figures, dates and words are written in. */
export const LOCALE = 'en-GB';
