/** A row as it is laid on pages. Heights are in the unit of the page. */
export interface PagedRow {
  height: number;
  /** Whether a group begins with it: one that fits on a page is not divided. */
  startsGroup: boolean;
  /** Whether no page ends with it: a heading stays with the row below it. */
  keepsWithNext: boolean;
}

/** Rows from the first on, without the second. */
export type RowRange = readonly [from: number, to: number];

/**
 * The rows of each page, in their order, where the first page has room for `first` and each after it for `next`. The first page
 * is empty where nothing fits there. A row that is higher than a page has one of its own.
 */
export function pagesOfRows(rows: readonly PagedRow[], first: number, next: number): RowRange[] {
  const pages: RowRange[] = [];
  let from = 0;
  while (from < rows.length) {
    const room = pages.length === 0 ? first : next;
    const to = endOfPage(rows, from, room, next);
    pages.push([from, to]);
    from = to;
  }
  return pages.length > 0 ? pages : [[0, 0]];
}

function endOfPage(rows: readonly PagedRow[], from: number, room: number, whole: number): number {
  let [end, height] = [from, 0];
  while (end < rows.length && height + rows[end].height <= room + 1e-6) height += rows[end++].height;
  if (end === rows.length) return end;
  const start = groupOf(rows, end);
  if (start > from && heightOf(rows, start, groupEnd(rows, start)) <= whole) end = start;
  while (end > from && rows[end - 1].keepsWithNext) end--;
  if (end > from) return end;
  // Nothing that may stand alone fits: on a page that is not whole it is tried on the next one.
  if (room < whole) return from;
  let forced = from;
  let used = 0;
  while (forced < rows.length && (forced === from || used + rows[forced].height <= room + 1e-6)) used += rows[forced++].height;
  return forced;
}

/** Where the group of a row begins. */
function groupOf(rows: readonly PagedRow[], row: number): number {
  let start = row;
  while (start > 0 && !rows[start].startsGroup) start--;
  return start;
}

function groupEnd(rows: readonly PagedRow[], start: number): number {
  let end = start + 1;
  while (end < rows.length && !rows[end].startsGroup) end++;
  return end;
}

function heightOf(rows: readonly PagedRow[], from: number, to: number): number {
  let height = 0;
  for (let row = from; row < to; row++) height += rows[row].height;
  return height;
}

/**
 * Columns that stand beside each other on a page, part by part: as many as there is room for. A part ends where a group of
 * columns ends, if one does in its second half. A column that is wider than the room has a part of its own.
 */
export function partsOfColumns(widths: readonly number[], startsGroup: readonly boolean[], room: number): RowRange[] {
  const parts: RowRange[] = [];
  let from = 0;
  while (from < widths.length) {
    let [to, width] = [from, 0];
    while (to < widths.length && (to === from || width + widths[to] <= room + 1e-6)) width += widths[to++];
    if (to < widths.length) {
      let group = to;
      while (group > from && !startsGroup[group]) group--;
      if (group - from > (to - from) / 2) to = group;
    }
    parts.push([from, to]);
    from = to;
  }
  return parts.length > 0 ? parts : [[0, 0]];
}
