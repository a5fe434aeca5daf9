import { datasetSchema } from '@bold-compass/core/model';
import { describe, expect, it } from 'vitest';
import definition from '../../../demo/documents/dataset.json';
import { inGroups } from '../shell/choices.ts';
import { groupingFields, measureChoices } from './edges.ts';
import { choicesInGroups } from './field-groups.ts';

const dataset = datasetSchema.parse(definition);
const all = [...measureChoices(dataset), ...groupingFields(dataset)];

describe('fields and measures of the drawer', () => {
  it('stand in their groups, measures first, each once', () => {
    const groups = choicesInGroups(all, '');
    expect(groups[0].group).toBe('Measures');
    expect(groups.map(({ group }) => group)).toEqual([...new Set(all.map(({ group }) => group))]);
    const names = groups.flatMap(({ choices }) => choices.map(({ name }) => name));
    expect(names.toSorted()).toEqual(all.map(({ name }) => name).toSorted());
  });

  it('are found by label, name and description, whatever the case', () => {
    const found = (search: string): string[] => choicesInGroups(all, search).flatMap(({ choices }) => choices.map(({ label }) => label));
    expect(found('NET_SALES')[0]).toBe('Net sales');
    expect(found('NET_SALES').filter((label) => !label.startsWith('Net sales'))).toEqual([]);
    expect(found('pupils_met')).toEqual(['Pupils met']);
    expect(found('  show ')).toContain('Showroom');
    expect(found('cancelled')).toContain('Net sales');
    expect(found('nothing like that')).toEqual([]);
  });
});

describe('choices of a list', () => {
  it('stand under the headings of their groups, those of no group without one', () => {
    const choice = (value: string, group?: string) => ({ value, title: value.toUpperCase(), ...(group ? { group } : {}) });
    const items = inGroups([choice('a', 'First'), choice('b', 'Second'), choice('c', 'First'), choice('d')]);
    expect(items).toEqual([
      { type: 'subheader', title: 'First' },
      choice('a', 'First'),
      choice('c', 'First'),
      { type: 'subheader', title: 'Second' },
      choice('b', 'Second'),
      choice('d'),
    ]);
    expect(inGroups([])).toEqual([]);
  });
});
