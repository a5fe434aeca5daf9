import type { Header } from '@bold-compass/core/api';
import { samePath, type LabelPart } from './layout.ts';

/** A member's place among the labels of the side. */
export interface LabelContext {
  header: Header | undefined;
  /** The member above it. */
  before: Header | undefined;
  words(header: Header): string;
  /** Levels as columns of their own; null where they are a tree. */
  columns: readonly { left: number; width: number }[] | null;
  repeatLabels: boolean;
  /** Levels of the side. */
  levels: number;
  width: number;
  /** Pixels that each level of a tree is moved in. */
  indent: number;
}

/** The words, and toggles, that stand before the figures of a member. */
export function labelParts({ header, before, words, columns, repeatLabels, levels, width, indent }: LabelContext): LabelPart[] {
  if (!header) return [{ text: '…', left: 0, width, toggle: null, indent: 0 }];
  if (!columns || header.depth === 0) {
    return [
      {
        text: words(header),
        left: 0,
        width,
        toggle: header.canOpen && header.role === 'member' ? header : null,
        indent: Math.max(0, header.depth - 1) * indent,
        room: header.depth > 0 && levels > 1,
      },
    ];
  }
  return header.path.flatMap((_, level): LabelPart[] => {
    const { left, width: room } = columns[level];
    if (level === header.depth - 1)
      return [{ text: words(header), left, width: room, toggle: header.canOpen ? header : null, indent: 0, room: false }];
    const path = header.path.slice(0, level + 1);
    const repeats = before !== undefined && samePath(before.path.slice(0, level + 1), path);
    if (repeats && !repeatLabels) return [];
    const toggle: Header | null = repeats ? null : { ...header, path, depth: level + 1, open: true, canOpen: true };
    return [{ text: header.labels[level], left, width: room, toggle, indent: 0, room: true }];
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
