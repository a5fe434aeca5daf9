import type { CellMarks } from '@bold-compass/core/table';
import { between, type CanvasTokens } from '@bold-compass/charts/tokens';
import { BAR_ROOM, NEEDLE_ROOM, ROW_HEIGHT, SPARKLINE_ROOM } from './layout.ts';

type Point = readonly [x: number, y: number];

/** What is painted of a mark, in pixels from the left edge and the top of its cell. */
export type MarkShape =
  | { kind: 'rect'; x: number; y: number; width: number; height: number; ink: string }
  | { kind: 'lines'; lines: Point[][]; thickness: number; ink: string }
  | { kind: 'dot'; at: Point; radius: number; ink: string };

/** The colours of marks. */
export interface MarkInks {
  bar: string;
  /** Of bars whose colour a rule gives. */
  tones: Record<NonNullable<CellMarks['rule']>['tone'], string>;
  below: string;
  target: string;
  line: string;
  column: string;
  last: string;
  arrow: string;
  good: string;
  bad: string;
  /** Behind a figure; the amount is from −1 to 1. */
  ground: (amount: number) => string;
}

/** Dark enough to tell, pale enough to read on. */
const DARKEST = 0.4;
/** The colours of marks in the theme that is on. */
export const markInks = ({ paper, sea, bad, brass, quiet, states }: CanvasTokens): MarkInks => ({
  ...{ bar: between(paper, sea, 0.72), below: bad, target: brass, line: quiet, column: between(paper, sea, 0.55), last: brass },
  tones: {
    ...{ on: between(paper, states.on, 0.72), drift: between(paper, states.drifting, 0.72), off: between(paper, bad, 0.72) },
    ...{ sea: between(paper, sea, 0.72), brass: between(paper, brass, 0.72), quiet: between(paper, quiet, 0.72) },
  },
  ...{ arrow: quiet, good: states.on, bad },
  ground: (amount) => between(paper, amount < 0 ? bad : sea, Math.abs(amount) * DARKEST),
});

/** What stands in a cell beside its marks. */
interface MarkedCell {
  marks: CellMarks;
  width: number;
  /** Room that the figures of its column take, in pixels; none where a sparkline stands in their place. */
  figure: number;
  hasNeedle: boolean;
}

const [EDGE, GAP] = [8, 4];
const BAR = { left: 5, top: 8, width: BAR_ROOM - 10, height: 10 };
const SPARKLINE = { width: SPARKLINE_ROOM - 10, height: 16 };
const ARROW_SIZE = 14;
const rounded = (value: number): number => Math.round(value * 10) / 10;

type Sparkline = NonNullable<CellMarks['sparkline']>;
function lineShapes({ values }: Sparkline, left: number, inks: MarkInks): MarkShape[] {
  const { width, height } = SPARKLINE;
  const top = (ROW_HEIGHT - height) / 2;
  const lines: Point[][] = [];
  values.forEach((value, index) => {
    if (value === null) return;
    if (index === 0 || values[index - 1] === null) lines.push([]);
    const x = left + 2 + (index / Math.max(1, values.length - 1)) * (width - 5);
    lines.at(-1)!.push([rounded(x), rounded(top + height - 2 - value * (height - 4))]);
  });
  const end = lines.at(-1)?.at(-1);
  // It ends where the data ends.
  return end
    ? [
        { kind: 'lines', lines, thickness: 1.3, ink: inks.line },
        { kind: 'dot', at: end, radius: 2.1, ink: inks.last },
      ]
    : [];
}
function columnShapes({ values, zero }: Sparkline, left: number, inks: MarkInks): MarkShape[] {
  const { width, height } = SPARKLINE;
  const y = (value: number): number => (ROW_HEIGHT + height) / 2 - 2 - value * (height - 4);
  const step = (width - 2) / values.length;
  return values.flatMap((value, index): MarkShape[] => {
    if (value === null) return [];
    const [top, foot] = [y(Math.max(value, zero)), y(Math.min(value, zero))];
    const isLast = index === values.length - 1;
    const ink = isLast ? inks.last : value < zero ? inks.below : inks.column;
    return [{ kind: 'rect', x: left + 1 + index * step, y: top, width: Math.max(1, step - 1), height: Math.max(0.7, foot - top), ink }];
  });
}
/** Strokes in a square of 14 pixels: up, level, down. */
const ARROWS: Record<-1 | 0 | 1, Point[][]> = {
  1: [
    [
      [3, 11],
      [11, 3],
    ],
    [
      [5.5, 3],
      [11, 3],
      [11, 8.5],
    ],
  ],
  0: [
    [
      [2, 7],
      [12, 7],
    ],
    [
      [8.5, 3.5],
      [12, 7],
      [8.5, 10.5],
    ],
  ],
  [-1]: [
    [
      [3, 3],
      [11, 11],
    ],
    [
      [11, 5.5],
      [11, 11],
      [5.5, 11],
    ],
  ],
};

/**
 * What is painted of the marks of a cell: behind it its colour, at its left edge the bar, before the figure the sparkline
 * and the arrow, each in a straight column whatever the figures of the rows are.
 */
export function markShapes({ marks, width, figure, hasNeedle }: MarkedCell, inks: MarkInks): MarkShape[] {
  const { bar, shade, arrow, sparkline, rule } = marks;
  const shapes: MarkShape[] = [];
  if (shade) shapes.push({ kind: 'rect', x: 0, y: 0, width, height: ROW_HEIGHT, ink: inks.ground(shade.amount) });
  if (bar) {
    const room = BAR.width - 2;
    const x = BAR.left + 1 + bar.from * room;
    const ink = rule?.look === 'bar' ? inks.tones[rule.tone] : bar.isNegative ? inks.below : inks.bar;
    const long = Math.max(0.8, (bar.to - bar.from) * room);
    shapes.push({ kind: 'rect', x, y: BAR.top, width: long, height: BAR.height, ink });
    if (bar.target !== null)
      shapes.push({ kind: 'rect', x: BAR.left + bar.target * room, y: BAR.top - 2, width: 2, height: BAR.height + 4, ink: inks.target });
  }
  let right = width - EDGE - (figure > 0 ? figure + GAP : 0) - (hasNeedle ? NEEDLE_ROOM : 0);
  if (arrow) {
    const [left, top] = [right - ARROW_SIZE, (ROW_HEIGHT - ARROW_SIZE) / 2];
    const lines = ARROWS[arrow.turn].map((line) => line.map(([x, y]): Point => [left + x, top + y]));
    const ink = arrow.isGood === null ? inks.arrow : arrow.isGood ? inks.good : inks.bad;
    shapes.push({ kind: 'lines', lines, thickness: 1.7, ink });
    right = left - GAP;
  }
  if (sparkline) shapes.push(...(sparkline.draw === 'line' ? lineShapes : columnShapes)(sparkline, right - SPARKLINE.width, inks));
  return shapes;
}

/** Whether a sparkline stands in the place of the figure. */
export const hidesFigureOf = ({ sparkline }: CellMarks): boolean => sparkline?.hasFigure === false;

/** Paints the shapes of a cell whose left edge and top are told, in pixels. */
export function paintShapes(context: CanvasRenderingContext2D, shapes: readonly MarkShape[], left: number, top: number): void {
  context.lineCap = 'round';
  context.lineJoin = 'round';
  for (const shape of shapes) {
    if (shape.kind === 'rect') {
      context.fillStyle = shape.ink;
      context.fillRect(left + shape.x, top + shape.y, shape.width, shape.height);
      continue;
    }
    context.beginPath();
    if (shape.kind === 'dot') {
      context.arc(left + shape.at[0], top + shape.at[1], shape.radius, 0, 2 * Math.PI);
      context.fillStyle = shape.ink;
      context.fill();
      continue;
    }
    for (const [[x, y], ...rest] of shape.lines) {
      context.moveTo(left + x, top + y);
      for (const [toX, toY] of rest) context.lineTo(left + toX, top + toY);
    }
    context.lineWidth = shape.thickness;
    context.strokeStyle = shape.ink;
    context.stroke();
  }
}
