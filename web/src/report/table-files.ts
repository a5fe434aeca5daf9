import { LOCALE } from '@bold-compass/core/format';
import {
  cellRecordsSchema,
  crosstabResponseSchema,
  listResponseSchema,
  type CellRecords,
  type ListResponse,
  type ListRow,
} from '@bold-compass/core/api';
import { factNamed, type Crosstab, type Dataset, type List } from '@bold-compass/core/model';
import {
  cellsOf,
  crosstabHeading,
  crosstabRows,
  CrosstabTable,
  listColumns,
  listHeading,
  listRows,
  listTotals,
  type PlainValue,
} from '@bold-compass/core/table';
import { ask } from '../api/client.ts';

/** Files of what tables show: asked for window by window, so that no question is too large. */

type Progress = (share: number) => void;
/** Rows and columns of a cross-tab, and lines of a list, that one question brings: the most that are answered. */
const WINDOW = 400;
const LINES = 500;

/** The rows of a cross-tab as it stands, with their headings. `question` is what its cells are asked with. Rejects with what the server says. */
export async function crosstabFile(
  { dataset, exhibit, dataTo }: { dataset: Dataset; exhibit: Crosstab; dataTo: string },
  path: string,
  question: object,
  signal: AbortSignal,
  progress: Progress,
): Promise<PlainValue[][]> {
  const labels = Math.max(1, exhibit.side.fields.length) + Number(exhibit.measuresOn === 'side' && exhibit.cells.length > 1);
  const file: PlainValue[][] = [];
  let [heading, total, width]: [PlainValue[], number, number] = [[], 1, 1];
  for (let row = 0; row < total; row += WINDOW) {
    const lines: PlainValue[][] = [];
    for (let column = 0; column < width; column += WINDOW) {
      const window = { rows: { from: row, count: WINDOW }, columns: { from: column, count: WINDOW } };
      const answer = await ask(crosstabResponseSchema, 'POST', path, { ...question, ...window }, signal);
      const table = new CrosstabTable(dataset, exhibit, cellsOf(answer), dataTo, LOCALE);
      [total, width] = [answer.rows.total, answer.columns.total];
      const own = crosstabHeading(table, LOCALE);
      if (row === 0) heading = column === 0 ? own : [...heading, ...own.slice(labels)];
      crosstabRows(table, LOCALE).forEach((line, at) => (lines[at] = column === 0 ? line : [...lines[at], ...line.slice(labels)]));
      progress(Math.min(1, (row + (WINDOW * Math.min(column + WINDOW, width)) / width) / total));
    }
    for (const line of lines) file.push(line);
  }
  return [heading, ...file];
}

/** The lines of a list as it is ordered, with its headings and totals. Rejects with what the server says. */
export async function listFile(
  { dataset, list, groups }: { dataset: Dataset; list: List; groups: readonly string[] },
  path: string,
  question: object,
  signal: AbortSignal,
  progress: Progress,
): Promise<PlainValue[][]> {
  const [columns, fact] = [listColumns(dataset, list), factNamed(dataset, list.fact)];
  const file: PlainValue[][] = [listHeading(list, columns, groups, LOCALE)];
  let answer: ListResponse | null = null;
  for (let offset = 0; !answer || offset < answer.lines; offset += LINES) {
    answer = await ask(listResponseSchema, 'POST', path, { ...question, offset, limit: LINES }, signal);
    for (const line of listRows(list, fact, columns, answer.rows, LOCALE)) file.push(line);
    progress(Math.min(1, (offset + LINES) / Math.max(1, answer.lines)));
  }
  const totals = listTotals(list, columns, answer, LOCALE);
  return totals ? [...file, totals] : file;
}

/** The records behind a figure, with their headings: values as they are, to calculate on. Rejects with what `fetchPage` does. */
export async function recordsFile(
  dataset: Dataset,
  fetchPage: (offset: number, limit: number, signal: AbortSignal) => Promise<CellRecords>,
  signal: AbortSignal,
  progress: Progress,
): Promise<unknown[][]> {
  const file: unknown[][] = [];
  let count = 1;
  for (let offset = 0; offset < count; offset += LINES) {
    const { list, page } = await fetchPage(offset, LINES, signal);
    const columns = listColumns(dataset, list);
    if (offset === 0) file.push(columns.map(({ heading }) => heading));
    const records = page.rows.filter((row): row is Extract<ListRow, { kind: 'record' }> => row.kind === 'record');
    for (const { values } of records) file.push(columns.map(({ index }) => values[index]));
    count = page.records;
    progress(Math.min(1, (offset + LINES) / Math.max(1, count)));
  }
  return file;
}

/** All records that a cross-tab counts. */
export const crosstabRecordsFile = (
  dataset: Dataset,
  path: string,
  question: object,
  measure: string,
  signal: AbortSignal,
  progress: Progress,
): Promise<unknown[][]> =>
  recordsFile(
    dataset,
    (offset, limit, own) =>
      ask(cellRecordsSchema, 'POST', path, { ...question, side: [], top: [], measure, order: [], offset, limit }, own),
    signal,
    progress,
  );
