import type { Header } from '@bold-compass/core/api';
import { describe, expect, it } from 'vitest';
import { bandsOf, labelParts, type LabelContext } from './label-parts.ts';

const member = (path: string[], part: Partial<Header> = {}): Header => ({
  ...{ path, labels: path, role: 'member', depth: path.length, open: false, canOpen: true },
  ...part,
});
const context = (header: Header | undefined, part: Partial<LabelContext> = {}): LabelContext => ({
  header,
  before: undefined,
  words: ({ labels, role }) => `${labels.at(-1) ?? 'All'}${role === 'subtotal' ? ' total' : ''}`,
  ...{ columns: null, repeatLabels: false, levels: 3, width: 200, indent: 19 },
  ...part,
});
const COLUMNS = [
  { left: 0, width: 90 },
  { left: 90, width: 80 },
  { left: 170, width: 70 },
];
const texts = (part: LabelContext): string[] => labelParts(part).map(({ text }) => text);

describe('labels of a tree', () => {
  it('are moved in by their depth, and carry the toggle of their member', () => {
    const nordic = member(['Nordic', 'Sweden']);
    expect(labelParts(context(nordic))).toEqual([{ text: 'Sweden', left: 0, width: 200, toggle: nordic, indent: 19, room: true }]);
    expect(labelParts(context(member([], { role: 'total', canOpen: false })))).toMatchObject([{ text: 'All', indent: 0, room: false }]);
  });
  it('have no toggle on a subtotal below its members, and dots where nothing has come yet', () => {
    expect(labelParts(context(member(['Nordic'], { role: 'subtotal', open: true })))).toMatchObject([
      { text: 'Nordic total', toggle: null },
    ]);
    expect(texts(context(undefined))).toEqual(['…']);
  });
});

describe('labels of levels as columns', () => {
  const columns = COLUMNS;
  it('name each parent once, with its toggle, and repeat it on each row only where that is chosen', () => {
    const [denmark, finland] = [member(['Nordic', 'Denmark']), member(['Nordic', 'Finland'])];
    const first = labelParts(context(denmark, { columns, before: member(['Atlantic'], { role: 'subtotal' }) }));
    expect(first.map(({ text, left }) => [text, left])).toEqual([
      ['Nordic', 0],
      ['Denmark', 90],
    ]);
    expect(first[0].toggle).toMatchObject({ path: ['Nordic'], depth: 1, open: true });
    expect(texts(context(finland, { columns, before: denmark }))).toEqual(['Finland']);
    const repeated = labelParts(context(finland, { columns, before: denmark, repeatLabels: true }));
    expect(repeated.map(({ text, toggle }) => [text, toggle?.path])).toEqual([
      ['Nordic', undefined],
      ['Finland', ['Nordic', 'Finland']],
    ]);
  });
  it('go on below a subtotal inside their parent, and begin anew below that of another', () => {
    const inside = member(['Nordic', 'Denmark'], { role: 'subtotal', open: true });
    expect(texts(context(member(['Nordic', 'Finland']), { columns, before: inside }))).toEqual(['Finland']);
    const other = member(['Atlantic'], { role: 'subtotal', open: true });
    expect(texts(context(member(['Nordic', 'Finland']), { columns, before: other }))).toEqual(['Nordic', 'Finland']);
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
