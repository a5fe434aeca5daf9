import type { ChartFigure } from '@bold-compass/core/chart';
import { shallowReactive } from 'vue';

/** What charts show while they are composed, by the exhibit: settings of series and of points speak of these. */
export const shownFigures = shallowReactive(new Map<string, ChartFigure>());
