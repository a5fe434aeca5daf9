import type { ListRow, TotalValue } from '@bold-compass/core/api';
import { dayLabel, parseIsoDate } from '@bold-compass/core/calendar';
import { cellText, NO_VALUE } from '@bold-compass/core/format';
import {
  fieldLabel,
  fieldPlace,
  measureNamed,
  type Dataset,
  type List,
  type ListColumn,
  type NumberFormat,
} from '@bold-compass/core/model';
import { LOCALE } from '../report/state-words.ts';

type Value = Extract<ListRow, { kind: 'record' }>['values'][number];

/** A column of a list with everything it needs to be drawn. */
export interface DrawnColumn {
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
}

const PLAIN: NumberFormat = { kind: 'number', decimals: 0, unit: 'one' };

/** The columns that are shown, in their order. */
export function drawnColumns(dataset: Dataset, list: List): DrawnColumn[] {
  return list.columns.flatMap((column, index): DrawnColumn[] => {
    if (column.hidden) return [];
    const common = { index, total: column.total, as: column.as ?? ('text' as const), width: column.width };
    if (column.measure) {
      const measure = measureNamed(dataset, column.measure);
      const heading = column.heading ?? measure.heading ?? measure.label;
      return [
        {
          ...common,
          name: measure.name,
          field: null,
          heading,
          type: 'decimal',
          format: column.format ?? measure.format,
          numeric: true,
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
export function valueText(value: Value, column: DrawnColumn): string {
  if (value === null) return column.field === null ? '' : NO_VALUE;
  if (typeof value === 'boolean') return value ? 'Yes' : 'No';
  if (typeof value === 'number') return column.names ? String(value) : cellText(value, column.format, LOCALE);
  return column.type === 'date' ? dayLabel(parseIsoDate(value)!, LOCALE, 'short') : value;
}

/** An aggregate as it is written; empty where the column has none. */
export function totalText(value: TotalValue, column: DrawnColumn): string {
  if (column.total === undefined && column.field !== null) return '';
  const counts = column.total === 'count_distinct' || column.total === 'count';
  // The first or last of texts or dates is written as they are.
  if (typeof value === 'string') return column.type === 'date' ? dayLabel(parseIsoDate(value)!, LOCALE, 'short') : value;
  return cellText(value, counts ? PLAIN : column.format, LOCALE);
}

export const TOTAL_WORDS: Record<NonNullable<ListColumn['total']>, string> = {
  sum: 'sum',
  avg: 'average',
  min: 'minimum',
  max: 'maximum',
  count: 'count',
  count_distinct: 'different',
};
