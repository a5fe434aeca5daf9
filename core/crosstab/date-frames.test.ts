import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { isoDate, mergedRanges, parseIsoDate, periodKey, type Day, type DayRange } from '../calendar/index.ts';
import type { DateMove } from '../formula/index.ts';
import { calendarsOf, factNamed, type Filter } from '../model/index.ts';
import { workedDataset } from '../testing/worked-example.ts';
import { datesOfCells, movingCalendar, splitDates, targetsOf, type FrameQuestion } from './date-frames.ts';

const [calendar] = calendarsOf(workedDataset);
const sales = factNamed(workedDataset, 'sales');
const dayOf = (iso: string): Day => parseIsoDate(iso)!;
const SPAN = { first: dayOf('2025-01-01'), last: dayOf('2026-10-31') };
const question = (moves: DateMove[], days: readonly DayRange[] = [SPAN], part: Partial<FrameQuestion> = {}): FrameQuestion => ({
  ...{ dataset: workedDataset, fact: sales, calendar, moves, days, conditioned: [], span: SPAN },
  ...part,
});
const written = (ranges: readonly DayRange[]): string[] => ranges.map(({ first, last }) => `${isoDate(first)} ${isoDate(last)}`);
const daysIn = (ranges: readonly DayRange[]): Day[] =>
  ranges.flatMap(({ first, last }) => Array.from({ length: last - first + 1 }, (_, index) => first + index));

const day = fc.integer({ min: SPAN.first - 40, max: SPAN.last + 40 });
const someDays = fc
  .array(fc.tuple(day, fc.nat(70)), { minLength: 1, maxLength: 4 })
  .map((pairs) => mergedRanges(pairs.map(([first, length]) => ({ first, last: first + length }))));
const fields = fc.constantFrom<string[]>([], ['year'], ['month'], ['year', 'quarter'], ['quarter', 'month'], ['day']);

describe('the dates of cells', () => {
  it('hold every day that conditions and data leave once, under the periods it lies in', () => {
    fc.assert(
      fc.property(someDays, fields, (days, names) => {
        const cells = datesOfCells(question([], days), names);
        const wanted = daysIn(days).filter((one) => one >= SPAN.first && one <= SPAN.last);
        expect(cells.flatMap(({ own }) => daysIn(own)).sort((a, b) => a - b)).toEqual(wanted);
        for (const { keys, own } of cells) {
          for (const one of daysIn(own)) expect(keys).toEqual(names.map((name) => periodKey(name as 'year', one, 1)));
          expect(mergedRanges(own)).toEqual(own);
        }
        expect(new Set(cells.map(({ keys }) => keys.join())).size).toBe(cells.length);
      }),
    );
  });

  it('go to the first and to the last day with records among them, where there is one', () => {
    const occurring = fc.uniqueArray(day, { maxLength: 60 }).map((list) => list.sort((a, b) => a - b));
    fc.assert(
      fc.property(someDays, fields, occurring, fc.constantFrom('first' as const, 'last' as const), (days, names, records, edge) => {
        const ranges = records.map((one) => ({ first: one, last: one }));
        for (const { own, moved, reason } of datesOfCells(question([{ kind: 'edge', edge }], days), names, ranges)) {
          const inside = records.filter((one) => own.some(({ first, last }) => one >= first && one <= last));
          const found = edge === 'first' ? inside[0] : inside.at(-1);
          expect(moved).toEqual(found === undefined ? [] : [{ first: found, last: found }]);
          expect(reason).toBe(found === undefined ? 'Sales have no records on these dates.' : '');
        }
      }),
    );
  });

  it('of a period that the data has not reached the end of stand against as many days a year before', () => {
    const [cell] = datesOfCells(question([{ kind: 'back', amount: 1, unit: 'year' }], [{ first: dayOf('2026-01-01'), last: SPAN.last }]), [
      'year',
    ]);
    expect([written(cell.own), written(cell.moved)]).toEqual([['2026-01-01 2026-10-31'], ['2025-01-01 2025-10-31']]);
  });

  it('are those from the start of the year, windows and whole periods, one after the other in the order of the moves', () => {
    const may = [{ first: dayOf('2026-05-01'), last: dayOf('2026-05-31') }];
    const moved = (...moves: DateMove[]): string[] => written(datesOfCells(question(moves, may), ['month'])[0].moved);
    expect(moved({ kind: 'to_date', period: 'year' })).toEqual(['2026-01-01 2026-05-31']);
    expect(moved({ kind: 'to_date', period: 'year' }, { kind: 'back', amount: 1, unit: 'year' })).toEqual(['2025-01-01 2025-05-31']);
    expect(moved({ kind: 'rolling', amount: 3, unit: 'month' })).toEqual(['2026-03-01 2026-05-31']);
    expect(moved({ kind: 'whole', period: 'quarter' })).toEqual(['2026-04-01 2026-06-30']);
  });

  it('say why there are none: before the data is complete, and where a fact is kept by longer periods', () => {
    const january = [{ first: dayOf('2025-01-01'), last: dayOf('2025-01-31') }];
    const [cell] = datesOfCells(question([{ kind: 'back', amount: 1, unit: 'month' }], january), ['month']);
    expect([cell.moved, cell.reason]).toEqual([[], 'Sales are complete from 2025-01-01 on, and this would need earlier days.']);
    const targets = factNamed(workedDataset, 'targets');
    const half = [{ first: dayOf('2026-02-01'), last: dayOf('2026-02-10') }];
    const asked = question([{ kind: 'back', amount: 1, unit: 'month' }], half, { fact: targets });
    expect(targetsOf(asked, ['day'])).toMatchObject({
      targets: [],
      reason: 'Targets are kept by months, and these dates are not whole ones.',
    });
  });
});

describe('conditions on a fact', () => {
  const year: Filter = { op: 'in', field: 'year', values: ['2026'] };
  const region: Filter = { op: 'in', field: 'region', values: ['Nordic'] };

  it('are cut into those on dates and the rest', () => {
    expect(splitDates(workedDataset, sales, calendar, { op: 'and', items: [year, region] })).toEqual({
      dates: year,
      rest: region,
      mixed: false,
    });
    expect(splitDates(workedDataset, sales, calendar, { op: 'not', item: year })).toMatchObject({
      dates: { op: 'not', item: year },
      rest: null,
    });
    expect(splitDates(workedDataset, sales, calendar, null)).toEqual({ dates: null, rest: null, mixed: false });
  });

  it('that speak of dates and of something else at once have no dates to tell', () => {
    const either: Filter = { op: 'or', items: [year, region] };
    expect(splitDates(workedDataset, sales, calendar, either)).toEqual({ dates: null, rest: either, mixed: true });
  });

  it('choose the calendar whose dates move: that of the axes, then that of the conditions, then the first', () => {
    const [shipped] = calendarsOf({
      ...workedDataset,
      dimensions: [
        { ...calendar, name: 'shipping', levels: calendar.levels.map((level) => ({ ...level, name: `shipped_${level.name}` })) },
      ],
    });
    const own = { ...sales, links: [...sales.links, { dimension: 'shipping', column: 'shipped' }] };
    const dataset = { ...workedDataset, dimensions: [...workedDataset.dimensions, shipped], facts: [own] };
    const nameOf = (names: string[], filter: Filter | null): string | undefined => movingCalendar(dataset, own, names, filter)?.name;
    expect(nameOf([], null)).toBe('calendar');
    expect(nameOf(['country', 'shipped_month'], year)).toBe('shipping');
    expect(nameOf(['country'], { op: 'in', field: 'shipped_year', values: ['2026'] })).toBe('shipping');
    expect(nameOf(['country'], region)).toBe('calendar');
    expect(movingCalendar(dataset, { ...own, links: [] }, [], null)).toBeUndefined();
  });
});
