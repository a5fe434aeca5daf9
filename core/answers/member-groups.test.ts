import { describe, expect, it } from 'vitest';
import { crosstabRequestSchema, type CrosstabResponse, type Explanation } from '../api/index.ts';
import { crosstabSchema, type Crosstab } from '../model/index.ts';
import { withFormulas } from '../testing/formulas.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';
import { ColumnsData, EXHIBIT_QUESTIONS, type AnswerContext } from './index.ts';

/** Members put together under a name, and differences of members. Figures by hand from the records of formulas.md. */

const dataset = withFormulas(workedDataset, ['running(net)', 'rank(net)', 'share(net)', 'net back 1 year']);
const context: AnswerContext = {
  ...{ dataset, data: new ColumnsData(dataset, workedStore()), tables: new Map(), locale: 'en-GB' },
  report: () => Promise.resolve(null),
};
const TOGETHER = { id: 'north', label: 'Sweden and Denmark', members: ['Sweden', 'Denmark'] };
const crosstab = (part: {
  groups: object[];
  field?: string;
  fields?: string[];
  pick?: object;
  cells?: string[];
  totals?: string;
  side?: object;
}): Crosstab =>
  crosstabSchema.parse({
    ...{ kind: 'crosstab', id: 'groups', title: 'Groups', filter: { op: 'in', field: 'year', values: ['2026'] } },
    side: {
      ...{ fields: part.fields ?? ['country'], total: 'always', ...part.side },
      levels: { [part.field ?? 'country']: { groups: part.groups, ...(part.pick ? { pick: part.pick } : {}) } },
    },
    top: { fields: [] },
    cells: (part.cells ?? ['net']).map((measure) => ({ measure, ...(part.totals ? { totals: part.totals } : {}) })),
  });
async function ask<Answer>(exhibit: Crosstab, path: string, part: object): Promise<Answer> {
  const question = EXHIBIT_QUESTIONS.find((one) => one.path === path)!;
  return (await question.answer(context, exhibit, { scope: {}, where: null }, question.request.parse(part))) as Answer;
}
async function lines(exhibit: Crosstab): Promise<[string, ...(number | null)[]][]> {
  const axis = { open: { depth: 9, exceptions: [] }, order: null, hideEmpty: true };
  const window = { from: 0, count: 100 };
  const { rows, cells } = await ask<CrosstabResponse>(
    exhibit,
    'crosstab',
    crosstabRequestSchema.parse({ side: axis, top: axis, rows: window, columns: window }),
  );
  return rows.items.map(({ labels, role, summary }, row) => [summary ?? (role === 'total' ? 'total' : labels.at(-1)!), ...cells[row]]);
}

describe('a group of members', () => {
  it('stands in the place of its members, and the total counts nobody twice', async () => {
    expect(await lines(crosstab({ groups: [{ ...TOGETHER, instead: true }] }))).toEqual([
      ['France', 900],
      ['Sweden and Denmark', 1150],
      ['total', 2050],
    ]);
  });

  it('or beside them, where totals of what is shown leave it out', async () => {
    expect(await lines(crosstab({ groups: [TOGETHER], totals: 'sum' }))).toEqual([
      ['Denmark', 250],
      ['France', 900],
      ['Sweden', 900],
      ['Sweden and Denmark', 1150],
      ['total', 2050],
    ]);
    // In the place of its members it is one of those that are averaged.
    expect((await lines(crosstab({ groups: [{ ...TOGETHER, instead: true }], totals: 'average' }))).at(-1)).toEqual(['total', 1025]);
  });

  it('is calculated from its records: a distinct count and a ratio are none of sums', async () => {
    const [, own] = await lines(
      crosstab({
        groups: [{ id: 'g', label: 'All', members: ['Sweden', 'France'], instead: true }],
        cells: ['cities_sold', 'average_price', 'attainment'],
      }),
    );
    // Stockholm, Malmö and Lyon; 100, 300 and 450; 1,800 of 1,700.
    expect(own[1]).toBe(3);
    expect(own[2]).toBeCloseTo(850 / 3, 10);
    expect(own[3]).toBeCloseTo(1800 / 1700, 10);
  });

  it('stands under each parent that has some of its members', async () => {
    const under = await lines(
      crosstab({ groups: [{ id: 'g', label: 'Both', members: ['Sweden', 'France'], instead: true }], fields: ['region', 'country'] }),
    );
    expect(under).toEqual([
      ['Atlantic', 900],
      ['Both', 900],
      ['Nordic', 1150],
      ['Denmark', 250],
      ['Both', 900],
      ['total', 2050],
    ]);
  });

  it('takes its members out of all others, and is no part of ranks and running totals beside its members', async () => {
    const pick = { count: 1, measure: 'net' };
    expect(await lines(crosstab({ groups: [{ id: 'g', label: 'France alone', members: ['France'], instead: true }], pick }))).toEqual([
      ['Sweden', 900],
      ['France alone', 900],
      ['All other countries', 250],
      ['total', 2050],
    ]);
    expect(await lines(crosstab({ groups: [TOGETHER], cells: ['net', 'running(net)', 'rank(net)'] }))).toEqual([
      ['Denmark', 250, 250, 3],
      ['France', 900, 1150, 1],
      ['Sweden', 900, 2050, 1],
      ['Sweden and Denmark', 1150, null, null],
      ['total', 2050, null, null],
    ]);
  });

  it('has shares and moved dates of its own', async () => {
    const [, own] = await lines(crosstab({ groups: [{ ...TOGETHER, instead: true }], cells: ['share(net)', 'net back 1 year'] }));
    expect(own[1]).toBeCloseTo(1150 / 2050, 12);
    expect(own[2]).toBe(700);
  });
});

describe('a difference of members', () => {
  const difference = { id: 'd', label: 'Sweden less Denmark', members: ['Sweden'], less: ['Denmark'] };
  it('stands beside them, and in no total', async () => {
    expect(await lines(crosstab({ groups: [difference], totals: 'sum' }))).toEqual([
      ['Denmark', 250],
      ['France', 900],
      ['Sweden', 900],
      ['Sweden less Denmark', 650],
      ['total', 2050],
    ]);
    // It cannot stand in the place of its members.
    expect(await lines(crosstab({ groups: [{ ...difference, instead: true }] }))).toHaveLength(5);
  });

  it('is explained by both of its sides, and leads to no records', async () => {
    const exhibit = crosstab({ groups: [difference] });
    const axis = { open: { depth: 9, exceptions: [] }, order: null, hideEmpty: true };
    const window = { from: 0, count: 100 };
    const { rows } = await ask<CrosstabResponse>(exhibit, 'crosstab', { side: axis, top: axis, rows: window, columns: window });
    const place = { side: rows.items[3].path, top: [], measure: 'net' };
    const explained = await ask<Explanation>(exhibit, 'explain', place);
    expect(explained).toMatchObject({ value: 650, isDifference: true, drills: [] });
    expect(explained.madeOf?.items).toEqual([
      { label: 'Sweden', value: 900 },
      { label: 'less Denmark', value: 250 },
    ]);
    await expect(ask(exhibit, 'records', { ...place, order: [], offset: 0, limit: 5 })).rejects.toThrow('This line is a difference');
  });
});

describe('cells of groups', () => {
  it('are explained as they are shown, and a path that names no group holds nothing', async () => {
    const exhibit = crosstab({ groups: [{ ...TOGETHER, instead: true }] });
    const axis = { open: { depth: 9, exceptions: [] }, order: null, hideEmpty: true };
    const window = { from: 0, count: 100 };
    const { rows, cells } = await ask<CrosstabResponse>(exhibit, 'crosstab', { side: axis, top: axis, rows: window, columns: window });
    for (const [row, { path }] of rows.items.entries())
      expect((await ask<Explanation>(exhibit, 'explain', { side: path, top: [], measure: 'net' })).value).toBe(cells[row][0]);
    const unknown = await ask<Explanation>(exhibit, 'explain', { side: [`${rows.items[1].path[0]}x`], top: [], measure: 'net' });
    expect([unknown.value, unknown.records[0].count]).toEqual([null, 0]);
  });
});

describe('groups that share members', () => {
  it('never stand in the place of one twice: the later stands beside, and no id counts twice', async () => {
    const first = { ...TOGETHER, instead: true };
    const sharing = { id: 'sharing', label: 'Denmark and France', members: ['Denmark', 'France'], instead: true };
    expect(await lines(crosstab({ groups: [first, sharing, { ...first, label: 'Again' }], totals: 'sum' }))).toEqual([
      ['France', 900],
      ['Sweden and Denmark', 1150],
      ['Denmark and France', 1150],
      ['total', 2050],
    ]);
  });
});

describe('Pareto classes', () => {
  const classed = (field: string, part: { fields?: string[]; top?: string[]; classes?: object; cells?: string[] } = {}): Crosstab =>
    crosstabSchema.parse({
      ...{ kind: 'crosstab', id: 'classes', title: 'Classes', filter: { op: 'in', field: 'year', values: ['2026'] } },
      side: { fields: part.fields ?? [field], total: 'always', levels: { [field]: { classes: { measure: 'net', ...part.classes } } } },
      top: { fields: part.top ?? [] },
      cells: (part.cells ?? ['net']).map((measure) => ({ measure })),
    });

  it('put members together by how much they make, the one that crosses an end included; those without a value come last', async () => {
    expect(await lines(classed('country', { classes: { upTo: [50] } }))).toEqual([
      ['Class A', 1800],
      ['Class B', 250],
      ['total', 2050],
    ]);
    // Of France and Sweden, which are alike, the one that comes first is the larger one.
    expect(await lines(classed('country', { classes: { upTo: [40, 80] } }))).toEqual([
      ['Class A', 900],
      ['Class B', 900],
      ['Class C', 250],
      ['total', 2050],
    ]);
    // No city has a target of its own.
    expect(await lines(classed('city', { classes: { measure: 'goal' } }))).toEqual([
      ['Class C', 2050],
      ['total', 2050],
    ]);
  });

  it('within each parent or of all, and whatever the ends are every member is in one of them', async () => {
    const within = (per: string) => lines(classed('country', { fields: ['region', 'country'], classes: { upTo: [50], per } }));
    expect(await within('parent')).toEqual([
      ['Atlantic', 900],
      ['Class A', 900],
      ['Nordic', 1150],
      ['Class A', 900],
      ['Class B', 250],
      ['total', 2050],
    ]);
    const all = await within('all');
    expect(all.filter(([label]) => label !== 'total' && !String(label).startsWith('Class')).length).toBe(2);
    for (const upTo of [[1], [99.9], [10, 20, 30, 40, 50]]) {
      const found = await lines(classed('city', { classes: { upTo } }));
      const sum = found.slice(0, -1).reduce((total, [, value]) => total + Number(value), 0);
      expect(sum).toBe(2050);
    }
  });

  it('are refused where their ends do not rise', () => {
    for (const upTo of [[], [80, 50], [0], [100], [50, 50]]) expect(() => classed('country', { classes: { upTo } })).toThrow();
  });
});
