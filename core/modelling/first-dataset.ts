import { isMeasured, type ColumnProfile } from './measured.ts';
import { namesTaken, nameFor } from './names.ts';
import { PERIOD_WORDS } from '../calendar/index.ts';
import { printName } from '../formula/index.ts';
import {
  REPORT_SCHEMA_VERSION,
  reportSchema,
  type CalendarDimension,
  type ColumnType,
  type Dataset,
  type Field,
  type Fact,
  type Link,
  type Measure,
  type Report,
} from '../model/index.ts';

/** A column of an imported table: `column` is the physical name and the formula name, `name` the label. */
export interface NamedColumn {
  column: string;
  name: string;
  type: ColumnType;
  scale: number;
  /** What its records say, where somebody looked. */
  profile?: ColumnProfile;
}

const PERIODS = ['year', 'half_year', 'quarter', 'month', 'iso_week', 'day', 'weekday'] as const;

function calendarFor(column: NamedColumn, taken: Set<string>): CalendarDimension {
  return {
    kind: 'calendar',
    name: `calendar of ${column.column}`,
    label: column.name,
    levels: PERIODS.map((period) => ({
      name: nameFor(`${column.column} ${period}`, taken),
      label: `${column.name}, ${PERIOD_WORDS[period].label}`,
      plural: `${PERIOD_WORDS[period].plural} of ${column.name}`,
      period,
    })),
  };
}

function measuresFor(column: Field, fact: string, taken: Set<string>): Measure[] {
  const format = { kind: 'number' as const, decimals: Math.min(column.scale, 2), unit: 'one' as const };
  const field = printName(column.name);
  return [
    {
      name: nameFor(`sum ${column.column}`, taken),
      label: `${column.label}, sum`,
      heading: column.label,
      formula: `sum(${field})`,
      fact,
      format,
      direction: 'higher',
    },
    {
      name: nameFor(`avg ${column.column}`, taken),
      label: `${column.label}, average`,
      formula: `avg(${field})`,
      fact,
      format: { ...format, decimals: Math.max(format.decimals, 2) },
      direction: 'higher',
    },
  ];
}

/** A fact over an imported table, and its first measures: the number of records, sums and averages. */
export function factFor(
  dataset: Pick<Dataset, 'dimensions' | 'facts' | 'measures'>,
  label: string,
  table: string,
  columns: NamedColumn[],
  links: Link[],
): { fact: Fact; measures: Measure[] } {
  const linked = new Set(links.map(({ column }) => column));
  const taken = namesTaken(dataset);
  const isFirst = dataset.facts.length === 0;
  const name = isFirst ? 'records' : nameFor(label, new Set(dataset.facts.map((fact) => fact.name)));
  const fields = columns.map((column): Field => {
    const own = isFirst ? column.column : nameFor(column.column, taken);
    return { name: own, label: column.name, column: column.column, type: column.type, scale: column.scale };
  });
  if (isFirst) fields.forEach((field) => taken.add(field.name));
  const fact: Fact = { name, label, record: { one: 'record', many: 'records' }, table, fields, links, filter: null };
  const count: Measure = {
    name: nameFor(isFirst ? 'records' : `${label} records`, taken),
    label: isFirst ? 'Records' : `${label}, records`,
    formula: 'count()',
    fact: name,
    format: { kind: 'number', decimals: 0, unit: 'one' },
    direction: 'higher',
  };
  const profileOf = new Map(columns.map(({ column, profile }) => [column, profile]));
  const numbers = fields.filter(({ type, column, label: words }) => !linked.has(column) && isMeasured(words, type, profileOf.get(column)));
  return { fact, measures: [count, ...numbers.flatMap((field) => measuresFor(field, name, taken))] };
}

/** The dataset that an imported table becomes: one fact, a calendar for each date, sums and averages of numbers. */
export function datasetFor(name: string, label: string, table: string, columns: NamedColumn[]): Dataset {
  const taken = new Set(columns.map((column) => column.column));
  const dates = columns.filter((column) => column.type === 'date' || column.type === 'datetime');
  const calendars = dates.map((column) => calendarFor(column, taken));
  const links = dates.map((column, index): Link => ({ dimension: calendars[index].name, column: column.column }));
  const { fact, measures } = factFor({ dimensions: calendars, facts: [], measures: [] }, label, table, columns, links);
  return { schemaVersion: 1, name, label, description: '', dimensions: calendars, facts: [fact], measures };
}

/** A text with more members than this is no prompt of a first report. */
export const MOST_PROMPTED = 500;

/** A first report over an imported table: one cross-tab, and prompts for its texts. */
export function firstReport(id: string, dataset: Dataset, columns: NamedColumn[]): Report {
  const members = ({ profile }: NamedColumn): number => profile?.distinct ?? 0;
  const texts = columns.filter(
    (column) => (column.type === 'text' || column.type === 'boolean') && members(column) > 1 && members(column) <= MOST_PROMPTED,
  );
  texts.sort((a, b) => members(a) - members(b));
  const prompts = texts
    .slice(0, 2)
    .map((column) => ({ kind: 'members', id: column.column.replaceAll('_', '-'), fields: [column.column], multiple: true, initial: {} }));
  const [calendar] = dataset.dimensions;
  return reportSchema.parse({
    schemaVersion: REPORT_SCHEMA_VERSION,
    id,
    title: dataset.label,
    folder: 'My own data',
    dataset: dataset.name,
    prompts,
    scopeLine: [
      { text: prompts.length > 0 ? 'Showing ' : 'Showing every record of the file.' },
      ...prompts.flatMap((prompt, index) => [...(index > 0 ? [{ text: ' and ' }] : []), { prompt: prompt.id }]),
      ...(prompts.length > 0 ? [{ text: '.' }] : []),
    ],
    exhibits: [
      {
        kind: 'crosstab',
        id: 'table',
        title: dataset.label,
        side: { fields: texts.slice(0, 1).map((column) => column.column) },
        top: { fields: calendar ? [calendar.levels[0].name] : [] },
        cells: dataset.measures.slice(0, 2).map((measure) => ({ measure: measure.name })),
      },
    ],
  });
}
