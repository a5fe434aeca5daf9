import { STATE_WORDS } from '@bold-compass/core/indicators';
import type { FiguresPart } from '@bold-compass/core/exports';
import type { Block, Piece } from './flow.ts';
import { COLOURS, type Ink } from './ink.ts';
import { needle, stateColour } from './shapes.ts';

const [HIGH, MOST] = [50, 5];

/** A strip of key figures, with how each stands. */
export const figuresBlock = (part: FiguresPart): Block => ({
  width: part.width,
  title: '',
  layout(width): Piece[] {
    const across = Math.min(part.figures.length, Math.max(1, Math.min(MOST, Math.floor(width / 110))));
    const rows = Math.ceil(part.figures.length / across);
    const each = width / across;
    const draw = (own: Ink, x: number, y: number): void => {
      own.artifact(() => own.rule(x, y, x + width, 0.5, COLOURS.rule));
      part.figures.forEach(({ label, text, state, bearing, words }, index) => {
        const left = x + (index % across) * each + (index % across > 0 ? 10 : 0);
        const top = y + Math.floor(index / across) * HIGH;
        const room = each - 14;
        if (index % across > 0)
          own.artifact(() =>
            own.doc
              .moveTo(left - 10, top + 5)
              .lineTo(left - 10, top + HIGH - 5)
              .lineWidth(0.5)
              .strokeColor(COLOURS.rule)
              .stroke(),
          );
        own.tagged('P', () => {
          own.text(own.fitted(label, 'sans', 8, room), left, top + 5, { size: 8, colour: COLOURS.quiet });
          own.text(own.fitted(text, 'title', 15, room - 20), left, top + 14, { face: 'title', size: 15 });
          const stands = state === 'none' ? '' : STATE_WORDS[state];
          own.text(stands, left, top + 36, { face: 'bold', size: 7.5, colour: stateColour(state) });
          const after = stands === '' ? 0 : own.width(`${stands} · `, 'bold', 7.5);
          const line = stands === '' ? words : `· ${words}`;
          own.text(
            own.fitted(line, 'sans', 7.5, room - after),
            left + (stands === '' ? 0 : own.width(`${stands} `, 'bold', 7.5)),
            top + 36,
            { size: 7.5, colour: COLOURS.quiet },
          );
        });
        own.artifact(() =>
          needle(own, state, bearing, left + own.width(own.fitted(text, 'title', 15, room - 20), 'title', 15) + 6, top + 18, 14),
        );
      });
      own.artifact(() => own.rule(x, y + rows * HIGH, x + width, 0.5, COLOURS.rule));
    };
    return [{ height: rows * HIGH + 2, draw }];
  },
});
