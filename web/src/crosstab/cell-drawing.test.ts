import { mount } from '@vue/test-utils';
import type { CellMarks, LegendLine } from '@bold-compass/core/table';
import { describe, expect, it } from 'vitest';
import BearingNeedle from '../report/BearingNeedle.vue';
import BulletBar from '../report/BulletBar.vue';
import KpiTrend from '../report/KpiTrend.vue';
import CrosstabLegend from './CrosstabLegend.vue';
import { hidesFigure, roomBeside, ROW_HEIGHT } from './layout.ts';
import { markShapes, type MarkShape } from './mark-shapes.ts';
import { NAMED_INKS as inks } from './testing/named-inks.ts';

const WIDTH = 260;
const drawn = (marks: CellMarks, part: { figure?: number; hasNeedle?: boolean } = {}): MarkShape[] =>
  markShapes({ marks, width: WIDTH, figure: 40, hasNeedle: false, ...part }, inks);
const ofKind = <K extends MarkShape['kind']>(shapes: MarkShape[], kind: K) =>
  shapes.filter((shape): shape is Extract<MarkShape, { kind: K }> => shape.kind === kind);
const numberOf = (element: { attributes(name: string): string | undefined }, name: string): number => Number(element.attributes(name));
/** From where to where shapes reach, sideways. */
function reach(shapes: MarkShape[]): [left: number, right: number] {
  const edges = shapes.flatMap((shape) => {
    if (shape.kind === 'rect') return [shape.x, shape.x + shape.width];
    if (shape.kind === 'dot') return [shape.at[0] - shape.radius, shape.at[0] + shape.radius];
    return shape.lines.flat().map(([x]) => x);
  });
  return [Math.min(...edges), Math.max(...edges)];
}

describe('what is drawn with a figure', () => {
  it('is a bar from zero to the value, told apart below zero, with a tick at its target', () => {
    const [bar, tick] = ofKind(drawn({ bar: { from: 0.25, to: 0.75, isNegative: true, target: 1 } }), 'rect');
    const [whole, none] = ofKind(drawn({ bar: { from: 0, to: 1, isNegative: false, target: null } }), 'rect');
    expect([bar.ink, whole.ink, tick.ink, none]).toEqual(['below', 'bar', 'target', undefined]);
    // A rule may say its colour; one about the figure says nothing of it.
    const ruled = (look: 'bar' | 'text') =>
      ofKind(drawn({ bar: { from: 0, to: 1, isNegative: true, target: null }, rule: { tone: 'on', look, words: '' } }), 'rect')[0].ink;
    expect([ruled('bar'), ruled('text')]).toEqual(['on', 'below']);
    expect(bar.width).toBeCloseTo(whole.width / 2, 6);
    expect(bar.x - whole.x).toBeCloseTo(whole.width / 4, 6);
    expect(tick.x + tick.width / 2).toBeCloseTo(whole.x + whole.width, 6);
  });
  it('is a line that breaks where values are missing, and ends where they end', () => {
    const shapes = drawn({ sparkline: { draw: 'line', zero: 0, values: [0, 1, null, 0.5, null], hasFigure: false } });
    const [line] = ofKind(shapes, 'lines');
    expect(line.lines.map((one) => one.length)).toEqual([2, 1]);
    // One is above zero.
    expect(line.lines[0][1][1]).toBeLessThan(line.lines[0][0][1]);
    expect(ofKind(shapes, 'dot').map(({ at }) => at)).toEqual([line.lines[1][0]]);
    expect(drawn({ sparkline: { draw: 'line', zero: 0, values: [null, null], hasFigure: false } })).toEqual([]);
  });
  it('is columns up and down from zero, the last of another colour', () => {
    const columns = ofKind(drawn({ sparkline: { draw: 'columns', zero: 0.5, values: [1, 0, null, 0.75], hasFigure: false } }), 'rect');
    expect(columns.map(({ ink }) => ink)).toEqual(['column', 'below', 'last']);
    const [up, down] = columns;
    expect(up.y + up.height).toBeCloseTo(down.y, 6);
    expect(up.height).toBeCloseTo(down.height, 6);
  });
  it('is an arrow in the colour of good or bad, or of neither', () => {
    const arrow = (isGood: boolean | null): string => drawn({ arrow: { turn: -1, isGood, words: '−4.0 %' } })[0].ink;
    expect([arrow(true), arrow(false), arrow(null)]).toEqual(['good', 'bad', 'arrow']);
    const [line] = ofKind(drawn({ arrow: { turn: 1, isGood: true, words: '' } }), 'lines');
    const [[x, y], [toX, toY]] = line.lines[0];
    expect(toX > x && toY < y).toBe(true);
  });
  it('is a colour that fills the cell', () => {
    expect(drawn({ shade: { amount: -0.5, colours: 'two' } })).toEqual([
      { kind: 'rect', x: 0, y: 0, width: WIDTH, height: ROW_HEIGHT, ink: 'ground -0.5' },
    ]);
  });
  it('stands beside everything else in the cell, in a column of its own', () => {
    const bar = { from: 0, to: 1, isNegative: false, target: null };
    const sparkline = { draw: 'line' as const, zero: 0, values: [0, 1], hasFigure: true };
    const arrow = { turn: 0 as const, isGood: null, words: '' };
    const all = { bar, sparkline, arrow };
    const [[, barEnds], [lineBegins, lineEnds], [arrowBegins, arrowEnds]] = [{ bar }, { sparkline, arrow }, { arrow }].map((marks) =>
      reach(drawn(marks).filter((shape) => !('arrow' in marks && 'sparkline' in marks) || shape.ink !== 'arrow')),
    );
    expect(barEnds).toBeLessThan(lineBegins);
    expect(lineEnds).toBeLessThan(arrowBegins);
    expect(arrowEnds).toBeLessThanOrEqual(WIDTH - 40);
    expect(drawn(all)).toHaveLength(4);
    // A needle moves them to the left, a figure that is not there lets them come up to the edge.
    expect(reach(drawn({ arrow }, { hasNeedle: true }))[1]).toBeLessThan(arrowEnds);
    expect(reach(drawn({ arrow }, { figure: 0 }))[1]).toBeGreaterThan(arrowEnds);
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
