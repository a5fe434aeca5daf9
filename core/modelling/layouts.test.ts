import { describe, expect, it } from 'vitest';
import { reportFaults } from '../exhibits/index.ts';
import { reportSchema, type Dataset, type Report } from '../model/index.ts';
import { workedDataset } from '../testing/worked-example.ts';
import { lastCompletePeriod, LAYOUTS, startingReport, type LayoutId } from './index.ts';

const made = (layout: LayoutId, dataset: Dataset = workedDataset): Report => startingReport('new', 'New', '', dataset, layout);
const withoutCalendar: Dataset = {
  ...workedDataset,
  dimensions: workedDataset.dimensions.filter(({ kind }) => kind !== 'calendar'),
  measures: workedDataset.measures.filter(({ name }) => name === 'net'),
};
const words = ({ scopeLine }: Report): string => scopeLine.map((piece) => ('text' in piece ? piece.text : `[${piece.prompt}]`)).join('');

describe('a starting layout', () => {
  it.each(LAYOUTS.map(({ id }) => id))('is a document that is sound, with a calendar and without: %s', (layout) => {
    for (const dataset of [workedDataset, withoutCalendar]) {
      const report = made(layout, dataset);
      expect(reportSchema.parse(report)).toEqual(report);
      expect(reportFaults(report, () => dataset)).toEqual([]);
    }
  });

  it('asks for a period that figures have readings in, where there is a calendar', () => {
    const figures = made('figures');
    expect(figures.exhibits.map(({ kind }) => kind)).toEqual(['kpis', 'crosstab']);
    expect(figures.prompts).toMatchObject([
      { kind: 'period', initial: { last: 1, unit: 'month' } },
      { kind: 'members', fields: ['region'] },
    ]);
    expect(words(figures)).toMatch(/^Showing .* for \[period\] and .* \[region\]\.$/);
    expect(made('figures', withoutCalendar).exhibits.map(({ kind }) => kind)).toEqual(['crosstab']);
  });

  it('asks for years and places in a cross-tab, and for nothing on an empty page', () => {
    expect(made('crosstab').prompts.map((prompt) => ('fields' in prompt ? prompt.fields : []))).toEqual([['year'], ['region']]);
    expect(made('empty')).toMatchObject({ prompts: [], scopeLine: [], exhibits: [] });
  });
});

it('the last complete period is a month where there are months, else the next usual one', () => {
  const only = (...periods: string[]): Dataset => ({
    ...workedDataset,
    dimensions: workedDataset.dimensions.map((one) =>
      one.kind === 'calendar' ? { ...one, levels: one.levels.filter(({ period }) => periods.includes(period)) } : one,
    ),
  });
  const unitOf = (dataset: Dataset): unknown => lastCompletePeriod(dataset, 'p')?.initial;
  expect(unitOf(workedDataset)).toEqual({ last: 1, unit: 'month' });
  expect(unitOf(only('year', 'day'))).toEqual({ last: 1, unit: 'year' });
  expect(unitOf(only('day'))).toEqual({ last: 1, unit: 'day' });
  expect(lastCompletePeriod(withoutCalendar, 'p')).toBeNull();
});
