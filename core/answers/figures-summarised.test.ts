import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { crosstabRequestSchema, type CrosstabResponse, type Explanation, type Header } from '../api/index.ts';
import { pathKey, summarise } from '../crosstab/index.ts';
import { openByChoice, openByKey, withBranches } from '../exhibits/index.ts';
import { crosstabSchema, summarySchema, totalsSchema, type Crosstab, type Summary } from '../model/index.ts';
import { cellsOf, CrosstabTable } from '../table/index.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';
import { ColumnsData, EXHIBIT_QUESTIONS, type AnswerContext } from './index.ts';

/**
 * Lines and totals that are not calculated from records summarise the figures that stand there. What stands there is read from
 * the answer alone: the figures of the nearest lines below, and each member once.
 */

const context: AnswerContext = {
  ...{ dataset: workedDataset, data: new ColumnsData(workedDataset, workedStore()), tables: new Map(), locale: 'en-GB' },
  report: () => Promise.resolve(null),
};
const TOGETHER = { id: 'north', label: 'Sweden and Denmark', members: ['Sweden', 'Denmark'], instead: true };
const BESIDE = { id: 'south', label: 'France and Denmark', members: ['France', 'Denmark'] };
const DIFFERENCE = { id: 'gap', label: 'Sweden less Denmark', members: ['Sweden'], less: ['Denmark'] };

function crosstab(part: { side?: object; top?: object; cells?: object[]; filter?: null }): Crosstab {
  return crosstabSchema.parse({
    ...{ kind: 'crosstab', id: 'table', title: 'Table', filter: { op: 'in', field: 'year', values: ['2026'] } },
    side: { fields: ['region', 'country', 'city'], total: 'always', ...part.side },
    top: { fields: ['month'], total: 'always', ...part.top },
    cells: part.cells ?? [{ measure: 'net' }],
    ...(part.filter === null ? { filter: null } : {}),
  });
}

async function ask<Answer>(exhibit: Crosstab, path: string, part: object): Promise<Answer> {
  const question = EXHIBIT_QUESTIONS.find((one) => one.path === path)!;
  return (await question.answer(context, exhibit, { scope: {}, where: null }, question.request.parse(part))) as Answer;
}
const viewState = (depth: number, opened: (string | null)[][] = []): object => {
  const axis = (open: object): object => ({ open, order: null, hideEmpty: true });
  return { side: axis({ depth, exceptions: opened.map(pathKey) }), top: axis({ depth: 9, exceptions: [] }) };
};
const shown = (exhibit: Crosstab, depth = 9, opened: (string | null)[][] = []): Promise<CrosstabResponse> => {
  const window = { rows: { from: 0, count: 200 }, columns: { from: 0, count: 200 } };
  return ask(exhibit, 'crosstab', crosstabRequestSchema.parse({ ...viewState(depth, opened), ...window }));
};

const under = (path: Header['path'], above: Header['path']): boolean =>
  path.length > above.length && above.every((part, level) => part === path[level]);
/** Whether a line's figure is counted in another line too: groups beside their members, and differences. */
const isBeside = ({ labels }: Header): boolean => [BESIDE.label, DIFFERENCE.label].includes(labels.at(-1) ?? '');

/** The lines that a line stands for, by their places. */
function partsOf(headers: readonly Header[], line: Header): number[] {
  const figures = headers.map((header) => !header.bare && (header.role === 'member' || header.role === 'subtotal') && !isBeside(header));
  const below = headers.flatMap((header, at) => (figures[at] && under(header.path, line.path) ? [at] : []));
  return below.filter((at) => !below.some((other) => under(headers[at].path, headers[other].path)));
}

const figure = (value: string | number | null): number => (typeof value === 'number' ? value : Number.NaN);
const numbersOf = (values: readonly (string | number | null)[]): number[] => values.map(figure);

describe('lines and totals of what is shown', () => {
  const totals = fc.constantFrom(...totalsSchema.options[1].options);
  const branch = fc.constantFrom<string[]>(
    [],
    [openByChoice('country', 'channel', ['Nordic'])],
    [openByChoice('city', 'channel', ['Nordic', 'Sweden'])],
  );
  const place = fc.constantFrom<object>({}, { subtotal: false }, { subtotalPlace: 'after' }, { subtotalPlace: 'before' });
  const groups = fc.constantFrom<object[]>([], [TOGETHER], [BESIDE], [DIFFERENCE, BESIDE]);
  it('summarise the figures of the nearest lines below them, each once', async () => {
    await fc.assert(
      fc.asyncProperty(
        ...([totals, branch, place, place, groups, fc.constantFrom('tree', 'columns'), fc.integer({ min: 0, max: 2 })] as const),
        async (total, branches, region, country, together, layout, depth) => {
          const levels = { region, country: { ...country, groups: together } };
          const plain = crosstab({
            side: { levels, layout, summaries: summarySchema.options },
            cells: [{ measure: 'average_price', totals: total }],
          });
          const exhibit = withBranches(plain, { [openByKey('table')]: branches }, workedDataset);
          const { rows, cells } = await shown(exhibit, depth);
          const checked = rows.items.map((header, row) => {
            const parts = partsOf(rows.items, header);
            if (header.bare || parts.length === 0) return 0;
            const way: Summary = header.summary ?? total;
            cells[row].forEach((value, column) => {
              // Across the top, too, a total is calculated of what stands beside it, where the line itself is no other summary.
              const expected = summarise(
                way,
                parts.map((part) => figure(cells[part][column])),
              );
              expect(figure(value), `${header.labels.join('/')} ${header.role} ${way}`).toEqual(
                Number.isNaN(expected) ? Number.NaN : expect.closeTo(expected, 9),
              );
            });
            return 1;
          });
          expect(checked.filter(Boolean).length).toBeGreaterThan(summarySchema.options.length);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('in a row that is a difference, are those of the differences that stand there', async () => {
    const ways = summarySchema.options;
    const exhibit = crosstab({
      side: { fields: ['country'], levels: { country: { groups: [DIFFERENCE] } } },
      top: { fields: ['year'], summaries: ways },
      filter: null,
      cells: [{ measure: 'net' }],
    });
    const { rows, columns, cells } = await shown(exhibit);
    const row = rows.items.findIndex(isBeside);
    const own = columns.items.flatMap(({ role }, column) => (role === 'member' ? [figure(cells[row][column])] : []));
    expect(own.filter((value) => !Number.isNaN(value)).length).toBeGreaterThan(1);
    for (const way of ways)
      expect(figure(cells[row][columns.items.findIndex(({ summary }) => summary === way)]), way).toEqual(
        expect.closeTo(summarise(way, own), 9),
      );
  });

  it('are of the measure that stands there, where members show another one or none', async () => {
    const exhibit = crosstab({
      side: { fields: ['region', 'country'], summaries: ['average'] },
      top: { fields: [] },
      cells: [
        { measure: 'net', totals: 'sum', levels: { region: 'average_price' } },
        { measure: 'net', levels: { region: null } },
      ],
    });
    const { rows, cells } = await shown(exhibit);
    const regions = rows.items.flatMap(({ path }, row) => (path.length === 1 ? [figure(cells[row][0])] : []));
    const average = rows.items.findIndex(({ summary }) => summary === 'average');
    expect(cells[average]).toEqual([(regions[0] + regions[1]) / 2, null]);
    expect(cells[rows.items.findIndex(({ role }) => role === 'total')][0]).toBe(regions[0] + regions[1]);
  });

  it('are explained as they are shown, above a member that is opened by its own level too', async () => {
    const plain = crosstab({ cells: [{ measure: 'average_price', totals: 'sum' }], top: { fields: [] } });
    const exhibit = withBranches(plain, { [openByKey('table')]: [openByChoice('country', 'channel', ['Nordic'])] }, workedDataset);
    const { rows, cells } = await shown(exhibit, 1);
    for (const side of [['Nordic'], []]) {
      const row = rows.items.findIndex(({ path }) => pathKey(path) === pathKey(side));
      const explained = await ask<Explanation>(exhibit, 'explain', {
        ...{ side, top: [], measure: 'average_price', viewState: viewState(1) },
      });
      expect(explained.value).toBe(cells[row][0]);
      expect(explained.shown?.fromRecords).not.toBe(cells[row][0]);
    }
  });
});

describe('summaries', () => {
  it('take the values that there are, as R does of c(3, NA, 1, 8, 2)', () => {
    // mean, sum, length, min, max, median and sd (of a sample) of R 4.2, with na.rm.
    const values = [3, Number.NaN, 1, 8, 2];
    expect(summarySchema.options.map((one) => Number(summarise(one, values).toFixed(6)))).toEqual([3.5, 14, 4, 1, 8, 2.5, 3.109126]);
    expect(summarySchema.options.map((one) => summarise(one, [Number.NaN]))).toEqual(summarySchema.options.map(() => Number.NaN));
    expect(summarise('deviation', [5])).toBeNaN();
  });

  it('that count are written as numbers of figures, not in the unit of these', async () => {
    const exhibit = crosstab({
      side: { fields: ['country'], summaries: ['count'] },
      top: { fields: [], summaries: [] },
      cells: [{ measure: 'net' }],
    });
    const answer = await shown(exhibit);
    const table = new CrosstabTable(workedDataset, exhibit, cellsOf(answer), '2026-12-31', 'en-GB');
    const row = answer.rows.items.findIndex(({ summary }) => summary === 'count');
    expect(table.cell(row, 0, 0).text).toBe('3');
    expect(table.headings.row(answer.rows.items[row])).toBe('Count of visible rows');
    expect(numbersOf(answer.cells[row])).toEqual([3]);
  });
});
