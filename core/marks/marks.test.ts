import { describe, expect, it } from 'vitest';
import { axisOver, crosstabSchema, markSchema, measureNamed, type CellMeasure, type Indicator, type Mark } from '../model/index.ts';
import { cellsOf, CrosstabTable, crosstabLegend } from '../table/index.ts';
import { workedDataset } from '../testing/worked-example.ts';
import { MARK_KINDS, markKindOf, ruleFault, stateMeasure, withMarkMeasures } from './index.ts';

const [measure] = workedDataset.measures;
const tableOf = (cells: Partial<CellMeasure>[]) =>
  crosstabSchema.parse({
    ...{ kind: 'crosstab', id: 'table', title: 'Table', side: { fields: [] }, top: { fields: [] } },
    cells: cells.map((cell) => ({ measure: measure.name, ...cell })),
  });

describe('every kind of mark', () => {
  it('is offered where it says something: arrows between periods, and a sparkline beside its figure', () => {
    const arrow = (side: string[], top: string[]) =>
      MARK_KINDS.arrow.create({ dataset: workedDataset, exhibit: { side: axisOver(side), top: axisOver(top) } });
    expect(arrow(['region'], ['year', 'month'])).toMatchObject({ along: 'columns' });
    expect(arrow(['month'], ['region'])).toMatchObject({ along: 'rows' });
    expect(arrow(['region'], ['channel'])).toBeNull();
    expect(MARK_KINDS.sparkline.create({ dataset: workedDataset, exhibit: { side: axisOver([]), top: axisOver([]) } })).toMatchObject({
      figure: true,
    });
  });
  it('begins as one that its schema takes, and says in the legend what it is', () => {
    const made = Object.values(MARK_KINDS).flatMap(
      (kind) => kind.create({ dataset: workedDataset, exhibit: { side: axisOver([]), top: axisOver(['month']) } }) ?? [],
    );
    expect(made.map(({ kind }) => kind)).toEqual(Object.keys(MARK_KINDS));
    for (const mark of made) {
      expect(markSchema.parse(mark)).toEqual(mark);
      const words = markKindOf(mark).legend(mark, { dataset: workedDataset, measure, locale: 'en-GB' });
      expect(words.length).toBeGreaterThan(5);
      expect(words).not.toMatch(/undefined|NaN/);
    }
  });

  it('is told in the order of the measures, each by its heading where there are several', () => {
    const bar: Mark = { kind: 'bar', scale: 'siblings' };
    const rule: Mark = { kind: 'rule', formula: `${measure.name} > 1`, label: 'Large', tone: 'on', look: 'strong' };
    const lines = crosstabLegend(workedDataset, tableOf([{ heading: 'First', marks: [bar, rule] }, { heading: 'Second' }]), 'en-GB');
    expect(lines.map(({ about, words }) => [about, words])).toEqual([
      ['First', 'Bars: one scale for the members of each parent'],
      ['First', 'Large'],
    ]);
    expect(crosstabLegend(workedDataset, tableOf([{ marks: [bar] }]), 'en-GB')[0].about).toBe('');
  });
});

describe('an indicator in the legend', () => {
  const words = (indicator: Partial<Indicator>): string => {
    const cell = { indicator: { against: { kind: 'none' }, by: 'value', onCourse: 10, direction: 'higher', ...indicator } as Indicator };
    return crosstabLegend(workedDataset, tableOf([cell]), 'en-GB')[0].words;
  };
  it('says from where on a figure is on course, and of what', () => {
    expect(words({ by: 'ratio', against: { kind: 'back', amount: 1, unit: 'year' }, onCourse: 1, drifting: 0.96 })).toBe(
      'On course from 100\u00a0% of the same days a year before, drifting from 96\u00a0%',
    );
    expect(words({ by: 'spread', onCourse: 0.6 })).toBe('On course from 60\u00a0% of the members');
    expect(words({ by: 'ratio', direction: 'band', against: { kind: 'average' }, onCourse: 0.05 })).toContain('within 5\u00a0%');
    expect(words({ by: 'ratio', against: { kind: 'value', value: 2 }, onCourse: 0.975 })).toContain('from 97.5\u00a0% of');
  });
  it('orders members by their state: by the measure itself where all are held against the same', () => {
    const state = (indicator: Partial<Indicator>): string =>
      stateMeasure(workedDataset, {
        measure: measure.name,
        indicator: { against: { kind: 'none' }, by: 'value', onCourse: 10, direction: 'higher', ...indicator } as Indicator,
      })!.formula;
    expect(state({})).toBe(measure.formula);
    expect(state({ direction: 'lower' })).toBe(`0 - (${measure.name})`);
    expect(state({ by: 'ratio', against: { kind: 'measure', measure: 'target' } })).toBe(`${measure.name} / target`);
    expect(state({ by: 'difference', direction: 'band', against: { kind: 'measure', measure: 'target' } })).toBe(
      `0 - abs(${measure.name} - target)`,
    );
  });
});

describe('rules', () => {
  it('are conditions; what is none, or names nothing, is told with the reason', () => {
    expect(ruleFault(workedDataset, `${measure.name} > 1 and not is_total()`)).toBeNull();
    for (const wrong of [measure.name, `${measure.name} >`, 'nothing_like_this > 1', `${measure.name} > 'a'`, ''])
      expect(ruleFault(workedDataset, wrong)).toMatch(/\S/);
  });
  it('are measures of the dataset while a cross-tab is answered, each once, and of no other', () => {
    const rule: Mark = { kind: 'rule', formula: `${measure.name} > 1`, label: '', tone: 'on', look: 'text' };
    const with2 = withMarkMeasures(workedDataset, tableOf([{ marks: [rule, { ...rule, tone: 'off' }] }]).cells);
    expect(with2.measures).toHaveLength(workedDataset.measures.length + 1);
    expect(measureNamed(with2, `if(${rule.formula}, 1, 0)`).formula).toBe(`if(${rule.formula}, 1, 0)`);
    expect(withMarkMeasures(workedDataset, tableOf([{}]).cells)).toBe(workedDataset);
  });
});

describe('marks in a table', () => {
  const header = { path: [], labels: [], role: 'total' as const, depth: 0, open: false, canOpen: false };
  const drawn = (marks: Mark[], values: (number[] | null)[], value = 5) => {
    const exhibit = tableOf([{ marks }]);
    const answer = {
      rows: { total: 1, from: 0, items: [header] },
      columns: { total: 1, from: 0, items: [header] },
      measures: [{ measure: measure.name, side: 0, top: 0, reason: '', available: true }],
      cells: [[value]],
      marks: values.map((numbers, index) => ({ measure: 0, index, values: [[numbers]] })),
      milliseconds: 0,
    };
    return new CrosstabTable(workedDataset, exhibit, cellsOf(answer), '2026-10-31', 'en-GB').cell(0, 0, 0).marks;
  };
  const rule = (tone: 'on' | 'off'): Mark => ({ kind: 'rule', formula: `${measure.name} > 1`, label: tone, tone, look: 'text' });

  it('are of several rules the first that holds', () => {
    expect(drawn([rule('off'), rule('on')], [[1], [1]])?.rule?.tone).toBe('off');
    expect(drawn([rule('off'), rule('on')], [null, [1]])?.rule?.tone).toBe('on');
    expect(drawn([rule('off')], [null])).toBeNull();
  });
  it('are bars, told apart where negative, and lines with gaps', () => {
    expect(drawn([{ kind: 'bar', scale: 'column' }], [[0.2, 0.5]], -5)?.bar).toEqual({
      from: 0.2,
      to: 0.5,
      isNegative: true,
      target: null,
    });
    const line: Mark = { kind: 'sparkline', draw: 'line', field: 'month', periods: 3, scale: 'own', figure: false };
    expect(drawn([line], [[0, 0.5, -1, 1]])?.sparkline).toEqual({ draw: 'line', zero: 0, values: [0.5, null, 1], hasFigure: false });
  });
  it('are arrows that say by how much, good where more is better', () => {
    const arrow: Mark = { kind: 'arrow', along: 'columns', threshold: 0.02 };
    expect(drawn([arrow], [[1, 0.105]])?.arrow).toEqual({ turn: 1, isGood: true, words: '+10.5\u00a0% on the column before' });
    expect(drawn([arrow], [[0, 0.01]])?.arrow?.isGood).toBeNull();
    expect(drawn([arrow], [[-1, -0.2]])?.arrow?.isGood).toBe(false);
  });
});
