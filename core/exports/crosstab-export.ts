import type { CommonScale, Header } from '../api/index.ts';
import { unitWords } from '../format/index.ts';
import type { Crosstab, Dataset } from '../model/index.ts';
import {
  crosstabHeading,
  crosstabLegend,
  crosstabRows,
  CrosstabTable,
  measureSpans,
  type CrosstabCells,
  type TableMeasure,
} from '../table/index.ts';
import { COUNT_FORMAT, type ExportCell, type ExportColumn, type ExportHeading, type ExportLine, type ExportTable } from './document.ts';

/** What words and figures are written with. */
export interface ExportLook {
  /** The dataset that the exhibit answers from. */
  dataset: Dataset;
  /** Last day that there is data for, as an ISO 8601 date. */
  dataTo: string;
  locale: string;
  /** Between which values a chart lies in all sections; nothing where it has a scale of its own. */
  beyond?: CommonScale;
}

/** The unit of every figure in words; empty where they have different ones. */
function commonUnit(measures: readonly TableMeasure[], locale: string): string {
  const units = new Set(measures.filter(({ type }) => type === 'number').map(({ format }) => unitWords(format, locale)));
  return units.size === 1 ? [...units][0] : '';
}

/** A measure's heading, with its unit where the one over the table does not say it. */
const headingOf = ({ heading, unit }: TableMeasure): string => (unit === '' ? heading : `${heading}, ${unit}`);

/** Headings over the columns, level by level, then those over measures, and the measures. */
function headOf(table: CrosstabTable, members: number): ExportHeading[][] {
  const each = table.stacked ? 1 : table.measures.length;
  const levels = Math.max(0, ...table.segments.map(({ level }) => level));
  const head = Array.from({ length: levels }, (_, level): ExportHeading[] =>
    table.segments
      .filter((segment) => segment.level === level + 1)
      .map((segment) => ({ text: table.headings.segment(segment), from: segment.start * each, count: segment.count * each })),
  );
  // Labels have their headings in the last row, also where no column has one.
  if (table.stacked) return head.length > 0 ? head : [[]];
  const spans = measureSpans(table.measures);
  const columns = Array.from({ length: members }, (_, column) => column * each);
  if (spans.length > 0)
    head.push(columns.flatMap((start) => spans.map(({ words, from, count }) => ({ text: words, from: start + from, count }))));
  if (each > 1 || levels === 0)
    head.push(columns.flatMap((start) => table.measures.map((measure, at) => ({ text: headingOf(measure), from: start + at, count: 1 }))));
  return head;
}

/** The labels of a line, one for each column of them. */
function labelsOf(table: CrosstabTable, line: number, columns: number): { labels: string[]; indent: number } {
  const own = table.line(line);
  const labels: string[] = Array.from({ length: columns }, () => '');
  let indent = 0;
  own.labels.forEach(({ text, column, indent: deep }) => {
    labels[column ?? 0] = text;
    if (column === null) indent = deep;
  });
  if (own.measure !== null) labels[columns - 1] = headingOf(table.measures[own.measure]);
  return { labels, indent };
}

const roleOf = (header: Header | undefined): ExportLine['role'] =>
  header?.role === 'member' ? 'member' : header?.role === 'subtotal' ? 'subtotal' : 'total';

/** A cross-tab as it is read. Throws UnknownNameError. */
export function crosstabExport({ dataset, dataTo, locale }: ExportLook, exhibit: Crosstab, cells: CrosstabCells): ExportTable {
  const table = new CrosstabTable(dataset, exhibit, cells, dataTo, locale);
  const members = cells.columnCount;
  const isTree = exhibit.side.layout === 'tree';
  const side = isTree ? [table.headings.side] : table.headings.levels.length > 0 ? table.headings.levels : [''];
  const labels = table.stacked ? [...side, 'Measure'] : side;
  const positions = table.measures.map((_, position) => position);
  const each = table.stacked ? 1 : positions.length;
  const column = (index: number): ExportColumn => {
    const measure = table.measures[table.stacked ? 0 : index % each];
    const names = table.stacked && new Set(table.measures.map(({ type }) => type)).size > 1;
    const format = measure.type === 'number' && !table.stacked ? measure.format : null;
    return { heading: table.stacked ? '' : headingOf(measure), type: names ? 'text' : measure.type, format };
  };
  const cell = (row: number, at: number, position: number): ExportCell => {
    const { value, text, state, bearing, warns, marks } = table.cell(row, at, position);
    const measure = table.measureIn(cells.rows[row], position);
    const counts = cells.rows[row]?.summary === 'count' || cells.columns[at]?.summary === 'count';
    const format = measure?.type === 'number' ? (counts ? COUNT_FORMAT : measure.format) : null;
    return { value: text === '' ? null : (value ?? null), text, format, state, bearing, warns, marks };
  };
  const lines = Array.from({ length: table.lineCount }, (_, line): ExportLine => {
    const { row, header, measure, startsGroup, band } = table.line(line);
    const depth = header?.role === 'total' ? 0 : Math.max(0, (header?.depth ?? 1) - 1);
    return {
      ...labelsOf(table, line, labels.length),
      ...{ depth, role: roleOf(header), band },
      strong: header?.role !== 'member' || (header.depth === 1 && exhibit.side.fields.length > 1),
      startsGroup: startsGroup && exhibit.side.fields.length > 1,
      cells: Array.from({ length: members }, (_, at) => at).flatMap((at) =>
        (measure === null ? positions : [measure]).map((position) => cell(row, at, position)),
      ),
    };
  });
  return {
    ...{ caption: '', unit: commonUnit(table.measures, locale), labels, head: headOf(table, members) },
    ...{ columns: Array.from({ length: members * each }, (_, index) => column(index)), lines },
    legend: crosstabLegend(dataset, exhibit, locale).map(({ about, words }) => (about === '' ? words : `${about}: ${words}`)),
    plain: () => [crosstabHeading(table, locale), ...crosstabRows(table, locale)],
  };
}
