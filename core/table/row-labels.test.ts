import type { Header } from '../api/index.ts';
import { describe, expect, it } from 'vitest';
import { bandsOf, rowLabels, type LabelContext } from './row-labels.ts';

const member = (path: string[], part: Partial<Header> = {}): Header => ({
  ...{ path, labels: path, role: 'member', depth: path.length, open: false, canOpen: true },
  ...part,
});
const context = (header: Header | undefined, part: Partial<LabelContext> = {}): LabelContext => ({
  header,
  before: undefined,
  words: ({ labels, role }) => `${labels.at(-1) ?? 'All'}${role === 'subtotal' ? ' total' : ''}`,
  ...{ layout: 'tree' as const, repeatLabels: false, levels: 3 },
  ...part,
});
const texts = (part: LabelContext): string[] => rowLabels(part).map(({ text }) => text);

describe('labels of a tree', () => {
  it('are moved in by their depth, and carry the toggle of their member', () => {
    const nordic = member(['Nordic', 'Sweden']);
    expect(rowLabels(context(nordic))).toEqual([{ text: 'Sweden', column: null, toggle: nordic, indent: 1, room: true }]);
    expect(rowLabels(context(member([], { role: 'total', canOpen: false })))).toMatchObject([{ text: 'All', indent: 0, room: false }]);
  });
  it('have no toggle on a subtotal below its members, and dots where nothing has come yet', () => {
    expect(rowLabels(context(member(['Nordic'], { role: 'subtotal', open: true })))).toMatchObject([
      { text: 'Nordic total', toggle: null },
    ]);
    expect(texts(context(undefined))).toEqual(['…']);
  });
});

describe('labels of levels as columns', () => {
  const layout = 'columns' as const;
  it('name each parent once, with its toggle, and repeat it on each row only where that is chosen', () => {
    const [denmark, finland] = [member(['Nordic', 'Denmark']), member(['Nordic', 'Finland'])];
    const first = rowLabels(context(denmark, { layout, before: member(['Atlantic'], { role: 'subtotal' }) }));
    expect(first.map(({ text, column }) => [text, column])).toEqual([
      ['Nordic', 0],
      ['Denmark', 1],
    ]);
    expect(first[0].toggle).toMatchObject({ path: ['Nordic'], depth: 1, open: true });
    expect(texts(context(finland, { layout, before: denmark }))).toEqual(['Finland']);
    const repeated = rowLabels(context(finland, { layout, before: denmark, repeatLabels: true }));
    expect(repeated.map(({ text, toggle }) => [text, toggle?.path])).toEqual([
      ['Nordic', undefined],
      ['Finland', ['Nordic', 'Finland']],
    ]);
  });
  it('go on below a subtotal inside their parent, and begin anew below that of another', () => {
    const inside = member(['Nordic', 'Denmark'], { role: 'subtotal', open: true });
    expect(texts(context(member(['Nordic', 'Finland']), { layout, before: inside }))).toEqual(['Finland']);
    const other = member(['Atlantic'], { role: 'subtotal', open: true });
    expect(texts(context(member(['Nordic', 'Finland']), { layout, before: other }))).toEqual(['Nordic', 'Finland']);
  });
});

describe('shades that tell members of a level apart', () => {
  it('turn with each member of the level, and skip what is above it', () => {
    const rows = [member(['a']), member(['a', '1']), member(['b']), member(['c']), undefined, member([], { role: 'total' })];
    expect(bandsOf(rows, 1)).toEqual([false, false, true, false, false, false]);
    expect(bandsOf(rows, 0)).toEqual(rows.map(() => false));
    // Members of one name below different parents are different members.
    expect(bandsOf([member(['a', 'x']), member(['b', 'x']), member(['b', 'y'])], 2)).toEqual([false, true, false]);
  });
});
