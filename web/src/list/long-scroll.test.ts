import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { linesInView, MOST_HEIGHT, scrolledTo, START } from './long-scroll.ts';

const [LINE, VIEW] = [27, 540];
const MILLION = 1_000_000;
const HEIGHT = MILLION * LINE;

describe('scrolling a list', () => {
  it('that the browser can lay out is left to it', () => {
    expect(scrolledTo(START, 1_234, 20_000 * LINE, VIEW)).toEqual({ scrollTop: 1_234, top: 1_234 });
    expect(linesInView({ scrollTop: 2_700, top: 2_700 }, 1_000, LINE, VIEW, 10)).toEqual({
      ...{ first: 90, count: 40, before: 90 * LINE },
      after: (1_000 - 130) * LINE,
    });
  });

  it('of a million lines goes pixel by pixel with a wheel, and by proportion with the scroll bar', () => {
    let place = START;
    for (let turn = 1; turn <= 50; turn++) place = scrolledTo(place, turn * 100, HEIGHT, VIEW);
    expect(place).toEqual({ scrollTop: 5_000, top: 5_000 });
    place = scrolledTo(place, (MOST_HEIGHT - VIEW) / 2, HEIGHT, VIEW);
    expect(place.top).toBeCloseTo((HEIGHT - VIEW) / 2, 6);
    const { top } = place;
    place = scrolledTo(place, place.scrollTop + 27, HEIGHT, VIEW);
    expect(place.top - top).toBeCloseTo(27, 6);
  });

  it('reaches the first and the last line, whatever the steps, and never leaves a gap', () => {
    const move = fc.oneof(fc.integer({ min: -600, max: 600 }), fc.integer({ min: -MOST_HEIGHT, max: MOST_HEIGHT }));
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 3 * MILLION }), fc.array(move, { maxLength: 40 }), (lines, moves) => {
        let place = START;
        for (const by of moves) {
          place = scrolledTo(place, place.scrollTop + by, lines * LINE, VIEW);
          const view = linesInView(place, lines, LINE, VIEW, 12);
          // What is in view on the screen is drawn: from its place to the bottom edge.
          const shownFrom = view.before - place.scrollTop;
          const shownTo = shownFrom + view.count * LINE;
          expect(shownFrom).toBeLessThanOrEqual(0.001);
          expect(shownTo).toBeGreaterThanOrEqual(Math.min(VIEW, lines * LINE) - 0.001);
          expect(view.first).toBeGreaterThanOrEqual(0);
          expect(view.first + view.count).toBeLessThanOrEqual(lines);
        }
        const end = scrolledTo(place, MOST_HEIGHT * 2, lines * LINE, VIEW);
        const last = linesInView(end, lines, LINE, VIEW, 0);
        expect(last.first + last.count).toBe(lines);
        const start = scrolledTo(end, 0, lines * LINE, VIEW);
        expect(start).toEqual(START);
      }),
      { seed: 12, numRuns: 300 },
    );
  });
});
