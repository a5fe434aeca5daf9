import { describe, expect, it } from 'vitest';
import { crosstabSchema, listSchema, promptSchema, type Exhibit } from '../model/index.ts';
import { workedDataset } from '../testing/worked-example.ts';
import { askableReport, missingNames, withNameRemoved, withNameReplaced } from './index.ts';

const exhibit = crosstabSchema.parse({
  kind: 'crosstab',
  id: 'table',
  title: 'segment',
  side: {
    fields: ['region', 'segment', 'city'],
    levels: { segment: { subtotal: false, order: { by: 'hand', members: ['segment', 'b'] } } },
    order: { by: 'field', field: 'segment', direction: 'asc' },
  },
  top: { fields: ['year'] },
  cells: [{ measure: 'net' }, { measure: 'profit', indicator: { against: { kind: 'measure', measure: 'profit_goal' }, onCourse: 1 } }],
  filter: { op: 'in', field: 'segment', values: ['School'] },
});

describe('an exhibit whose dataset lost names', () => {
  it('says which fields and measures they are', () => {
    expect(missingNames(exhibit, workedDataset)).toEqual({ fields: ['segment'], measures: ['profit', 'profit_goal'] });
    expect(
      missingNames(crosstabSchema.parse({ ...exhibit, side: { fields: ['region'] }, cells: [], filter: null }), workedDataset),
    ).toEqual({
      fields: [],
      measures: [],
    });
  });

  it('takes another name in the place of one, and leaves words and members alone', () => {
    const replaced = withNameReplaced(exhibit, 'segment', 'channel') as typeof exhibit;
    expect(missingNames(replaced, workedDataset).fields).toEqual([]);
    expect(replaced.side.fields).toEqual(['region', 'channel', 'city']);
    expect(replaced.side.levels.channel.order).toEqual({ by: 'hand', members: ['segment', 'b'] });
    expect(replaced.title).toBe('segment');
    expect(replaced.filter).toEqual({ op: 'in', field: 'channel', values: ['School'] });
  });

  it('goes on without a name, wherever it stood', () => {
    const without = ['segment', 'profit', 'profit_goal'].reduce<Exhibit | null>((one, name) => one && withNameRemoved(one, name), exhibit);
    expect(without && missingNames(without, workedDataset)).toEqual({ fields: [], measures: [] });
    expect(without).toMatchObject({ side: { fields: ['region', 'city'], levels: {} }, cells: [{ measure: 'net' }], filter: null });
  });

  it('leaves out of a condition not only a part of it', () => {
    const items = [
      { op: 'in', field: 'segment', values: ['School'] },
      { op: 'in', field: 'region', values: ['Nordic'] },
    ];
    const either = crosstabSchema.parse({ ...exhibit, filter: { op: 'or', items } });
    expect(withNameRemoved(either, 'segment')).toMatchObject({ filter: null });
  });

  it('is nothing without what it is about', () => {
    const list = listSchema.parse({ kind: 'list', id: 'list', title: 'List', fact: 'sales', columns: [{ field: 'segment' }] });
    expect(withNameRemoved(list, 'segment')).toSatisfy(
      (left: Exhibit | null) => left === null || (left.kind === 'list' && left.columns.length === 0),
    );
  });
});

describe('a report whose dataset lost names', () => {
  it('is asked without the prompts for these', () => {
    const prompts = ['segment', 'region'].map((field) => promptSchema.parse({ kind: 'members', id: field, fields: [field] }));
    expect(askableReport({ prompts, pages: [] }, workedDataset).prompts.map(({ id }) => id)).toEqual(['region']);
    const sound = { prompts: prompts.slice(1), pages: [] };
    expect(askableReport(sound, workedDataset)).toBe(sound);
  });
});
