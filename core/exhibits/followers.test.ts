import { describe, expect, it } from 'vitest';
import { crosstabSchema, findMeasure, reportSchema, withReportMeasures, type Crosstab, type Report } from '../model/index.ts';
import { initialReaderScope, promptValues } from '../prompts/index.ts';
import { workedDataset } from '../testing/worked-example.ts';
import { exhibitAsChosen, measuresOfReport } from './index.ts';

/** What a reader chooses another measure for: shares, growth and differences beside it are of that one then. */

const own = (name: string, label: string, formula: string, kind: 'number' | 'percent' = 'number') => ({
  ...{ name, label, formula, direction: 'higher' as const },
  format: { kind, decimals: 1, unit: 'one' as const },
});
const dataset = {
  ...workedDataset,
  measures: [
    ...workedDataset.measures,
    own('share_of_net', 'Share of net', 'share(net)', 'percent'),
    own('growth', 'Growth', 'net / (net back 1 year) - 1', 'percent'),
    own('gap', 'Gap', 'net - goal'),
    own('doubled', 'Doubled share', 'share_of_net * 2'),
    own('scaled', 'Scaled', 'net * prompt(net)'),
  ],
};
const CELLS = ['net', 'share_of_net', 'growth', 'gap', 'doubled', 'scaled'];
const report = (part: object = {}): Report =>
  reportSchema.parse({
    ...{ schemaVersion: 1, id: 'r', title: 'R', dataset: dataset.name, pages: [{ id: 'p', title: 'P' }] },
    prompts: [
      { id: 'net', kind: 'number', initial: 2 },
      { id: 'shown', kind: 'measure', measures: ['net', 'cities_sold', 'goal'] },
    ],
    exhibits: [
      crosstabSchema.parse({
        ...{ kind: 'crosstab', id: 't', title: 'Net by region, and net of last year', note: 'Networks are none', page: 'p' },
        ...{ side: { fields: ['region'] }, top: { fields: [] }, cells: CELLS.map((measure) => ({ measure })) },
      }),
    ],
    ...part,
  });

function chosen(measure: string, own = report()): { exhibit: Crosstab; formulas: string[]; labels: string[] } {
  const all = withReportMeasures(dataset, measuresOfReport(own, dataset), promptValues(own, initialReaderScope(own)));
  const exhibit = exhibitAsChosen(own, { shown: [measure] }, own.exhibits[0] as Crosstab, all);
  const measures = exhibit.cells.map(({ measure: name }) => findMeasure(all, name)!);
  return { exhibit, formulas: measures.map(({ formula }) => formula), labels: measures.map(({ label }) => label) };
}

describe('measures that are made of one alone', () => {
  it('are made of the one that is chosen, however many steps away; what is made of others too stays', () => {
    const { formulas, labels } = chosen('cities_sold');
    const cities = findMeasure(dataset, 'cities_sold')!;
    expect(formulas).toEqual([
      cities.formula,
      'share(cities_sold)',
      'cities_sold / (cities_sold back 1 year) - 1',
      'net - goal',
      '"share_of_net of cities_sold" * 2',
      // A prompt of the same name is none of the measures.
      'cities_sold * prompt(net)',
    ]);
    expect(labels[1]).toBe(`Share of ${cities.label[0].toLowerCase()}${cities.label.slice(1)}`);
    expect(labels[2]).toBe(`Growth of ${cities.label.toLowerCase()}`);
  });

  it('are as they were where the first is shown, and there is nothing to add without such a prompt', () => {
    expect(chosen('net').formulas).toEqual(CELLS.map((name) => findMeasure(dataset, name)!.formula));
    expect(measuresOfReport(report({ prompts: [] }), dataset)).toEqual([]);
  });

  it('keep the unit of a share, and leave alone what follows nothing', () => {
    const all = withReportMeasures(dataset, measuresOfReport(report(), dataset));
    expect(findMeasure(all, 'share_of_net of cities_sold')!.format.kind).toBe('percent');
    expect(findMeasure(all, 'gap of cities_sold')).toBeUndefined();
  });
});

describe('titles and notes', () => {
  it('name the measure that is chosen, whole words only', () => {
    const label = findMeasure(dataset, 'cities_sold')!.label;
    const { exhibit } = chosen('cities_sold');
    expect(exhibit.title).toBe(`${label} by region, and ${label[0].toLowerCase()}${label.slice(1)} of last year`);
    expect(exhibit.note).toBe('Networks are none');
    expect(chosen('net').exhibit.title).toBe('Net by region, and net of last year');
  });
});
