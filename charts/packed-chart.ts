import { LOCALE, cellText } from '@bold-compass/core/format';
import type { ChartConfiguration } from 'chart.js';
import { hierarchy, pack } from 'd3-hierarchy';
import type { DrawChart } from './drawing.ts';
import { partsOf } from './parts-chart.ts';
import { CHART_FONT, faded } from './tokens.ts';

interface Node {
  /** Its place among the parts; undefined for a group. */
  part?: number;
  value?: number;
  label: string;
  children?: Node[];
}

/** How wide a letter is, and how high the name of a group, in pixels. */
const [LETTER, NAME] = [6.5, 12];

/** Parts as circles, packed within circles of their groups. */
export const packedChart: DrawChart = (drawn) => {
  const { parts, targets, colours, series } = partsOf(drawn);
  const { tokens, width, height } = drawn;
  const leaf = (index: number): Node => ({ part: index, value: parts[index].value, label: parts[index].label });
  const groups = [...new Set(parts.map(({ groups: [group] }) => group ?? ''))];
  const inGroup = (group: string): Node[] => parts.flatMap((part, index) => ((part.groups[0] ?? '') === group ? [leaf(index)] : []));
  const hasGroups = groups.some((group) => group !== '');
  const root: Node = { label: '', children: hasGroups ? groups.map((label) => ({ label, children: inGroup(label) })) : inGroup('') };
  const laid = pack<Node>().size([width, height]).padding(3)(hierarchy(root).sum(({ value = 0 }) => value));
  // Groups lie below their parts.
  const circles = laid.descendants().filter(({ depth }) => depth > 0);
  const isNamed = (index: number): boolean => circles[index].data.label.length * LETTER < circles[index].r * 1.9;
  const isGroup = (index: number): boolean => circles[index].data.part === undefined;
  const config: ChartConfiguration<'bubble'> = {
    type: 'bubble',
    data: {
      datasets: [
        {
          data: circles.map(({ x, y, r }) => ({ x, y, r })),
          backgroundColor: circles.map(({ data }) =>
            data.part === undefined ? faded(tokens.rule, 0.35) : faded(colours[data.part], 0.88),
          ),
          borderWidth: 0,
          hoverRadius: 1,
        },
      ],
    },
    options: {
      layout: { autoPadding: false, padding: 0 },
      scales: {
        x: { display: false, min: 0, max: width },
        y: { display: false, min: 0, max: height, reverse: true },
      },
      plugins: {
        datalabels: {
          // A group is named above its circle, a part in its own.
          display: ({ dataIndex: at }) => isGroup(at) || isNamed(at),
          align: ({ dataIndex }) => (isGroup(dataIndex) ? 'top' : 'center'),
          offset: ({ dataIndex }) => (isGroup(dataIndex) ? circles[dataIndex].r - NAME : 0),
          color: ({ dataIndex }) => (isGroup(dataIndex) ? tokens.ink : tokens.paper),
          backgroundColor: ({ dataIndex }) => (isGroup(dataIndex) ? faded(tokens.paper, 0.8) : null),
          padding: 1,
          textAlign: 'center',
          font: ({ dataIndex }) => ({ family: CHART_FONT, size: 12, weight: isGroup(dataIndex) ? 600 : 400 }),
          formatter: (_value, { dataIndex }) => {
            const { label, value = 0 } = circles[dataIndex].data;
            return isGroup(dataIndex) ? label : [label, cellText(value, series!.format, LOCALE)];
          },
        },
      },
    },
  };
  const ofCircles = circles.map(({ data }) => (data.part === undefined ? null : targets[data.part]));
  const unnamed = circles
    .filter(({ data }, index) => data.part !== undefined && !isNamed(index))
    .sort((one, other) => (other.data.value ?? 0) - (one.data.value ?? 0))
    .map(({ data: { label, value = 0 } }) => `${label} ${cellText(value, series!.format, LOCALE)}`);
  return { config: config as unknown as ChartConfiguration, targets: [ofCircles], unnamed };
};
