import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  changeSentence,
  contributionsOf,
  effectsSentence,
  memberEffects,
  moversSentence,
  sumOfEffects,
  type Effects,
  type ComparedMember,
} from './index.ts';

const EURO = { kind: 'currency', currency: 'EUR', decimals: 0, unit: 'thousand' } as const;
const told = { format: EURO, locale: 'en-GB' };

const effectsOf = (members: ComparedMember[]): Effects => sumOfEffects(memberEffects(members));

const period = fc.record({ value: fc.integer({ min: 0, max: 100_000 }), quantity: fc.integer({ min: 0, max: 500 }) });
const sold = fc.array(fc.record({ before: period, after: period }), { maxLength: 20 });

describe('price, volume and mix', () => {
  it('add up to the difference, with what is new and what is gone', () => {
    fc.assert(
      fc.property(sold, (members) => {
        const whole = members.reduce((sum, { before, after }) => sum + after.value - before.value, 0);
        const sumOf = (effects: Effects): number => Object.values(effects).reduce((sum: number, value: number) => sum + value, 0);
        expect(sumOf(effectsOf(members))).toBeCloseTo(whole, 4);
        // So do those of each member to its own.
        const own = memberEffects(members).map(sumOf);
        members.forEach(({ before, after }, index) => expect(own[index]).toBeCloseTo(after.value - before.value, 4));
      }),
    );
  });

  it('are what they are called where only one of them moves', () => {
    const member = (before: [number, number], after: [number, number]): ComparedMember => ({
      before: { quantity: before[0], value: before[0] * before[1] },
      after: { quantity: after[0], value: after[0] * after[1] },
    });
    const dearer = effectsOf([member([10, 5], [10, 6]), member([20, 2], [20, 3])]);
    expect(dearer).toEqual({ price: 30, volume: 0, mix: 0, gained: 0, lost: 0 });
    const more = effectsOf([member([10, 5], [20, 5]), member([20, 2], [40, 2])]);
    expect(more).toEqual({ price: 0, volume: 90, mix: 0, gained: 0, lost: 0 });
    // As many as before, but ten of the dear ones in the place of ten cheap ones.
    const better = effectsOf([member([10, 5], [20, 5]), member([20, 2], [10, 2])]);
    expect(better).toEqual({ price: 0, volume: 0, mix: 30, gained: 0, lost: 0 });
    const come = effectsOf([member([0, 0], [3, 7]), member([4, 2], [0, 0])]);
    expect(come).toEqual({ price: 0, volume: 0, mix: 0, gained: 21, lost: -8 });
  });

  it('are told with their signs', () => {
    expect(effectsSentence({ price: 210_000, volume: -1_100_000, mix: 0, gained: 0, lost: -4_000 }, told)).toBe(
      'Of the difference: +€\u00a0210\u00a0k by prices, −€\u00a01,100\u00a0k by volume and −€\u00a04\u00a0k by discontinued members.',
    );
  });
});

describe('contributions', () => {
  const values = fc.option(fc.integer({ min: -1_000, max: 1_000 }), { nil: null });
  it('add up to the difference with the others, and name those that moved most, whichever way', () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ before: values, after: values }), { maxLength: 30 }),
        fc.integer({ min: 1, max: 8 }),
        (own, most) => {
          const members = own.map((one, index) => ({ ...one, member: String(index) }));
          const { named, others, concentration } = contributionsOf(members, most);
          const whole = own.reduce((sum, { before, after }) => sum + (after ?? 0) - (before ?? 0), 0);
          expect(named.reduce((sum, { change }) => sum + change, others?.change ?? 0)).toBe(whole);
          expect(named.length + (others?.count ?? 0)).toBe(own.length);
          const sizes = named.map(({ change }) => Math.abs(change));
          expect(sizes).toEqual([...sizes].sort((a, b) => b - a));
          expect(concentration).toBeGreaterThanOrEqual(0);
          expect(concentration).toBeLessThanOrEqual(1 + 1e-12);
        },
      ),
    );
  });

  it('tell more where few members made them, however many there are', () => {
    const over = (...changes: number[]) =>
      contributionsOf(
        changes.map((after) => ({ member: '', before: 0, after })),
        5,
      ).concentration;
    expect(over(4, 4, -4)).toBeCloseTo(0, 12);
    expect(over(0, 9, 0, 0)).toBeCloseTo(1, 12);
    expect(over(7)).toBe(0);
    expect(over(8, 1, 1)).toBeGreaterThan(over(5, 3, 2));
  });

  it('are told by who fell and who rose most', () => {
    const named = [-600_000, 200_000, -50_000].map((change, index) => ({
      label: ['Italy', 'Germany', 'Spain'][index],
      change,
    }));
    expect(moversSentence(named, told)).toBe(
      'Italy (−€\u00a0600\u00a0k) and Spain (−€\u00a050\u00a0k) fell most; Germany (+€\u00a0200\u00a0k) rose most.',
    );
    expect(moversSentence([], told)).toBe('No member changed.');
  });
});

describe('the sentence', () => {
  it('says how far, from where to where, and what is missing', () => {
    const say = (before: number | null, after: number | null) =>
      changeSentence({ ...told, label: 'Net sales', before, after, than: 'a year before' });
    expect(say(35_100_000, 33_900_000)).toBe(
      'Net sales fell by €\u00a01,200\u00a0k (−3.4\u00a0%), from €\u00a035,100\u00a0k a year before to €\u00a033,900\u00a0k.',
    );
    expect(say(1_000, 1_000)).toBe('Net sales is €\u00a01\u00a0k, as a year before.');
    expect(say(null, 5)).toBe('Net sales has no value a year before.');
    expect(say(null, null)).toBe('Net sales has no value, now or a year before.');
  });
});
