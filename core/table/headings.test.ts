import type { Header } from '../api/index.ts';
import { axisOver, datasetSchema } from '../model/index.ts';
import { describe, expect, it } from 'vitest';
import definition from '../../demo/documents/dataset.json';
import { canToggle, headSegments, segmentHeader } from './column-headings.ts';
import { headingsOf, openSteps } from './headings.ts';

const dataset = datasetSchema.parse(definition);
const exhibit = { side: axisOver(['region', 'country']), top: axisOver(['year', 'quarter']) };
const words = headingsOf(dataset, exhibit, '2026-10-31');

const header = (path: string[], role: Header['role'] = 'member', part: Partial<Header> = {}): Header => ({
  ...{ path, role, labels: path, depth: path.length, open: role === 'subtotal', canOpen: path.length < 2 },
  ...part,
});

describe('the words of rows and columns', () => {
  it('name members, totals, all others and what is calculated of the shown', () => {
    expect(words.row(header(['Nordic']))).toBe('Nordic');
    expect(words.row(header(['Nordic'], 'subtotal'))).toBe('Nordic total');
    expect(words.row(header([], 'total'))).toBe('All regions');
    expect(words.row(header([], 'summary', { summary: 'median' }))).toBe('Median of visible rows');
    expect(words.row(header(['x'], 'member', { labels: ['All other regions'], others: 3 }))).toBe('All other regions (3)');
    expect([words.side, words.levels]).toEqual(['Territory', ['Region', 'Country']]);
  });

  it('say of a period that is not over yet that its total is to date', () => {
    expect(words.column(header(['2026'], 'subtotal'))).toBe('2026 to date');
    expect(words.column(header(['2025'], 'subtotal'))).toBe('2025 total');
    expect(words.column(header(['2026', '2026-Q3'], 'subtotal', { labels: ['2026', 'Q3'] }))).toBe('Q3 total');
    expect(words.column(header([], 'total'))).toBe('All years');
    expect(headingsOf(dataset, exhibit, '2026-12-31').column(header(['2026'], 'subtotal'))).toBe('2026 total');
  });

  it('are those of an axis without fields too', () => {
    const bare = headingsOf(dataset, { side: axisOver([]), top: axisOver([]) }, '2026-10-31');
    expect([bare.row(header([], 'total')), bare.column(header([], 'total')), bare.side, bare.levels]).toEqual(['All', 'All', '', []]);
  });
});

describe('a heading over several columns', () => {
  const [year, total, quarter, subtotal] = headSegments([
    header(['2026', '2026-Q1'], 'member', { labels: ['2026', 'Q1'] }),
    header(['2026'], 'subtotal'),
    header([], 'total'),
  ]);
  it('opens and closes its own member, which stands open', () => {
    expect(segmentHeader(year)).toMatchObject({ path: ['2026'], depth: 1, role: 'member', open: true, canOpen: true });
    expect(words.segment(year)).toBe('2026');
    expect(segmentHeader(quarter).path).toEqual(['2026', '2026-Q1']);
  });
  it('has a toggle where there is something to open, which totals have not', () => {
    expect([year, total, quarter, subtotal].map(canToggle)).toEqual([true, false, false, false]);
  });
});

describe('the depths an axis opens to', () => {
  it('are its levels; a tree opens as a whole', () => {
    expect(openSteps(dataset, ['region', 'country'])).toEqual([
      { label: 'region', depth: 0 },
      { label: 'country', depth: 1 },
    ]);
    const tree = dataset.dimensions.find((dimension) => dimension.kind === 'table' && dimension.tree)!;
    const levels = tree.levels.map(({ name }) => name);
    const whole = { label: tree.label.toLowerCase(), depth: levels.length - 1 };
    expect(openSteps(dataset, levels)).toEqual([{ label: 'top level', depth: 0 }, whole]);
    expect(openSteps(dataset, ['region', ...levels, 'channel']).map(({ label, depth }) => [label, depth])).toEqual([
      ['region', 0],
      [whole.label, levels.length],
      ['channel', levels.length + 1],
    ]);
  });
});
