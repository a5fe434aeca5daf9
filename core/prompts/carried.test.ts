import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { axisOver, crosstabSchema, promptSchema, webAddressSchema, type Dataset, type Filter } from '../model/index.ts';
import { workedDataset } from '../testing/worked-example.ts';
import { branchPart } from '../crosstab/index.ts';
import { carriedAlong, filledAddress, followedPlace, followersOf, following, openedByLink } from './index.ts';

const link = { label: 'There' };
const asked = {
  scope: { country: ['Sweden'], year: ['2026'] },
  where: {
    op: 'and',
    items: [
      { op: 'empty', field: 'channel' },
      { op: 'gt', field: 'quantity', value: 1 },
    ],
  } satisfies Filter,
};

describe('prompts of a report that a link opens', () => {
  const prompt = (part: object) => promptSchema.parse({ id: 'p', words: '', ...part });
  const opened = (part: object) => openedByLink({ prompts: [prompt(part)] });
  it('leave first choices off that are conditions, so that what was counted is shown', () => {
    expect(opened({ kind: 'text', field: 'country', initial: 'Swe' })).toEqual({ p: [] });
    expect(opened({ kind: 'range', field: 'quantity', initial: { low: 2 } })).toEqual({ p: [] });
    expect(opened({ kind: 'branches', fields: ['region', 'country'], initial: [['Nordic']] })).toEqual({ p: [] });
  });
  it('keep those that have to be chosen, and choices of what is shown', () => {
    expect(opened({ kind: 'text', field: 'country', initial: 'Swe', required: true })).toEqual({});
    expect(opened({ kind: 'measure', measures: ['net_sales', 'units'], initial: 'units' })).toEqual({});
    expect(opened({ kind: 'members', fields: ['region'], initial: { region: ['Nordic'] } })).toEqual({});
  });
});

describe('what a link carries along', () => {
  it('is everything, where nothing else is said', () => {
    expect(carriedAlong(link, asked, workedDataset, null)).toEqual(asked);
  });
  it('goes by another name, also within conditions', () => {
    const pairs = { country: 'ship_to', channel: 'way' };
    expect(carriedAlong({ ...link, pairs }, asked, workedDataset, null)).toEqual({
      scope: { ship_to: ['Sweden'], year: ['2026'] },
      where: {
        op: 'and',
        items: [
          { op: 'empty', field: 'way' },
          { op: 'gt', field: 'quantity', value: 1 },
        ],
      },
    });
    const nested: Filter = { op: 'not', item: { op: 'or', items: [{ op: 'eq', field: 'country', value: 'Norway' }] } };
    expect(carriedAlong({ ...link, pairs }, { scope: {}, where: nested }, workedDataset, null).where).toEqual({
      op: 'not',
      item: { op: 'or', items: [{ op: 'eq', field: 'ship_to', value: 'Norway' }] },
    });
  });
  it('stays behind where it is dropped, with every condition that speaks of it', () => {
    expect(carriedAlong({ ...link, drop: ['country', 'quantity'] }, asked, workedDataset, null)).toEqual({
      scope: { year: ['2026'] },
      where: { op: 'empty', field: 'channel' },
    });
    expect(carriedAlong({ ...link, drop: ['channel', 'quantity'] }, asked, workedDataset, null).where).toBeNull();
  });
  it('finds the level of the same label in another dataset, where there is one only', () => {
    const [own] = workedDataset.dimensions.flatMap((dimension) => (dimension.kind === 'table' ? dimension.levels : []));
    const other = (names: string[]): Dataset => ({
      ...workedDataset,
      dimensions: workedDataset.dimensions.map((dimension) =>
        dimension.kind === 'table' ? { ...dimension, levels: names.map((name) => ({ ...own, name })) } : dimension,
      ),
    });
    const carried = { scope: { [own.name]: ['A'] }, where: null };
    expect(Object.keys(carriedAlong(link, carried, workedDataset, other(['elsewhere'])).scope)).toEqual(['elsewhere']);
    expect(Object.keys(carriedAlong(link, carried, workedDataset, other(['one', 'two'])).scope)).toEqual([own.name]);
  });
});

describe('a web address', () => {
  it('is one of the web or of mail, with its server written out', () => {
    for (const good of ['https://a.example/x?c={country}', 'http://a.example', 'mailto:desk@a.example?subject={country}'])
      expect(webAddressSchema.safeParse(good).success).toBe(true);
    for (const bad of [
      'javascript:alert(1)',
      'https://{country}/x',
      'https://a.example{country}/',
      'data:text/html,x',
      'https://user@{x}',
      '//a.example',
      ' https://a.example',
      'https://a.example\\{x}',
    ])
      expect(webAddressSchema.safeParse(bad).success).toBe(false);
  });
  it('never leads to another server, whatever its values are', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 40 }), (value) => {
        const filled = filledAddress(
          'https://a.example/at/{country}?value={value}#part',
          new Map([
            ['country', value],
            ['value', value],
          ]),
        );
        const url = new URL(filled!);
        expect([url.protocol, url.host]).toEqual(['https:', 'a.example']);
        expect(url.searchParams.get('value')).toBe(value);
      }),
    );
  });
  it('has nothing where a value is not there, and is none with another scheme', () => {
    expect(filledAddress('https://a.example/?c={country}', new Map())).toBe('https://a.example/?c=');
    expect(filledAddress('javascript:alert({country})', new Map())).toBeNull();
  });
});

describe('following a chosen member', () => {
  const table = { side: axisOver(['region', 'country']), top: axisOver(['year']) };
  it('is a scope of both of its paths, and a condition where members are missing', () => {
    expect(followedPlace(table, { side: ['Nordic', null], top: ['2026'] })).toEqual({
      scope: { region: ['Nordic'], year: ['2026'] },
      where: { op: 'empty', field: 'country' },
    });
  });
  it('is nothing at the whole, or where a line stands for several members', () => {
    expect(followedPlace(table, { side: [], top: [] })).toBeNull();
    // Below a member that was opened by a level of its own, the place is one of that level.
    const branched = { ...table, side: { ...table.side, branches: [{ path: ['Nordic'], fields: [table.side.fields[0], 'channel'] }] } };
    expect(followedPlace(branched, { side: ['Nordic', branchPart('channel', 'Online')], top: [] })?.scope).toEqual({
      [table.side.fields[0]]: ['Nordic'],
      channel: ['Online'],
    });
    expect(followedPlace(table, { side: ['Nordic', branchPart('channel', 'Online')], top: [] })).toBeNull();
    expect(followedPlace(table, { side: ['\u0000others'], top: [] })?.scope ?? null).toBeNull();
  });
  it('adds to what the reader chose, and is done by who names the exhibit', () => {
    const place = followedPlace(table, { side: ['Nordic'], top: [] })!;
    expect(following({ scope: { year: ['2025'] }, choices: {}, where: null }, place).scope).toEqual({ year: ['2025'], region: ['Nordic'] });
    const exhibit = (id: string, follows?: string) =>
      crosstabSchema.parse({ kind: 'crosstab', id, title: id, side: { fields: [] }, top: { fields: [] }, cells: [], follows });
    const exhibits = [exhibit('a', 'a'), exhibit('b', 'a'), exhibit('c')];
    expect(followersOf(exhibits, 'a').map(({ id }) => id)).toEqual(['b']);
  });
});
