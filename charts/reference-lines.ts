import { controlOf, referenceValue, type AxisSeries } from '@bold-compass/core/chart';
import { LOCALE, figureText } from '@bold-compass/core/format';
import type { AnnotationOptions } from 'chartjs-plugin-annotation';
import { axisLook } from './axis-looks.ts';
import type { DrawnWith } from './drawing.ts';
import { CHART_FONT, faded } from './tokens.ts';

/** Lines and bands across a chart, dotted in brass, each with its words. */
export function referenceLines(
  { figure, settings, tokens }: DrawnWith,
  series: readonly AxisSeries[],
  axis: 'x' | 'y',
): AnnotationOptions[] {
  const [first] = series;
  if (!first) return [];
  const line = (
    value: number,
    words: string,
    scaleID: string,
    { position = 'end', yAdjust = -10 }: { position?: 'start' | 'end'; yAdjust?: number } = {},
  ): AnnotationOptions => ({
    ...{ type: 'line', scaleID, value, borderColor: tokens.brass, borderWidth: 1.5, borderDash: [2, 3] },
    label: {
      ...{ display: words !== '', content: words, position, backgroundColor: faded(tokens.paper, 0.85), color: tokens.brass },
      ...{ font: { family: CHART_FONT, size: 12, weight: 600 }, padding: 2, yAdjust: axis === 'y' ? yAdjust : 0 },
    },
  });
  const drawn = settings.lines.flatMap((own): AnnotationOptions[] => {
    if (own.at === 'limits') {
      const control = controlOf(figure, settings);
      // Beside each other there is no room for their words: the line below the chart says them.
      const said = (words: string, value: number): string => (axis === 'x' ? '' : `${words} ${figureText(value, first.format, LOCALE)}`);
      return control
        ? [
            line(control.high, said('Upper control limit', control.high), axis, { position: 'start', yAdjust: 10 }),
            line(control.centre, said('Average', control.centre), axis, { position: 'start' }),
            line(control.low, said('Lower control limit', control.low), axis, { position: 'start' }),
          ]
        : [];
    }
    const value = referenceValue(own, first.values);
    if (value === null) return [];
    const said =
      own.label ||
      (typeof own.at === 'number' ? '' : `${own.at === 'median' ? 'Median' : 'Average'} ${figureText(value, first.format, LOCALE)}`);
    if (own.to === undefined) return [line(value, said, axis)];
    const ends = { [`${axis}Min`]: value, [`${axis}Max`]: own.to };
    const label = {
      display: said !== '',
      content: said,
      color: tokens.brass,
      font: { family: CHART_FONT, size: 12, weight: 600 as const },
    };
    return [{ type: 'box', ...ends, backgroundColor: faded(tokens.brass, 0.1), borderWidth: 0, label }];
  });
  const always = axisLook(figure.kind).line;
  return always ? [...drawn, line(always.at, always.words, 'second')] : drawn;
}
