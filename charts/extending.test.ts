import { CHART_KINDS_BY_NAME, chartFigure, chartSketch, chartWords, misfitOf } from '@bold-compass/core/chart';
import type { ChartResponse, Header } from '@bold-compass/core/api';
import { chartSchema, type Chart, type ChartKindName } from '@bold-compass/core/model';
import { workedDataset } from '@bold-compass/core/testing/worked-example';
import { expect, it } from 'vitest';
import { CHART_VIEWS, chartHeight, drawingOf } from './chart-views.ts';
import type { ChartDrawing, DrawnWith } from './drawing.ts';
import { seriesTarget } from './targets.ts';

/** A chart kind that nobody has heard of, added by the records that DEVELOPERS.md lists and nothing else: poles, drawn from zero. */

const header = (path: string[]): Header => ({
  ...{ path, labels: path, role: path.length > 0 ? 'member' : 'total', depth: path.length, open: false, canOpen: false },
});

it('is described, measured and drawn', async () => {
  const poles = 'poles' as ChartKindName;
  Object.assign(CHART_KINDS_BY_NAME, {
    [poles]: {
      ...CHART_KINDS_BY_NAME.bar,
      ...{ label: 'Poles', lying: false, about: 'Shows members as poles.', misfit: () => null, says: () => ['Poles begin at zero'] },
    },
  });
  Object.assign(CHART_VIEWS, {
    [poles]: {
      drawing: () => (drawn: DrawnWith) => ({
        config: { type: 'bar', data: { labels: [], datasets: [] } },
        targets: drawn.figure.series.map((series) => series.values.map((_, index) => seriesTarget(drawn, series as never, index))),
      }),
      height: () => 321,
    },
  });
  const exhibit: Chart = chartSchema.parse({
    ...{
      kind: 'chart',
      id: 'drawn',
      title: 'Drawn',
      side: { fields: ['region'] },
      top: { fields: [] },
      cells: [{ measure: 'net' }],
      chart: { kind: 'bar' },
    },
  });
  exhibit.chart.kind = poles;
  const answer: ChartResponse = {
    rows: { total: 2, from: 0, items: [header(['Nordic']), header(['Atlantic'])] },
    columns: { total: 1, from: 0, items: [header([])] },
    ...{ measures: [], cells: [[1_150], [900]], root: { path: [], labels: [] }, totals: [null], milliseconds: 0 },
  };
  const figure = chartFigure(workedDataset, exhibit, answer, { locale: 'en-GB', dataTo: '2026-02-28' });
  expect(chartWords(figure)).toMatch(/^Poles by region\. /);
  expect(figure.notes).toEqual(['Poles begin at zero']);
  expect(misfitOf(figure)).toBeNull();
  expect(chartSketch(figure)).toMatchObject({ shape: 'columns', zero: 0, series: [[1, 0.783]] });
  expect(chartHeight(figure, undefined, false)).toBe(321);
  const draw = await drawingOf(poles, {
    map: exhibit.chart.map,
    shapes: () => Promise.reject(new Error('none')),
    hasTiles: () => Promise.resolve(false),
  });
  const drawing: ChartDrawing = draw({ figure, settings: exhibit.chart, measures: ['net'] } as unknown as DrawnWith);
  expect(drawing.targets[0].map((target) => target?.words)).toEqual([
    expect.stringContaining('Nordic'),
    expect.stringContaining('Atlantic'),
  ]);
});
