import { limitText } from '../format/index.ts';
import {
  fieldLabel,
  fieldPlace,
  fieldPlural,
  measureNamed,
  type Dataset,
  type Mark,
  type MarkKindName,
  type MarkOf,
  type MarkScale,
} from '../model/index.ts';
import type { LegendWording, MarkKind } from './kind.ts';

const SCALE_WORDS: Record<MarkScale, string> = {
  column: 'each column',
  row: 'each row',
  table: 'the whole table',
  siblings: 'the members of each parent',
};

/** A change as settings and legends write it: in points where the measure is in percent. */
function thresholdWords(threshold: number, { measure, locale }: LegendWording): string {
  const text = limitText(threshold, { kind: 'percent', decimals: 1, unit: 'one' }, locale);
  return measure.format.kind === 'percent' ? text.replace(/\s*%$/u, ' points') : text;
}

/** The calendar levels of a dataset, the month first. */
function calendarLevels({ dimensions }: Dataset): string[] {
  const levels = dimensions.flatMap((dimension) => (dimension.kind === 'calendar' ? dimension.levels : []));
  const months = levels.filter(({ period }) => period === 'month');
  return [...new Set([...months, ...levels].map(({ name }) => name))];
}

const barKind: MarkKind<MarkOf<'bar'>> = {
  kind: 'bar',
  label: 'Data bar',
  names: ({ target }) => ({ fields: [], measures: target ? [target] : [] }),
  legend: ({ scale, target }, { dataset }) =>
    `Bars: one scale for ${SCALE_WORDS[scale]}${target ? `; the tick is ${measureNamed(dataset, target).label.toLowerCase()}` : ''}`,
  create: () => ({ kind: 'bar', scale: 'column' }),
};

const shadeKind: MarkKind<MarkOf<'shade'>> = {
  kind: 'shade',
  label: 'Colour scale',
  names: () => ({ fields: [], measures: [] }),
  legend: ({ scale, colours, middle }, { measure, locale }) =>
    colours === 'one'
      ? `Background: darker is more, over ${SCALE_WORDS[scale]}`
      : `Background: teal above ${limitText(middle, measure.format, locale)}, red below, over ${SCALE_WORDS[scale]}`,
  create: () => ({ kind: 'shade', scale: 'column', colours: 'one', middle: 0 }),
};

const arrowKind: MarkKind<MarkOf<'arrow'>> = {
  kind: 'arrow',
  label: 'Arrow',
  names: () => ({ fields: [], measures: [] }),
  legend: ({ along, threshold }, wording) =>
    `Arrows: change on the ${along === 'columns' ? 'column' : 'row'} before, level within ${thresholdWords(threshold, wording)}`,
  // What stands beside a member says nothing of how it moved: arrows compare periods.
  create({ dataset, exhibit: { side, top } }) {
    const isPeriod = (field: string | undefined): boolean => field !== undefined && fieldPlace(dataset, field).kind === 'period';
    const along = isPeriod(top.fields.at(-1)) ? 'columns' : isPeriod(side.fields.at(-1)) ? 'rows' : null;
    return along && { kind: 'arrow', along, threshold: 0.02 };
  },
};

const sparklineKind: MarkKind<MarkOf<'sparkline'>> = {
  kind: 'sparkline',
  label: 'Sparkline',
  names: ({ field }) => ({ fields: [field], measures: [] }),
  legend: ({ draw, field, periods, scale }, { dataset, measure }) =>
    `${draw === 'line' ? 'Lines' : 'Columns'}: ${measure.label.toLowerCase()}, at most the last ${periods} ${fieldPlural(dataset, field)}, ${
      scale === 'own' ? 'each row on its own scale' : 'one scale for all'
    }`,
  create({ dataset, exhibit }) {
    const field = calendarLevels(dataset).find((name) => !exhibit.side.fields.includes(name));
    return field === undefined ? null : { kind: 'sparkline', draw: 'line', field, periods: 24, scale: 'own', figure: true };
  },
};

const ruleKind: MarkKind<MarkOf<'rule'>> = {
  kind: 'rule',
  label: 'Rule',
  names: () => ({ fields: [], measures: [] }),
  formula: ({ formula }) => formula,
  legend: ({ label, formula }) => label || formula,
  create: ({ dataset }) => {
    const first = dataset.measures.find(({ hidden }) => !hidden);
    return first ? { kind: 'rule', formula: `${first.name} < 0`, label: '', tone: 'off', look: 'text' } : null;
  },
};

/** Every kind of mark, in the order in which they are offered. */
export const MARK_KINDS: { [Kind in MarkKindName]: MarkKind<MarkOf<Kind>> } = {
  bar: barKind,
  shade: shadeKind,
  arrow: arrowKind,
  sparkline: sparklineKind,
  rule: ruleKind,
};

/** What a mark is an instance of. */
export const markKindOf = (mark: Mark): MarkKind<Mark> => MARK_KINDS[mark.kind] as unknown as MarkKind<Mark>;

/** Calendar levels that a sparkline can go along, with their labels. */
export const sparklineFields = (dataset: Dataset): { value: string; title: string }[] =>
  calendarLevels(dataset).map((value) => ({ value, title: fieldLabel(dataset, value) }));
