import { mount } from '@vue/test-utils';
import type { CellMarks, LegendLine } from '@bold-compass/core/table';
import { describe, expect, it } from 'vitest';
import BearingNeedle from '../report/BearingNeedle.vue';
import BulletBar from '../report/BulletBar.vue';
import KpiTrend from '../report/KpiTrend.vue';
import CellDrawing from './CellDrawing.vue';
import CrosstabLegend from './CrosstabLegend.vue';
import { hidesFigure, roomBeside } from './layout.ts';

const drawn = (marks: CellMarks) => mount(CellDrawing, { props: { marks } });
const numberOf = (element: { attributes(name: string): string | undefined }, name: string): number => Number(element.attributes(name));

describe('what is drawn with a figure', () => {
  it('is a bar from zero to the value, told apart below zero, with a tick at its target', () => {
    const bar = drawn({ bar: { from: 0.25, to: 0.75, isNegative: true, target: 1 } });
    const rect = bar.get('.bar rect');
    expect(rect.classes()).toContain('negative');
    const half = drawn({ bar: { from: 0, to: 1, isNegative: false, target: null } }).get('.bar rect');
    expect(numberOf(rect, 'width')).toBeCloseTo(numberOf(half, 'width') / 2, 6);
    expect(bar.find('.target').exists()).toBe(true);
  });
  it('is a line that breaks where values are missing, and ends where they end', () => {
    const line = drawn({ sparkline: { draw: 'line', zero: 0, values: [0, 1, null, 0.5, null], hasFigure: false } });
    const path = line.get('.sparkline path').attributes('d')!;
    expect([...path].filter((letter) => letter === 'M')).toHaveLength(2);
    expect([...path].filter((letter) => letter === 'L')).toHaveLength(1);
    const end = path
      .slice(path.lastIndexOf('M') + 1)
      .split(' ')
      .map(Number);
    expect([numberOf(line.get('circle'), 'cx'), numberOf(line.get('circle'), 'cy')]).toEqual(end);
  });
  it('is columns up and down from zero, the last of another colour', () => {
    const columns = drawn({ sparkline: { draw: 'columns', zero: 0.5, values: [1, 0, null, 0.75], hasFigure: false } }).findAll(
      '.sparkline rect',
    );
    expect(columns.map((one) => [one.classes('negative'), one.classes('last')])).toEqual([
      [false, false],
      [true, false],
      [false, true],
    ]);
  });
  it('is an arrow that says by how much', () => {
    const arrow = drawn({ arrow: { turn: -1, isGood: false, words: '−4.0 % on the row before' } }).get('.arrow');
    expect(arrow.attributes('aria-label')).toBe('−4.0 % on the row before');
    expect(arrow.classes()).toContain('bad');
  });
  it('takes room beside the figure, or its place', () => {
    expect(roomBeside({ measure: 'net' })).toBe(0);
    const line = { kind: 'sparkline', draw: 'line', field: 'month', periods: 12, scale: 'own', figure: false } as const;
    const bar = { kind: 'bar', scale: 'column' } as const;
    expect(roomBeside({ measure: 'net', marks: [bar, line] })).toBe(
      roomBeside({ measure: 'net', marks: [bar] }) + roomBeside({ measure: 'net', marks: [line] }),
    );
    expect([hidesFigure({ measure: 'net', marks: [line] }), hidesFigure({ measure: 'net', marks: [{ ...line, figure: true }] })]).toEqual([
      true,
      false,
    ]);
  });
});

describe('a needle', () => {
  it('turns as far as it is told, says its state in words, and is not there without a reading', () => {
    const needle = mount(BearingNeedle, { props: { state: 'far', turn: 150 } });
    expect(needle.get('path').attributes('transform')).toBe('rotate(150 10 10)');
    expect(needle.attributes('aria-label')).toBe('Far off course');
    expect(
      mount(BearingNeedle, { props: { state: 'none' } })
        .find('svg')
        .exists(),
    ).toBe(false);
  });
});

describe('a bullet bar', () => {
  const bar = (value: number | null, target: number | null) =>
    mount(BulletBar, { props: { value, target, limits: [100, 96], state: 'on' } });
  it('has a band for each state, and ends where the value is', () => {
    expect(bar(50, 100).findAll('.band')).toHaveLength(3);
    const [short, long] = [bar(50, 100), bar(100, 100)].map((one) => numberOf(one.get('.value'), 'width'));
    expect(long).toBeCloseTo(2 * short, 6);
    expect(numberOf(bar(100, 100).get('.target'), 'x')).toBeCloseTo(long - 1, 6);
  });
  it('leaves out what is missing', () => {
    const empty = bar(null, null);
    expect([empty.find('.value').exists(), empty.find('.target').exists()]).toEqual([false, false]);
  });
});

describe('a trend', () => {
  const format = { kind: 'number', decimals: 0, unit: 'one' } as const;
  const trend = (values: (number | null)[]) =>
    mount(KpiTrend, { props: { points: values.map((value, index) => ({ label: `month ${index + 1}`, value })), format } });
  it('says from where to where it went, as far as it is known', () => {
    expect(trend([null, 10, 30, null]).get('svg').attributes('aria-label')).toBe('From 10 in month 2 to 30 in month 3');
  });
  it('is not drawn of one value alone', () => {
    expect(trend([null, 10]).find('svg').exists()).toBe(false);
  });
});

describe('a legend', () => {
  const line = (part: Partial<LegendLine>): LegendLine => ({
    mark: null,
    stateOrder: null,
    about: 'Net',
    words: 'On course from 1',
    ...part,
  });
  const legend = (lines: LegendLine[]) =>
    mount(CrosstabLegend, { props: { lines }, global: { stubs: { VBtn: { template: '<button><slot /></button>' } } } });
  it('names each measure once, and orders by the states of the one whose button is pressed', async () => {
    const shown = legend([line({ stateOrder: 'net / target' }), line({ words: 'Bars', mark: { kind: 'bar', scale: 'column' } })]);
    expect(shown.findAll('li').map((one) => one.text())).toEqual(['Net · On course from 1Worst first', 'Bars']);
    await shown.get('button').trigger('click');
    expect(shown.emitted('order')).toEqual([['net / target']]);
  });
});
