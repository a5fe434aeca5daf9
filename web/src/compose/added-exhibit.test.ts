import { newExhibit } from '@bold-compass/core/exhibits';
import { datasetSchema, reportSchema, type Report } from '@bold-compass/core/model';
import { describe, expect, it } from 'vitest';
import definition from '../../../demo/documents/dataset.json';
import { withExhibit } from './added-exhibit.ts';
import { askReader } from './prompts.ts';

const dataset = datasetSchema.parse(definition);
const empty = reportSchema.parse({ schemaVersion: 1, id: 'trial', title: 'Trial', dataset: dataset.name, exhibits: [] });
const added = (report: Report, kind: 'kpis' | 'crosstab', own = dataset): Report =>
  withExhibit(report, newExhibit(kind, report, own, undefined)!, own);
const periods = ({ prompts }: Report): unknown[] => prompts.filter(({ kind }) => kind === 'period');

describe('an exhibit that is added', () => {
  it('has a period to be read in where figures look back, that of the whole page if there is nothing else', () => {
    const report = added(empty, 'kpis');
    expect(report.exhibits.map(({ kind }) => kind)).toEqual(['kpis']);
    expect(report.prompts).toEqual([{ id: 'period', kind: 'period', calendar: 'calendar', initial: { last: 1, unit: 'month' } }]);
    expect(report.scopeLine).toEqual([{ text: 'Showing ' }, { prompt: 'period' }, { text: '.' }]);
    expect(reportSchema.parse(report)).toMatchObject({ prompts: report.prompts });
  });
  it('leaves other exhibits as they are', () => {
    const report = added(added(empty, 'crosstab'), 'kpis');
    expect(periods(report)).toMatchObject([{ reach: { pages: [], exhibits: ['figures'] } }]);
  });
  it('asks once, and not where a period is chosen already', () => {
    expect(periods(added(added(empty, 'kpis'), 'kpis'))).toHaveLength(1);
    expect(periods(added(askReader(empty, dataset, ['year']), 'kpis'))).toEqual([]);
    // What is asked of others only does not reach it.
    const limited = askReader(empty, dataset, ['year']);
    const elsewhere = { ...limited, prompts: limited.prompts.map((one) => ({ ...one, reach: { pages: [], exhibits: ['other'] } })) };
    expect(periods(added(elsewhere, 'kpis'))).toHaveLength(1);
  });
  it('asks nothing where nothing looks back, nor of another dataset', () => {
    expect(added(empty, 'crosstab').prompts).toEqual([]);
    expect(added(empty, 'kpis', { ...dataset, name: 'elsewhere' }).prompts).toEqual([]);
    expect(added(empty, 'kpis', { ...dataset, dimensions: dataset.dimensions.filter(({ kind }) => kind !== 'calendar') }).prompts).toEqual(
      [],
    );
  });
});
