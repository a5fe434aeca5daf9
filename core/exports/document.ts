import type { Series, ShownChart } from '../chart/index.ts';
import type { CellType } from '../formula/index.ts';
import type { State } from '../indicators/index.ts';
import type { NumberFormat, PageSetup } from '../model/index.ts';
import type { CellMarks, PlainValue, ShownValue } from '../table/index.ts';

/** A report as it leaves the application, in the same words and figures as it is read: what every format is written from. */
export interface ExportDocument {
  title: string;
  subtitle: string;
  /** The sentence that says what is shown. */
  scope: string;
  /** The last day that there is data for, as it is written. */
  dataAsOf: string;
  /** "Edition 3, published 3 November 2026", or "Draft". */
  edition: string;
  /** For whom it was made, and what they may see of the data; empty where that is everything. */
  madeFor: string;
  access: string;
  /** When it was made, as an ISO 8601 time stamp. */
  madeAt: string;
  /** The note of the report. */
  note: string;
  /** What it looks like on paper; the values of head and foot are filled in, but for {page} and {pages}. */
  setup: PageSetup;
  /** What the measures that are shown come from. */
  measures: readonly ExportMeasure[];
  pages: readonly ExportPage[];
}

/** A measure in words: what it is called and how it is calculated. */
export interface ExportMeasure {
  label: string;
  formula: string;
  description: string;
}

export interface ExportPage {
  title: string;
  parts: readonly ExportPart[];
}

interface PartBase {
  /** That of its exhibit. */
  id: string;
  /** Columns of the grid of twelve. */
  width: number;
  /** Whether a page of paper begins with it. */
  startsPage: boolean;
}

/** What has a title and a number among the exhibits. */
interface TitledPart extends PartBase {
  title: string;
  /** The section that it is in; empty where it is in none. */
  section: string;
  number: number;
  note: string;
}

export interface FiguresPart extends TitledPart {
  kind: 'figures';
  figures: readonly ExportFigure[];
}

/** A figure of a KPI strip. */
export interface ExportFigure {
  label: string;
  value: number | null;
  format: NumberFormat;
  text: string;
  state: State;
  bearing: number | null;
  /** What it stands against, in words; why there is none where it has no value. */
  words: string;
}

export interface TablePart extends TitledPart {
  kind: 'table';
  tables: readonly ExportTable[];
  /** Sentences before the tables. */
  sentences: readonly string[];
}

export interface ChartPart extends TitledPart {
  kind: 'chart';
  shown: ShownChart;
  /** The names of its measures. */
  measures: readonly string[];
  /** What it shows, for those who do not see it. */
  words: string;
  /** The series that are named above it. */
  legend: readonly Series[];
  /** What is said below it. */
  notes: readonly string[];
  /** Whether negative values are bad. */
  warns: boolean;
  /** As high as it was composed, in pixels of the screen. */
  height: number | undefined;
  /** Its figures. */
  table: ExportTable;
}

export interface TextPart extends PartBase {
  kind: 'text';
  /** CommonMark, with its values filled in. */
  text: string;
}

export interface PicturePart extends PartBase {
  kind: 'picture';
  source: string;
  words: string;
}

export interface DividerPart extends PartBase {
  kind: 'divider';
}

export type ExportPart = FiguresPart | TablePart | ChartPart | TextPart | PicturePart | DividerPart;

/** A heading over some columns of figures. */
export interface ExportHeading {
  text: string;
  from: number;
  count: number;
}

export interface ExportColumn {
  heading: string;
  type: CellType;
  format: NumberFormat | null;
}

/** A value of a table: what it is, and as it is read. */
export interface ExportCell {
  value: ShownValue;
  text: string;
  /** How a number is written; null for texts and dates. */
  format: NumberFormat | null;
  state: State | null;
  /** Where its needle points, in degrees from straight up. */
  bearing: number | null;
  /** Whether a negative number is shown in a colour of its own. */
  warns: boolean;
  marks: CellMarks | null;
}

export interface ExportLine {
  /** The words before the figures, one for each column of labels. */
  labels: readonly string[];
  /** How many levels the first label is moved in. */
  indent: number;
  /** How deep it lies among toggles, from 0; totals lie at 0. */
  depth: number;
  role: 'member' | 'subtotal' | 'total';
  strong: boolean;
  /** Whether a group of the outermost level begins here. */
  startsGroup: boolean;
  band: boolean;
  cells: readonly ExportCell[];
}

/** A table with its headings, as it is read. */
export interface ExportTable {
  caption: string;
  /** The unit of all figures; empty where columns have different ones. */
  unit: string;
  /** The words over the columns of labels. */
  labels: readonly string[];
  /** Headings over the columns, from the outermost in; the last row names the columns. */
  head: readonly (readonly ExportHeading[])[];
  columns: readonly ExportColumn[];
  lines: readonly ExportLine[];
  /** What marks and needles say. */
  legend: readonly string[];
  /** Its rows for other programs, the heading first: figures in the unit that the heading names. */
  plain(): PlainValue[][];
}

/** How counts are written, whatever is counted. */
export const COUNT_FORMAT: NumberFormat = { kind: 'number', decimals: 0, unit: 'one' };

/** How many values a part has. */
export function cellsIn(part: ExportPart): number {
  const own = (table: ExportTable): number => table.lines.length * table.columns.length;
  if (part.kind === 'table') return part.tables.reduce((sum, table) => sum + own(table), 0);
  return part.kind === 'chart' ? own(part.table) : part.kind === 'figures' ? part.figures.length : 0;
}

/** Which columns a group of columns begins with: those under the lowest headings that stand over several. */
export function groupStarts({ head, columns }: Pick<ExportTable, 'head' | 'columns'>): boolean[] {
  const level = head.findLast((headings) => headings.some(({ count }) => count > 1)) ?? [];
  const starts = new Set(level.map(({ from }) => from));
  return columns.map((_, at) => starts.has(at));
}
