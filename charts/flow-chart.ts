import { flowsOf } from '@bold-compass/core/chart';
import { LOCALE, cellText, figureText } from '@bold-compass/core/format';
import type { ChartConfiguration } from 'chart.js';
import { CHART_FONT } from './tokens.ts';
import type { ChartDrawing, DrawnWith } from './drawing.ts';
import { isSameCell, targetOf } from './targets.ts';

const [BAND, CHOSEN_BAND, OTHER_BAND] = [0.45, 0.85, 0.2];
/** What stands between two members, in pixels. */
const GAP = 12;

/** What goes from member to member, as bands as wide as their values. */
export function flowChart(drawn: DrawnWith): ChartDrawing {
  const { figure, tokens, chosen } = drawn;
  const { sources, targets: ends, flows } = flowsOf(figure);
  const colour = (number: number): string => tokens.series[number % tokens.series.length];
  const format = flows[0]?.series.format ?? { kind: 'number', decimals: 0, unit: 'one' };
  const named = ({ label, value }: { label: string; value: number }): string => `${label}  ${cellText(value, format, LOCALE)}`;
  const targets = flows.map(({ from, to, value, series, category }) =>
    targetOf(
      drawn,
      series,
      category,
      () => `${series.measureLabel}, ${sources[from].label} to ${ends[to].label}: ${figureText(value, series.format, figure.locale)}`,
    ),
  );
  const hasChosen = targets.some(({ cell }) => isSameCell(cell, chosen));
  const strength = (index: number): number => (!hasChosen ? BAND : isSameCell(targets[index].cell, chosen) ? CHOSEN_BAND : OTHER_BAND);
  const config = {
    type: 'sankey',
    data: {
      datasets: [
        {
          // Members may be called the same at both ends.
          data: flows.map(({ from, to, value }) => ({ from: `from ${from}`, to: `to ${to}`, flow: value })),
          labels: Object.fromEntries([
            ...sources.map((one, number) => [`from ${number}`, named(one)]),
            ...ends.map((one, number) => [`to ${number}`, named(one)]),
          ]),
          priority: Object.fromEntries([
            ...sources.map((_, number) => [`from ${number}`, number]),
            ...ends.map((_, number) => [`to ${number}`, number]),
          ]),
          colorFrom: ({ dataIndex }: { dataIndex: number }) => colour(flows[dataIndex]?.from ?? 0),
          colorTo: () => tokens.quiet,
          colorMode: 'from',
          alpha: ({ dataIndex }: { dataIndex: number }) => strength(dataIndex),
          hoverColorFrom: ({ dataIndex }: { dataIndex: number }) => colour(flows[dataIndex]?.from ?? 0),
          ...{ borderWidth: 0, nodeWidth: 8, nodePadding: GAP, size: 'max', color: tokens.ink, font: { family: CHART_FONT, size: 12.5 } },
        },
      ],
    },
    options: { layout: { padding: { left: 2, right: 12, top: 8, bottom: 8 } }, plugins: { datalabels: { display: false } } },
  };
  return { config: config as unknown as ChartConfiguration, targets: [targets] };
}
