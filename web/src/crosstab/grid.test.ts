import type { Header } from '@bold-compass/core/api';
import { CrosstabTable } from '@bold-compass/core/table';
import { axisOver, crosstabSchema, datasetSchema, type Crosstab } from '@bold-compass/core/model';
import { mount } from '@vue/test-utils';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ref } from 'vue';
import definition from '../../../demo/documents/dataset.json';
import type { CrosstabState, Orders } from '../report/url-state.ts';
import { useWidthDrawing } from '../report/width-drawing.ts';
import CrosstabRow from './CrosstabRow.vue';
import GridHead from './GridHead.vue';
import { RowSlots } from './row-slots.ts';
import { useSizes } from './sizes.ts';
import type { Cells } from './windows.ts';

const dataset = datasetSchema.parse(definition);
const exhibitOf = (part: object = {}): Crosstab =>
  crosstabSchema.parse({
    ...{
      kind: 'crosstab',
      id: 't',
      title: 'T',
      blank: 'none',
      drills: [{ report: 'order-lines', label: 'Open', measures: ['net_sales'] }],
    },
    cells: [
      { measure: 'net_sales', heading: 'Net', format: { kind: 'number', decimals: 0, unit: 'one' } },
      { measure: 'units', heading: 'Units', negative: 'colour' },
    ],
    ...{ side: axisOver(['region', 'country']), top: axisOver(['year', 'quarter']) },
    ...part,
  });
const tableOf = (cells: Cells, exhibit = exhibitOf()): CrosstabTable => new CrosstabTable(dataset, exhibit, cells, '2026-10-31', 'en-GB');
const MEASURES = ['net_sales', 'units'];
const header = (path: string[], part: Partial<Header> = {}): Header => ({
  ...{ path, labels: path, role: 'member', depth: path.length, open: false, canOpen: path.length < 2 },
  ...part,
});

/** Figures by row, column and measure; rows and columns that are not told are members of one level. */
function cellsOf(figures: (number | null)[][], part: Partial<Cells> = {}): Cells {
  const columns = part.columns ?? [header(['2025']), header(['2026']), header([], { role: 'total', canOpen: false })];
  return {
    ...{ key: 'k', rowCount: figures.length, columnCount: columns.length, columns },
    rows: figures.map((_, index) => header([`row ${index}`])),
    measures: MEASURES.map((measure) => ({ measure, side: 1, top: 1, available: true, reason: 'Kept by year only.' })),
    value: (row, column, index) => figures[row]?.[column * MEASURES.length + index],
    state: () => null,
    bearing: () => null,
    mark: () => null,
    extremes: MEASURES.map(() => ({ least: 0, most: 9_999, longest: '' })),
    ...part,
  };
}

describe('a row of a cross-tab', () => {
  const row = (cells: Cells, part: object = {}) =>
    mount(CrosstabRow, {
      props: {
        ...{ index: 0, table: tableOf(cells) },
        shown: {
          ...{ columns: [{ index: 0 }, { index: 1 }], columnWidth: 120 },
          offsets: [
            { left: 0, width: 60 },
            { left: 60, width: 50 },
          ],
        },
        rooms: [{ isTight: false }, { isTight: true }],
        parts: [{ text: 'Nordic', left: 0, width: 100, indent: 0, toggle: cells.rows[0] ?? null }],
        ...{ sideWidth: 100, width: 460, top: 58, rowIndex: 3, chosen: -2, focused: -2, idBase: 'g' },
        ...part,
      },
    });
  const texts = (wrapper: ReturnType<typeof row>): string[] => wrapper.findAll('[role=gridcell]').map((cell) => cell.text());

  it('shows its figures, what stands for none and why, and which lead somewhere', () => {
    const wrapper = row(cellsOf([[1_234, -5, null, 0]]));
    expect(texts(wrapper)).toEqual(['1,234', '−5', 'none', '0']);
    const cells = wrapper.findAll('[role=gridcell]');
    expect(cells[2].attributes('title')).toBe('There is no value here. Choose the cell to see why.');
    expect(cells.map((cell) => cell.classes('leads'))).toEqual([true, false, false, false]);
    expect(cells[1].classes()).toContain('warns');
  });
  it('has each figure where its column is, whatever stands before it', () => {
    const places = row(cellsOf([[1, 2, 3, 4]]))
      .findAll('[role=gridcell]')
      .map((cell) => cell.attributes('style')!.match(/-?\d+/g)!.map(Number));
    let end = 0;
    const edges = places.map(([gap, width]) => {
      const left = end + gap;
      end = left + width;
      return [left, width];
    });
    expect(edges).toEqual([
      [0, 60],
      [60, 50],
      [120, 60],
      [180, 50],
    ]);
  });
  it('describes its cells in words, with the arrows that are only drawn', () => {
    const marked = exhibitOf({
      cells: [{ measure: 'net_sales', marks: [{ kind: 'arrow', along: 'rows', threshold: 0 }] }, { measure: 'units' }],
    });
    const cells = cellsOf([[1, 2, null, 4]], { mark: (_row, _column, measure) => (measure === 0 ? [1, 0.04] : null) });
    const shown = row(cells, { table: tableOf(cells, marked) }).findAll('[role=gridcell]');
    expect(shown.map((cell) => cell.attributes('aria-description')?.replaceAll(/\s/g, ' '))).toEqual([
      '+4.0 % on the row before',
      undefined,
      'There is no value here. Choose the cell to see why.; +4.0 % on the row before',
      undefined,
    ]);
  });
  it('says at which grain a figure is kept where it is asked for below that', () => {
    const deep = cellsOf([[null, null, null, null]], { rows: [header(['Nordic', 'Sweden'])] });
    expect(row(deep).get('[role=gridcell]').attributes('title')).toBe('Kept by year only.');
  });
  it('is bare where its figures stand in another line', () => {
    const wrapper = row(cellsOf([[null, null, null, null]], { rows: [header(['Nordic'], { bare: true, open: true })] }));
    expect(texts(wrapper)).toEqual(['', '', '', '']);
    expect(wrapper.get('[role=gridcell]').attributes('title')).toBeUndefined();
  });
  it('tells what it is to those who cannot see it, and which cell is chosen', async () => {
    const wrapper = row(cellsOf([[1, 2, 3, 4]]), { chosen: 2 });
    expect(wrapper.get('[role=row]').attributes()).toMatchObject({ 'aria-rowindex': '3', 'aria-level': '1', 'aria-expanded': 'false' });
    expect(wrapper.findAll('[role=gridcell]').map((cell) => cell.attributes('aria-selected'))).toEqual(['false', 'false', 'true', 'false']);
    await wrapper.findAll('[role=gridcell]')[3].trigger('click');
    await wrapper.get('button').trigger('click');
    expect(wrapper.emitted('choose')).toEqual([[3]]);
    expect(wrapper.emitted('toggle')).toHaveLength(1);
  });
});

describe('the elements of rows', () => {
  const slots = (): ((first: number, count: number, settled?: boolean) => [slot: number, index: number][]) => {
    const own = new RowSlots();
    const rows = (first: number, count: number): number[] => Array.from({ length: count }, (_, index) => first + index);
    return (first, count, settled = false) => own.place(rows(first, count), settled).map(({ slot, index }) => [slot, index]);
  };
  it('are handed from rows that go out of view to those that come in, and stand where they stood', () => {
    const place = slots();
    expect(place(0, 4, true)).toEqual([0, 1, 2, 3].map((index) => [index, index]));
    expect(place(1, 4)).toEqual([
      [0, 4],
      [1, 1],
      [2, 2],
      [3, 3],
    ]);
    expect(place(1, 4, true).map(([, index]) => index)).toEqual([1, 2, 3, 4]);
  });
  it('are one for each row in view, wherever these are, and in reading order when nothing moves', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(500), fc.integer({ min: 1, max: 40 }), fc.boolean()), { minLength: 1 }), (steps) => {
        const place = slots();
        for (const [first, count, settled] of steps) {
          const placed = place(first, count, settled);
          const [taken, indexes] = [placed.map(([slot]) => slot), placed.map(([, index]) => index)];
          expect(new Set(taken).size).toBe(count);
          const wanted = Array.from({ length: count }, (_, index) => first + index);
          expect(settled ? indexes : indexes.toSorted((a, b) => a - b)).toEqual(wanted);
        }
      }),
    );
  });
});

describe('the headings of a cross-tab', () => {
  const exhibit = exhibitOf;
  const head = (own: Crosstab, order: Orders = null, composing = false) => {
    const cells = cellsOf([[1, 2, 3, 4, 5, 6]]);
    const table = tableOf(cells, own);
    const axis = { open: { depth: 0, exceptions: [] }, hideEmpty: true };
    const state: CrosstabState = { side: { ...axis, order }, top: { ...axis, order: null }, cell: null };
    const sizes = useSizes({
      ...{ exhibit: ref(own), cells: ref(cells), measures: ref(table.measures), headings: ref(table.headings) },
      ...{ stacked: ref(table.stacked), depth: ref(2) },
      ...{ ownWidth: () => undefined, narrow: false },
    });
    const drawing = useWidthDrawing(() => undefined);
    return mount(GridHead, {
      global: { stubs: { 'v-icon': true } },
      props: {
        ...{ exhibit: own, cells, state, composing, table, sizes, drawing },
        ...{ columns: [{ index: 0 }, { index: 1 }, { index: 2 }], drawnWidth: () => undefined },
      },
    });
  };
  const orderButtons = (wrapper: ReturnType<typeof head>) => wrapper.findAll('button.order');

  it('order by a measure in a column: largest first, then smallest, then by the labels again', async () => {
    const click = async (order: Orders): Promise<unknown> => {
      const wrapper = head(exhibit(), order);
      // After the labels: two measures of 2025, then those of 2026.
      await orderButtons(wrapper)[3].trigger('click');
      return wrapper.emitted('order')![0][0];
    };
    const by = { by: 'measure' as const, measure: 'net_sales', at: ['2026'] };
    expect(await click(null)).toEqual({ ...by, direction: 'desc' });
    expect(await click({ ...by, direction: 'desc' })).toEqual({ ...by, direction: 'asc' });
    expect(await click({ ...by, direction: 'asc' })).toEqual({ by: 'label', direction: 'asc' });
  });
  it('say which column orders the rows, also where it was composed so', () => {
    const sorted = (wrapper: ReturnType<typeof head>): (string | undefined)[] =>
      wrapper.findAll('[role=columnheader].measure').map((one) => one.attributes('aria-sort'));
    const total = { by: 'measure' as const, measure: 'units', at: [], direction: 'asc' as const };
    expect(sorted(head(exhibit(), total))).toEqual([undefined, undefined, undefined, undefined, undefined, 'ascending']);
    const levels = { region: { order: { by: 'measure', measure: 'net_sales', at: ['2025'], direction: 'desc' } } };
    expect(sorted(head(exhibit({ side: axisOver(['region'], { levels: levels as never }) })))[0]).toBe('descending');
  });
  it('have toggles and totals in words, and handles for widths', async () => {
    const wrapper = head(exhibit());
    expect(wrapper.findAll('.segment').map((one) => one.text())).toEqual(['+ 2025', '+ 2026', 'All years']);
    await wrapper.get('.segment button').trigger('click');
    expect(wrapper.emitted('toggle')![0][0]).toMatchObject({ path: ['2025'] });
    for (const composing of [false, true]) {
      const names = head(exhibit(), null, composing).findAll('[role=separator]');
      expect(names.map((one) => one.attributes('aria-label'))).toEqual(['Width of the labels', 'Width of Net', 'Width of Units']);
    }
  });
  it('have a heading over measures beside each other, in a row of its own, wide enough for its words', () => {
    const words = 'What was sold in showrooms and online together';
    const cells = ['net_sales', 'units'].map((measure) => ({ measure, spanning: words }));
    const wrapper = head(exhibit({ cells }));
    const over = wrapper.findAll('.span');
    expect(over.map((one) => [one.text(), one.attributes('aria-colspan')])).toEqual([0, 1, 2].map(() => [words, '2']));
    expect(parseFloat(over[0].attributes('style')!.match(/width: ([\d.]+)px/)![1])).toBeGreaterThan(words.length * 6);
    const heightOf = (one: typeof wrapper): number => parseFloat(one.attributes('style')!.match(/height: ([\d.]+)px/)![1]);
    expect(heightOf(wrapper) - heightOf(head(exhibit({ cells: cells.map(({ measure }) => ({ measure })) })))).toBe(29);
    // One below the other nothing stands beside anything.
    expect(head(exhibit({ cells, measuresOn: 'side' })).findAll('.span')).toHaveLength(0);
  });
  it('are renamed where they stand while composing, by Enter or by leaving; Escape keeps them', async () => {
    const wrapper = head(exhibit(), null, true);
    const begin = async (): Promise<ReturnType<typeof wrapper.get>> => {
      await wrapper.get('[aria-label="Rename Net"]').trigger('click');
      return wrapper.get('input');
    };
    const input = await begin();
    await input.setValue('Sold');
    await input.trigger('keydown', { key: 'Enter' });
    await (await begin()).setValue('Not this');
    await wrapper.get('input').trigger('keydown', { key: 'Escape' });
    await (await begin()).trigger('blur');
    expect(wrapper.emitted('rename')).toEqual([[0, 'Sold']]);
    expect(head(exhibit()).find('[aria-label^="Rename"]').exists()).toBe(false);
  });
  it('name each level where levels are columns, and leave measures to the rows where these stand there', () => {
    const columns = head(exhibit({ side: axisOver(['region', 'country'], { layout: 'columns' }), measuresOn: 'side' }));
    expect(columns.get('.side-title').text()).toMatch(/^Region\s*Country$/);
    expect(columns.findAll('[role=columnheader].measure button')).toHaveLength(0);
  });
});
