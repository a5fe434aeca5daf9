import type { Header, ListResponse, ListRow, TotalValue } from '../api/index.ts';
import { plainFigure, unitWords } from '../format/index.ts';
import { AGGREGATES, type Fact, type List } from '../model/index.ts';
import type { CrosstabTable, TableMeasure } from './crosstab-table.ts';
import { listLine, totalText, type TableColumn } from './list-table.ts';

/** What stands in a cell of a file: figures in the unit and with the digits that are shown, but as numbers to calculate on. */
export type PlainValue = string | number | null;

const withUnit = (words: string, { format, type }: Pick<TableMeasure, 'format' | 'type'>, locale: string): string => {
  const unit = type === 'number' ? unitWords(format, locale) : '';
  return unit === '' ? words : `${words} (${unit})`;
};

/** The words over the columns of a cross-tab, in one row: those of its levels, then members across the top with their measure. */
export function crosstabHeading(table: CrosstabTable, locale: string): string[] {
  const levels = table.headings.levels.length > 0 ? table.headings.levels : [''];
  const columnWords = (header: Header): string[] =>
    header.path.length === 0 && header.role === 'total' && !header.summary && table.segments.length === 0
      ? []
      : [...(header.role === 'member' ? header.labels.slice(0, -1) : []), table.headings.column(header)];
  const columns = table.cells.columns.flatMap((header) => {
    const words = header ? columnWords(header) : [];
    if (table.stacked) return [words.join(' · ')];
    return table.measures.map((measure) =>
      withUnit([...words, ...(measure.spanning ? [measure.spanning] : []), measure.heading].join(' · '), measure, locale),
    );
  });
  return [...levels, ...(table.stacked ? ['Measure'] : []), ...columns];
}

/** The rows of a cross-tab, each member with the names of those it is in, level by level. */
export function crosstabRows(table: CrosstabTable, locale: string): PlainValue[][] {
  const depth = Math.max(1, table.headings.levels.length);
  const padded = (labels: readonly string[]): string[] => Array.from({ length: depth }, (_, level) => labels[level] ?? '');
  const rows: PlainValue[][] = [];
  table.cells.rows.forEach((header, row) => {
    if (!header) return;
    const above = header.labels.slice(0, -1);
    const labels = padded(header.path.length === 0 ? [table.headings.row(header)] : [...above, table.headings.row(header)]);
    const figure = (column: number, position: number): PlainValue => {
      const { value, text } = table.cell(row, column, position);
      const measure = table.measureIn(header, position);
      if (value === undefined || value === null || !measure || text === '') return null;
      const counts = header.summary === 'count' || table.cells.columns[column]?.summary === 'count';
      return typeof value === 'number' && !counts ? plainFigure(value, measure.format) : value;
    };
    const columns = Array.from({ length: table.cells.columnCount }, (_, column) => column);
    const positions = table.measures.map((_, position) => position);
    if (table.stacked)
      for (const position of positions)
        rows.push([
          ...labels,
          withUnit(table.measures[position].heading, table.measures[position], locale),
          ...columns.map((column) => figure(column, position)),
        ]);
    else rows.push([...labels, ...columns.flatMap((column) => positions.map((position) => figure(column, position)))]);
  });
  return rows;
}

/** The words over the columns of a list; its groups have one of their own. */
export function listHeading(list: List, columns: readonly TableColumn[], groups: readonly string[], locale: string): string[] {
  const words = ({ heading, format, numeric }: TableColumn): string =>
    withUnit(heading, { format, type: numeric ? 'number' : 'text' }, locale);
  return [...(list.rowNumbers ? ['Row'] : []), ...(list.groups.length > 0 ? [groups.join(' › ')] : []), ...columns.map(words)];
}

const plainTotal = (value: TotalValue, column: TableColumn): PlainValue =>
  typeof value !== 'number' || (column.total !== undefined && AGGREGATES[column.total].counts) ? value : plainFigure(value, column.format);

/** Some rows of a list, records and lines of groups, as they stand there. */
export function listRows(
  list: List,
  fact: Fact,
  columns: readonly TableColumn[],
  rows: readonly ListRow[],
  locale: string,
): PlainValue[][] {
  return rows.map((row) => {
    const line = listLine(list, fact, columns, row, locale);
    const own = (column: TableColumn, text: string): PlainValue => {
      if (row.kind !== 'record') return text === '' ? '' : plainTotal(row.totals[column.index], column);
      const value = row.values[column.index];
      if (typeof value === 'number') return column.numeric ? plainFigure(value, column.format) : value;
      return typeof value === 'boolean' ? text : value;
    };
    const group = row.kind === 'record' ? row.groups.join(' › ') : line.group;
    return [
      ...(list.rowNumbers ? [row.kind === 'record' ? row.number : ''] : []),
      ...(list.groups.length > 0 ? [group] : []),
      ...columns.map((column, index) => own(column, line.cells[index].text)),
    ];
  });
}

/** The last row of a list that has totals; null for one that has none. */
export function listTotals(
  list: List,
  columns: readonly TableColumn[],
  { totals }: Pick<ListResponse, 'totals'>,
  locale: string,
): PlainValue[] | null {
  if (columns.every((column) => totalText(totals[column.index], column, locale) === '')) return null;
  const before = Number(list.rowNumbers) + Number(list.groups.length > 0);
  const values = columns.map((column): PlainValue => {
    const value = totals[column.index];
    return totalText(value, column, locale) === '' ? '' : plainTotal(value, column);
  });
  const words = Array.from({ length: before }, (_, index) => (index === 0 ? 'Total' : ''));
  return before > 0 ? [...words, ...values] : values;
}
