import { describe, expect, it } from 'vitest';
import { crosstabSchema } from '../model/index.ts';
import { workedDataset } from '../testing/worked-example.ts';
import { exhibitAsChosen, openByChoice, openByKey } from './index.ts';

const table = workedDataset.dimensions.find((dimension) => dimension.kind === 'table' && dimension.levels.length > 1)!;
const levels = [...table.levels].map(({ name }) => name);
const calendar = workedDataset.dimensions.find(({ kind }) => kind === 'calendar')!;
const year = calendar.levels[0].name;
const exhibit = crosstabSchema.parse({
  ...{ kind: 'crosstab', id: 'table', title: 'Table', side: { fields: levels }, top: { fields: [] } },
  cells: [{ measure: workedDataset.measures[0].name }],
});
const shown = (choices: string[]): string[] =>
  exhibitAsChosen({ prompts: [], pages: [] }, { [openByKey('table')]: choices }, exhibit, workedDataset).side.fields;

describe('members opened by another level', () => {
  it('have it in the place of their own level and those below it of the same hierarchy', () => {
    expect(shown([openByChoice(levels[1], year)])).toEqual([levels[0], year]);
  });
  it('have it alone where it is chosen for one of them, whatever its name holds', () => {
    for (const member of ['Nordic', 'a/b', '100 %', 'x@y>z', null]) {
      const choices = { [openByKey('table')]: [openByChoice(levels[1], year, [member])] };
      const { side } = exhibitAsChosen({ prompts: [], pages: [] }, choices, exhibit, workedDataset);
      expect(side.fields).toEqual(levels);
      expect(side.branches).toEqual([{ path: [member], fields: [levels[0], year] }]);
    }
  });
  it('are no more tables than can be calculated at once', () => {
    const choices = { [openByKey('table')]: Array.from({ length: 500 }, (_, at) => openByChoice(levels[1], year, [`M${at}`])) };
    expect(exhibitAsChosen({ prompts: [], pages: [] }, choices, exhibit, workedDataset).side.branches).toHaveLength(20);
  });
  it('stay as they are where the address names nothing that there is', () => {
    for (const odd of ['', '>', `${levels[1]}>nothing`, `nothing>${year}`, '__proto__>x']) expect(shown([odd])).toEqual(levels);
  });
});
