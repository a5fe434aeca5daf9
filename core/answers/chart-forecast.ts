import type { ChartResponse, Header } from '../api/index.ts';
import { periodKey, periodRange } from '../calendar/index.ts';
import type { Crosstab, Forecast, Period } from '../model/index.ts';
import { forecastSeries, type SeriesForecast } from '../statistics/index.ts';
import { labelsAt, periodLevels, type PeriodLevel } from './chart-periods.ts';
import { dataDays, type AnswerContext } from './context.ts';

/** Periods in a season of each length; 1 where there is none. */
const SEASONS: Record<Period, number> = {
  ...{ year: 1, half_year: 2, quarter: 4, month: 12, iso_week: 52, day: 7, weekday: 7 },
  ...{ fiscal_year: 1, fiscal_half_year: 2, fiscal_quarter: 4 },
  ...{ week_year: 1, week_quarter: 4, week_month: 12, week: 52 },
};

const rangeOf = ({ period, yearStart }: PeriodLevel, key: string) => periodRange(period, key, yearStart);

/** Each takes its time, and more cannot be told apart with their intervals. */
const MOST_SERIES = 16;

const known = new Map<string, SeriesForecast | null>();
const MOST_KNOWN = 200;

/** Works a forecast out once: a click on a point asks for its chart again. Of many the first are forgotten. */
function remembered(of: unknown[], work: () => SeriesForecast | null): SeriesForecast | null {
  const key = JSON.stringify(of);
  let forecast = known.get(key);
  if (forecast === undefined) {
    if (known.size >= MOST_KNOWN) known.delete(known.keys().next().value!);
    known.set(key, (forecast = work()));
  }
  return forecast;
}

type Forecasts = NonNullable<ChartResponse['forecast']>;

const refused = (problem: string): Forecasts => ({ from: 0, ahead: [], series: [], problem });

/**
 * What comes after the series of a chart through time, each by itself, those that are asked about. A period that is not over, or
 * that is `cut`, is forecast too: what there is of it says nothing yet of the whole.
 */
export function chartForecast(
  context: AnswerContext,
  exhibit: Crosstab,
  rows: readonly Header[],
  cells: ChartResponse['cells'],
  { periods, interval, method }: Forecast,
  { cut = [], isAsked = () => true }: { cut?: readonly boolean[]; isAsked?(at: number): boolean } = {},
): Forecasts {
  const { dataset, locale } = context;
  const depth = rows[0]?.path.length ?? 0;
  const levels = periodLevels(dataset, exhibit.side.fields.slice(0, depth));
  if (!levels) return refused('A forecast needs periods along the axis, and nothing else there.');
  const own = levels[levels.length - 1];
  const ranges = rows.map(({ path }) => rangeOf(own, path.at(-1) ?? ''));
  const { last: dataTo } = dataDays(context.data);
  const isWhole = (at: number): boolean => ranges[at] !== undefined && ranges[at].last <= dataTo && !cut[at];
  // A period that the scope cuts is not whole, at the beginning too.
  const first = ranges.findIndex((_, at) => isWhole(at));
  const end = first < 0 ? 0 : ranges.findIndex((_, at) => at > first && !isWhole(at));
  const known = first < 0 ? [] : ranges.slice(first, end < 0 ? ranges.length : end);
  const gap = known.findIndex((range, index) => index > 0 && known[index - 1]!.last + 1 !== range!.first);
  if (known.length < 4) return refused('There are too few whole periods for a forecast.');
  if (gap > 0) return refused('Periods are missing between those that are shown, so nothing can be forecast.');
  const ahead: Forecasts['ahead'] = [];
  let day = known[known.length - 1]!.last + 1;
  for (let step = 0; step < periods; step++) {
    ahead.push({ labels: labelsAt(levels, day, locale) });
    day = rangeOf(own, periodKey(own.period, day, own.yearStart))!.last + 1;
  }
  const width = cells[0]?.length ?? 0;
  if (width > MOST_SERIES) return refused(`Only charts of at most ${MOST_SERIES} series are forecast. Show fewer of them.`);
  const series = Array.from({ length: width }, (_, at) => {
    if (!isAsked(at)) return null;
    const values = cells.slice(first, first + known.length).map((row) => row[at] ?? null);
    const begins = values.findIndex((value) => value !== null);
    const whole = begins < 0 ? [] : values.slice(begins);
    if (whole.includes(null)) return null;
    return remembered([whole, own.period, periods, interval, method], () =>
      forecastSeries(whole as number[], SEASONS[own.period], periods, interval, method),
    );
  });
  return { from: first + known.length, ahead, series };
}
