import { dayLabel, isoDate, parseIsoDate } from '../calendar/index.ts';
import { fieldLabel, findField, isNumberType, type Filter, type PromptOf, type PromptValue } from '../model/index.ts';
import type { PromptKind, PromptWording } from './kind.ts';

/** Choices of a span are its two ends; an empty one is open. */
type Ends = readonly [low: string, high: string];
const endsOf = (choice: readonly string[]): Ends => [choice[0] ?? '', choice[1] ?? ''];

function spanCondition<Value extends string | number>(
  field: string,
  choice: readonly string[],
  read: (text: string) => Value,
): Filter | null {
  const [low, high] = endsOf(choice);
  if (low === '' && high === '') return null;
  if (high === '') return { op: 'ge', field, value: read(low) };
  return low === '' ? { op: 'le', field, value: read(high) } : { op: 'between', field, low: read(low), high: read(high) };
}

function spanWords(choice: readonly string[], write: (text: string) => string, every: string, open: { low: string; high: string }): string {
  const [low, high] = endsOf(choice);
  if (low === '' && high === '') return every;
  if (high === '') return `${open.low} ${write(low)}`;
  if (low === '') return `${open.high} ${write(high)}`;
  return low === high ? write(low) : `${write(low)} to ${write(high)}`;
}

/** An end of a span as a value. */
const endValue = (text: string, type: 'number' | 'text'): PromptValue =>
  type === 'number' ? { type, value: text === '' ? null : Number(text) } : { type, value: text === '' ? null : text };

function endValues(choice: readonly string[], type: 'number' | 'text'): { from: PromptValue; to: PromptValue } {
  const [low, high] = endsOf(choice);
  return { from: endValue(low, type), to: endValue(high, type) };
}

const isNumber = (text: string): boolean => text === '' || (text.trim() !== '' && Number.isFinite(Number(text)));
const ends = (initial: { low?: string | number; high?: string | number }): string[] =>
  initial.low === undefined && initial.high === undefined ? [] : [String(initial.low ?? ''), String(initial.high ?? '')];

function firstEnds<Value>(choice: readonly string[], read: (text: string) => Value): { low?: Value; high?: Value } {
  const [low, high] = endsOf(choice);
  return { ...(low === '' ? {} : { low: read(low) }), ...(high === '' ? {} : { high: read(high) }) };
}

export const rangeKind: PromptKind<PromptOf<'range'>> = {
  kind: 'range',
  label: 'Number range',
  about: 'Records whose number lies between two.',
  names: ({ field }) => ({ fields: [field], measures: [] }),
  faults({ field }, dataset) {
    const type = findField(dataset, field)?.type;
    return isNumberType(type) ? [] : [`A range needs numbers, and "${field}" holds none.`];
  },
  title: ({ field }, dataset) => (findField(dataset, field) ? fieldLabel(dataset, field) : field),
  initial: ({ initial }) => ends(initial),
  startingWith: (own, choice) => ({ ...own, initial: firstEnds(choice, Number) }),
  isChoice: (_, choice) => choice.length <= 2 && choice.every(isNumber),
  condition: ({ field }, choice) => spanCondition(field, choice, Number),
  ends: (_, choice) => endValues(choice, 'number'),
  words({ field }, choice, { dataset, locale }) {
    const number = new Intl.NumberFormat(locale, { maximumFractionDigits: 12 });
    const write = (text: string): string => number.format(Number(text));
    return spanWords(choice, write, `any ${fieldLabel(dataset, field).toLowerCase()}`, { low: 'from', high: 'up to' });
  },
  create({ id, dataset, about }) {
    const type = findField(dataset, about ?? '')?.type;
    return about && isNumberType(type) ? { id, kind: 'range', field: about, initial: {} } : null;
  },
};

/** Whether a field holds days: of a fact, or of a calendar. */
function holdsDays(dataset: PromptWording['dataset'], field: string): boolean {
  const place = findField(dataset, field);
  return place?.kind === 'period' ? place.level.period === 'day' : place?.type === 'date';
}

export const datesKind: PromptKind<PromptOf<'dates'>> = {
  kind: 'dates',
  label: 'Date range',
  about: 'Days from one date to another.',
  names: ({ field }) => ({ fields: [field], measures: [] }),
  faults: ({ field }, dataset) => (holdsDays(dataset, field) ? [] : [`A prompt for dates needs days, and "${field}" holds none.`]),
  title: ({ field }, dataset) => (findField(dataset, field) ? fieldLabel(dataset, field) : field),
  initial: ({ initial }) => ends(initial),
  startingWith: (own, choice) => ({ ...own, initial: firstEnds(choice, String) }),
  isChoice: (_, choice) => choice.length <= 2 && choice.every((text) => text === '' || isDay(text)),
  condition: ({ field }, choice) => spanCondition(field, choice, String),
  ends: (_, choice) => endValues(choice, 'text'),
  words: (_, choice, { locale }) =>
    spanWords(choice, (text) => dayLabel(parseIsoDate(text) ?? 0, locale), 'all dates', { low: 'from', high: 'up to' }),
  create: ({ id, dataset, about }) => (about && holdsDays(dataset, about) ? { id, kind: 'dates', field: about, initial: {} } : null),
};

const isDay = (text: string): boolean => {
  const day = parseIsoDate(text);
  return day !== undefined && isoDate(day) === text;
};
