import { describe, expect, it } from 'vitest';
import {
  crosstabRequestSchema,
  type CellRecords,
  type CrosstabRequest,
  type CrosstabResponse,
  type Explanation,
  type Header,
} from '../api/index.ts';
import { branchPart, pathKey } from '../crosstab/index.ts';
import { openByChoice, openByKey, withBranches } from '../exhibits/index.ts';
import { crosstabSchema, type Crosstab } from '../model/index.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';
import { AnswerError, ColumnsData, EXHIBIT_QUESTIONS, type AnswerContext } from './index.ts';

/** Members that a reader opened by a level of their own, beside neighbours that stay as they are. */

const context: AnswerContext = {
  ...{ dataset: workedDataset, data: new ColumnsData(workedDataset, workedStore()), tables: new Map(), locale: 'en-GB' },
  report: () => Promise.resolve(null),
};
const plain: Crosstab = crosstabSchema.parse({
  ...{ kind: 'crosstab', id: 'table', title: 'Table', filter: { op: 'in', field: 'year', values: ['2026'] } },
  side: { fields: ['region', 'country', 'city'], total: 'always' },
  top: { fields: ['month'], total: 'always' },
  cells: [{ measure: 'net', marks: [{ kind: 'bar', scale: 'column' }] }, { measure: 'cities_sold' }],
});
const opened = (...choices: string[]): Crosstab => withBranches(plain, { [openByKey('table')]: choices }, workedDataset);
const byChannel = opened(openByChoice('country', 'channel', ['Nordic']));
const question = (path: string) => EXHIBIT_QUESTIONS.find((one) => one.path === path)!;

async function windowOf(
  exhibit: Crosstab,
  exceptions: (string | null)[][],
  part: Partial<CrosstabRequest> = {},
  depth = 0,
): Promise<CrosstabResponse> {
  const axis = (open: object) => ({ open, order: null, hideEmpty: true });
  const request = crosstabRequestSchema.parse({
    ...{ side: axis({ depth, exceptions: exceptions.map(pathKey) }), top: axis({ depth: 9, exceptions: [] }) },
    ...{ rows: { from: 0, count: 100 }, columns: { from: 0, count: 100 }, ...part },
  });
  return (await question('crosstab').answer(context, exhibit, { scope: {}, where: null }, request)) as CrosstabResponse;
}
const words = ({ rows, cells }: CrosstabResponse): [string, number | null][] =>
  rows.items.map(({ labels, role }, row) => [role === 'total' ? 'total' : labels.at(-1)!, cells[row].at(-2)!]);

describe('a member that is opened by a level of its own', () => {
  it('shows that level below it, and its neighbours theirs', async () => {
    // The worked example by hand, in 2026: Nordic 1,150, of which Online 550 and Showroom 600.
    const found = await windowOf(byChannel, [['Nordic'], ['Atlantic']]);
    const nordic = found.rows.items.findIndex(({ labels }) => labels.at(-1) === 'Nordic');
    const below = words(found).slice(nordic + 1, nordic + 3);
    expect(below.map(([label]) => label)).toEqual(['Online', 'Showroom']);
    expect(below.reduce((sum, [, value]) => sum + value!, 0)).toBe(1150);
    expect(words(found).map(([label]) => label)).toEqual(['Atlantic', 'France', 'Nordic', 'Online', 'Showroom', 'total']);
    expect(found.rows.total).toBe(6);
    expect(found.marks![0].values).toHaveLength(6);
    // Closed, it shows nothing of it.
    expect(words(await windowOf(byChannel, [])).map(([label]) => label)).toEqual(['Atlantic', 'Nordic', 'total']);
  });

  it('has the figures that the level has where all members are opened by it', async () => {
    const all = await windowOf({ ...plain, side: { ...plain.side, fields: ['region', 'channel'] } }, [['Nordic'], ['Atlantic']]);
    const own = await windowOf(byChannel, [['Nordic'], ['Atlantic']]);
    const rowOf = (table: CrosstabResponse, region: string, label: string) =>
      table.cells[table.rows.items.findIndex(({ labels }) => labels[0] === region && labels.at(-1) === label)];
    for (const channel of ['Online', 'Showroom']) expect(rowOf(own, 'Nordic', channel)).toEqual(rowOf(all, 'Nordic', channel));
  });

  it('comes in windows as in one', async () => {
    const whole = await windowOf(byChannel, [['Nordic'], ['Atlantic']]);
    const parts: { header: Header; cells: (number | null)[] }[] = [];
    for (let from = 0; from < whole.rows.total; from += 2) {
      const part = await windowOf(byChannel, [['Nordic'], ['Atlantic']], { rows: { from, count: 2 } });
      part.rows.items.forEach((header, row) => parts.push({ header, cells: part.cells[row] }));
    }
    expect(parts).toEqual(whole.rows.items.map((header, row) => ({ header, cells: whole.cells[row] })));
  });

  it('is explained, and leads to its records, as each cell shows', async () => {
    const found = await windowOf(byChannel, [['Nordic'], ['Atlantic']]);
    for (const [row, { path: side }] of found.rows.items.entries())
      for (const [column, { path: top }] of found.columns.items.entries()) {
        const ask = async <Answer>(path: string): Promise<Answer> => {
          const request = question(path).request.parse({ side, top, measure: 'net', order: [], offset: 0, limit: 5 });
          return (await question(path).answer(context, byChannel, { scope: {}, where: null }, request)) as Answer;
        };
        const why = await ask<Explanation>('explain');
        expect(why.value).toBe(found.cells[row][2 * column]);
        expect((await ask<CellRecords>('records')).page.records).toBe(why.records[0].count);
      }
  });

  it('can be opened further, by its next level', async () => {
    // A region by channel, and a channel by the levels that were after its own dimension's: none of the territory is left.
    const deeper = withBranches(
      { ...plain, side: { ...plain.side, fields: ['region', 'country', 'channel'] } },
      { [openByKey('table')]: [openByChoice('country', 'quarter', ['Nordic'])] },
      workedDataset,
    );
    const marked = branchPart('quarter', '2026-Q1');
    const found = await windowOf(deeper, [['Nordic'], ['Nordic', marked]]);
    expect(words(found).map(([label]) => label)).toEqual(['Atlantic', 'Nordic', 'Q1 2026', 'Online', 'Showroom', 'total']);
  });

  it('is no choice where the level or the member is not there', async () => {
    for (const choice of ['country>nothing@Nordic', 'country>city@Nordic', 'nonsense', 'country>channel@Nordic/Sweden/Malmö/x'])
      expect(opened(choice)).toBe(plain);
    const nowhere = opened(openByChoice('country', 'channel', ['Nowhere']));
    expect(words(await windowOf(nowhere, [['Nordic']])).map(([label]) => label)).toEqual(
      words(await windowOf(plain, [['Nordic']])).map(([label]) => label),
    );
    const gone = { side: ['Nordic', branchPart('quarter', 'x')], top: [], measure: 'net' };
    expect(() =>
      question('explain').answer(context, byChannel, { scope: {}, where: null }, question('explain').request.parse(gone)),
    ).toThrow(AnswerError);
  });

  it('shows nobody what they may not see', async () => {
    const visible = (side: (string | null)[], seen: (field: string, member: string | null) => boolean): Promise<unknown> =>
      question('explain').visible(byChannel, question('explain').request.parse({ side, top: [], measure: 'net' }), (fields, path) =>
        Promise.resolve(path.every((member, level) => seen(fields[level], member))),
      );
    const place = ['Nordic', branchPart('channel', 'Online')];
    await expect(visible(place, (field, member) => field !== 'channel' || member === 'Online')).resolves.toMatchObject({ side: place });
    await expect(visible(place, (field) => field !== 'channel')).rejects.toThrow(/not among what you may see/);
    await expect(visible(['Nordic', branchPart('city', 'Lyon')], () => true)).rejects.toThrow(/not among what you may see/);
  });
});
