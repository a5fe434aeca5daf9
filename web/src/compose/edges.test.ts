import { aggregationSchema, datasetSchema, measureNamed, reportSchema, type Crosstab } from '@bold-compass/core/model';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import definition from '../../../demo/documents/dataset.json';
import document from '../../../demo/documents/sales-against-target.json';
import {
  freeMeasures,
  groupingFields,
  moveCell,
  placeField,
  placeMeasure,
  recordFields,
  removeCell,
  removeField,
  setLevel,
  shiftField,
  swapAxes,
} from './edges.ts';
import { askNoLonger, askReader } from './prompts.ts';

const exhibit = reportSchema.parse(document).exhibits.find((one): one is Crosstab => one.kind === 'crosstab')!;

describe('putting a cross-tab together', () => {
  it('keeps each field on one edge, whatever is done', () => {
    const field = fc.constantFrom('region', 'country', 'channel', 'year', 'line');
    const edge = fc.constantFrom('side' as const, 'top' as const);
    const step = fc.oneof(
      fc.record({ do: fc.constant('add' as const), edge, field, at: fc.nat({ max: 4 }) }),
      fc.record({ do: fc.constant('remove' as const), edge, field }),
      fc.record({ do: fc.constant('shift' as const), edge, field, by: fc.constantFrom(-1 as const, 1 as const) }),
      fc.record({ do: fc.constant('swap' as const) }),
    );
    fc.assert(
      fc.property(fc.array(step, { maxLength: 20 }), (steps) => {
        const result = steps.reduce((now, one) => {
          if (one.do === 'swap') return swapAxes(now);
          if (one.do === 'add') return placeField(now, one.edge, one.field, one.at);
          return one.do === 'remove' ? removeField(now, one.edge, one.field) : shiftField(now, one.edge, one.field, one.by);
        }, exhibit);
        const fields = [...result.side.fields, ...result.top.fields];
        expect(new Set(fields).size).toBe(fields.length);
        expect(result.side.openLevels).toBeLessThanOrEqual(Math.max(result.side.fields.length - 1, 0));
      }),
      { seed: 13 },
    );
  });

  it('moves, swaps and keeps what was said of a level', () => {
    expect(placeField(exhibit, 'top', 'region').top.fields).toEqual(['year', 'quarter', 'month', 'region']);
    expect(placeField(exhibit, 'top', 'region', 1).top.fields).toEqual(['year', 'region', 'quarter', 'month']);
    expect(placeField(exhibit, 'side', 'region', 2).side.fields).toEqual(['country', 'region', 'city', 'showroom']);
    expect(shiftField(exhibit, 'side', 'country', -1).side.fields.slice(0, 2)).toEqual(['country', 'region']);
    expect(shiftField(exhibit, 'side', 'country', 1).side.fields).toEqual(['region', 'city', 'country', 'showroom']);
    expect(shiftField(exhibit, 'side', 'region', -1)).toBe(exhibit);
    expect(swapAxes(swapAxes(exhibit))).toEqual(exhibit);
    const bare = setLevel(exhibit, 'side', 'region', { subtotal: false });
    expect(placeField(bare, 'top', 'region').top.levels).toEqual({ region: { subtotal: false } });
    expect(removeField(bare, 'side', 'region').side.levels).toEqual({});
  });

  it('has a measure more than once, each time counted in another way, for as long as there is one', () => {
    const dataset = datasetSchema.parse(definition);
    const [net, units, attainment] = ['net_sales', 'units', 'attainment'].map((name) => measureNamed(dataset, name));
    const counted = (table: Crosstab): (string | undefined)[] =>
      table.cells.filter(({ measure }) => measure === 'net_sales').map(({ aggregation }) => aggregation);
    const often = Array.from({ length: 12 }).reduce<Crosstab>((table) => placeMeasure(table, net), exhibit);
    expect(counted(often)).toEqual([undefined, ...aggregationSchema.options]);
    expect(freeMeasures(dataset, often).map(({ name }) => name)).not.toContain('net_sales');
    // Arithmetic over measures has no aggregate to replace.
    expect(placeMeasure(exhibit, attainment)).toBe(exhibit);
    expect(removeCell(placeMeasure(exhibit, units, 0), 0)).toEqual(exhibit);
    expect(
      moveCell(exhibit, 0, 1)
        .cells.map(({ measure }) => measure)
        .slice(0, 2),
    ).toEqual([exhibit.cells[1].measure, exhibit.cells[0].measure]);
    expect(moveCell(exhibit, 0, -1)).toBe(exhibit);
  });

  it('drops an order by a column that may be gone', () => {
    const ordered: Crosstab = {
      ...exhibit,
      side: { ...exhibit.side, order: { by: 'measure', measure: 'net_sales', at: ['2026'], direction: 'desc' } },
    };
    expect(placeField(ordered, 'side', 'channel').side.order).toEqual({ by: 'label', direction: 'asc' });
  });
});

it('hidden levels are not offered, and folders group those that are', () => {
  const dataset = datasetSchema.parse(definition);
  const [territory] = dataset.dimensions;
  if (territory.kind !== 'table') throw new Error('Territory is a table');
  const levels = territory.levels.map((level) =>
    level.name === 'region' ? { ...level, hidden: true } : level.name === 'city' ? { ...level, folder: 'Places' } : level,
  );
  const offered = groupingFields({ ...dataset, dimensions: [{ ...territory, levels }] });
  expect(offered.filter(({ name }) => ['region', 'country', 'city'].includes(name)).map(({ name, group }) => [name, group])).toEqual([
    ['country', 'Territory'],
    ['city', 'Places'],
  ]);
});

describe('what the reader is asked', () => {
  const dataset = datasetSchema.parse(definition);
  const report = reportSchema.parse(document);
  it('follows the coarser levels of its dimension, or comes at the end of the sentence', () => {
    const finer = askReader(report, dataset, ['showroom']);
    expect(finer.prompts.find(({ id }) => id === 'territory')).toMatchObject({ fields: ['region', 'country', 'city', 'showroom'] });
    const other = askReader(report, dataset, ['line']);
    expect(other.scopeLine.slice(-3)).toEqual([{ text: ', line ' }, { prompt: 'line' }, { text: '.' }]);
    expect(askNoLonger(other, 'line')).toEqual(report);
  });
  it('begins a sentence in an empty report, and leaves none behind', () => {
    const empty = { ...report, prompts: [], scopeLine: [] };
    const asked = askReader(empty, dataset, ['channel']);
    expect(asked.scopeLine).toEqual([{ text: 'Showing ' }, { prompt: 'channel' }, { text: '.' }]);
    expect(askNoLonger(asked, 'channel')).toEqual(empty);
  });
});

it('a list is offered what its records know', () => {
  const dataset = datasetSchema.parse(definition);
  const offered = (fact: string): string[] => recordFields(dataset, fact).map(({ name }) => name);
  expect(offered('orders')).toEqual(expect.arrayContaining(['region', 'unit_price', 'order_number']));
  expect(offered('repairs')).not.toContain('unit_price');
  expect(offered('nothing')).toEqual([]);
});
