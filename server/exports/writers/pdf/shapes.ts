import type { ExportCell } from '@bold-compass/core/exports';
import type { State } from '@bold-compass/core/indicators';
import { COLOURS, type Ink } from './ink.ts';

/** Where a needle points where its state alone is known, in degrees from straight up. */
const TURNS: Record<State, number> = { ahead: 12, on: 30, drifting: 90, off: 150, far: 168, none: 90 };
const STATES: Record<State, string> = {
  ...{ ahead: COLOURS.on, on: COLOURS.on, drifting: COLOURS.drift, off: COLOURS.off, far: COLOURS.off, none: COLOURS.quiet },
};

export const stateColour = (state: State): string => STATES[state];

/** The needle of a state in a circle, within a square. */
export function needle({ doc }: Ink, state: State, bearing: number | null, x: number, y: number, size: number): void {
  if (state === 'none') return;
  const scale = size / 20;
  doc.save();
  doc.translate(x, y).scale(scale);
  doc.circle(10, 10, 8.8).lineWidth(1.3).strokeColor(STATES[state]).strokeOpacity(0.75).stroke().strokeOpacity(1);
  doc.rotate(bearing ?? TURNS[state], { origin: [10, 10] });
  doc.path('M10 3.6 13.1 14 10 12.2 6.9 14z').fill(STATES[state]);
  doc.restore();
}

/** How wide bars and sparklines are, in widths of a letter. */
export const MARK_ROOM = { bar: 6.4, sparkline: 7.2, arrow: 1.5 } as const;

type Marks = NonNullable<ExportCell['marks']>;

const mixed = (share: number, [r, g, b]: readonly [number, number, number]): string =>
  `#${[r, g, b]
    .map((part) =>
      Math.round(255 + (part - 255) * share)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
const [SEA, BAD] = [
  [14, 79, 92],
  [178, 58, 46],
] as const;

type Tone = NonNullable<Marks['rule']>['tone'];
const TONES: Record<Tone, readonly [number, number, number]> = {
  ...{ on: [24, 104, 74], drift: [138, 85, 9], off: [165, 51, 42] },
  ...{ sea: [14, 79, 92], brass: [138, 85, 9], quiet: [81, 96, 107] },
};
/** The colour that a rule gives a figure. */
export const toneColour = (tone: Tone): string => mixed(1, TONES[tone]);

/** The ground behind a figure, by its shade or by a rule. */
export function ground({ doc }: Ink, { shade, rule }: Marks, x: number, y: number, width: number, height: number): void {
  if (rule?.look === 'ground') doc.rect(x, y, width, height).fill(mixed(0.16, TONES[rule.tone]));
  if (!shade) return;
  doc.rect(x, y, width, height).fill(mixed(Math.abs(shade.amount) * 0.4, shade.amount < 0 ? BAD : SEA));
}

/** A bar from zero, with the place of its target. */
export function bar({ doc }: Ink, { bar: own, rule }: Marks, x: number, y: number, width: number, height: number): void {
  if (!own) return;
  const high = height * 0.5;
  const top = y + (height - high) / 2;
  doc
    .rect(x + own.from * width, top, Math.max(0.4, (own.to - own.from) * width), high)
    .fill(rule?.look === 'bar' ? mixed(0.72, TONES[rule.tone]) : own.isNegative ? COLOURS.off : mixed(0.72, SEA));
  if (own.target === null) return;
  doc.rect(x + own.target * width - 0.5, top - 1.2, 1, high + 2.4).fill(COLOURS.brass);
}

/** Values through periods, small. */
export function sparkline({ doc }: Ink, { sparkline: own }: Marks, x: number, y: number, width: number, height: number): void {
  if (!own) return;
  const high = height * 0.72;
  const top = y + (height - high) / 2;
  const last = Math.max(1, own.values.length - 1);
  if (own.draw === 'columns') {
    const each = width / Math.max(1, own.values.length);
    own.values.forEach((value, index) => {
      if (value === null) return;
      const [from, to] = [own.zero, value].sort((a, b) => a - b);
      doc.rect(x + index * each, top + high * (1 - to), each * 0.7, Math.max(0.4, high * (to - from))).fill(mixed(0.55, SEA));
    });
    return;
  }
  let isOpen = false;
  let end: [number, number] | null = null;
  own.values.forEach((value, index) => {
    if (value === null) return void (isOpen = false);
    const at: [number, number] = [x + (index / last) * width, top + high * (1 - value)];
    if (isOpen) doc.lineTo(...at);
    else doc.moveTo(...at);
    [isOpen, end] = [true, at];
  });
  if (!end) return;
  doc.lineWidth(0.8).strokeColor(COLOURS.quiet).stroke();
  doc.circle(end[0], end[1], 1.3).fill(COLOURS.brass);
}

/** Which way a figure went from the one before it. */
export function arrow({ doc }: Ink, { arrow: own }: Marks, x: number, y: number, size: number): void {
  if (!own) return;
  const colour = own.isGood === null ? COLOURS.quiet : own.isGood ? COLOURS.on : COLOURS.off;
  doc.save();
  doc
    .translate(x + size / 2, y + size / 2)
    .rotate(own.turn === 0 ? 90 : own.turn > 0 ? 0 : 180)
    .scale(size / 14);
  doc.path('M0 -5 4.4 3.6 0 1.4 -4.4 3.6z').fill(colour);
  doc.restore();
}
