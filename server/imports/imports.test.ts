import { readFileSync } from 'node:fs';
import type { CrosstabResponse, ImportPreview } from '@bold-compass/core/api';
import { desc, fromCSV, op } from 'arquero';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';
import { nameFor } from './dataset.ts';
import { cellValue, TypeGuess } from './types.ts';

type Agent = Awaited<ReturnType<DemoApp['as']>>;
let demo: DemoApp;
let agent: Agent;
beforeAll(async () => {
  demo = await demoApp();
  agent = await demo.as('ines-calloway');
});
afterAll(() => demo.close());

/** Open data sets as the vega-datasets package carries them. */
const openData = (name: string): Buffer => readFileSync(new URL(`../../node_modules/vega-datasets/data/${name}`, import.meta.url));

const upload = async (content: string | Buffer, name = 'file.csv', status = 200): Promise<ImportPreview> =>
  (await agent.post('/api/imports').attach('file', Buffer.from(content), name).expect(status)).body as ImportPreview;

async function bringIn(content: Buffer, label: string): Promise<{ dataset: string; report: string; rows: number }> {
  const preview = await upload(content);
  expect(preview.problemCount).toBe(0);
  return (await agent.post(`/api/imports/${preview.id}/commit`).send({ label, columns: preview.columns }).expect(200)).body as {
    dataset: string;
    report: string;
    rows: number;
  };
}

/** Puts fields and measures into the first report's cross-tab, and asks it. */
async function ask(report: string, side: string[], top: string[], cells: string[]): Promise<CrosstabResponse> {
  const opened = (await agent.get(`/api/reports/${report}?draft=true`).expect(200)).body as {
    report: { exhibits: object[] };
    revision: number;
  };
  const axis = (fields: string[]): object => ({
    fields,
    total: 'always',
    openLevels: 0,
    order: { by: 'label', direction: 'asc' },
    hideEmpty: true,
  });
  const exhibits = [{ ...opened.report.exhibits[0], side: axis(side), top: axis(top), cells: cells.map((measure) => ({ measure })) }];
  await agent
    .put(`/api/reports/${report}`)
    .send({ report: { ...opened.report, exhibits }, revision: opened.revision })
    .expect(200);
  const open = { open: { depth: 9, flipped: [] }, order: { by: 'label', direction: 'asc' }, hideEmpty: true };
  const window = { from: 0, count: 400 };
  return (
    await agent
      .post(`/api/reports/${report}/exhibits/table/crosstab`)
      .send({ draft: true, side: open, top: open, rows: window, columns: window })
      .expect(200)
  ).body as CrosstabResponse;
}

describe('open data sets, their totals against Arquero', () => {
  it('Seattle weather: a date, decimals and a text', async () => {
    const content = openData('seattle-weather.csv');
    const { report, rows } = await bringIn(content, 'Seattle weather');
    const reference = fromCSV(content.toString('utf8'), { autoType: true });
    expect(rows).toBe(reference.numRows());
    const answer = await ask(report, ['weather'], ['date_year'], ['records', 'sum_precipitation', 'avg_temp_max']);
    const expected = reference
      .derive({ year: (row: { date: Date }) => op.utcyear(row.date) })
      .groupby('weather', 'year')
      .rollup({ records: op.count(), rain: op.sum('precipitation'), warmth: op.mean('temp_max') })
      .objects() as { weather: string; year: number; records: number; rain: number; warmth: number }[];
    expect(expected.length).toBeGreaterThan(15);
    for (const one of expected) {
      const r = answer.rows.items.findIndex((row) => row.path[0] === one.weather);
      const c = answer.columns.items.findIndex((column) => column.path[0] === String(one.year));
      const [records, rain, warmth] = answer.cells[r].slice(c * 3, c * 3 + 3);
      expect(records).toBe(one.records);
      expect(rain).toBeCloseTo(one.rain, 8);
      expect(warmth).toBeCloseTo(one.warmth, 8);
    }
    // The grand total is exact: a sum of doubles is not.
    const total = answer.cells.at(-1)!.slice(-3);
    expect(total[0]).toBe(reference.numRows());
    expect(total[1]).toBe(Math.round((reference.rollup({ rain: op.sum('precipitation') }).get('rain', 0) as number) * 10) / 10);
  });

  it('airports: texts with quotes and commas, coordinates with many digits', async () => {
    const content = openData('airports.csv');
    const { report } = await bringIn(content, 'Airports');
    const reference = fromCSV(content.toString('utf8'));
    const answer = await ask(report, ['state'], [], ['records']);
    const [most] = reference.groupby('state').count({ as: 'n' }).orderby(desc('n')).objects() as { state: string; n: number }[];
    const counts = answer.rows.items.map((row, index) => ({ row, n: answer.cells[index][0]! })).filter(({ row }) => row.role === 'member');
    expect(Math.max(...counts.map(({ n }) => n))).toBe(most.n);
    expect(counts.find(({ row }) => row.path[0] === most.state)!.n).toBe(most.n);
    expect(answer.cells.at(-1)![0]).toBe(reference.numRows());
  });
});

describe('what is found in a file', () => {
  it('is told: delimiter, types, and what does not fit after a change', async () => {
    const preview = await upload('\ufeffname;amount;day;ok\r\n"Müller; Söhne";1.5;2026-01-31;yes\r\n\r\n=1+1;;2026-02-28;no\r\n');
    expect(preview.delimiter).toBe(';');
    expect(preview.columns.map(({ name, type }) => [name, type])).toEqual([
      ['name', 'text'],
      ['amount', 'decimal'],
      ['day', 'date'],
      ['ok', 'boolean'],
    ]);
    expect(preview.sample).toEqual([
      ['Müller; Söhne', '1.5', '2026-01-31', 'yes'],
      ['=1+1', '', '2026-02-28', 'no'],
    ]);
    const changed = preview.columns.map((column) => (column.name === 'name' ? { ...column, type: 'integer' } : column));
    const checked = (await agent.post(`/api/imports/${preview.id}/check`).send({ columns: changed }).expect(200)).body as ImportPreview;
    expect(checked.problemCount).toBe(2);
    expect(checked.problems[0]).toEqual({ row: 2, column: 'name', text: 'Müller; Söhne', message: 'is not a whole number' });
    const refused = await agent.post(`/api/imports/${preview.id}/commit`).send({ label: 'Refused', columns: changed }).expect(422);
    expect(refused.body).toMatchObject({ code: 'rows-refused' });
    const { rows } = await demo.connection.pool.query(`SELECT 1 FROM app.datasets WHERE definition->>'label' = 'Refused'`);
    expect(rows).toHaveLength(0);
    // Nothing is lost: with the types put right it comes in, and texts that look like formulas stay texts.
    await agent.post(`/api/imports/${preview.id}/commit`).send({ label: 'Mended', columns: preview.columns }).expect(200);
  });

  it('lists rows with the wrong number of cells', async () => {
    const preview = await upload('a,b\n1,2\n3\n4,5,6\n');
    expect(preview.problems.map(({ row, message }) => [row, message])).toEqual([
      [3, 'This row has 1 cells; the header has 2.'],
      [4, 'This row has 3 cells; the header has 2.'],
    ]);
  });

  it('keeps apart what is missing and what is an empty choice of columns', async () => {
    const preview = await upload('city,amount\nOslo,1\n,2\nOslo,\n');
    const columns = preview.columns.map((column) => ({ ...column, include: false }));
    await agent.post(`/api/imports/${preview.id}/commit`).send({ label: 'None', columns }).expect(400);
    const { report } = (
      await agent.post(`/api/imports/${preview.id}/commit`).send({ label: 'Missing', columns: preview.columns }).expect(200)
    ).body as { report: string };
    const answer = await ask(report, ['city'], [], ['records', 'sum_amount']);
    expect(answer.rows.items.map((row) => [row.path[0] ?? null, row.labels[0] ?? 'total'])).toEqual([
      ['Oslo', 'Oslo'],
      [null, 'No city'],
      [null, 'total'],
    ]);
    expect(answer.cells).toEqual([
      [2, 1],
      [1, 2],
      [3, 3],
    ]);
  });

  it.each([
    ['a CSV of 0 bytes', '', 'empty'],
    ['an unclosed quote', 'a,b\n1,"2\n3,4\n', 'never closed'],
    ['Latin-1', Buffer.from('name\nM\u00fcller\n', 'latin1'), 'UTF-8'],
  ])('refuses %s in plain words', async (_what, content, words) => {
    const answer = await agent.post('/api/imports').attach('file', Buffer.from(content), 'bad.csv').expect(422);
    expect(answer.body).toMatchObject({ code: 'file-invalid', detail: expect.stringContaining(words) as string });
  });

  it('refuses a file with only a header', async () => {
    const preview = await upload('a,b\n');
    const answer = await agent.post(`/api/imports/${preview.id}/commit`).send({ label: 'Empty', columns: preview.columns }).expect(422);
    expect(answer.body).toMatchObject({ code: 'file-invalid' });
  });

  it('takes 200 columns, also ones with the same or no name', async () => {
    const header = Array.from({ length: 200 }, (_, index) => (index % 3 === 0 ? 'Same' : index % 3 === 1 ? '' : `c${index}`)).join(',');
    const preview = await upload(`${header}\n${Array.from({ length: 200 }, (_, index) => index).join(',')}\n`);
    expect(preview.columns).toHaveLength(200);
    await agent.post(`/api/imports/${preview.id}/commit`).send({ label: 'Wide', columns: preview.columns }).expect(200);
  });

  it('is its owner’s alone', async () => {
    const preview = await upload('a\n1\n');
    await demo.connection.pool.query(`UPDATE app.people SET role = 'analyst' WHERE id = 'tobias-renn'`);
    const other = await demo.as('tobias-renn');
    await other.post(`/api/imports/${preview.id}/commit`).send({ label: 'Stolen', columns: preview.columns }).expect(404);
  });
});

describe('types and names', () => {
  it.each([
    ['integer', '12', '12'],
    ['integer', '1.0', undefined],
    ['decimal', '-.5', '-.5'],
    ['decimal', '1e3', '1e3'],
    ['decimal', '1,5', undefined],
    ['date', '2026-02-30', undefined],
    ['boolean', 'Yes', 'true'],
    ['text', '', null],
  ] as const)('%s reads %j as %j', (type, cell, value) => {
    expect(cellValue(type, cell)).toBe(value);
  });

  it('are guessed from every cell', () => {
    const guess = new TypeGuess();
    for (const cell of ['1', '', '2.25']) guess.see(cell);
    expect([guess.type, guess.scale]).toEqual(['decimal', 2]);
    guess.see('n/a');
    expect(guess.type).toBe('text');
  });

  it('become formula names that are unique and plain', () => {
    const taken = new Set<string>();
    expect(['Größe (cm)', 'Größe (cm)', '2024', '東京'].map((label) => nameFor(label, taken))).toEqual([
      'gro_e_cm',
      'gro_e_cm_2',
      'f_2024',
      'field',
    ]);
  });
});
