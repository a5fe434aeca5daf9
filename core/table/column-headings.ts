import type { Header } from '../api/index.ts';
import { pathKey } from '../crosstab/index.ts';

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
export const headLevels = (columns: readonly (Header | undefined)[]): number =>
  Math.max(1, ...columns.map((header) => (header ? header.depth + (header.role === 'subtotal' ? 1 : 0) : 0)));

/** Cuts the columns into headings, level by level. */
export function headSegments(columns: readonly (Header | undefined)[]): HeadSegment[] {
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

/** The header that a heading's toggle opens or closes. */
export function segmentHeader({ own, sample, level }: HeadSegment): Header {
  if (own) return sample;
  return {
    ...sample,
    path: sample.path.slice(0, level),
    labels: sample.labels.slice(0, level),
    depth: level,
    role: 'member',
    open: true,
    canOpen: true,
  };
}

/** Whether a heading has a toggle: totals have none. */
export const canToggle = (segment: HeadSegment): boolean =>
  segmentHeader(segment).canOpen && segment.sample.role !== 'total' && !(segment.own && segment.sample.role === 'subtotal');

/** A heading over measures that stand beside each other. */
export interface MeasureSpan {
  words: string;
  from: number;
  count: number;
}

/** The headings over measures, each over all that follow each other with the same words. */
export function measureSpans(measures: readonly { spanning: string }[]): MeasureSpan[] {
  const spans: MeasureSpan[] = [];
  measures.forEach(({ spanning }, position) => {
    const last = spans.at(-1);
    if (spanning === '') return;
    if (last?.words === spanning && last.from + last.count === position) last.count++;
    else spans.push({ words: spanning, from: position, count: 1 });
  });
  return spans;
}
