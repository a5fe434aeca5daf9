import { chartFigure } from '@bold-compass/core/chart';
import type { Header } from '@bold-compass/core/api';
import { chartSchema } from '@bold-compass/core/model';
import { workedDataset } from '@bold-compass/core/testing/worked-example';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { CanvasTokens } from './tokens.ts';
import { newChart } from './chart-js.ts';
import type { ChartDrawing } from './drawing.ts';
import { labelLines, treemapChart } from './treemap-chart.ts';

const tokens = { ink: '#000', paper: '#fff', sea: '#055', series: ['#111', '#222', '#333'], states: {} } as unknown as CanvasTokens;

/** A tree map of members by their paths. */
function treemap(members: { path: string[]; value: number }[]): ChartDrawing {
  const fields = ['region', 'country'].slice(0, members[0].path.length);
  const exhibit = chartSchema.parse({
    ...{ kind: 'chart', id: 'tree', title: 'Tree', side: { fields }, top: { fields: [] } },
    ...{ cells: [{ measure: 'net' }], chart: { kind: 'treemap' } },
  });
  const head = (path: string[]): Header => ({
    ...{ path, labels: path, role: path.length > 0 ? 'member' : 'total', depth: path.length, open: false, canOpen: false },
  });
  const answer = {
    rows: { total: members.length, from: 0, items: members.map(({ path }) => head(path)) },
    columns: { total: 1, from: 0, items: [head([])] },
    ...{ measures: [], cells: members.map(({ value }) => [value]), root: { path: [], labels: [] }, totals: [null], milliseconds: 0 },
  };
  const figure = chartFigure(workedDataset, exhibit, answer, { locale: 'en-GB', dataTo: '2026-02-28' });
  const room = { width: 600, height: 300, warns: true, chosen: null, view: { zoom: 1, centre: null } };
  return treemapChart({ figure, settings: exhibit.chart, tokens, measures: ['net'], ...room });
}

/** A canvas on which everything may be drawn and nothing is: the library needs one to lay rectangles out. */
function canvas(): HTMLCanvasElement {
  const made = document.createElement('canvas');
  const context: unknown = new Proxy(
    { canvas: made, measureText: (text: string) => ({ width: text.length * 6 }) },
    { get: (own, name) => (name in own ? own[name as keyof typeof own] : () => ({ addColorStop: () => undefined })), set: () => true },
  );
  made.getContext = (() => context) as typeof made.getContext;
  return made;
}

/** The areas of the library's rectangles, in its order. */
function areasOf({ config }: ChartDrawing): number[] {
  const still = { ...(config.options as object), responsive: false, animation: false };
  const chart = newChart(canvas(), { ...(config as object), options: still });
  chart.resize(600, 300);
  const areas = chart.getDatasetMeta(0).data.map((element) => {
    const { width, height } = element as unknown as { width: number; height: number };
    return width * height;
  });
  chart.destroy();
  return areas;
}

const value = fc.integer({ min: 200, max: 999 });
const names = ['2024', '2023', 'Nordic', 'Atlantic'];

describe('rectangles of a tree map', () => {
  it('stand for the member whose value their area is, within groups and without', () => {
    const grouped = fc
      .array(fc.array(value, { minLength: 1, maxLength: 6 }), { minLength: 1, maxLength: 4 })
      .map((groups) => groups.flatMap((own, group) => own.map((one, at) => ({ path: [names[group], `${at}`], value: one }))));
    const plain = fc.array(value, { minLength: 1, maxLength: 12 }).map((own) => own.map((one, at) => ({ path: [`${at}`], value: one })));
    fc.assert(
      fc.property(fc.oneof(grouped, plain), (members) => {
        const drawing = treemap(members);
        const [targets] = drawing.targets;
        const areas = areasOf(drawing);
        expect(areas).toHaveLength(targets.length);
        const seen = targets.flatMap((target, index) => {
          if (!target) return [];
          const side = target.cell!.side;
          const member = members.find(({ path }) => path.join() === side.join())!;
          // Captions and gaps take some of the room of a group, about the same of each of its parts.
          const sisters = members.filter(({ path }) => path.length === 1 || path[0] === side[0]);
          const inGroup = sisters.reduce((sum, one) => sum + one.value, 0);
          const areaOf = (path: readonly string[]): number => areas[targets.findIndex((one) => one?.cell?.side.join() === path.join())];
          const groupArea = sisters.reduce((sum, { path }) => sum + areaOf(path), 0);
          expect(areas[index] / groupArea / (member.value / inGroup)).toBeGreaterThan(0.75);
          expect(areas[index] / groupArea / (member.value / inGroup)).toBeLessThan(1.25);
          return [side.join()];
        });
        expect(seen.toSorted()).toEqual(members.map(({ path }) => path.join()).toSorted());
      }),
      { numRuns: 60, seed: 11 },
    );
  });
});

describe('what is written into a rectangle', () => {
  it('is the name and the value where there is room, then the name, then as much of it as says something', () => {
    expect(labelLines('London Garden Row', '2.6', 160, 60)).toEqual(['London Garden Row', '2.6']);
    expect(labelLines('London Garden Row', '2.6', 100, 60)).toEqual(['London Garden', 'Row', '2.6']);
    expect(labelLines('London Garden Row', '2.6', 100, 42)).toEqual(['London Garden', 'Row']);
    expect(labelLines('London Garden Row', '2.6', 70, 26)).toEqual(['London…']);
    expect(labelLines('London Garden Row', '2.6', 30, 60)).toEqual([]);
    expect(labelLines('London Garden Row', '2.6', 160, 12)).toEqual([]);
  });
});
