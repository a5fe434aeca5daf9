import { describe, expect, it } from 'vitest';
import type { CrosstabResponse, Header } from '../api/index.ts';
import { axisOver, crosstabSchema, type Crosstab } from '../model/index.ts';
import { workedDataset } from '../testing/worked-example.ts';
import { cellsOf, CrosstabTable } from './crosstab-table.ts';

const header = (path: string[], part: Partial<Header> = {}): Header => ({
  ...{ path, labels: path, role: 'member', depth: path.length, open: false, canOpen: path.length < 2 },
  ...part,
});
const exhibit = (part: object = {}): Crosstab =>
  crosstabSchema.parse({
    ...{ kind: 'crosstab', id: 't', title: 'T', side: axisOver(['region', 'country']), top: axisOver(['year']) },
    cells: [{ measure: 'net' }, { measure: 'goal', negative: 'parentheses' }],
    ...part,
  });
/** Two regions, the first of them open, over one year and its total. */
const answer: CrosstabResponse = {
  rows: {
    ...{ total: 4, from: 0 },
    items: [
      header(['North'], { open: true }),
      header(['North', 'Sweden']),
      header(['South']),
      header([], { role: 'total', canOpen: false }),
    ],
  },
  columns: { total: 2, from: 0, items: [header(['2026'], { canOpen: false }), header([], { role: 'total', canOpen: false })] },
  measures: [
    { measure: 'net', side: 2, top: 1, available: true, reason: '' },
    { measure: 'goal', side: 1, top: 1, available: true, reason: 'Goals are set per region.' },
  ],
  cells: [
    [10, -4, 10, -4],
    [10, null, 10, null],
    [null, 7, null, 7],
    [10, 3, 10, 3],
  ],
  states: [
    ['on', null, 'on', null],
    [null, null, null, null],
    [null, null, null, null],
    ['off', null, 'off', null],
  ],
  milliseconds: 1,
};
const table = (part: object = {}): CrosstabTable => new CrosstabTable(workedDataset, exhibit(part), cellsOf(answer), '2026-10-31', 'en-GB');

describe('a cross-tab before it is drawn', () => {
  it('has a line for each member, with its labels, and groups of the outermost level', () => {
    const lines = Array.from({ length: table().lineCount }, (_, line) => table().line(line));
    expect(lines.map(({ labels, startsGroup }) => [labels.map(({ text, indent }) => `${indent} ${text}`), startsGroup])).toEqual([
      [['0 North'], false],
      [['1 Sweden'], false],
      [['0 South'], true],
      [['0 All regions'], true],
    ]);
  });

  it('writes figures as their measures say, and says why there is none', () => {
    const cell = (row: number, position: number): unknown[] => {
      const { text, reason, state } = table().cell(row, 0, position);
      return [text, reason, state];
    };
    expect(cell(0, 0)).toEqual(['10', '', 'on']);
    expect(cell(0, 1)).toEqual(['(4)', '', null]);
    expect(cell(1, 1)).toEqual(['–', 'Goals are set per region.', null]);
    expect(cell(2, 0)).toEqual(['–', 'There is no value here. Choose the cell to see why.', null]);
  });

  it('has a line for each measure where these stand one below the other, the labels on the first', () => {
    const stacked = table({ measuresOn: 'side' });
    expect([stacked.lineCount, stacked.linesPerRow]).toEqual([8, 2]);
    const [first, second, third] = [0, 1, 2].map((line) => stacked.line(line));
    expect([first.measure, second.measure, third.measure]).toEqual([0, 1, 0]);
    expect([first.labels.length, second.labels.length, third.row]).toEqual([1, 0, 1]);
  });

  it('shades members of a level in turn, and heads its columns', () => {
    const banded = table({ banding: 'region' });
    expect([0, 1, 2, 3].map((line) => banded.line(line).band)).toEqual([false, false, true, false]);
    expect(banded.segments.map(({ start, count, own }) => [start, count, own])).toEqual([
      [0, 1, true],
      [1, 1, true],
    ]);
    expect(banded.segments.map((segment) => banded.headings.segment(segment))).toEqual(['2026', 'All years']);
  });
});
