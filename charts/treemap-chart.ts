import type { Part } from '@bold-compass/core/chart';
import { LOCALE, cellText } from '@bold-compass/core/format';
import type { ChartConfiguration } from 'chart.js';
import { CHART_FONT, faded } from './tokens.ts';
import type { ChartDrawing, DrawnWith } from './drawing.ts';
import { partsOf } from './parts-chart.ts';
import { isSameCell } from './targets.ts';
import { fitsWords, textWidth, wrappedWords } from './wrapped-words.ts';

/** Room that a label keeps to each side of its rectangle, and the height of one of its lines, in pixels. */
const ROOM = 4;
const LINE = 16;
/** Fewer letters of a name say nothing. */
const FEWEST_LETTERS = 4;

/** A rectangle as the library hands it to what it asks about it. */
interface Rectangle {
  _data?: { children?: { index: string }[] };
  g?: string;
  /** How deep it lies, from 0. */
  l?: number;
  w: number;
  h: number;
}

/** Parts by area, within the groups they are in. */
export function treemapChart(drawn: DrawnWith): ChartDrawing {
  const { parts, targets, series } = partsOf(drawn);
  const { tokens, chosen } = drawn;
  const hasGroups = parts.some(({ groups }) => groups.length > 0);
  const groups = rankedGroups(parts);
  const colourOf = (at: number): string => tokens.series[parts[at].colour % tokens.series.length];
  const groupOf = ({ g }: Rectangle): Group | undefined => groups[Number(g?.slice(1))];
  /** The part that a rectangle stands for; undefined for a group. */
  const partOf = ({ l, _data }: Rectangle): number | undefined => {
    const index = hasGroups && l === 0 ? undefined : _data?.children?.[0]?.index;
    return index === undefined ? undefined : Number(index.slice(1));
  };
  const config = {
    type: 'treemap',
    data: {
      datasets: [
        {
          // Names that are whole numbers would be put in order by the library, whatever the order they come in.
          tree: groups.flatMap((group, rank) => group.parts.map((at) => ({ value: parts[at].value, group: `g${rank}`, index: `p${at}` }))),
          key: 'value',
          groups: hasGroups ? ['group', 'index'] : ['index'],
          // They come in their order, so that rectangles are in one that is known.
          unsorted: true,
          spacing: 1,
          borderWidth: 0,
          backgroundColor: ({ raw }: { raw?: Rectangle }) => {
            const at = raw && partOf(raw);
            const group = raw && groupOf(raw);
            if (at === undefined) return faded(group ? colourOf(group.parts[0]) : tokens.sea, 0.16);
            return faded(colourOf(at), chosen && !isSameCell(targets[at].cell, chosen) ? 0.55 : 0.92);
          },
          captions: {
            ...{ display: hasGroups, color: tokens.ink, font: { family: CHART_FONT, size: 12.5, weight: 600 }, padding: 3 },
            formatter: ({ raw }: { raw?: Rectangle }) => (raw && groupOf(raw)?.name) ?? '',
          },
          labels: {
            ...{ display: true, overflow: 'hidden', padding: ROOM, color: tokens.paper, font: { family: CHART_FONT, size: 12.5 } },
            formatter: ({ raw }: { raw?: Rectangle }) => {
              const at = raw && partOf(raw);
              if (!raw || at === undefined) return '';
              const { label, value } = parts[at];
              return labelLines(label, cellText(value, series!.format, LOCALE), raw.w, raw.h);
            },
          },
        },
      ],
    },
    options: { plugins: { datalabels: { display: false } } },
  };
  // The library makes the rectangles of all groups first, then those in them, group by group.
  const order = [...(hasGroups ? groups.map(() => null) : []), ...groups.flatMap((group) => group.parts)];
  return {
    config: config as unknown as ChartConfiguration,
    targets: [order.map((at) => (at === null ? null : targets[at]))],
    unnamed: unnamedParts(parts, drawn.width * drawn.height).map(
      ({ label, value }) => `${label} ${cellText(value, series!.format, LOCALE)}`,
    ),
  };
}

/** Rectangles are not squares: this share of the side of a square of the same area is surely there. */
const SURE = 0.6;

/** The parts whose rectangles may be too small for their names, the largest first; `area` is that of all, in square pixels. */
function unnamedParts(parts: readonly Part[], area: number): Part[] {
  const whole = parts.reduce((sum, { value }) => sum + value, 0);
  const isNamed = ({ label, value }: Part): boolean => {
    const side = Math.sqrt((value / whole) * area) * SURE;
    return labelLines(label, '', side, side).join(' ').startsWith(label);
  };
  return parts.filter((part) => !isNamed(part)).sort((one, other) => other.value - one.value);
}

interface Group {
  name: string;
  /** Positions of its parts. */
  parts: number[];
}

/** The groups with their parts, the largest first in both. */
function rankedGroups(parts: readonly Part[]): Group[] {
  const groups = new Map<string, { name: string; parts: number[]; sum: number }>();
  parts.forEach(({ groups: [name = ''], value }, at) => {
    const group = groups.get(name) ?? { name, parts: [], sum: 0 };
    group.parts.push(at);
    group.sum += value;
    groups.set(name, group);
  });
  const ranked = [...groups.values()].sort((a, b) => b.sum - a.sum);
  for (const group of ranked) group.parts.sort((a, b) => parts[b].value - parts[a].value);
  return ranked;
}

/** What is written into a rectangle: the name and the value where there is room, else the name, or as much of it as says something. */
export function labelLines(name: string, value: string, width: number, height: number): string[] {
  const room = width - 2 * ROOM;
  const most = Math.floor((height - 2 * ROOM) / LINE);
  if (most < 1) return [];
  const lines = fitsWords(name, room) ? wrappedWords(name, room) : [];
  if (lines.length > 0 && lines.length <= most) return lines.length < most && textWidth(value) <= room ? [...lines, value] : lines;
  // A beginning may have more wide letters than a name on the whole: it keeps the room of one more.
  const letters = Math.floor(room / textWidth('x')) - 2;
  return letters < FEWEST_LETTERS ? [] : [`${name.slice(0, letters).trimEnd()}…`];
}
