import { describe, expect, it } from 'vitest';
import { found, offered } from './found-members.ts';

const member = (id: string, label: string, records: number, under?: string[]) => ({
  ...{ member: id, label, records },
  ...(under ? { under: [under], paths: [under] } : {}),
});

describe('members that are offered', () => {
  const members = [
    member('c1', 'Anna Lindqvist', 0, ['Sweden']),
    member('c2', 'Björn Åberg', 3),
    member('c3', 'Anna Lindqvist', 5, ['Norway']),
    member('c4', 'Lindqvist & Søn', 1),
  ];
  it('have those with records first, and tell namesakes apart', () => {
    expect(offered(members).map(({ member: id, about }) => [id, about])).toEqual([
      ['c2', ''],
      ['c3', 'Norway · c3'],
      ['c4', ''],
      ['c1', 'Sweden · c1'],
    ]);
    expect(offered([member('Lyon', 'Lyon', 1, ['France']), member('Lyon', 'Lyon', 1, ['Other'])]).map(({ about }) => about)).toEqual([
      'France',
      'Other',
    ]);
  });
  it('are found by words in any order, whatever their case and accents, and by what tells them apart', () => {
    const ids = (search: string): string[] => found(offered(members), search).map(({ member: id }) => id);
    expect(ids('lindqvist anna')).toEqual(['c3', 'c1']);
    expect(ids('aberg BJORN')).toEqual(['c2']);
    expect(ids('anna sweden')).toEqual(['c1']);
    expect(ids('  ')).toHaveLength(4);
    expect(ids('anna nobody')).toEqual([]);
  });
  it('are found among 12,000 within a moment', () => {
    const many = offered(Array.from({ length: 12_000 }, (_, index) => member(`c${index}`, `Customer ${index}`, index % 7)));
    expect(many.findIndex(({ records }) => records === 0)).toBe(many.filter(({ records }) => records > 0).length);
    expect(found(many, '11999 customer').map(({ member: id }) => id)).toEqual(['c11999']);
  });
});
