import type { CrosstabResponse, Header } from '../api/index.ts';
import { dayLabel, parseIsoDate } from '../calendar/index.ts';
import { cellInRow } from '../crosstab/index.ts';
import { planMeasure, type CellType } from '../formula/index.ts';
import { accountText, cellText, figureText, unitsWhereTheyDiffer } from '../format/index.ts';
import type { State } from '../indicators/index.ts';
import { isAtFigures, isAtLabel, measureNamed, type CellMeasure, type Crosstab, type Dataset, type NumberFormat } from '../model/index.ts';
import { cellMarks, type CellMarks } from './cell-marks.ts';
import { headSegments, type HeadSegment } from './column-headings.ts';
import { headingsOf, type Headings } from './headings.ts';
import { bandsOf, rowLabels, type RowLabel } from './row-labels.ts';

/** What a cell shows: a number, a text, a date as ISO 8601, or nothing. */
export type ShownValue = number | string | null;

/** The cells of one state of a cross-tab, as far as they are known: rows and columns that are not are undefined. */
export interface CrosstabCells {
  rowCount: number;
  columnCount: number;
  rows: readonly (Header | undefined)[];
  columns: readonly (Header | undefined)[];
  measures: CrosstabResponse['measures'];
  /** Null is no value, undefined a cell that is not known. */
  value(row: number, column: number, measure: number): ShownValue | undefined;
  state(row: number, column: number, measure: number): State | null;
  /** Where the needle of a state points, in degrees from straight up. */
  bearing(row: number, column: number, measure: number): number | null;
  /** What a mark of a measure came to, by its place among these. */
  mark(row: number, column: number, measure: number, index: number): readonly number[] | null;
}

/** What a mark came to in an answer; null where it is not there. */
export const markIn = (
  { marks }: Pick<CrosstabResponse, 'marks'>,
  row: number,
  column: number,
  measure: number,
  index: number,
): readonly number[] | null => marks?.find((one) => one.measure === measure && one.index === index)?.values[row]?.[column] ?? null;

/** The cells of an answer that holds all of them. */
export function cellsOf({ rows, columns, measures, cells, texts, states, bearings, marks }: CrosstabResponse): CrosstabCells {
  const at = (column: number, measure: number): number => column * measures.length + measure;
  return {
    ...{ rowCount: rows.total, columnCount: columns.total, rows: rows.items, columns: columns.items, measures },
    value: (row, column, measure) => texts?.[row]?.[at(column, measure)] ?? cells[row]?.[at(column, measure)],
    state: (row, column, measure) => states?.[row]?.[at(column, measure)] ?? null,
    bearing: (row, column, measure) => bearings?.[row]?.[at(column, measure)] ?? null,
    mark: (row, column, measure, index) => markIn({ marks }, row, column, measure, index),
  };
}

/** A measure as a cross-tab shows it. */
export interface TableMeasure {
  name: string;
  heading: string;
  /** A heading over it and those beside it that have the same; empty for none. */
  spanning: string;
  /** The sign of its unit, where measures beside each other have different ones. */
  unit: string;
  label: string;
  format: NumberFormat;
  /** Whether its cells hold texts or dates, which are no sums and start at the left. */
  type: CellType;
  indicated: boolean;
  /** Whether its figures lead into another report. */
  leads: boolean;
  negative: NonNullable<CellMeasure['negative']>;
}

/** A measure as a cell shows it. */
function tableMeasure(dataset: Dataset, cell: CellMeasure, drills: Crosstab['drills']): TableMeasure {
  const measure = measureNamed(dataset, cell.measure);
  return {
    name: measure.name,
    heading: cell.heading ?? measure.heading ?? measure.label,
    spanning: cell.spanning ?? '',
    unit: '',
    label: measure.label,
    format: cell.format ?? measure.format,
    type: planMeasure(dataset, measure.name).type,
    indicated: cell.indicator !== undefined,
    leads: drills.some((drill) => isAtFigures(drill, measure.name)),
    negative: cell.negative ?? 'minus',
  };
}

/** The measures of a cross-tab's cells, in their order. */
function tableMeasures(dataset: Dataset, { cells, drills }: Crosstab, locale: string): TableMeasure[] {
  const measures = cells.map((cell) => tableMeasure(dataset, cell, drills));
  const units = unitsWhereTheyDiffer(
    measures.map(({ format, type }) => (type === 'number' ? format : null)),
    locale,
  );
  return measures.map((measure, index) => ({ ...measure, unit: units[index] }));
}

/** A figure as it is read. */
export interface TableCell {
  /** Null is no value, undefined one that is not known yet. */
  value: ShownValue | undefined;
  text: string;
  state: State | null;
  /** Where its needle points, in degrees from straight up. */
  bearing: number | null;
  /** Why there is no value; empty where there is one, or none is expected. */
  reason: string;
  /** Whether it leads into another report. */
  leads: boolean;
  /** Whether a negative number is told by its colour. */
  warns: boolean;
  /** What is drawn with it. */
  marks: CellMarks | null;
}

/** A value as it is written. */
function valueText(value: number | string, { type, format, negative }: TableMeasure, locale: string): string {
  if (typeof value === 'number') return (negative === 'parentheses' ? accountText : cellText)(value, format, locale);
  return type === 'date' ? dayLabel(parseIsoDate(value)!, locale, 'short') : value;
}

/** A line of figures: a member, or one of its measures where these stand one below the other. */
export interface TableLine {
  /** Row of the cells. */
  row: number;
  header: Header | undefined;
  /** The measure of the line; null where measures stand side by side. */
  measure: number | null;
  labels: RowLabel[];
  /** Shaded, where members of a level are told apart. */
  band: boolean;
  /** Whether its label leads into another report. */
  leads: boolean;
  /** Whether a group of the outermost level begins here. */
  startsGroup: boolean;
}

/** A cross-tab as it looks before it is drawn: lines with labels and figures, and the headings over them. */
export class CrosstabTable {
  readonly headings: Headings;
  readonly measures: TableMeasure[];
  /** Whether measures stand one below the other. */
  readonly stacked: boolean;
  readonly segments: HeadSegment[];
  private readonly bands: boolean[];
  /** Measures in the place of others, by position and depth of the row. */
  private readonly others = new Map<string, TableMeasure | null>();

  /** `dataTo` is the last day that there is data for, as an ISO 8601 date. Throws UnknownNameError. */
  constructor(
    private readonly dataset: Dataset,
    private readonly exhibit: Crosstab,
    readonly cells: CrosstabCells,
    dataTo: string,
    private readonly locale: string,
  ) {
    this.headings = headingsOf(dataset, exhibit, dataTo);
    this.measures = tableMeasures(dataset, exhibit, locale);
    this.stacked = exhibit.measuresOn === 'side' && this.measures.length > 1;
    this.segments = exhibit.top.fields.length > 0 ? headSegments(cells.columns) : [];
    this.bands = bandsOf(cells.rows, exhibit.banding ? exhibit.side.fields.indexOf(exhibit.banding) + 1 : 0);
  }

  /** Lines of each member. */
  get linesPerRow(): number {
    return this.stacked ? this.measures.length : 1;
  }

  get lineCount(): number {
    return this.cells.rowCount * this.linesPerRow;
  }

  rowOf(line: number): number {
    return Math.floor(line / this.linesPerRow);
  }

  headerOf(line: number): Header | undefined {
    return this.cells.rows[this.rowOf(line)];
  }

  /** Whether the label of a member leads somewhere. */
  leadsFrom(axis: 'side' | 'top', { path }: Pick<Header, 'path'>): boolean {
    return this.exhibit.drills.some((drill) => isAtLabel(drill, axis, this.exhibit[axis].fields, path.length));
  }

  line(line: number): TableLine {
    const row = this.rowOf(line);
    const header = this.cells.rows[row];
    const measure = this.stacked ? line % this.linesPerRow : null;
    return {
      ...{ row, header, measure },
      labels: measure !== null && measure > 0 ? [] : this.labelsOf(row),
      band: this.bands[row] ?? false,
      leads: header?.role === 'member' && this.leadsFrom('side', header),
      startsGroup: row > 0 && (measure ?? 0) === 0 && this.startsGroup(row),
    };
  }

  private labelsOf(row: number): RowLabel[] {
    const { fields, layout, repeatLabels } = this.exhibit.side;
    return rowLabels({
      ...{ header: this.cells.rows[row], before: this.cells.rows[row - 1], words: this.headings.row },
      ...{ layout, repeatLabels, levels: fields.length },
    });
  }

  private startsGroup(row: number): boolean {
    const header = this.cells.rows[row];
    if (this.exhibit.side.layout === 'tree') return (header?.depth ?? 2) <= 1 && header?.role !== 'subtotal';
    return header?.path[0] !== this.cells.rows[row - 1]?.path[0];
  }

  /** The figure of a measure where a row and a column meet. */
  cell(row: number, column: number, position: number): TableCell {
    const value = this.cells.value(row, column, position);
    const [header, top] = [this.cells.rows[row], this.cells.columns[column]];
    const measure = this.measureIn(header, position);
    const isBare = header?.bare === true || top?.bare === true || measure === null;
    return {
      value,
      text:
        value === undefined || isBare
          ? ''
          : value === null
            ? this.exhibit.blank
            : (this.countText(value, header, top) ?? this.textOf(value, measure, position)),
      state: this.cells.state(row, column, position),
      bearing: this.cells.bearing(row, column, position),
      reason: value === null && !isBare ? this.reasonOf(header, top, position) : '',
      // What summarises other figures leads nowhere.
      leads: measure?.leads === true && value != null && !header?.summary && !top?.summary,
      warns: measure?.negative === 'colour' && typeof value === 'number' && value < 0,
      marks: isBare ? null : this.marksOf(value, row, column, position),
    };
  }

  /** The measure that stands in a row: its own, another one in rows of some levels, or none. */
  measureIn(header: Header | undefined, position: number): TableMeasure | null {
    const cell = this.exhibit.cells[position];
    const own = this.measures[position];
    if (!header || header.summary || (!cell.levels && cell.total === undefined)) return own;
    const depth = header.path.length;
    const key = `${position} ${depth}`;
    let measure = this.others.get(key);
    if (measure === undefined) {
      const other = cellInRow(cell, this.exhibit, depth);
      measure = other === cell ? own : other && tableMeasure(this.dataset, other, this.exhibit.drills);
      this.others.set(key, measure);
    }
    return measure;
  }

  private marksOf(value: ShownValue | undefined, row: number, column: number, position: number): CellMarks | null {
    const cell = this.exhibit.cells[position];
    if (!cell.marks?.length) return null;
    const marked = { measure: measureNamed(this.dataset, cell.measure), value, locale: this.locale };
    return cellMarks(cell, marked, (index) => this.cells.mark(row, column, position, index));
  }

  /** A value as it is written; with its unit where the heading names another one. */
  private textOf(value: number | string, measure: TableMeasure, position: number): string {
    const { format } = this.measures[position];
    const isHeaded = measure.format.kind === format.kind && measure.format.unit === format.unit;
    if (typeof value === 'number' && measure.type === 'number' && !isHeaded) return figureText(value, measure.format, this.locale);
    return valueText(value, measure, this.locale);
  }

  /** How many figures are shown, which is written without their unit; an average of such counts with one decimal. */
  private countText(value: number | string, header: Header | undefined, top: Header | undefined): string | null {
    if (typeof value !== 'number' || (header?.summary !== 'count' && top?.summary !== 'count')) return null;
    const decimals = Number.isInteger(value) ? 0 : 1;
    return cellText(value, { kind: 'number', decimals, unit: 'one' }, this.locale);
  }

  private reasonOf(header: Header | undefined, top: Header | undefined, position: number): string {
    const limits = this.cells.measures[position];
    if (!limits.available || (header?.depth ?? 0) > limits.side || (top?.depth ?? 0) > limits.top) return limits.reason;
    return 'There is no value here. Choose the cell to see why.';
  }
}
