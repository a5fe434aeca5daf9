import { describe, expect, it } from 'vitest';
import type { ChartResponse, Header } from '../api/index.ts';
import { axisOver, chartSchema } from '../model/index.ts';
import { workedDataset } from '../testing/worked-example.ts';
import { chartFigure, shownChart } from './index.ts';

const header = (path: string[]): Header => ({
  ...{ path, labels: path, role: 'member', depth: path.length, open: false, canOpen: false },
});
/** Two regions along the axis, so many years as series. */
function shown(chart: object, view: Parameters<typeof shownChart>[2], playedTo: number | null = null) {
  const years = ['2024', '2025', '2026'];
  const exhibit = chartSchema.parse({
    ...{ kind: 'chart', id: 'c', title: 'C', side: axisOver(['region']), top: axisOver(['year']), cells: [{ measure: 'net' }] },
    chart: { kind: 'bar', ...chart },
  });
  const answer: ChartResponse = {
    rows: { total: 2, from: 0, items: [header(['North']), header(['South'])] },
    columns: { total: 3, from: 0, items: years.map((year) => header([year])) },
    measures: [{ measure: 'net', side: 1, top: 1, available: true, reason: '' }],
    cells: [
      [1, 2, 3],
      [4, 5, 6],
    ],
    ...{ milliseconds: 0, root: { path: [], labels: [] }, totals: [21] },
  };
  const whole = chartFigure(workedDataset, exhibit, answer, { locale: 'en-GB', dataTo: '2026-02-28' });
  return { whole, ...shownChart(whole, exhibit.chart, view, playedTo) };
}

describe('a chart as a reader sees it', () => {
  it('is without the series that they hid, unless none would be left', () => {
    const { whole } = shown({}, { hidden: new Set() });
    const [first, ...others] = whole.series.map(({ key }) => key);
    const hidden = (keys: string[]): boolean[] => shown({}, { hidden: new Set(keys) }).figure.series.map((one) => one.hidden);
    expect(hidden([first])).toEqual([true, false, false]);
    expect(hidden([first, ...others])).toEqual([false, false, false]);
  });

  it('begins with the last period that is over, and goes where the reader goes', () => {
    const at = (period?: string, playedTo: number | null = null): number =>
      shown({ through: {} }, { hidden: new Set(), period }, playedTo).periodAt;
    // 2026 goes on after the last day of the data.
    expect(at()).toBe(1);
    expect(at('2024')).toBe(0);
    expect(at('1999')).toBe(1);
    expect(at('2024', 2)).toBe(2);
    // What was played to is gone where there are fewer periods now.
    expect(at('2024', 7)).toBe(0);
  });

  it('is a chart for each member where that is asked for, and one where it goes through periods', () => {
    expect(shown({}, { hidden: new Set() }).panels).toBeNull();
    expect(shown({ panels: true }, { hidden: new Set() }).panels?.map(({ label }) => label)).toEqual(['2024', '2025', '2026']);
    expect(shown({ panels: true, through: {} }, { hidden: new Set() }).panels).toBeNull();
  });
});
