import { describe, expect, it } from 'vitest';
import { branchLines, isUnder } from './branch-lines.ts';

const city = (member: string, country: string, region: string) => ({
  ...{ member, label: member, records: 1, under: [[region, country]], paths: [[region, country]] },
});
const MEMBERS = [city('Stockholm', 'Sweden', 'Nordic'), city('Aarhus', 'Denmark', 'Nordic'), city('Lyon', 'France', 'Atlantic')];
const labels = (opened: string[][], search = ''): string[] =>
  branchLines(MEMBERS, new Set(opened.map((path) => JSON.stringify(path))), search).map(({ label }) => label);

describe('the branches of a hierarchy', () => {
  it('stand in the order of their words, those below only where one is opened', () => {
    expect(labels([])).toEqual(['Atlantic', 'Nordic']);
    expect(labels([['Nordic']])).toEqual(['Atlantic', 'Nordic', 'Denmark', 'Sweden']);
    expect(labels([['Nordic'], ['Nordic', 'Sweden']])).toEqual(['Atlantic', 'Nordic', 'Denmark', 'Sweden', 'Stockholm']);
  });
  it('are found by a search with the way to them', () => {
    expect(labels([], 'lyo')).toEqual(['Atlantic', 'France', 'Lyon']);
    expect(labels([], 'nothing')).toEqual([]);
  });
  it('of an uneven tree go on above the levels that are missing', () => {
    const uneven = [{ member: 'Ada', label: 'Ada', records: 1, under: [['Lead', '']], paths: [['Lead', null]] }];
    const lines = branchLines(uneven, new Set(['["Lead"]']), '');
    expect(lines.map(({ path }) => path)).toEqual([['Lead'], ['Lead', 'Ada']]);
  });
  it('of a tree come from the members of every level, each once', () => {
    const leads = { member: 'Lead', label: 'Lead', records: 3 };
    const below = ['Ada', 'Bo'].map((member) => ({ member, label: member, records: 1, under: [['Lead']], paths: [['Lead']] }));
    const lines = branchLines([leads, ...below], new Set(['["Lead"]']), '');
    expect(lines.map(({ label, path }) => [label, path])).toEqual([
      ['Lead', ['Lead']],
      ['Ada', ['Lead', 'Ada']],
      ['Bo', ['Lead', 'Bo']],
    ]);
  });
  it('are under themselves and what leads to them', () => {
    expect([isUnder(['a', 'b'], ['a']), isUnder(['a'], ['a']), isUnder(['a'], ['a', 'b']), isUnder(['b'], ['a'])]).toEqual([
      true,
      true,
      false,
      false,
    ]);
  });
});
