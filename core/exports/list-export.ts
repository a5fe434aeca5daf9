import type { ListResponse, ListRow } from '../api/index.ts';
import { AGGREGATES, factNamed, fieldLabel, type List } from '../model/index.ts';
import { unitWords } from '../format/index.ts';
import {
  listColumns,
  listHeading,
  listLine,
  listRows,
  listTotals,
  totalText,
  type ListCell,
  type RecordValue,
  type TableColumn,
} from '../table/index.ts';
import { COUNT_FORMAT, type ExportCell, type ExportColumn, type ExportLine, type ExportTable } from './document.ts';
import type { ExportLook } from './crosstab-export.ts';

/** The value of a column in a line, as it is and as it is read. */
function cellOf(
  column: TableColumn,
  value: RecordValue | undefined,
  { text, state }: Pick<ListCell, 'text' | 'state'>,
  isTotal: boolean,
): ExportCell {
  const isNumber = typeof value === 'number' && column.numeric;
  const counts = isTotal && column.total !== undefined && AGGREGATES[column.total].counts;
  const own = text === '' || value === undefined ? null : typeof value === 'boolean' ? text : value;
  return {
    ...{ value: own, text, format: isNumber ? (counts ? COUNT_FORMAT : column.format) : null, warns: false, marks: null },
    ...{ state: state?.state ?? null, bearing: state?.bearing ?? null },
  };
}

const columnOf = (column: TableColumn, locale: string): ExportColumn => {
  const unit = column.numeric ? unitWords(column.format, locale) : '';
  return {
    heading: unit === '' ? column.heading : `${column.heading}, ${unit}`,
    type: column.numeric || column.names ? 'number' : column.type === 'date' ? 'date' : 'text',
    format: column.numeric ? column.format : null,
  };
};

/** A list as it is read, with all its rows. Throws UnknownNameError. */
export function listExport({ dataset, locale }: ExportLook, list: List, answer: ListResponse): ExportTable {
  const columns = listColumns(dataset, list);
  const fact = factNamed(dataset, list.fact);
  const groups = list.groups.map(({ field }) => fieldLabel(dataset, field));
  const hasGroups = groups.length > 0;
  const labels = [...(list.rowNumbers ? ['Row'] : []), ...(hasGroups ? [groups.join(' › ')] : [])];
  const line = (row: ListRow): ExportLine => {
    const own = listLine(list, fact, columns, row, locale);
    const values: readonly (RecordValue | undefined)[] = row.kind === 'record' ? row.values : row.totals;
    const words = own.count === '' ? own.group : `${own.group} (${own.count})`;
    const isRecord = row.kind === 'record';
    return {
      labels: [...(list.rowNumbers ? [own.number] : []), ...(hasGroups ? [words] : [])],
      ...{ indent: isRecord ? 0 : own.depth, depth: isRecord ? list.groups.length : own.depth, band: own.band },
      role: isRecord ? 'member' : row.kind === 'footer' ? 'subtotal' : 'member',
      strong: !isRecord,
      startsGroup: !isRecord && row.kind !== 'footer' && own.depth === 0,
      cells: columns.map((column, index) => cellOf(column, values[column.index], own.cells[index], !isRecord)),
    };
  };
  const hasTotals = columns.some((column) => totalText(answer.totals[column.index], column, locale) !== '');
  const total: ExportLine = {
    ...{ labels: labels.map((_, index) => (index === 0 ? 'Total' : '')), indent: 0, depth: 0, role: 'total', strong: true },
    ...{ startsGroup: false, band: false },
    cells: columns.map((column) => {
      const value = answer.totals[column.index];
      return cellOf(column, value, { text: totalText(value, column, locale), state: null }, true);
    }),
  };
  const all = columns.map((column) => columnOf(column, locale));
  return {
    ...{ caption: '', unit: '', labels, columns: all },
    head: [all.map(({ heading }, from) => ({ text: heading, from, count: 1 }))],
    lines: [...answer.rows.map(line), ...(hasTotals ? [total] : [])],
    legend: [],
    plain() {
      const totals = listTotals(list, columns, answer, locale);
      return [
        listHeading(list, columns, groups, locale),
        ...listRows(list, fact, columns, answer.rows, locale),
        ...(totals ? [totals] : []),
      ];
    },
  };
}
