import { kindOf } from '@bold-compass/core/exhibits';
import { crosstabSchema, reportSchema, varianceSchema, type Exhibit } from '@bold-compass/core/model';
import { describe, expect, it } from 'vitest';
import { withoutHidden } from './hidden-members.ts';

/** Of the members of each field one is seen. */
const SEEN: Record<string, string> = { region: 'Nordic', country: 'Sweden', line: 'Wardrobes', model: 'Fjord' };
const isVisible = (field: string, member: unknown): Promise<boolean> => Promise.resolve(SEEN[field] === member);
/** As `visibleDocument` does it for each exhibit of a report. */
async function seenOf(exhibit: Exhibit): Promise<unknown> {
  const kind = kindOf(exhibit);
  const seen = (await withoutHidden(exhibit, isVisible, kind.axes?.(exhibit) ?? [])) as Exhibit;
  const isVisiblePath = async (fields: readonly string[], path: readonly (string | null)[]): Promise<boolean> =>
    (await Promise.all(path.map((member, level) => isVisible(fields[level], member)))).every(Boolean);
  return kind.withoutHidden?.(seen, isVisiblePath) ?? seen;
}

const order = (...at: string[]) => ({ by: 'measure', measure: 'net_sales', at, direction: 'desc' });
const pick = (...at: string[]) => ({ count: 3, from: 'top', measure: 'net_sales', at, per: 'parent', others: true });
const table = (part: object): Exhibit =>
  crosstabSchema.parse({
    ...{ kind: 'crosstab', id: 'table', title: 'Table', side: { fields: ['line'] }, top: { fields: [] } },
    ...{ cells: [{ measure: 'net_sales' }], ...part },
  });

describe('a table names no member that is not seen', () => {
  it.each([
    ['down the side', 'side', 'top'],
    ['across the top', 'top', 'side'],
  ])('where it is ordered by, cut to or classed at a path %s', async (_where, along, ordered) => {
    const at = (...path: string[]): Exhibit =>
      table({
        [along]: { fields: ['region', 'country'] },
        [ordered]: {
          ...{ fields: ['line', 'model'], order: order(...path) },
          levels: { model: { order: order(...path), pick: pick(...path), classes: { measure: 'net_sales', at: path } } },
        },
      });
    expect(await seenOf(at('Nordic', 'Sweden'))).toEqual(at('Nordic', 'Sweden'));
    expect(await seenOf(at('Nordic', 'Norway'))).toEqual(at());
    expect(await seenOf(at('Atlantic'))).toEqual(at());
  });

  it('in orders by hand, groups and what is taken off them, branches, conditions and links', async () => {
    const named = (regions: string[], countries: string[], branches: string[][]): Exhibit =>
      table({
        side: {
          ...{ fields: ['region', 'country'], order: { by: 'hand', members: regions } },
          branches: branches.map((path) => ({ path, fields: ['region', 'country'] })),
          levels: {
            country: {
              order: { by: 'hand', members: countries },
              groups: [{ id: 'g', label: 'Some', members: countries, less: countries }],
            },
          },
        },
        filter: {
          op: 'or',
          items: [
            { op: 'in', field: 'region', values: regions },
            { op: 'not', item: { op: 'in', field: 'country', values: countries } },
            { op: 'in', field: 'line', values: ['Wardrobes'] },
          ],
        },
      });
    const seen = named(['Nordic'], ['Sweden'], [['Nordic']]);
    expect(await seenOf(named(['Atlantic', 'Nordic'], ['Norway', 'Sweden', 'Ireland'], [['Nordic'], ['Atlantic']]))).toEqual(seen);
    expect(await seenOf(seen)).toEqual(seen);
  });
});

it('what changed names neither of two members that are not seen', async () => {
  const between = (before: string, after: string): Exhibit =>
    varianceSchema.parse({
      ...{ kind: 'variance', id: 'changed', title: 'Changed', measure: 'net_sales', fields: ['line'] },
      between: { field: 'region', before, after },
    });
  expect(await seenOf(between('Nordic', 'Atlantic'))).toEqual(between('Nordic', ''));
  expect(await seenOf(between('Atlantic', 'Nordic'))).toEqual(between('', 'Nordic'));
});

it('prompts begin with no member that is not seen', async () => {
  const prompts = (regions: string[]): unknown =>
    reportSchema.parse({
      ...{ schemaVersion: 1, id: 'r', title: 'R', dataset: 'd', exhibits: [] },
      prompts: [{ kind: 'members', id: 'where', words: '', fields: ['region', 'country'], initial: { region: regions } }],
    }).prompts;
  expect(await withoutHidden(prompts(['Atlantic', 'Nordic']), isVisible, [])).toEqual(prompts(['Nordic']));
});
