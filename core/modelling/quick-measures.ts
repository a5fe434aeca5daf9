import { printName } from '../formula/index.ts';
import type { Dataset, Measure, NumberFormat } from '../model/index.ts';
import { nameFor, namesTaken } from './names.ts';

/** An ordinary formula over a measure that is made without writing it. */
export interface QuickMeasure {
  id: string;
  /** What it is called in a menu. */
  words: string;
  /** What belongs together there. */
  group: 'Share' | 'Compare' | 'Periods' | 'Position';
  /** What is added to the label of the measure. */
  label: string;
  heading: string;
  formula(name: string): string;
  format: 'own' | 'percent' | 'count';
}

const PERCENT: NumberFormat = { kind: 'percent', decimals: 1, unit: 'one' };
const COUNT: NumberFormat = { kind: 'number', decimals: 0, unit: 'one' };

const share = (id: string, of: string, words: string): QuickMeasure => ({
  ...{ id, group: 'Share', words: `Share of ${words}`, label: `share of ${words}`, heading: `Of ${words}`, format: 'percent' },
  formula: (name) => (of === '' ? `share(${name})` : `share(${name}, of: ${of})`),
});

/** The usual formulas over a measure, in the order of the menu. */
export const QUICK_MEASURES: QuickMeasure[] = [
  share('share-parent', '', 'parent'),
  share('share-row', 'row', 'row'),
  share('share-column', 'column', 'column'),
  share('share-total', 'total', 'total'),
  {
    ...{ id: 'last-year', group: 'Compare', words: 'Last year', label: 'last year', heading: 'Last year', format: 'own' },
    formula: (name) => `${name} back 1 year`,
  },
  {
    ...{
      id: 'change-year',
      group: 'Compare',
      words: 'Change on last year',
      label: 'change on last year',
      heading: 'Change',
      format: 'own',
    },
    formula: (name) => `change(${name}, 1 year)`,
  },
  {
    ...{
      id: 'growth-year',
      group: 'Compare',
      words: 'Growth on last year',
      label: 'growth on last year',
      heading: 'Growth',
      format: 'percent',
    },
    formula: (name) => `growth(${name}, 1 year)`,
  },
  {
    ...{ id: 'previous', group: 'Compare', words: 'Previous column', label: 'previous column', heading: 'Previous', format: 'own' },
    formula: (name) => `previous(${name})`,
  },
  {
    ...{
      id: 'difference',
      group: 'Compare',
      words: 'Change on the previous column',
      label: 'change on the previous column',
      heading: 'Change',
      format: 'own',
    },
    formula: (name) => `difference(${name})`,
  },
  {
    ...{ id: 'to-date', group: 'Periods', words: 'Year to date', label: 'year to date', heading: 'To date', format: 'own' },
    formula: (name) => `to_date(${name}, year)`,
  },
  {
    ...{
      id: 'to-date-last-year',
      group: 'Periods',
      words: 'Year to date, last year',
      label: 'year to date last year',
      heading: 'To date, last year',
      format: 'own',
    },
    formula: (name) => `to_date(${name}, year) back 1 year`,
  },
  {
    ...{
      id: 'rolling',
      group: 'Periods',
      words: 'Last twelve months',
      label: 'last twelve months',
      heading: '12 months',
      format: 'own',
    },
    formula: (name) => `rolling(${name}, 12 months)`,
  },
  {
    ...{
      id: 'moving',
      group: 'Periods',
      words: 'Moving average of three',
      label: 'moving average of three',
      heading: 'Moving average',
      format: 'own',
    },
    formula: (name) => `moving_avg(${name}, 3)`,
  },
  {
    ...{ id: 'rank', group: 'Position', words: 'Rank', label: 'rank', heading: 'Rank', format: 'count' },
    formula: (name) => `rank(${name})`,
  },
  {
    ...{
      id: 'rank-parent',
      group: 'Position',
      words: 'Rank within the parent',
      label: 'rank within the parent',
      heading: 'Rank',
      format: 'count',
    },
    formula: (name) => `rank(${name}, within: parent)`,
  },
  {
    ...{ id: 'running', group: 'Position', words: 'Running total', label: 'running total', heading: 'Running', format: 'own' },
    formula: (name) => `running(${name})`,
  },
  {
    ...{
      id: 'cumulative',
      group: 'Position',
      words: 'Cumulative share',
      label: 'cumulative share',
      heading: 'Cumulative share',
      format: 'percent',
    },
    formula: (name) => `cumulative_share(${name})`,
  },
];

const named = (dataset: Dataset, part: Omit<Measure, 'name'>): Measure => ({ ...part, name: nameFor(part.label, namesTaken(dataset)) });

/** A quick formula over a measure, as a measure under a name of its own. */
export function quickMeasure(
  dataset: Dataset,
  { name, label, format, direction, fact }: Measure,
  { id: _, ...quick }: QuickMeasure,
): Measure {
  const formats = { own: format, percent: PERCENT, count: COUNT };
  return named(dataset, {
    ...{ label: `${label}, ${quick.label}`, heading: quick.heading, formula: quick.formula(printName(name)), fact },
    format: formats[quick.format],
    direction: quick.format === 'count' ? 'lower' : direction,
  });
}

/** The difference of a measure to another one, as it is or in percent of the other. */
export function differenceMeasure(dataset: Dataset, measure: Measure, other: Measure, inPercent: boolean): Measure {
  const [own, against] = [printName(measure.name), printName(other.name)];
  return named(dataset, {
    label: `${measure.label} less ${other.label.toLowerCase()}${inPercent ? ', percent' : ''}`,
    heading: inPercent ? 'Difference %' : 'Difference',
    formula: inPercent ? `(${own} - ${against}) / abs(${against})` : `${own} - ${against}`,
    format: inPercent ? PERCENT : measure.format,
    direction: measure.direction,
  });
}
