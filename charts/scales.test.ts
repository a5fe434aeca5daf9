import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { NumberFormat } from '@bold-compass/core/model';
import type { CanvasTokens } from './tokens.ts';
import { apart, endLabelRoom } from './end-labels.ts';
import { memberScale, placeScale, valueScale } from './scales.ts';
import { fitsWords, textWidth, wrappedWords } from './wrapped-words.ts';

const tokens = { ink: 'ink', quiet: 'quiet', hairline: 'hairline' } as unknown as CanvasTokens;
const plain: NumberFormat = { kind: 'number', decimals: 2, unit: 'one' };
const linear = { logarithmic: false };

interface Ticks {
  ticks: { callback(value: number, index: number, ticks: { value: number }[]): string };
}

describe('a scale of values', () => {
  /** What stands at some ticks. */
  const said = (format: NumberFormat, values: number[]): string[] => {
    const { ticks } = valueScale(tokens, { format, scale: linear, fromZero: true }) as unknown as Ticks;
    const all = values.map((value) => ({ value }));
    return values.map((value, index) => ticks.callback(value, index, all));
  };

  it('has no more decimals than tell its ticks apart', () => {
    expect(said(plain, [0, 50, 100])).toEqual(['0', '50', '100']);
    expect(said(plain, [0, 0.5, 1])).toEqual(['0.0', '0.5', '1.0']);
    expect(said(plain, [0, 0.05, 0.1])).toEqual(['0.00', '0.05', '0.10']);
    expect(said({ kind: 'percent', decimals: 1, unit: 'one' }, [0, 0.1, 0.2])).toEqual(
      ['0', '10', '20'].map((one) => expect.stringContaining(one) as string),
    );
    expect(said({ ...plain, unit: 'thousand' }, [0, 500, 1_000])).toEqual(['0.0', '0.5', '1.0']);
  });

  it('says each of its ticks differently, whatever their step', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(1, 2, 2.5, 5),
        fc.integer({ min: -3, max: 6 }),
        fc.integer({ min: -20, max: 20 }),
        (lead, power, first) => {
          const step = lead * 10 ** power;
          const values = Array.from({ length: 6 }, (_, index) => (first + index) * step);
          // Two and a half needs a digit more than its power says; its ticks are then those of five.
          if (lead === 2.5) return;
          expect(new Set(said({ ...plain, decimals: 0 }, values)).size).toBe(6);
        },
      ),
    );
  });

  it('ends where charts of one row end in common, but for what has no logarithm', () => {
    const ends = { min: 0, max: 40, step: 10 };
    expect(valueScale(tokens, { format: plain, scale: linear, fromZero: true, ends })).toMatchObject({
      type: 'linear',
      min: 0,
      max: 40,
      beginAtZero: true,
    });
    const logarithmic = valueScale(tokens, { format: plain, scale: { logarithmic: true }, fromZero: true, ends });
    expect(logarithmic).toMatchObject({ type: 'logarithmic', min: undefined, max: 40, beginAtZero: false });
    const own = valueScale(tokens, { format: plain, scale: { logarithmic: false, min: -5, max: 5 }, fromZero: false, ends, title: 'Euro' });
    expect(own).toMatchObject({ min: -5, max: 5, title: { display: true, text: 'Euro' } });
  });
});

describe('a scale of members', () => {
  const monthsOf = (...years: string[]) =>
    years.flatMap((year) => ['January', 'February', 'March'].map((label) => ({ label, groups: [year] })));
  const labels = (categories: { label: string; groups: string[] }[], part: object): (string | string[])[] => {
    const { ticks } = memberScale(tokens, categories, { lying: false, width: 600, stacked: false, ...part }) as unknown as {
      ticks: { callback(value: number, index: number): string | string[] };
    };
    return categories.map((_, index) => ticks.callback(index, index));
  };

  it('says the group once, below its first member, and groups alone where members are crowded', () => {
    expect(labels(monthsOf('2025', '2026'), {})).toEqual([
      ['January', '2025'],
      ['February', ''],
      ['March', ''],
      ['January', '2026'],
      ['February', ''],
      ['March', ''],
    ]);
    expect(labels(monthsOf('2025', '2026'), { width: 200 })).toEqual(['2025', '', '', '2026', '', '']);
    expect(labels(monthsOf('2025'), { lying: true })).toEqual(['2025 · January', 'February', 'March']);
  });

  it('breaks words where they fit, and sets names on lines by turns where they do not, never aslant', () => {
    const places = ['Upright pianos', 'Care kits', 'Hand drums'].map((label) => ({ label, groups: [] }));
    expect(labels(places, { width: 300 })).toEqual([['Upright pianos'], ['Care kits'], ['Hand drums']]);
    expect(labels(places, { width: 240 })).toEqual([['Upright', 'pianos'], ['Care kits'], ['Hand drums']]);
    expect(labels(places, { width: 120 })).toEqual([
      ['Upright pianos', '', ''],
      ['', 'Care kits', ''],
      ['', '', 'Hand drums'],
    ]);
    expect(memberScale(tokens, places, { lying: false, width: 120, stacked: false }).ticks).toMatchObject({
      maxRotation: 0,
      autoSkip: false,
    });
    // Too many lines: some names are left out, and none stands aslant.
    expect(memberScale(tokens, places, { lying: false, width: 60, stacked: false }).ticks).toMatchObject({
      maxRotation: 0,
      autoSkip: true,
    });
  });

  it('of many points says the member at each place', () => {
    const categories = ['A', 'B', 'C'].map((fullLabel) => ({ fullLabel }));
    const { max, ticks } = placeScale(tokens, categories) as unknown as { max: number; ticks: { callback(value: number): string } };
    expect(max).toBe(2);
    expect([0, 1.2, 2, 7].map((value) => ticks.callback(value))).toEqual(['A', 'B', 'C', '']);
    expect(placeScale(tokens, [])).toMatchObject({ max: 0 });
  });
});

describe('names in little room', () => {
  it('in lines are the same words, each line no wider than asked unless a single word is', () => {
    const words = fc.array(
      fc.string({ minLength: 1, maxLength: 12 }).filter((word) => !word.includes(' ')),
      { minLength: 1, maxLength: 8 },
    );
    fc.assert(
      fc.property(words, fc.integer({ min: 10, max: 200 }), (own, width) => {
        const lines = wrappedWords(own.join(' '), width);
        expect(lines.join(' ')).toBe(own.join(' '));
        for (const line of lines) if (line.includes(' ')) expect(textWidth(line)).toBeLessThanOrEqual(width);
        expect(fitsWords(own.join(' '), width)).toBe(own.every((word) => textWidth(word) <= width));
      }),
    );
  });

  it('at the ends of lines stand apart, in order, and inside where there is room', () => {
    const wanted = fc.array(fc.integer({ min: 0, max: 400 }), { maxLength: 20 }).map((list) => list.sort((a, b) => a - b));
    fc.assert(
      fc.property(wanted, (places) => {
        const placed = apart(places, 0, 400);
        for (let index = 1; index < placed.length; index++) expect(placed[index] - placed[index - 1]).toBeGreaterThanOrEqual(16);
        expect(Math.max(0, ...placed)).toBeLessThanOrEqual(400);
        // Twenty lines of 16 pixels fit into 400.
        expect(Math.min(0, ...placed)).toBe(0);
        const isFree = places.every((at, index) => index === 0 || at - places[index - 1] >= 16);
        if (isFree) expect(placed).toEqual(places);
      }),
    );
    expect(endLabelRoom([], textWidth)).toBe(0);
    expect(endLabelRoom([{ dataset: 0, text: 'Nordic', colour: '' }], textWidth)).toBe(Math.ceil(textWidth('Nordic')) + 12);
  });
});
