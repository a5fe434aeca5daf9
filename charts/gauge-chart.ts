import { drawnSeries, scaleEnds } from '@bold-compass/core/chart';
import { LOCALE, figureText } from '@bold-compass/core/format';
import type { ChartConfiguration } from 'chart.js';
import type { AnnotationOptions } from 'chartjs-plugin-annotation';
import type { DrawChart } from './drawing.ts';
import { ENDS_HEIGHT } from './gauge-ends.ts';
import { seriesTarget } from './targets.ts';
import { CHART_FONT, faded, SERIF_FONT } from './tokens.ts';

/** A single value on half a circle, with its target as a mark across it. */
export const gaugeChart: DrawChart = (drawn) => {
  const { figure, tokens, settings } = drawn;
  const [own, goal] = drawnSeries(figure);
  const value = own?.values[0] ?? null;
  const target = goal?.values[0] ?? null;
  const most = settings.scale.max ?? scaleEnds([value ?? 0, target ?? 0], true).max;
  const least = settings.scale.min ?? 0;
  const part = (of: number): number => Math.min(1, Math.max(0, (of - least) / (most - least)));
  const hair = 0.006;
  const state = own?.states?.[0];
  const colour = settings.colours === 'state' && state ? tokens.states[state] : tokens.sea;
  // The mark is a ring of its own, over the first.
  const mark = target === null ? [] : [part(target) - hair, 2 * hair, 1 - part(target) - hair];
  const said = [
    figureText(value, own.format, LOCALE),
    ...(target === null ? [] : [`${goal.label} ${figureText(target, goal.format, LOCALE)}`]),
  ];
  const config: ChartConfiguration<'doughnut', number[]> = {
    type: 'doughnut',
    data: {
      labels: [],
      datasets: [
        ...(mark.length > 0
          ? [{ data: mark, backgroundColor: ['transparent', tokens.brass, 'transparent'], borderWidth: 0, weight: 0.5 }]
          : []),
        { data: [part(value ?? least), 1 - part(value ?? least)], backgroundColor: [colour, faded(tokens.rule, 0.6)], borderWidth: 0 },
      ],
    },
    options: {
      circumference: 180,
      rotation: -90,
      cutout: '68%',
      layout: { padding: { bottom: ENDS_HEIGHT } },
      plugins: {
        gaugeEnds: { words: [figureText(least, own.format, LOCALE), figureText(most, own.format, LOCALE)], colour: tokens.quiet },
        datalabels: { display: false },
        annotation: {
          // Its types know no such label yet.
          annotations: {
            value: {
              type: 'doughnutLabel',
              content: said,
              color: [tokens.ink, tokens.quiet],
              font: [
                { family: SERIF_FONT, size: 26, weight: 600 },
                { family: CHART_FONT, size: 13 },
              ],
            },
          } as unknown as AnnotationOptions[],
        },
      },
    },
  };
  const target0 = seriesTarget(drawn, own, 0);
  const targetMark = goal ? [null, seriesTarget(drawn, goal, 0), null] : [];
  return { config: config as unknown as ChartConfiguration, targets: mark.length > 0 ? [targetMark, [target0, null]] : [[target0, null]] };
};
