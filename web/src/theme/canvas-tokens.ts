import { withoutColours, type CanvasTokens } from '@bold-compass/charts/tokens';
import { SERIES_COLOURS, type ChartSettings } from '@bold-compass/core/model';

/** The tokens of the theme that is on where an element stands, in the style of a chart. */
export function canvasTokens(element: Element, style: ChartSettings['style']): CanvasTokens {
  const styles = getComputedStyle(element);
  const colour = (name: string): string => `rgb(${styles.getPropertyValue(`--v-theme-${name}`).trim()})`;
  const quiet = colour('ink-2');
  const tokens: CanvasTokens = {
    ...{ ink: colour('ink'), quiet, rule: colour('rule'), hairline: colour('rule-2'), paper: colour('paper') },
    ...{ sea: colour('sea'), brass: colour('brass-line'), good: colour('sea'), bad: colour('off') },
    series: Array.from({ length: SERIES_COLOURS }, (_, index) => colour(`series-${index + 1}`)),
    states: {
      ...{ ahead: colour('on'), on: colour('on'), drifting: colour('drift') },
      ...{ off: colour('off'), far: colour('off'), none: colour('ink-3') },
    },
  };
  return style === 'monochrome' ? withoutColours(tokens) : tokens;
}
