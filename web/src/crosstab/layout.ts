import type { Header } from '@bold-compass/core/api';
import { pathKey } from '@bold-compass/core/crosstab';

export const ROW_HEIGHT = 26;
export const HEAD_ROW_HEIGHT = 29;
/** Sets column groups apart. */
export const GROUP_GAP = 10;

/** Whether two paths name the same member. */
export const samePath = (a: readonly (string | null)[], b: readonly (string | null)[]): boolean =>
  a.length === b.length && a.every((member, index) => member === b[index]);

/** Whether figures of a row or column can be chosen: those of a summary are worked out of others, and a bare one has none. */
export const canChoose = (header: Header | undefined): header is Header => header !== undefined && !header.summary && !header.bare;

/** Words before the figures of a line, in pixels from its left edge. */
export interface LabelPart {
  text: string;
  left: number;
  width: number;
  indent: number;
  /** What its toggle opens or closes; none where it is null. */
  toggle: Header | null;
  /** Keeps the place of a toggle free. */
  room?: boolean;
  light?: boolean;
}

/** A heading over one or several columns. */
export interface HeadSegment {
  key: string;
  /** Level, counted from 1. */
  level: number;
  start: number;
  count: number;
  /** The header of a column below it. */
  sample: Header;
  /** Whether it names a column of its own rather than a group of columns. */
  own: boolean;
}

/** The levels of headings that the columns need: at least one. */
export const headLevels = (columns: (Header | undefined)[]): number =>
  Math.max(1, ...columns.map((header) => (header ? header.depth + (header.role === 'subtotal' ? 1 : 0) : 0)));

/** Cuts the columns into headings, level by level. */
export function headSegments(columns: (Header | undefined)[]): HeadSegment[] {
  const segments: HeadSegment[] = [];
  const levels = headLevels(columns);
  for (let level = 1; level <= levels; level++) {
    let last: HeadSegment | null = null;
    columns.forEach((header, index) => {
      const ownLevel = header ? Math.max(1, header.depth + (header.role === 'subtotal' ? 1 : 0)) : 0;
      if (!header || ownLevel < level) {
        last = null;
        return;
      }
      const own = ownLevel === level;
      const key = own ? `${pathKey(header.path)}|${header.role}` : pathKey(header.path.slice(0, level));
      if (last && !own && last.key === key) last.count++;
      else segments.push((last = { key, level, start: index, count: 1, sample: header, own }));
    });
  }
  return segments;
}

/** Widths that follow the longest text seen, and only ever grow, so that nothing jumps while scrolling. */
export class GrowingWidths {
  private widths: number[] = [];
  /** Widens where a text needs it; returns the widths. `extra` is room beside the text, per measure. */
  fit(texts: string[][], headings: string[], extra: number[]): number[] {
    const needed = headings.map((heading, index) => {
      const longest = texts[index].reduce((most, text) => Math.max(most, text.length), 0);
      return Math.ceil(Math.max(longest * 6.9, heading.length * 5.9) + 13 + extra[index]);
    });
    this.widths = needed.map((width, index) => Math.max(width, 46, this.widths[index] ?? 0));
    return this.widths;
  }
}
