import { workedDataset } from '@bold-compass/core/testing/worked-example';
import { describe, expect, it } from 'vitest';
import { labelledScope } from '../report/member-labels.ts';
import { recordPlace } from './record-place.ts';

const territory = workedDataset.dimensions.find(({ kind }) => kind === 'table')!;
const [level] = territory.levels;

describe('the place of a record', () => {
  const columns = [{ field: level.name }, { field: 'quantity' }, { measure: 'net' }];
  it('is its members, and nothing of its numbers', () => {
    expect(recordPlace(workedDataset, { columns }, ['Nordic', 3, null])).toEqual({ scope: { [level.name]: ['Nordic'] }, where: null });
  });
  it('is a condition where a member is missing', () => {
    expect(recordPlace(workedDataset, { columns }, [null, 3, null])).toEqual({ scope: {}, where: { op: 'empty', field: level.name } });
  });
});

describe('words for chosen members', () => {
  const labelled = {
    ...workedDataset,
    dimensions: workedDataset.dimensions.map((dimension) =>
      dimension.kind === 'table'
        ? { ...dimension, levels: dimension.levels.map((one, index) => (index === 0 ? { ...one, labelColumn: 'words' } : one)) }
        : dimension,
    ),
  };
  it('are asked for only where keys are not what members are called, and some are chosen', () => {
    const scope = { [level.name]: ['1'], [territory.levels[1].name]: ['2'], nothing: ['3'] };
    expect(labelledScope(labelled, scope)).toEqual({ [level.name]: ['1'] });
    expect(labelledScope(labelled, { [level.name]: [] })).toEqual({});
    expect(labelledScope(workedDataset, scope)).toEqual({});
  });
});
