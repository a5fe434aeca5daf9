import type { ChartResponse, Header } from '../api/index.ts';
import { periodKey, periodLabel, type Day } from '../calendar/index.ts';
import { axisPeriods, isZeroWithoutRecords, pathKey, type AxisPeriod } from '../crosstab/index.ts';
import { planMeasure } from '../formula/index.ts';
import { allOf, fieldPlace, type ChartSettings, type Crosstab, type Dataset, type Filter, type Period } from '../model/index.ts';
import type { AnswerContext } from './context.ts';

/** A level of periods along an axis. */
export interface PeriodLevel {
  period: Period;
  yearStart: number | undefined;
}

/** The levels of periods along an axis, the outermost first; null where something else is there too. */
export function periodLevels(dataset: Dataset, fields: readonly string[]): PeriodLevel[] | null {
  const levels = fields.flatMap((field): PeriodLevel[] => {
    const place = fieldPlace(dataset, field);
    return place.kind === 'period' && place.level.period !== 'weekday'
      ? [{ period: place.level.period, yearStart: place.dimension.yearStart }]
      : [];
  });
  return levels.length === fields.length && levels.length > 0 ? levels : null;
}

/** The words for the periods of each level that a day is in. */
export const labelsAt = (levels: readonly PeriodLevel[], day: Day, locale: string): string[] =>
  levels.map(({ period, yearStart }, level) => periodLabel(period, periodKey(period, day, yearStart), locale, level > 0));

/** More values than anybody can tell apart, and than a page can draw at once. */
export const MOST_VALUES = 100_000;

type Drawn = Pick<ChartResponse, 'cells' | 'texts' | 'states' | 'bearings'> & { rows: Header[] };

/** What is drawn along an axis of time. */
interface Timed {
  drawn: Drawn;
  /** Whether each period lacks days: those outside the scope, before the first or after the last day of the data. */
  cut: boolean[];
  /** Values that are zero since there are no records. */
  zeros: number;
}

/** Whether periods stand in their own order, all of them. */
function isInOrder({ side, conditions }: Crosstab, fields: readonly string[], order: unknown): boolean {
  const levels = fields.map((field) => side.levels[field]);
  return (
    order === null &&
    conditions.length === 0 &&
    levels.every((level) => {
      const own = level?.order ?? side.order;
      return own.by === 'label' && own.direction === 'asc' && !level?.pick && !level?.classes && !level?.groups?.length;
    })
  );
}

/**
 * Puts all periods of its time along an axis: those without records too. Where the fact of a measure is complete, a sum or a
 * count of no records is zero; all else is a gap. Null where the axis is not one of periods.
 */
export async function alongTime(
  { dataset, data, locale }: AnswerContext,
  exhibit: Crosstab,
  drawn: Drawn,
  {
    scope,
    root,
    order,
    emptyPeriods,
  }: { scope: Filter | null; root: readonly (string | null)[]; order: unknown } & Pick<ChartSettings, 'emptyPeriods'>,
): Promise<Timed | null> {
  const depth = drawn.rows[0]?.path.length ?? 0;
  const fields = exhibit.side.fields.slice(0, depth);
  const levels = periodLevels(dataset, fields);
  if (!levels || drawn.rows.some(({ path }) => path.length !== depth)) return null;
  const filter = allOf(scope, exhibit.filter);
  const plans = exhibit.cells.map(({ measure }) => planMeasure(dataset, measure));
  const facts = [...new Set(plans.flatMap(({ aggregates }) => aggregates.map(({ fact }) => fact)))];
  // What a reader may not see of time is no gap in it.
  const members = await data.members(fields, null);
  const seen = members && new Set(members.map(pathKey));
  const byFact = new Map<string, Map<string, AxisPeriod>>();
  for (const fact of facts) {
    const periods = await axisPeriods(data, dataset, fact, fields, filter);
    if (periods)
      byFact.set(
        fact,
        new Map(
          periods
            .filter(({ path }) => root.every((member, level) => path[level] === member))
            .map((one) => [pathKey(one.path), one] as const)
            .filter(([key]) => seen?.has(key) ?? true),
        ),
      );
  }
  const known = [...byFact.values()];
  if (known.length === 0) return null;
  const isCut = (key: string): boolean => known.every((periods) => periods.get(key)?.isWhole !== true);
  const rows = drawn.rows.map((header, at) => ({ header, at, key: pathKey(header.path) }));
  const isFilled = emptyPeriods !== 'hidden' && isInOrder(exhibit, fields, order);
  const width = drawn.cells[0]?.length ?? 0;
  const lines = isFilled ? withMissing(rows, known, MOST_VALUES / Math.max(1, width), (day) => labelsAt(levels, day, locale)) : rows;
  let zeros = 0;
  const zero = exhibit.cells.map((_, index) => {
    const { cell, aggregates } = plans[index];
    const own = [...new Set(aggregates.map(({ fact }) => fact))];
    const isZero = emptyPeriods === 'zero' && isFilled && isZeroWithoutRecords(cell);
    return (key: string): boolean => isZero && own.every((fact) => byFact.get(fact)?.has(key) === true);
  });
  const cells = lines.map(({ at, key }) =>
    Array.from({ length: width }, (_, index) => {
      const value = drawn.cells[at]?.[index] ?? null;
      if (value !== null || !zero[index % exhibit.cells.length](key)) return value;
      zeros++;
      return 0;
    }),
  );
  const placed = <Value>(of: (Value | null)[][] | undefined): (Value | null)[][] | undefined =>
    of && lines.map(({ at }) => of[at] ?? Array.from({ length: width }, () => null));
  const { texts, states, bearings } = drawn;
  return {
    drawn: {
      ...{ rows: lines.map(({ header }) => header), cells },
      ...(texts ? { texts: placed(texts) } : {}),
      ...(states ? { states: placed(states) } : {}),
      ...(bearings ? { bearings: placed(bearings) } : {}),
    },
    cut: lines.map(({ key }) => isCut(key)),
    zeros,
  };
}

interface Line {
  header: Header;
  /** Its place in the answer; -1 where it has no records. */
  at: number;
  key: string;
}

/** Lines with those of periods that have no records, in order; as they were where these would be more than `most`. */
function withMissing(
  rows: readonly Line[],
  known: readonly ReadonlyMap<string, AxisPeriod>[],
  most: number,
  labels: (day: Day) => string[],
): readonly Line[] {
  const firsts = new Map(known.flatMap((periods) => [...periods].map(([key, { range }]) => [key, range.first] as const)));
  const present = new Set(rows.map(({ key }) => key));
  const missing = [...new Map(known.flatMap((periods) => [...periods]))].filter(([key]) => !present.has(key));
  const sample = rows[0]?.header;
  // A member without a date, or of another calendar, has no place among periods.
  if (!sample || missing.length === 0 || rows.length + missing.length > most || rows.some(({ key }) => !firsts.has(key))) return rows;
  const added = missing.map(([key, { path, range }]) => ({
    ...{ at: -1, key },
    header: { ...sample, path, labels: labels(range.first) },
  }));
  return [...rows, ...added].sort((a, b) => firsts.get(a.key)! - firsts.get(b.key)!);
}
