import { describe, expect, it } from 'vitest';
import { readersWidth, scaleToFit, widthLaidOut } from './readers-width.ts';

describe('the width that readers have', () => {
  it('is that of the page beside the rail, shared by its twelve columns', () => {
    // 1,280 less the rail and the room left and right of the page.
    expect(readersWidth(12, 1_280)).toBe(1_164);
    expect(readersWidth(6, 1_280)).toBe((1_164 - 22) / 2);
    // Two halves and what is between them are the whole.
    expect(2 * readersWidth(6, 1_600) + 22).toBeCloseTo(readersWidth(12, 1_600), 9);
  });

  it('is not more than a table needs, where that is known, with room for its title', () => {
    expect(widthLaidOut(1_164, null)).toBe(1_164);
    expect(widthLaidOut(1_164, 900)).toBe(924);
    expect(widthLaidOut(1_164, 130)).toBe(760);
    // Wider than for readers it is scrolled, as theirs is.
    expect(widthLaidOut(1_164, 3_000)).toBe(1_164);
    expect(widthLaidOut(571, 130)).toBe(571);
  });

  it('is made smaller to fit, never larger, and not so small that nobody can read it', () => {
    expect(scaleToFit(900, 1_000)).toBe(0.9);
    expect(scaleToFit(1_200, 1_000)).toBe(1);
    expect(scaleToFit(300, 1_000)).toBe(0.55);
    // Before it is measured.
    expect(scaleToFit(0, 1_000)).toBe(1);
  });
});
