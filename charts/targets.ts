import { STATE_WORDS } from '@bold-compass/core/indicators';
import { pointWords, type Series } from '@bold-compass/core/chart';
import { samePath } from '@bold-compass/core/table';

import type { ChosenCell } from '@bold-compass/core/chart';
import type { ChartTarget, DrawnWith } from './drawing.ts';

/** The colour of a value by the state of its indicator; null where it has none, or where colours do not go by states. */
export function stateColour(
  { settings, tokens }: Pick<DrawnWith, 'settings' | 'tokens'>,
  series: Pick<Series, 'states'> | null,
  category: number,
): string | null {
  const state = settings.colours === 'state' ? series?.states?.[category] : null;
  return state ? tokens.states[state] : null;
}

/** What the point of a series stands for. */
export function targetOf(
  { figure, measures, settings }: Pick<DrawnWith, 'figure' | 'measures' | 'settings'>,
  series: Pick<Series, 'path' | 'measure'> & Partial<Pick<Series, 'states'>>,
  category: number,
  words: () => string,
): ChartTarget {
  const header = figure.categories[category]?.header ?? null;
  const cell = header && { side: header.path, top: series.path, measure: measures[series.measure] };
  // What a colour says, words say too.
  const state = settings.colours === 'state' ? series.states?.[category] : null;
  return {
    // Thousands of points are drawn, and few are asked what they say.
    get words() {
      return state ? `${words()}. ${STATE_WORDS[state]}` : words();
    },
    cell,
    opens: header?.canOpen ?? false,
  };
}

export const seriesTarget = (drawn: DrawnWith, series: Series, category: number): ChartTarget =>
  targetOf(drawn, series, category, () => pointWords(drawn.figure, series, category));

export const isSameCell = (a: ChosenCell | null, b: ChosenCell | null): boolean =>
  a !== null && b !== null && a.measure === b.measure && samePath(a.side, b.side) && samePath(a.top, b.top);
