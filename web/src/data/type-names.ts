import type { ColumnType } from '@bold-compass/core/model';

/** Types of columns in plain words. */
export const TYPE_NAMES: Record<ColumnType, string> = {
  text: 'text',
  integer: 'whole number',
  decimal: 'decimal',
  date: 'date',
  datetime: 'date and time',
  boolean: 'yes or no',
};
