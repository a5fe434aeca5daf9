import type { ListRow, TotalValue } from '../api/index.ts';
import { dayLabel, parseIsoDate } from '../calendar/index.ts';
import { planMeasure } from '../formula/index.ts';
import { cellText, countWords, NO_VALUE } from '../format/index.ts';
import { attainment, bearingOf, stateAt, type State } from '../indicators/index.ts';
import {
  AGGREGATES,
  fieldLabel,
  fieldPlace,
  measureNamed,
  type Dataset,
  type Fact,
  type Indicator,
  type List,
  type ListColumn,
  type NumberFormat,
} from '../model/index.ts';

export type RecordValue = Extract<ListRow, { kind: 'record' }>['values'][number];

/** A column of a list with everything it needs to be drawn. */
export interface TableColumn {
  /** Position among the columns of the document. */
  index: number;
  name: string;
  field: string | null;
  heading: string;
  type: string;
  format: NumberFormat;
  numeric: boolean;
  /** Numbers that name something are not counted in thousands. */
  names: boolean;
  total: ListColumn['total'];
  as: NonNullable<ListColumn['as']>;
  width: number | undefined;
  /** When its numbers are on course, and the column that holds their target. */
  indicator: Indicator | null;
  targetIndex: number | null;
}

/** Where a number of a column stands. */
interface ListState {
  state: State;
  bearing: number | null;
}

/** Where the number of a column stands in a line, by all of the line's values; null where it is not judged. */
export function listState({ index, indicator, targetIndex }: TableColumn, values: readonly unknown[]): ListState | null {
  const value = values[index];
  if (!indicator || typeof value !== 'number') return null;
  const beside = targetIndex === null ? null : values[targetIndex];
  const target = indicator.against.kind === 'value' ? indicator.against.value : typeof beside === 'number' ? beside : Number.NaN;
  const reached = attainment(value, target, indicator.by);
  return { state: stateAt(reached, indicator), bearing: bearingOf(reached, indicator) };
}

const PLAIN: NumberFormat = { kind: 'number', decimals: 0, unit: 'one' };

/** The columns that are shown, in their order. */
export function listColumns(dataset: Dataset, list: List): TableColumn[] {
  return list.columns.flatMap((column, index): TableColumn[] => {
    if (column.hidden) return [];
    const { indicator = null } = column;
    const goal = indicator?.against.kind === 'measure' ? indicator.against.measure : null;
    const at = list.columns.findIndex(({ measure }) => goal !== null && measure === goal);
    const judging = { indicator, targetIndex: at < 0 ? null : at };
    const common = { index, total: column.total, as: column.as ?? ('text' as const), width: column.width, ...judging };
    if (column.measure) {
      const measure = measureNamed(dataset, column.measure);
      const { type } = planMeasure(dataset, measure.name);
      const heading = column.heading ?? measure.heading ?? measure.label;
      return [
        {
          ...common,
          name: measure.name,
          field: null,
          heading,
          type: type === 'number' ? 'decimal' : type,
          format: column.format ?? measure.format,
          numeric: type === 'number',
          names: false,
        },
      ];
    }
    const name = column.field!;
    const place = fieldPlace(dataset, name);
    const type = place.kind === 'level' && place.level.labelColumn ? 'text' : place.type;
    const { scale } = place;
    const names = column.total === undefined || column.total === 'count_distinct';
    return [
      {
        ...common,
        ...{ name, field: name, heading: column.heading ?? fieldLabel(dataset, name), type },
        format: column.format ?? { ...PLAIN, decimals: scale },
        numeric: type === 'decimal' || (type === 'integer' && !names),
        names: names && type === 'integer',
      },
    ];
  });
}

/** A record's value as it is written. */
export function valueText(value: RecordValue, column: TableColumn, locale: string): string {
  if (value === null) return column.field === null ? '' : NO_VALUE;
  if (typeof value === 'boolean') return value ? 'Yes' : 'No';
  if (typeof value === 'number') return column.names ? String(value) : cellText(value, column.format, locale);
  return column.type === 'date' ? dayLabel(parseIsoDate(value)!, locale, 'short') : value;
}

/** An aggregate as it is written; empty where the column has none. */
export function totalText(value: TotalValue, column: TableColumn, locale: string): string {
  if (column.total === undefined && column.field !== null) return '';
  const counts = column.total !== undefined && AGGREGATES[column.total].counts;
  // The first or last of texts or dates is written as they are.
  if (typeof value === 'string') return column.type === 'date' ? dayLabel(parseIsoDate(value)!, locale, 'short') : value;
  return cellText(value, counts ? PLAIN : column.format, locale);
}

/** A value of a line as it is read. */
export interface ListCell {
  text: string;
  isMissing: boolean;
  /** Address that a text leads to; only web and mail addresses are links. */
  link: string | null;
  /** Address of a picture; only those of the application itself, or held in the data, are shown. */
  image: string | null;
  state: ListState | null;
}

/** A line of a list: a record, or the header, footer or sum of a group. */
export interface ListLine {
  kind: ListRow['kind'];
  number: string;
  /** The words of the group, for records only where they are repeated. */
  group: string;
  /** How deep the group stands, from 0. */
  depth: number;
  /** Shaded, as the style of the list has it. */
  band: boolean;
  /** How many records the group has; empty for records and footers. */
  count: string;
  cells: ListCell[];
}

const plainCell = (text: string, state: ListState | null = null): ListCell => ({ text, isMissing: false, link: null, image: null, state });

function recordCell(values: readonly RecordValue[], column: TableColumn, locale: string): ListCell {
  const value = values[column.index];
  const isText = typeof value === 'string';
  return {
    text: valueText(value, column, locale),
    isMissing: value === null,
    link: column.as === 'link' && isText && /^(https?:|mailto:)/.test(value) ? value : null,
    image: column.as === 'image' && isText && /^(data:image\/|\/)/.test(value) ? value : null,
    state: listState(column, values),
  };
}

/** A line of an answer as it looks before it is drawn. */
export function listLine(list: List, fact: Fact, columns: readonly TableColumn[], row: ListRow, locale: string): ListLine {
  if (row.kind === 'record') {
    return {
      band: list.banding === 'rows' && row.number % 2 === 0,
      ...{ kind: row.kind, number: new Intl.NumberFormat(locale).format(row.number), depth: 0, count: '' },
      group: list.repeatLabels ? row.groups.join(' › ') : '',
      cells: columns.map((column) => recordCell(row.values, column, locale)),
    };
  }
  const group = list.groups[row.depth - 1];
  const totalsBelow = row.kind === 'header' && group?.footer && !group.headerTotals;
  return {
    band: list.banding === 'groups',
    ...{ kind: row.kind, number: '', depth: row.depth - 1 },
    group: `${row.groups.at(-1) ?? ''}${row.kind === 'footer' ? ' total' : ''}`,
    count: row.kind === 'footer' ? '' : countWords(row.records, fact.record, locale),
    cells: columns.map((column) =>
      totalsBelow ? plainCell('') : plainCell(totalText(row.totals[column.index], column, locale), listState(column, row.totals)),
    ),
  };
}
