import { SERIES_COLOURS, type ChartKindName } from '../model/index.ts';
import type { Series, SeriesKind } from './series.ts';

/**
 * How a chart reads its figures: series along an axis, members between series, parts of a whole, what goes from member to member,
 * points between two scales, a grid of two axes, days in their weeks, how values are spread as boxes of groups or in bins, members as places, or a single value.
 */
export type ChartFamily = 'axis' | 'slopes' | 'parts' | 'flows' | 'points' | 'grid' | 'days' | 'boxes' | 'bins' | 'places' | 'single';

/** What there is to draw. */
export interface ChartShape {
  /** Members along the axis. */
  members: number;
  /** Levels of the fields along the axis. */
  levels: number;
  isTime: boolean;
  /** Whether the members along the axis are days. */
  byDays: boolean;
  /** Members as series; 1 where there is no field for them. */
  series: number;
  hasSeriesField: boolean;
  measures: number;
  hasNegative: boolean;
  /** Whether a map places its members by latitude and longitude. */
  byPoints: boolean;
  arrangement: 'grouped' | 'stacked' | 'share';
}

/** Why a kind does not suit what is drawn, and what would. */
export interface Misfit {
  words: string;
  /** Whether it cannot be drawn so at all: the better one is drawn instead. */
  isImpossible: boolean;
  better: { kind?: ChartKindName; arrangement?: 'grouped' };
}

/** What kinds have as their family does, where they do not say otherwise. */
interface ChartTraits {
  /** Axes of values that can be set: two are one along and one up. */
  valueAxes: 0 | 1 | 2;
  /** Whether a legend names its series. */
  legend: boolean;
  /** Whether figures can be written in it. */
  writesValues: boolean;
  /** Whether values are shown by shades of a colour. */
  shades: boolean;
  /** Whether notes can stand at its points. */
  notes: boolean;
  /** What is left of the period before, where it is played through periods: ways of points, or marks beside bars. */
  trails: 'ways' | 'marks' | null;
}

/** A kind of chart: all that tells it apart from others before it is drawn. */
export interface ChartKind extends ChartTraits {
  label: string;
  family: ChartFamily;
  /** What it is good for, in a sentence. */
  about: string;
  /** Whether lengths or areas stand for values, so that the scale has to start at zero. */
  fromZero: boolean;
  /** Whether series can stand on top of each other. */
  stacks: boolean;
  /** Whether its bars lie; `members` where they stand once periods run along its axis. */
  lying: boolean | 'members';
  /** Whether all series of a member share its line. */
  inOneLine: boolean;
  /** Whether time can pass along its axis, rather than that each member stands for itself. */
  timeAxis: boolean;
  /** Whether it calculates what it draws out of its members, so that nothing else has the same scale, and no line goes on from it. */
  calculates: boolean;
  /** What its series are drawn as, where they have no say: `measures` is how many measures there are. */
  drawnAs(measures: number): SeriesKind;
  /** What has to be said below it. */
  says(series: readonly Series[]): string[];
  /** Whether it is drawn as slices of a circle. */
  slices: boolean;
  /** Whether it says how far two measures go together. */
  correlates: boolean;
  misfit(shape: ChartShape): Misfit | null;
}

const FAMILIES: Record<ChartFamily, ChartTraits> = {
  axis: { valueAxes: 1, legend: true, writesValues: true, shades: false, notes: true, trails: null },
  slopes: { valueAxes: 1, legend: false, writesValues: false, shades: false, notes: false, trails: null },
  parts: { valueAxes: 0, legend: false, writesValues: false, shades: false, notes: false, trails: null },
  flows: { valueAxes: 0, legend: false, writesValues: false, shades: false, notes: false, trails: null },
  points: { valueAxes: 2, legend: true, writesValues: true, shades: false, notes: true, trails: 'ways' },
  grid: { valueAxes: 0, legend: false, writesValues: true, shades: true, notes: false, trails: null },
  days: { valueAxes: 0, legend: false, writesValues: false, shades: true, notes: false, trails: null },
  boxes: { valueAxes: 1, legend: false, writesValues: false, shades: false, notes: false, trails: null },
  bins: { valueAxes: 0, legend: false, writesValues: false, shades: false, notes: false, trails: null },
  places: { valueAxes: 0, legend: true, writesValues: false, shades: true, notes: false, trails: null },
  single: { valueAxes: 1, legend: false, writesValues: false, shades: false, notes: false, trails: null },
};

/** A kind of a family: what is not said is as its family has it, or no. */
const kindOf = (family: ChartFamily, label: string, about: string, part: Partial<ChartKind> & Pick<ChartKind, 'misfit'>): ChartKind => ({
  ...FAMILIES[family],
  ...{ family, label, about, fromZero: false, stacks: false, lying: false, inOneLine: false, timeAxis: false, calculates: false },
  ...{ slices: false, correlates: false, drawnAs: () => 'column', says: () => [] },
  ...part,
});

const MOST_PARTS = 12;
const MOST_COLUMNS = 40;
const MOST_PLACES = 6;

const negativeStack = ({ hasNegative, arrangement }: ChartShape): Misfit | null =>
  hasNegative && arrangement !== 'grouped'
    ? {
        words: 'Negative values cannot be stacked: they would take away from what stands below them.',
        isImpossible: true,
        better: { arrangement: 'grouped' },
      }
    : null;

function partsMisfit(name: string) {
  return ({ members, hasNegative }: ChartShape): Misfit | null => {
    if (hasNegative)
      return { words: `A ${name} cannot show negative values: they are no part of a whole.`, isImpossible: true, better: { kind: 'bar' } };
    return members > MOST_PARTS
      ? {
          words: `A ${name} of ${members} members cannot be read. Bars keep them in order and comparable.`,
          isImpossible: false,
          better: { kind: 'bar' },
        }
      : null;
  };
}

const axisKind = (label: string, about: string, part: Partial<ChartKind> = {}): ChartKind =>
  kindOf('axis', label, about, { misfit: negativeStack, ...part });

const single =
  (name: string) =>
  ({ series, measures }: ChartShape): Misfit | null =>
    series * measures > 1
      ? {
          words: `A ${name} shows one series. Only the first of ${series * measures} is drawn.`,
          isImpossible: false,
          better: { kind: 'column' },
        }
      : null;

function rangeWords(series: readonly Series[]): string[] {
  const [from, to] = series.slice(-2);
  if (!to) return [];
  return [...(series.length > 2 ? [`Point: ${series[0].label}`] : []), `Bar: from ${from.label} to ${to.label}`];
}

/** Every kind of chart. What draws each is in `web/src/chart/chart-drawings.ts`. */
export const CHART_KINDS_BY_NAME: Record<ChartKindName, ChartKind> = {
  column: axisKind('Columns', 'Compares few members, or few periods.', {
    ...{ fromZero: true, stacks: true, timeAxis: true, trails: 'marks' },
    misfit: (shape) =>
      negativeStack(shape) ??
      (shape.members > MOST_COLUMNS && !shape.isTime
        ? {
            words: `${shape.members} columns leave no room for their labels. Horizontal bars do.`,
            isImpossible: false,
            better: { kind: 'bar' },
          }
        : null),
  }),
  bar: axisKind('Bars', 'Compares members with long labels, in order.', {
    ...{ fromZero: true, stacks: true, lying: true, timeAxis: true, trails: 'marks' },
  }),
  line: axisKind('Lines', 'Shows how values move through time.', { timeAxis: true, drawnAs: () => 'line' }),
  area: axisKind('Areas', 'Shows amounts through time, and what they are made of.', {
    ...{ fromZero: true, stacks: true, timeAxis: true },
    drawnAs: () => 'area',
  }),
  step: axisKind('Steps', 'Shows values that hold until they change, such as prices or stocks.', {
    timeAxis: true,
    drawnAs: () => 'step',
  }),
  waterfall: axisKind('Waterfall', 'Shows how members add up to their total.', {
    ...{ fromZero: true, calculates: true },
    misfit: single('waterfall'),
  }),
  pareto: axisKind('Pareto', 'Shows which few members make most of the total.', {
    ...{ fromZero: true, calculates: true },
    says: () => ['Line: cumulative share'],
    misfit: (shape) =>
      shape.hasNegative
        ? { words: 'A Pareto chart cannot show negative values.', isImpossible: true, better: { kind: 'bar' } }
        : single('Pareto chart')(shape),
  }),
  pie: kindOf('parts', 'Pie', 'Shows parts of a whole, where there are few.', {
    slices: true,
    writesValues: true,
    fromZero: true,
    misfit: partsMisfit('pie'),
  }),
  ring: kindOf('parts', 'Ring', 'Shows parts of a whole, with the total in the middle.', {
    slices: true,
    writesValues: true,
    fromZero: true,
    misfit: partsMisfit('ring'),
  }),
  funnel: kindOf('parts', 'Funnel', 'Shows what is left from step to step.', {
    fromZero: true,
    misfit: partsMisfit('funnel'),
  }),
  flow: kindOf('flows', 'Sankey', 'Shows how much goes from each member to each member of the series, as bands.', {
    fromZero: true,
    misfit: ({ hasNegative, hasSeriesField, levels, members, series }) =>
      hasNegative
        ? { words: 'A Sankey diagram cannot show negative values: bands have a width.', isImpossible: true, better: { kind: 'bar' } }
        : !hasSeriesField && levels < 2
          ? {
              words: 'A Sankey diagram needs a field as series, or a second level along the axis.',
              isImpossible: true,
              better: { kind: 'bar' },
            }
          : Math.max(members, hasSeriesField ? series : 0) > MOST_COLUMNS
            ? {
                words: `${members * series} bands cannot be followed. A heat grid shows them all.`,
                isImpossible: false,
                better: { kind: 'heat' },
              }
            : null,
  }),
  treemap: kindOf('parts', 'Tree map', 'Shows many parts of a whole, by area, within their groups.', {
    fromZero: true,
    misfit: ({ hasNegative }) =>
      hasNegative
        ? { words: 'A tree map cannot show negative values: they have no area.', isImpossible: true, better: { kind: 'bar' } }
        : null,
  }),
  scatter: kindOf('points', 'Scatter', 'Shows how two measures go together, a point for each member.', {
    correlates: true,
    misfit: ({ measures }) =>
      measures < 2
        ? { words: 'A scatter chart needs two measures: one for each axis.', isImpossible: true, better: { kind: 'bar' } }
        : null,
  }),
  bubble: kindOf('points', 'Bubbles', 'Like a scatter chart, with a third measure as size and a fourth as colour.', {
    misfit: ({ measures }) =>
      measures < 3
        ? {
            words: 'Bubbles need three measures: place, place and size.',
            isImpossible: true,
            better: { kind: measures === 2 ? 'scatter' : 'bar' },
          }
        : null,
  }),
  heat: kindOf('grid', 'Heat grid', 'Shows a value for each pair of members, by colour.', {
    timeAxis: true,
    misfit: ({ hasSeriesField }) =>
      hasSeriesField
        ? null
        : { words: 'A heat grid needs a field along the axis and one as series.', isImpossible: true, better: { kind: 'bar' } },
  }),
  days: kindOf('days', 'Calendar grid', 'Shows a value for each day by colour, weeks beside each other and weekdays below each other.', {
    timeAxis: true,
    misfit: ({ byDays }) =>
      byDays ? null : { words: 'A calendar grid needs days along the axis.', isImpossible: true, better: { kind: 'line' } },
  }),
  map: kindOf('places', 'Map', 'Shows countries by colour, and a second measure as rings on them.', {
    misfit: ({ isTime, byPoints, measures }) =>
      byPoints && measures < 2
        ? { words: 'A map of points needs two measures: latitude, then longitude.', isImpossible: true, better: { kind: 'bar' } }
        : isTime
          ? { words: 'A map needs countries along the axis, not periods.', isImpossible: true, better: { kind: 'line' } }
          : null,
  }),
  bullet: axisKind('Bullet bars', 'Shows each member against its target: a bar and a mark.', {
    ...{ fromZero: true, lying: true },
    misfit: ({ measures, hasSeriesField }) =>
      measures < 2 || hasSeriesField
        ? { words: 'Bullet bars need two measures, a value and its target, and no series.', isImpossible: true, better: { kind: 'bar' } }
        : null,
  }),
  dumbbell: axisKind('Dumbbells', 'Shows how far apart two values of each member are: two measures, or two periods.', {
    lying: true,
    drawnAs: () => 'line',
    misfit: ({ series, measures }) =>
      series * measures < 2
        ? { words: 'Dumbbells need two series: two measures, or two members.', isImpossible: true, better: { kind: 'bar' } }
        : null,
  }),
  slope: kindOf('slopes', 'Slopes', 'Shows which members rose and which fell, between two periods or measures.', {
    misfit: ({ series, measures }) =>
      series * measures < 2
        ? { words: 'Slopes need two series to go between: two periods, or two measures.', isImpossible: true, better: { kind: 'bar' } }
        : series * measures > MOST_PLACES
          ? {
              words: `Slopes between ${series * measures} places cannot be followed. Lines along them can.`,
              isImpossible: false,
              better: { kind: 'line' },
            }
          : null,
  }),
  range: axisKind('Ranges', 'Shows from where to where values reach; of three measures the first is a point with the others as its ends.', {
    ...{ lying: 'members', inOneLine: true, timeAxis: true },
    // What it reaches between is said below it.
    legend: false,
    says: rangeWords,
    // Values between two ends are points.
    drawnAs: (measures) => (measures > 2 ? 'line' : 'column'),
    misfit: ({ measures, hasSeriesField }) =>
      measures < 2 || measures > 3 || hasSeriesField
        ? {
            words: 'Ranges need two measures, from and to, or three, a value and its ends, and no series.',
            isImpossible: true,
            better: { kind: hasSeriesField && measures === 1 ? 'dumbbell' : 'bar' },
          }
        : null,
  }),
  diverging: axisKind('Diverging bars', 'Shows shares to both sides of the middle answer, or what adds and what takes away.', {
    ...{ fromZero: true, lying: true, inOneLine: true, calculates: true },
    misfit: ({ series, measures }) =>
      series * measures < 2
        ? { words: 'Diverging bars need two series or more.', isImpossible: true, better: { kind: 'bar' } }
        : series * measures > SERIES_COLOURS
          ? {
              words: `${series * measures} series are more than there are colours.`,
              isImpossible: false,
              better: { kind: 'heat' },
            }
          : null,
  }),
  gauge: kindOf('single', 'Gauge', 'Shows a single value, and its target, on half a circle.', {
    fromZero: true,
    misfit: ({ members, series }) =>
      members * series > 1
        ? { words: 'A gauge shows a single value. Bullet bars show many.', isImpossible: true, better: { kind: 'bullet' } }
        : null,
  }),
  packed: kindOf('parts', 'Packed bubbles', 'Shows many parts of a whole as circles, within their groups.', {
    fromZero: true,
    misfit: ({ hasNegative }) =>
      hasNegative
        ? { words: 'Circles cannot show negative values: they have no area.', isImpossible: true, better: { kind: 'bar' } }
        : null,
  }),
  cloud: kindOf('parts', 'Word cloud', 'Shows members as words, the larger the more.', {
    fromZero: true,
    misfit: ({ hasNegative }) =>
      hasNegative ? { words: 'Words cannot be as small as negative values.', isImpossible: true, better: { kind: 'bar' } } : null,
  }),
  box: kindOf('boxes', 'Box plot', 'Shows how the members of each group are spread: median, quartiles, outliers.', {
    misfit: ({ levels }) =>
      levels < 2
        ? {
            words: 'A box plot needs two levels along the axis: the groups, and the members in them.',
            isImpossible: true,
            better: { kind: 'distribution' },
          }
        : null,
  }),
  distribution: kindOf('bins', 'Distribution', 'Shows how many members fall into each range of values.', {
    fromZero: true,
    misfit: ({ members }) =>
      members < 4 ? { words: 'Too few members for a distribution.', isImpossible: false, better: { kind: 'bar' } } : null,
  }),
};

export const chartKindOf = (name: ChartKindName): ChartKind => CHART_KINDS_BY_NAME[name];

/** Whether the bars of a chart lie. */
export function isLying({ kind, shape }: { kind: ChartKindName; shape: Pick<ChartShape, 'isTime'> }): boolean {
  const { lying } = chartKindOf(kind);
  return lying === 'members' ? !shape.isTime : lying;
}
