import type { Series } from '@bold-compass/core/chart';
import { shallowReactive } from 'vue';

/** The series that charts show while they are composed, by the exhibit: settings of series speak of these. */
export const shownSeries = shallowReactive(new Map<string, readonly Series[]>());
