import type { Header } from '../api/index.ts';
import { samePath } from './lines.ts';

/** The words, and the toggle, of one level before the figures of a row. */
export interface RowLabel {
  text: string;
  /** The column of labels it stands in; null where it takes the room of all. */
  column: number | null;
  /** How many levels it is moved in. */
  indent: number;
  /** What its toggle opens or closes; none where it is null. */
  toggle: Header | null;
  /** Whether the place of a toggle stays free. */
  room: boolean;
}

/** A member's place among the labels of the side. */
export interface LabelContext {
  header: Header | undefined;
  /** The member above it. */
  before: Header | undefined;
  words(header: Header): string;
  /** Levels in columns of their own, or as a tree. */
  layout: 'tree' | 'columns';
  repeatLabels: boolean;
  /** Levels of the side. */
  levels: number;
}

/** What stands before the figures of a member; dots while it is not known. */
export function rowLabels({ header, before, words, layout, repeatLabels, levels }: LabelContext): RowLabel[] {
  if (!header) return [{ text: '…', column: null, indent: 0, toggle: null, room: false }];
  if (layout === 'tree' || header.depth === 0) {
    const toggle = header.canOpen && header.role === 'member' ? header : null;
    return [{ text: words(header), column: null, indent: Math.max(0, header.depth - 1), toggle, room: header.depth > 0 && levels > 1 }];
  }
  return header.path.flatMap((_, column): RowLabel[] => {
    if (column === header.depth - 1)
      return [{ text: words(header), column, indent: 0, toggle: header.canOpen ? header : null, room: false }];
    const path = header.path.slice(0, column + 1);
    const repeats = before !== undefined && samePath(before.path.slice(0, column + 1), path);
    if (repeats && !repeatLabels) return [];
    const toggle: Header | null = repeats ? null : { ...header, path, depth: column + 1, open: true, canOpen: true };
    return [{ text: header.labels[column], column, indent: 0, toggle, room: true }];
  });
}

/** Which of two shades each row has, where members of a level are told apart by them; `depth` 0 shades none. */
export function bandsOf(rows: readonly (Header | undefined)[], depth: number): boolean[] {
  let band = false;
  let last: string | undefined;
  return rows.map((header) => {
    if (depth === 0 || !header || header.depth < depth) return false;
    const key = JSON.stringify(header.path.slice(0, depth));
    if (last !== undefined && key !== last) band = !band;
    last = key;
    return band;
  });
}
