import type { Header } from '@bold-compass/core/api';
import { CrosstabTable } from '@bold-compass/core/table';
import { axisOver, crosstabSchema, datasetSchema } from '@bold-compass/core/model';
import { describe, expect, it } from 'vitest';
import { computed, nextTick, ref, shallowRef } from 'vue';
import definition from '../../../demo/documents/dataset.json';
import type { ChosenCell } from '../report/url-state.ts';
import { NOT_HERE, useGridFocus } from './grid-focus.ts';
import type { Cells } from './windows.ts';

const dataset = datasetSchema.parse(definition);
const header = (path: string[], part: Partial<Header> = {}): Header => ({
  ...{ path, labels: path, role: 'member', depth: path.length, open: false, canOpen: path.length < 2 },
  ...part,
});
const total = header([], { role: 'total', canOpen: false });
const NORDIC = [header(['Atlantic']), header(['Nordic'], { open: true }), header(['Nordic', 'Sweden']), total];

function cellsOf(rows: Header[], columns: Header[], key = 'k'): Cells {
  return {
    ...{ key, rowCount: rows.length, columnCount: columns.length, rows, columns },
    measures: ['net_sales', 'units'].map((measure) => ({ measure, side: 2, top: 1, available: true, reason: '' })),
    value: (row, column, measure) => row * 100 + column * 10 + measure,
    state: () => null,
    bearing: () => null,
    mark: () => null,
    extremes: [],
  };
}

/** A grid of four rows and two columns with two measures, as its keyboard meets it. */
function grid({ measuresOn = 'top' as 'top' | 'side', chosen = null as ChosenCell | null } = {}) {
  const exhibit = crosstabSchema.parse({
    ...{ kind: 'crosstab', id: 't', title: 'T', measuresOn, side: axisOver(['region', 'country']), top: axisOver(['year']) },
    cells: [{ measure: 'net_sales' }, { measure: 'units' }],
  });
  const cells = shallowRef(cellsOf(NORDIC, [header(['2026']), total]));
  const cell = ref<ChosenCell | null>(chosen);
  const log = { chosen: [] as ChosenCell[], toggled: [] as string[][], shown: [] as [number, number | null][], keys: [] as unknown[] };
  const focus = useGridFocus({
    table: computed(() => new CrosstabTable(dataset, exhibit, cells.value, '2026-10-31', 'en-GB')),
    beside: computed(() => (measuresOn === 'side' ? 1 : 2)),
    cells,
    chosen: cell,
    page: () => 3,
    show: (line, column) => log.shown.push([line, column]),
    onChoose: (one) => log.chosen.push((cell.value = one)),
    onToggle: ({ path }) => log.toggled.push(path as string[]),
    onKey: (event, at) => log.keys.push([event.key, at.row?.path, at.column?.path, at.measure]),
  });
  const press = (key: string, part: KeyboardEventInit = {}): KeyboardEvent => {
    const event = new KeyboardEvent('keydown', { key, cancelable: true, ...part });
    Object.defineProperty(event, 'target', { value: document.createElement('div') });
    focus.onKey(event);
    return event;
  };
  const walk = (...keys: string[]): { row: number; column: number } => {
    for (const key of keys) press(key);
    return focus.focus.value;
  };
  return { ...focus, cells, cell, log, press, walk };
}

describe('the keyboard in a cross-tab', () => {
  it('goes over rows, measures and labels, and stays within them', () => {
    const { walk, log, lastColumn } = grid();
    expect(lastColumn.value).toBe(3);
    expect(walk('ArrowUp')).toEqual({ row: 0, column: -1 });
    expect(walk('ArrowDown', 'ArrowDown', 'ArrowRight', 'ArrowRight')).toEqual({ row: 2, column: 1 });
    expect(walk('End', 'ArrowRight')).toEqual({ row: 2, column: 3 });
    expect(walk('PageDown', 'PageDown')).toEqual({ row: 3, column: 3 });
    expect(walk('PageUp', 'Home')).toEqual({ row: 0, column: -1 });
    // Two measures share a column; the labels are shown by scrolling back to them.
    expect(log.shown).toContainEqual([2, 1]);
    expect(log.shown.at(-1)).toEqual([0, null]);
  });

  it('opens and closes members on their labels, and leaves figures alone', () => {
    const { walk, log } = grid();
    walk('ArrowRight');
    expect(log.toggled).toEqual([['Atlantic']]);
    walk('ArrowDown', 'ArrowLeft', ' ');
    expect(log.toggled).toEqual([['Atlantic'], ['Nordic'], ['Nordic']]);
    walk('ArrowDown', 'ArrowRight', ' ');
    expect(log.toggled).toHaveLength(3);
    expect(log.chosen).toEqual([{ side: ['Nordic', 'Sweden'], top: ['2026'], measure: 'net_sales' }]);
  });

  it('takes the choice with it once something is chosen', async () => {
    const { walk, log } = grid({ chosen: { side: ['Atlantic'], top: ['2026'], measure: 'units' } });
    // An open member goes closed by the arrow to the left, so the way to the figures is to the right.
    walk('ArrowDown', 'ArrowRight', 'ArrowRight');
    await nextTick();
    expect(log.chosen.at(-1)).toEqual({ side: ['Nordic'], top: ['2026'], measure: 'units' });
    walk('Home');
    await nextTick();
    expect(log.chosen.at(-1)).toEqual({ side: ['Nordic'], top: ['2026'], measure: 'units' });
  });

  it('hands on the keys it does nothing for, with where they were struck, but none with Ctrl', () => {
    const { press, walk, log } = grid();
    expect(press('ArrowDown').defaultPrevented).toBe(true);
    expect(press('o').defaultPrevented).toBe(false);
    walk('ArrowRight', 'ArrowRight', 'ArrowRight', 'ArrowRight');
    press('Enter');
    press('Enter', { ctrlKey: true });
    expect(log.keys).toEqual([
      ['o', ['Nordic'], undefined, null],
      ['Enter', ['Nordic'], [], 'units'],
    ]);
  });

  it('stays on its member when rows come and go, and within the table when that is gone', async () => {
    const { walk, cells, focus } = grid();
    walk('ArrowDown', 'ArrowDown');
    await nextTick();
    cells.value = cellsOf([header(['Alpine']), ...NORDIC], cells.value.columns as Header[], 'opened');
    await nextTick();
    expect(focus.value).toEqual({ row: 3, column: -1 });
    cells.value = cellsOf([total], [total], 'closed');
    await nextTick();
    expect(focus.value).toEqual({ row: 0, column: -1 });
  });
});

describe('the chosen cell', () => {
  it('is found by its members and its measure, in its row only', () => {
    const { chosenIn } = grid({ chosen: { side: ['Nordic'], top: [], measure: 'units' } });
    expect([0, 1, 2, 3].map(chosenIn)).toEqual([NOT_HERE, 3, NOT_HERE, NOT_HERE]);
  });

  it('is on the line of its measure where measures stand one below the other', () => {
    const { chosenIn, lastColumn } = grid({ measuresOn: 'side', chosen: { side: ['Nordic'], top: [], measure: 'units' } });
    expect(lastColumn.value).toBe(1);
    expect([0, 1, 2, 3, 4, 5].map(chosenIn)).toEqual([NOT_HERE, NOT_HERE, NOT_HERE, 1, NOT_HERE, NOT_HERE]);
  });

  it('is nowhere where its member, column or measure is not shown', () => {
    const nowhere = (cell: ChosenCell): boolean => [0, 1, 2, 3].every((line) => grid({ chosen: cell }).chosenIn(line) === NOT_HERE);
    expect(nowhere({ side: ['Lunar'], top: [], measure: 'units' })).toBe(true);
    expect(nowhere({ side: ['Nordic'], top: ['1999'], measure: 'units' })).toBe(true);
    expect(nowhere({ side: ['Nordic'], top: [], measure: 'attainment' })).toBe(true);
  });
});
