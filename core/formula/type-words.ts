import type { ScalarType } from '../engine/index.ts';

/** What values of each type are called. */
export const TYPE_WORDS: Record<ScalarType, string> = { number: 'number', text: 'text', date: 'date', boolean: 'condition' };

/** Types that do not go together: "A date and a number". */
export const typesInWords = (types: readonly ScalarType[]): string => `A ${types.map((type) => TYPE_WORDS[type]).join(' and a ')}`;
