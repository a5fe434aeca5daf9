import { crosstabSchema, datasetSchema, reportSchema, type Crosstab, type Measure, type Report } from '@bold-compass/core/model';
import { describe, expect, it } from 'vitest';
import definition from '../../../demo/documents/dataset.json';
import { emptyMeasure, withMeasure, withMeasureIn, withoutMeasure } from './measures.ts';

const dataset = datasetSchema.parse(definition);
const measure = (name: string, formula = 'sum(quantity)'): Measure => ({ ...emptyMeasure(dataset, 'orders'), name, label: name, formula });
const table = (cells: Crosstab['cells']): Crosstab =>
  crosstabSchema.parse({
    kind: 'crosstab',
    id: 'table',
    title: 'Table',
    side: { fields: ['region', 'country'] },
    top: { fields: ['year'] },
    cells,
  });
const reportOf = (exhibit: Crosstab, measures: Measure[] = []): Report =>
  reportSchema.parse({ schemaVersion: 1, id: 'trial', title: 'Trial', dataset: dataset.name, exhibits: [exhibit], measures });
const cellsOf = ({ exhibits: [exhibit] }: Report): Crosstab['cells'] => (exhibit as Crosstab).cells;

describe('a measure of a report', () => {
  it('begins empty, under a name that nothing in the dataset has', () => {
    const first = emptyMeasure(dataset, 'orders');
    expect(first).toMatchObject({ formula: '', fact: 'orders', direction: 'higher' });
    const second = emptyMeasure({ ...dataset, measures: [...dataset.measures, first] }, 'orders');
    expect(second.name).not.toBe(first.name);
  });

  it('takes the place of the one of its name, and stands last where it is new', () => {
    const report = reportOf(table([{ measure: 'net_sales' }]), [measure('own'), measure('other')]);
    const changed = withMeasure(report, measure('own', 'max(quantity)'));
    expect(changed.measures.map(({ name, formula }) => [name, formula])).toEqual([
      ['own', 'max(quantity)'],
      ['other', 'sum(quantity)'],
    ]);
    expect(withMeasure(report, measure('third')).measures.map(({ name }) => name)).toEqual(['own', 'other', 'third']);
  });

  it('is shown beside the measure that it was made from, in that cross-tab alone', () => {
    const exhibit = table([{ measure: 'net_sales' }, { measure: 'units' }]);
    const report = { ...reportOf(exhibit), exhibits: [exhibit, { ...exhibit, id: 'second' }] };
    const changed = withMeasureIn(report, exhibit, measure('own'), 1);
    expect(cellsOf(changed).map((cell) => cell.measure)).toEqual(['net_sales', 'own', 'units']);
    expect((changed.exhibits[1] as Crosstab).cells).toHaveLength(2);
  });

  it('leaves no trace where it is deleted: neither in cells, nor in rows, nor in totals', () => {
    const cells = [{ measure: 'net_sales', levels: { country: 'own', region: 'units' }, total: 'own' }, { measure: 'own' }];
    const changed = withoutMeasure(reportOf(table(cells), [measure('own'), measure('units')]), 'own');
    expect(changed.measures.map(({ name }) => name)).toEqual(['units']);
    expect(cellsOf(changed)).toEqual([{ measure: 'net_sales', levels: { region: 'units' }, total: undefined }]);
    expect(cellsOf(withoutMeasure(changed, 'units'))[0].levels).toBeUndefined();
    expect(JSON.stringify(reportSchema.parse(JSON.parse(JSON.stringify(changed))))).not.toContain('own');
  });
});
