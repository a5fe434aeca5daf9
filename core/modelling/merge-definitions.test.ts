import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { datasetSchema, type Dataset } from '../model/index.ts';
import { workedDataset } from '../testing/worked-example.ts';
import { mergeDefinitions } from './index.ts';

const base = datasetSchema.parse(workedDataset);
type Edit = (dataset: Dataset) => Dataset;
const withFact: Edit = (dataset) => ({
  ...dataset,
  facts: [...dataset.facts, { ...dataset.facts[0], name: 'visits', label: 'Visits', fields: [] }],
});
const relabel =
  (name: string, label: string): Edit =>
  (dataset) => ({ ...dataset, measures: dataset.measures.map((one) => (one.name === name ? { ...one, label } : one)) });
const without =
  (name: string): Edit =>
  (dataset) => ({ ...dataset, measures: dataset.measures.filter((one) => one.name !== name) });
const addMeasure =
  (name: string): Edit =>
  (dataset) => ({ ...dataset, measures: [...dataset.measures, { ...dataset.measures[0], name, label: name }] });

describe('a draft and what was applied since it began', () => {
  it('are put together: a fact that was imported meanwhile stays, and so does the draft', () => {
    const { merged, conflicts } = mergeDefinitions(base, addMeasure('mine')(base), withFact(base));
    expect(merged.facts.map(({ name }) => name)).toEqual([...base.facts.map(({ name }) => name), 'visits']);
    expect(merged.measures.map(({ name }) => name)).toContain('mine');
    expect(conflicts).toEqual([]);
  });

  it('take both changes of different parts of one measure, and removals', () => {
    const [first] = base.measures;
    const describeIt: Edit = (dataset) => ({
      ...dataset,
      measures: dataset.measures.map((one) => (one.name === first.name ? { ...one, description: 'Theirs' } : one)),
    });
    const { merged, conflicts } = mergeDefinitions(base, relabel(first.name, 'Mine')(base), describeIt(base));
    expect(merged.measures[0]).toMatchObject({ label: 'Mine', description: 'Theirs' });
    expect(conflicts).toEqual([]);
    expect(mergeDefinitions(base, base, without(first.name)(base)).merged.measures.map(({ name }) => name)).not.toContain(first.name);
    expect(mergeDefinitions(base, without(first.name)(base), base).merged.measures.map(({ name }) => name)).not.toContain(first.name);
  });

  it('say what both changed in different ways, and keep the draft’s', () => {
    const [first] = base.measures;
    const both = mergeDefinitions(base, relabel(first.name, 'Mine')(base), relabel(first.name, 'Theirs')(base));
    expect(both.merged.measures[0].label).toBe('Mine');
    expect(both.conflicts).toEqual([first.name]);
    expect(mergeDefinitions(base, relabel(first.name, 'Mine')(base), without(first.name)(base)).conflicts).toEqual([first.name]);
    expect(mergeDefinitions(base, without(first.name)(base), relabel(first.name, 'Theirs')(base)).conflicts).toEqual([first.name]);
  });

  it('are what one side made where the other changed nothing, and the same where both did the same', () => {
    const edits = fc.subarray([withFact, addMeasure('a'), addMeasure('b'), relabel(base.measures[0].name, 'New')]);
    fc.assert(
      fc.property(edits, (own) => {
        const changed = own.reduce((dataset, edit) => edit(dataset), base);
        for (const [ours, theirs] of [
          [changed, base],
          [base, changed],
          [changed, changed],
        ])
          expect(mergeDefinitions(base, ours, theirs)).toEqual({ merged: changed, conflicts: [] });
      }),
    );
  });
});
