import { crosstabSchema, listSchema, reportSchema, type CellExhibit, type Report } from '@bold-compass/core/model';
import { plainMemberLabel } from '@bold-compass/core/format';
import { workedDataset } from '@bold-compass/core/testing/worked-example';
import { describe, expect, it } from 'vitest';
import { asItStands, standsOtherwise } from './as-it-stands.ts';

const wording = {
  dataset: workedDataset,
  label: plainMemberLabel(workedDataset, 'en-GB'),
  locale: 'en-GB',
  days: { first: 0, last: 20_000 },
};
const report: Report = reportSchema.parse({
  ...{ schemaVersion: 1, id: 'r', title: 'R', dataset: workedDataset.name, pages: [{ id: 'p', title: 'P' }] },
  prompts: [
    { id: 'year', kind: 'members', fields: ['year'], initial: { year: ['2026'] } },
    { id: 'where', kind: 'members', fields: ['region'], start: 'last_visit' },
    { id: 'shown', kind: 'measure', measures: ['net', 'goal'] },
  ],
  exhibits: [
    crosstabSchema.parse({
      ...{ kind: 'crosstab', id: 't', title: 'Table', page: 'p', top: { fields: [] }, cells: [{ measure: 'net' }] },
      side: { fields: ['region', 'city'], levels: { city: { order: { by: 'label', direction: 'desc' } } } },
    }),
  ],
});
const first = { scope: { year: ['2026'] }, choices: {} };
const query = { 't.side-order': ['desc', 'net', ''], 't.side': ['1'] };

describe('a report as it stands while it is composed', () => {
  it('is the same as long as nothing else is chosen, ordered or opened', () => {
    expect(asItStands(report, first, {})).toEqual(report);
    expect(standsOtherwise(report, first, {}, wording)).toEqual([]);
  });
  it('begins with what is chosen, and only where that is something else', () => {
    const now = { scope: { year: ['2025'] }, choices: {} };
    const { prompts } = asItStands(report, now, {});
    expect(prompts[0]).toMatchObject({ initial: { year: ['2025'] } });
    expect(prompts.slice(1)).toEqual(report.prompts.slice(1));
    expect(standsOtherwise(report, now, {}, wording)).toEqual([expect.stringMatching(/: 2025$/)]);
  });
  it('has the order and the open levels of its tables, before those of single levels', () => {
    const [table] = asItStands(report, first, query).exhibits as [CellExhibit];
    expect(table.side.order).toEqual({ by: 'measure', measure: 'net', direction: 'desc', at: [] });
    expect(table.side.openLevels).toBe(1);
    expect(table.side.levels.city?.order).toBeUndefined();
    expect(standsOtherwise(report, first, query, wording)).toEqual(['Table: as it is ordered and opened']);
    // What single members stand open says nothing of the level.
    expect(asItStands(report, first, { 't.side': ['0', 'Nordic'] })).toEqual(report);
  });
  it('has its lists in the order that they are shown in', () => {
    const list = listSchema.parse({
      ...{ kind: 'list', id: 'l', title: 'Lines', page: 'p', fact: 'orders', columns: [{ field: 'region' }, { field: 'city' }] },
      order: [{ field: 'city', direction: 'asc' }],
    });
    const listed: Report = { ...report, exhibits: [list] };
    const ordered = { 'l.order': ['region', 'desc', 'city', 'asc'] };
    expect(asItStands(listed, first, ordered).exhibits[0]).toEqual({
      ...list,
      order: [
        { field: 'region', direction: 'desc' },
        { field: 'city', direction: 'asc' },
      ],
    });
    expect(standsOtherwise(listed, first, ordered, wording)).toEqual(['Lines: as it is ordered']);
    // The order that it has, or one of fields that it does not show, changes nothing.
    for (const words of [
      ['city', 'asc'],
      ['country', 'desc'],
    ])
      expect(asItStands(listed, first, { 'l.order': words })).toEqual(listed);
  });
});
