import { crosstabSchema, datasetSchema } from '@bold-compass/core/model';
import { CrosstabTable } from '@bold-compass/core/table';
import { mount } from '@vue/test-utils';
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { nextTick } from 'vue';
import definition from '../../../demo/documents/dataset.json';
import GridMarks from './GridMarks.vue';
import { ROW_HEIGHT } from './layout.ts';
import { markShapes, paintShapes, type MarkShape } from './mark-shapes.ts';
import { NAMED_INKS as inks } from './testing/named-inks.ts';
import type { Cells } from './windows.ts';

/** What a canvas shows, as far as rows are concerned: the width of the bar at each offset from its top. */
class Painted {
  bars = new Map<number, number>();
  linesPainted = 0;
  fillStyle = '';
  globalCompositeOperation = 'source-over';
  readonly canvas = { width: 0, height: 0 };
  save = vi.fn();
  restore = (): void => void (this.globalCompositeOperation = 'source-over');
  setTransform = vi.fn();
  drawImage(_image: unknown, _x: number, y: number): void {
    expect(this.globalCompositeOperation).toBe('copy');
    this.bars = new Map([...this.bars].map(([top, width]) => [top + y, width]));
  }
  clearRect(_x: number, y: number, _width: number, height: number): void {
    for (const top of this.bars.keys()) if (top >= y && top < y + height) this.bars.delete(top);
    this.linesPainted++;
  }
  fillRect(_x: number, y: number, width: number): void {
    this.bars.set(y, width);
  }
}

const ROWS = 400;
const dataset = datasetSchema.parse(definition);
const exhibit = crosstabSchema.parse({
  ...{ kind: 'crosstab', id: 't', title: 'T', side: { fields: ['city'] }, top: { fields: [] } },
  cells: [{ measure: 'net_sales', marks: [{ kind: 'bar', scale: 'column' }] }],
});
/** A bar of another length in each row. */
const lengthOf = (row: number): number => ((row * 37) % 101) / 100;
function tableOf(): CrosstabTable {
  const header = (path: string[]) => ({ path, labels: path, role: 'member' as const, depth: path.length, open: false, canOpen: false });
  const cells: Cells = {
    ...{ key: 'k', rowCount: ROWS, columnCount: 1, columns: [{ ...header([]), role: 'total' }] },
    rows: Array.from({ length: ROWS }, (_, row) => header([`row ${row}`])),
    measures: [{ measure: 'net_sales', side: 1, top: 0, available: true, reason: '' }],
    value: (row) => row,
    state: () => null,
    bearing: () => null,
    mark: (row) => [0, lengthOf(row)],
    extremes: [{ least: 0, most: ROWS, longest: '' }],
  };
  return new CrosstabTable(dataset, exhibit, cells, '2026-10-31', 'en-GB');
}
const barOf = (row: number): number => {
  const shapes = markShapes(
    { marks: { bar: { from: 0, to: lengthOf(row), isNegative: false, target: null } }, width: 200, figure: 40, hasNeedle: false },
    inks,
  );
  return shapes[0].kind === 'rect' ? shapes[0].width : Number.NaN;
};

describe('the marks of a cross-tab', () => {
  let painted: Painted;
  beforeEach(() => {
    painted = new Painted();
    vi.spyOn(HTMLCanvasElement.prototype, 'getContext').mockImplementation((() => painted) as never);
  });
  afterEach(() => void vi.restoreAllMocks());
  const table = tableOf();
  const shown = { columns: [{ index: 0 }], columnWidth: 210, offsets: [{ left: 0, width: 200 }] };
  const grid = (first: number, count: number) =>
    mount(GridMarks, { props: { table, first, count, shown, rooms: [{ figure: 40 }], inks, top: 58, left: 120 } });
  const expectRows = (first: number, count: number): void => {
    const inView = [...painted.bars]
      .filter(([top]) => top >= 0 && top < count * ROW_HEIGHT)
      .map(([top, width]) => [Math.floor(top / ROW_HEIGHT), width]);
    expect(inView.toSorted(([a], [b]) => a - b)).toEqual(Array.from({ length: count }, (_, row) => [row, barOf(first + row)]));
  };

  it('are those of the rows in view, however these are scrolled', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.record({ first: fc.nat(ROWS - 40), count: fc.integer({ min: 5, max: 40 }) }), { minLength: 1, maxLength: 12 }),
        async ([start, ...steps]) => {
          painted = new Painted();
          const wrapper = grid(start.first, start.count);
          await nextTick();
          expectRows(start.first, start.count);
          for (const step of steps) {
            // A canvas of another size is empty.
            if (step.count !== wrapper.props('count')) painted.bars.clear();
            await wrapper.setProps(step);
            expectRows(step.first, step.count);
          }
          wrapper.unmount();
        },
      ),
      { numRuns: 60, seed: 3 },
    );
  });

  it('are painted for rows that come in, and moved for those that stay', async () => {
    const wrapper = grid(100, 30);
    await nextTick();
    expect(painted.linesPainted).toBe(30);
    await wrapper.setProps({ first: 106 });
    expect(painted.linesPainted).toBe(36);
    await wrapper.setProps({ first: 300 });
    expect(painted.linesPainted).toBe(66);
    await wrapper.setProps({ inks: { ...inks, bar: 'other' } });
    expect(painted.linesPainted).toBe(96);
    expect(wrapper.attributes('style')).toContain(`top: ${58 + 300 * ROW_HEIGHT}px`);
  });
});

describe('shapes', () => {
  it('are painted where their cell is', () => {
    const calls: unknown[][] = [];
    const note =
      (name: string) =>
      (...args: unknown[]) =>
        void calls.push([name, ...args]);
    const context = Object.fromEntries(
      ['beginPath', 'moveTo', 'lineTo', 'stroke', 'arc', 'fill', 'fillRect'].map((name) => [name, note(name)]),
    ) as unknown as CanvasRenderingContext2D;
    const shapes: MarkShape[] = [
      { kind: 'rect', x: 1, y: 2, width: 3, height: 4, ink: 'a' },
      {
        kind: 'lines',
        lines: [
          [
            [0, 0],
            [5, 5],
          ],
          [[6, 6]],
        ],
        thickness: 1.5,
        ink: 'b',
      },
      { kind: 'dot', at: [7, 8], radius: 2, ink: 'c' },
    ];
    paintShapes(context, shapes, 100, 52);
    expect(calls).toEqual([
      ['fillRect', 101, 54, 3, 4],
      ['beginPath'],
      ['moveTo', 100, 52],
      ['lineTo', 105, 57],
      ['moveTo', 106, 58],
      ['stroke'],
      ['beginPath'],
      ['arc', 107, 60, 2, 0, 2 * Math.PI],
      ['fill'],
    ]);
    expect([context.strokeStyle, context.lineWidth, context.fillStyle]).toEqual(['b', 1.5, 'c']);
  });
});
