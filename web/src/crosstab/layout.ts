import type { CellMeasure, Mark } from '@bold-compass/core/model';
import type { Header } from '@bold-compass/core/api';
import type { RowLabel } from '@bold-compass/core/table';

export const ROW_HEIGHT = 26;
export const HEAD_ROW_HEIGHT = 29;
/** What a line of units adds below the headings of measures. */
export const UNITS_HEIGHT = 10;
/** Sets column groups apart. */
export const GROUP_GAP = 10;

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

/** Where the labels of a row stand, among columns of levels or, where these are null, moved in as a tree. */
export function placed(
  labels: readonly RowLabel[],
  columns: readonly { left: number; width: number }[] | null,
  width: number,
  indent: number,
): LabelPart[] {
  return labels.map((label) => {
    const place = columns && label.column !== null ? columns[label.column] : { left: 0, width };
    const { text, toggle, room } = label;
    return { text, left: place.left, width: place.width, indent: label.indent * indent, toggle, room };
  });
}

/** Room beside a figure for what is drawn with it, in pixels. */
export const BAR_ROOM = 78;
export const SPARKLINE_ROOM = 92;
const ARROW_ROOM = 18;
export const NEEDLE_ROOM = 18;

/** The room that everything takes which is drawn with a measure's figures. */
export function roomBeside({ indicator, marks = [] }: CellMeasure): number {
  const has = (kind: Mark['kind']): boolean => marks.some((mark) => mark.kind === kind);
  return (
    (indicator ? NEEDLE_ROOM : 0) + (has('bar') ? BAR_ROOM : 0) + (has('sparkline') ? SPARKLINE_ROOM : 0) + (has('arrow') ? ARROW_ROOM : 0)
  );
}

/** Whether a sparkline stands in the place of the figure. */
export const hidesFigure = ({ marks = [] }: CellMeasure): boolean => marks.some((mark) => mark.kind === 'sparkline' && !mark.figure);

/** The room of a measure, in pixels: all of it, and what its texts take of it. */
interface MeasureRoom {
  width: number;
  figure: number;
}

/** Room that follows the longest text seen, and only ever grows, so that nothing jumps while scrolling. */
export class GrowingRooms {
  private rooms: MeasureRoom[] = [];
  /** Widens where a text needs it; returns the rooms. `extra` is room beside the text, per measure. */
  fit(texts: string[][], headings: string[], extra: number[]): MeasureRoom[] {
    this.rooms = headings.map((heading, index) => {
      const figure = Math.ceil(texts[index].reduce((most, text) => Math.max(most, text.length), 0) * 6.9);
      const width = Math.ceil(Math.max(figure + extra[index], heading.length * 5.9 + (extra[index] > 0 ? NEEDLE_ROOM : 0)) + 13);
      const before = this.rooms[index] ?? { width: 46, figure: 0 };
      return { width: Math.max(width, before.width), figure: Math.max(figure, before.figure) };
    });
    return this.rooms;
  }
}
