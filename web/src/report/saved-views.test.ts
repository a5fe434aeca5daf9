import { describe, expect, it } from 'vitest';
import { queryOf, startingAddress } from './saved-views.ts';

const QUERY = {
  region: ['Nordic', 'Atlantic'],
  'prompt.when': ['to_date', 'year'],
  'territory.side': '1',
  'territory.cell': ['a', 'b'],
  compose: null,
};
const view = (name: string, isStart: boolean) => ({ id: name, name, isStart, query: { region: [name] } });

describe('a saved view', () => {
  it('holds what is chosen, opened and ordered, but no chosen figure', () => {
    expect(queryOf(QUERY)).toEqual({ region: ['Nordic', 'Atlantic'], 'prompt.when': ['to_date', 'year'], 'territory.side': ['1'] });
  });
  it('is the start only where the address says nothing', () => {
    const views = [view('Nordic', false), view('Atlantic', true)];
    expect(startingAddress(views, {})).toEqual({ region: ['Atlantic'] });
    expect(startingAddress(views, { region: 'Alpine' })).toBeNull();
    expect(startingAddress([view('Nordic', false)], {})).toBeNull();
  });
});
