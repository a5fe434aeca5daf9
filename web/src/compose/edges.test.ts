import { datasetSchema, reportSchema, type Crosstab } from '@bold-compass/core/model';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import definition from '../../../demo/documents/dataset.json';
import document from '../../../demo/documents/sales-against-target.json';
import { addField, addMeasure, groupingFields, removeField, removeMeasure, setTotal, shiftField, swapAxes } from './edges.ts';

const exhibit = reportSchema.parse(document).exhibits.find((one): one is Crosstab => one.kind === 'crosstab')!;

describe('putting a cross-tab together', () => {
  it('keeps each field on one edge, whatever is done', () => {
    const field = fc.constantFrom('region', 'country', 'channel', 'year', 'line');
    const edge = fc.constantFrom('side' as const, 'top' as const);
    const step = fc.oneof(
      fc.record({ do: fc.constant('add' as const), edge, field }),
      fc.record({ do: fc.constant('remove' as const), edge, field }),
      fc.record({ do: fc.constant('shift' as const), edge, field, by: fc.constantFrom(-1 as const, 1 as const) }),
      fc.record({ do: fc.constant('swap' as const) }),
    );
    fc.assert(
      fc.property(fc.array(step, { maxLength: 20 }), (steps) => {
        const result = steps.reduce((now, one) => {
          if (one.do === 'swap') return swapAxes(now);
          if (one.do === 'add') return addField(now, one.edge, one.field);
          return one.do === 'remove' ? removeField(now, one.edge, one.field) : shiftField(now, one.edge, one.field, one.by);
        }, exhibit);
        const fields = [...result.side.fields, ...result.top.fields];
        expect(new Set(fields).size).toBe(fields.length);
        expect(result.side.openLevels).toBeLessThanOrEqual(Math.max(result.side.fields.length - 1, 0));
      }),
      { seed: 13 },
    );
  });

  it('moves, swaps and totals', () => {
    expect(addField(exhibit, 'top', 'region').top.fields).toEqual(['year', 'quarter', 'month', 'region']);
    expect(shiftField(exhibit, 'side', 'country', -1).side.fields.slice(0, 2)).toEqual(['country', 'region']);
    expect(shiftField(exhibit, 'side', 'region', -1)).toBe(exhibit);
    expect(swapAxes(swapAxes(exhibit))).toEqual(exhibit);
    expect(setTotal(exhibit, 'top', 'never').top.total).toBe('never');
    expect(removeMeasure(addMeasure(exhibit, 'units'), 'units')).toEqual(exhibit);
    expect(addMeasure(exhibit, 'net_sales')).toBe(exhibit);
  });

  it('drops an order by a column that may be gone', () => {
    const ordered: Crosstab = {
      ...exhibit,
      side: { ...exhibit.side, order: { by: 'measure', measure: 'net_sales', at: ['2026'], direction: 'desc' } },
    };
    expect(addField(ordered, 'side', 'channel').side.order).toEqual({ by: 'label', direction: 'asc' });
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
