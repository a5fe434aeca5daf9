import { readFileSync } from 'node:fs';
import type { CrosstabResponse, ImportTarget, ImportView, Load, SourceView } from '@bold-compass/core/api';
import { findProblems, type ImportPlan } from '@bold-compass/core/imports';
import { desc, from, fromCSV, op } from 'arquero';
import ExcelJS from 'exceljs';
import JSZip from 'jszip';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';
import { importFinished } from '../../demo/testing/waiting.ts';
import { dimensionOver, nameFor } from '@bold-compass/core/modelling';
import type { Dataset } from '@bold-compass/core/model';

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

const settled = (view: ImportView): Promise<ImportView> => importFinished(agent, view);

const upload = async (content: string | Buffer, name = 'file.csv'): Promise<ImportView> =>
  settled((await agent.post('/api/imports').attach('file', Buffer.from(content), name).expect(200)).body as ImportView);

const planOf = ({ reading, columns }: ImportView, change: Partial<ImportPlan> = {}): ImportPlan => ({
  ...{ reading: reading!, columns, key: [], choices: {} },
  ...change,
});

const stage = async (view: ImportView, target: ImportTarget, plan: ImportPlan = planOf(view)): Promise<ImportView> =>
  settled((await agent.post(`/api/imports/${view.id}/stage`).send({ plan, target }).expect(200)).body as ImportView);

interface Done {
  dataset: string;
  report: string;
  rows: number;
}
const commit = async (view: ImportView, agreed = false): Promise<Done> =>
  (await agent.post(`/api/imports/${view.id}/commit`).send({ agreed }).expect(200)).body as Done;
const refusedCommit = async (view: ImportView, status: number): Promise<{ code: string; detail: string }> =>
  (await agent.post(`/api/imports/${view.id}/commit`).send({}).expect(status)).body as { code: string; detail: string };

async function bringIn(content: string | Buffer, label: string, name?: string, change: Partial<ImportPlan> = {}): Promise<Done> {
  const view = await upload(content, name);
  expect(view.problem).toBe('');
  const staged = await stage(view, { kind: 'dataset', label }, planOf(view, change));
  expect(staged.problem).toBe('');
  return commit(staged);
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
  const open = { open: { depth: 9, exceptions: [] }, order: { by: 'label', direction: 'asc' }, hideEmpty: true };
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

describe('formats, their totals against Arquero', () => {
  it('tab-separated: unemployment by county', async () => {
    const content = openData('unemployment.tsv');
    const { report, rows } = await bringIn(content, 'Unemployment', 'unemployment.tsv');
    const reference = fromCSV(content.toString('utf8'), { delimiter: '\t', parse: { id: String } });
    expect(rows).toBe(reference.numRows());
    const answer = await ask(report, [], [], ['records', 'sum_rate']);
    // Rates have up to three digits: sums of doubles are held to that.
    expect(answer.cells[0][1]).toBeCloseTo(reference.rollup({ sum: op.sum('rate') }).get('sum', 0) as number, 6);
  });

  it('JSON records with missing values: films', async () => {
    const content = openData('movies.json');
    const view = await upload(content, 'movies.json');
    const reference = from(JSON.parse(content.toString('utf8')) as object[]);
    expect(view.reading!.format).toBe('json');
    expect(view.analysis!.rows).toBe(reference.numRows());
    const types = new Map(view.columns.map(({ name, type }) => [name, type]));
    expect(types.get('US Gross')).toBe('integer');
    expect(types.get('Director')).toBe('text');
    const staged = await stage(view, { kind: 'dataset', label: 'Films' }, planOf(view, { choices: allEmpty(view) }));
    expect(staged.problem).toBe('');
    const { report } = await commit(staged);
    const answer = await ask(report, [], [], ['records', 'sum_us_gross']);
    expect(answer.cells[0]).toEqual([reference.numRows(), reference.rollup({ sum: op.sum('US Gross') }).get('sum', 0)]);
  });

  it('spreadsheets, as another library writes them: numbers, texts, dates, formulas', async () => {
    const cars = JSON.parse(openData('cars.json').toString('utf8')) as {
      Name: string;
      Origin: string;
      Year: string;
      Horsepower: number | null;
    }[];
    const workbook = new ExcelJS.Workbook();
    workbook.addWorksheet('Notes').addRow(['Nothing here']);
    const sheet = workbook.addWorksheet('Cars');
    sheet.addRow(['Name', 'Origin', 'Year', 'Horsepower', 'Double']);
    cars.forEach(({ Name, Origin, Year, Horsepower }, index) =>
      sheet.addRow([
        Name,
        Origin,
        new Date(`${Year}T00:00:00Z`),
        Horsepower,
        { formula: `D${index + 2}*2`, result: (Horsepower ?? 0) * 2 },
      ]),
    );
    const first = await upload(Buffer.from(await workbook.xlsx.writeBuffer()), 'cars.xlsx');
    expect(first.sheets).toEqual(['Notes', 'Cars']);
    const reading = { ...first.reading!, sheet: 'Cars', headerRow: 1 };
    const view = await settled((await agent.put(`/api/imports/${first.id}/reading`).send({ reading }).expect(200)).body as ImportView);
    expect(view.columns.map(({ name, type }) => [name, type])).toEqual([
      ['Name', 'text'],
      ['Origin', 'text'],
      ['Year', 'date'],
      ['Horsepower', 'integer'],
      ['Double', 'integer'],
    ]);
    const { report } = await commit(await stage(view, { kind: 'dataset', label: 'Cars' }));
    const answer = await ask(report, ['origin'], ['year_year'], ['sum_horsepower', 'sum_double']);
    const expected = from(cars)
      .groupby('Origin')
      .rollup({ power: op.sum('Horsepower') })
      .objects() as { Origin: string; power: number }[];
    for (const { Origin, power } of expected) {
      const row = answer.rows.items.findIndex(({ path }) => path[0] === Origin);
      expect(answer.cells[row].slice(-2)).toEqual([power, power * 2]);
    }
    expect(answer.columns.items[0].path).toEqual(['1970']);
  });

  it('spreadsheets with merged cells, of which the first holds the value, and numbers shown with separators', async () => {
    const workbook = new ExcelJS.Workbook();
    const sheet = workbook.addWorksheet('Merged');
    sheet.addRows([
      ['Region', 'City', 'Amount'],
      ['North', 'Oslo', 12345.5],
      [null, 'Bergen', -3],
    ]);
    sheet.mergeCells('A2:A3');
    sheet.getColumn(3).numFmt = '#,##0.00;[Red]-#,##0.00';
    const view = await upload(Buffer.from(await workbook.xlsx.writeBuffer()), 'merged.xlsx');
    expect(view.analysis!.sample).toEqual([
      ['North', 'Oslo', '12345.5'],
      ['', 'Bergen', '-3'],
    ]);
    expect(view.columns.map(({ type }) => type)).toEqual(['text', 'text', 'decimal']);
  });

  it('spreadsheets that count days from 1904', async () => {
    const workbook = new ExcelJS.Workbook();
    workbook.properties.date1904 = true;
    workbook.addWorksheet('Dates').addRows([
      ['Day', 'At'],
      [new Date('2026-10-31T00:00:00Z'), new Date('2026-10-31T14:05:00Z')],
    ]);
    const view = await upload(Buffer.from(await workbook.xlsx.writeBuffer()), 'dates.xlsx');
    expect(view.analysis!.sample).toEqual([['2026-10-31', '2026-10-31 14:05:00']]);
    expect(view.columns.map(({ type }) => type)).toEqual(['date', 'datetime']);
  });
});

/** Leaves every cell empty that does not fit. */
const allEmpty = (view: ImportView): ImportPlan['choices'] =>
  Object.fromEntries(
    findProblems(view.analysis!, planOf(view)).map(({ id, kind }) => [id, kind === 'rounded' ? 'round' : 'empty'] as const),
  );

describe('what is found in a file', () => {
  it('is told: delimiter, types, and texts that look like formulas stay texts', async () => {
    const view = await upload('\ufeffname;amount;day;ok\r\n"Müller; Söhne";1.5;2026-01-31;yes\r\n\r\n=1+1;;2026-02-28;no\r\n');
    expect(view.reading).toMatchObject({ format: 'delimited', delimiter: ';', encoding: 'utf-8', headerRow: 1 });
    expect(view.columns.map(({ name, type }) => [name, type])).toEqual([
      ['name', 'text'],
      ['amount', 'decimal'],
      ['day', 'date'],
      ['ok', 'boolean'],
    ]);
    expect(view.analysis!.sample).toEqual([
      ['Müller; Söhne', '1.5', '2026-01-31', 'yes'],
      ['=1+1', '', '2026-02-28', 'no'],
    ]);
    const { report } = await commit(await stage(view, { kind: 'dataset', label: 'Formulas' }));
    const answer = await ask(report, ['name'], [], ['records']);
    expect(answer.rows.items.map(({ path }) => path[0] ?? null)).toEqual(['=1+1', 'Müller; Söhne', null]);
  });

  it('is Latin-1 where it is not UTF-8, and mixed line ends are all line ends', async () => {
    const view = await upload(Buffer.from('name,n\rM\u00fcller,1\nS\u00f6hne,2\r\n', 'latin1'));
    expect(view.reading!.encoding).toBe('windows-1252');
    expect(view.analysis!.sample).toEqual([
      ['Müller', '1'],
      ['Söhne', '2'],
    ]);
  });

  it('is UTF-16 by its mark', async () => {
    const view = await upload(Buffer.from('\ufeffname\tn\nMüller\t1\n', 'utf16le'));
    expect(view.reading).toMatchObject({ encoding: 'utf-16le', delimiter: '\t' });
    expect(view.analysis!.sample).toEqual([['Müller', '1']]);
  });

  it('has its names below title lines, or none at all', async () => {
    const titled = await upload('Sales of the year\n\nCity,Amount\nOslo,1\nLyon,2\n');
    expect(titled.reading!.headerRow).toBe(3);
    expect(titled.columns.map(({ name }) => name)).toEqual(['City', 'Amount']);
    const bare = await upload('Oslo,1\nLyon,2\n');
    expect(bare.reading!.headerRow).toBe(0);
    expect(bare.columns.map(({ name, type }) => [name, type])).toEqual([
      ['Column 1', 'text'],
      ['Column 2', 'integer'],
    ]);
    expect(bare.analysis!.rows).toBe(2);
  });

  it('takes 200 columns, also ones with the same or no name', async () => {
    const header = Array.from({ length: 200 }, (_, index) => (index % 3 === 0 ? 'Same' : index % 3 === 1 ? '' : `c${index}`)).join(',');
    const done = await bringIn(`${header}\n${Array.from({ length: 200 }, (_, index) => index).join(',')}\n`, 'Wide');
    const { rows } = await demo.connection.pool.query<{ n: number }>(
      `SELECT jsonb_array_length(columns)::int AS n FROM app.sources WHERE label = 'Wide'`,
    );
    expect([done.rows, rows[0].n]).toEqual([1, 200]);
  });

  it.each([
    ['a CSV of 0 bytes', '', 'empty.csv', 'empty'],
    ['an archive that is no spreadsheet', Buffer.from('PK\u0003\u0004rest'), 'a.zip', 'Unpack it'],
    ['a spreadsheet that is cut off', Buffer.from('PK\u0003\u0004rest'), 'a.xlsx', 'damaged'],
    ['a spreadsheet of the old kind', Buffer.from([0xd0, 0xcf, 0x11, 0xe0, 1, 2, 3]), 'a.xls', '.xlsx'],
    ['a picture', Buffer.from([137, 80, 78, 71, 0, 0, 1, 2]), 'a.png', 'not a text file'],
  ])('refuses %s in plain words', async (_what, content, name, words) => {
    const answer = await agent.post('/api/imports').attach('file', Buffer.from(content), name).expect(422);
    expect(answer.body).toMatchObject({ code: 'file-invalid', detail: expect.stringContaining(words) as string });
  });

  it.each([
    ['an unclosed quote', 'a,b\n1,"2\n3,4\n', 'a.csv', 'never closed'],
    ['JSON that is cut off', '[{"a":1},{"a":', 'a.json', 'never closed'],
    ['JSON with more than records', '[{"a":1},2]', 'a.json', 'Entry 2'],
  ])('says what is wrong with %s, and where', async (_what, content, name, words) => {
    const view = await upload(content, name);
    expect(view.problem).toContain(words);
    expect(view.analysis).toBeNull();
  });

  it('refuses a spreadsheet that would unpack to far more than it seems', async () => {
    const zip = new JSZip();
    const workbook = new ExcelJS.Workbook();
    workbook.addWorksheet('Small').addRow(['a']);
    await zip.loadAsync(await workbook.xlsx.writeBuffer());
    zip.file('xl/sharedStrings.xml', new Uint8Array(210 * 1024 * 1024).fill(32));
    const bomb = await zip.generateAsync({ type: 'nodebuffer', compression: 'DEFLATE', compressionOptions: { level: 1 } });
    expect(bomb.length).toBeLessThan(3_000_000);
    const answer = await agent.post('/api/imports').attach('file', bomb, 'bomb.xlsx').expect(422);
    expect(answer.body).toMatchObject({ detail: expect.stringContaining('unpacks to more') as string });
  });
});

describe('what does not fit', () => {
  const broken = 'city,amount\nOslo,1\nLyon,x\nGraz\nRome,4\nOslo,5\nBern,6\nBonn,7\n';

  it('stops everything unless the analyst says otherwise, and nothing half-imported shows', async () => {
    const view = await upload(broken);
    expect(findProblems(view.analysis!, planOf(view)).map(({ id, count }) => [id, count])).toEqual([
      ['ragged', 1],
      ['misfit 1', 1],
    ]);
    const staged = await stage(view, { kind: 'dataset', label: 'Never' });
    expect(staged.problem).toContain('Row 3 holds “x” in amount, which is not a whole number of up to 15 digits, so nothing was imported.');
    expect(staged.staged).toBeNull();
    await agent.post(`/api/imports/${view.id}/commit`).send({}).expect(400);
    const { rows } = await demo.connection.pool.query(`SELECT table_name FROM information_schema.tables WHERE table_schema = 'staging'`);
    expect(rows).toEqual([]);
  });

  it('is left empty, skipped or filled by choice, and counted', async () => {
    const view = await upload(broken);
    const staged = await stage(
      view,
      { kind: 'dataset', label: 'Chosen' },
      planOf(view, { choices: { ragged: 'cut', 'misfit 1': 'empty' } }),
    );
    expect(staged.staged).toMatchObject({ rows: 7, skipped: 0, emptied: 1 });
    const skipping = await stage(
      view,
      { kind: 'dataset', label: 'Chosen' },
      planOf(view, { choices: { ragged: 'skip', 'misfit 1': 'skip' } }),
    );
    expect(skipping.staged).toMatchObject({ rows: 5, skipped: 2, emptied: 0 });
    const { report } = await commit(skipping);
    expect((await ask(report, [], [], ['records', 'sum_amount'])).cells).toEqual([[5, 23]]);
  });

  it('includes duplicate keys, over the whole file', async () => {
    const view = await upload(broken.replace('Graz\n', 'Graz,3\n').replace('x', '2'));
    const found = await settled(
      (
        await agent
          .post(`/api/imports/${view.id}/duplicates`)
          .send({ key: [0] })
          .expect(200)
      ).body as ImportView,
    );
    expect(found.duplicates).toEqual({ key: [0], count: 1, examples: [{ row: 6, text: 'Oslo' }] });
    const stopped = await stage(view, { kind: 'dataset', label: 'Keyed' }, planOf(view, { key: [0] }));
    expect(stopped.problem).toContain('Row 6 has a key that an earlier row has');
    const staged = await stage(view, { kind: 'dataset', label: 'Keyed' }, planOf(view, { key: [0], choices: { duplicate: 'skip' } }));
    expect(staged.staged).toMatchObject({ rows: 6, skipped: 1 });
  });

  it('keeps apart what is missing and what is an empty choice of columns', async () => {
    const view = await upload('city,amount\nOslo,1\n,2\nOslo,\n');
    const columns = view.columns.map((column) => ({ ...column, include: false }));
    await agent
      .post(`/api/imports/${view.id}/stage`)
      .send({ plan: planOf(view, { columns }), target: { kind: 'dataset', label: 'None' } })
      .expect(400);
    const { report } = await commit(await stage(view, { kind: 'dataset', label: 'Missing' }));
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

  it('refuses a file with only a header', async () => {
    const view = await upload('a,b\n');
    const answer = await agent
      .post(`/api/imports/${view.id}/stage`)
      .send({ plan: planOf(view), target: { kind: 'dataset', label: 'Empty' } })
      .expect(422);
    expect(answer.body).toMatchObject({ code: 'file-invalid' });
  });

  it('is its owner’s alone, and gone once it is put away', async () => {
    const view = await upload('a\n1\n');
    await demo.connection.pool.query(`UPDATE app.people SET role = 'analyst' WHERE id = 'tobias-renn'`);
    const other = await demo.as('tobias-renn');
    await other.get(`/api/imports/${view.id}`).expect(404);
    await agent.delete(`/api/imports/${view.id}`).expect(200);
    await agent.get(`/api/imports/${view.id}`).expect(404);
  });
});

describe('identifiers keep their digits', () => {
  it('in JSON, as a list and line by line', async () => {
    const records = ['{"id": 123456789012345678, "n": 1.50}', '{"id": 123456789012345679, "n": 2e3}'];
    for (const [name, content] of [
      ['list.json', `[${records.join(',')}]`],
      ['lines.jsonl', records.join('\n')],
    ] as const) {
      const view = await upload(content, name);
      expect(view.analysis!.sample.map(([id]) => id)).toEqual(['123456789012345678', '123456789012345679']);
      expect(view.columns.map(({ type }) => type)).toEqual(['text', 'decimal']);
    }
  });

  it('in sheets: long numbers, and formats that show zeros', async () => {
    const book = new ExcelJS.Workbook();
    const sheet = book.addWorksheet('Codes');
    sheet.addRow(['plain', 'padded', 'parted', 'amount']);
    const row = sheet.addRow([42, 123, 123456789, 7]);
    row.getCell(2).numFmt = '00000';
    row.getCell(3).numFmt = '000-00-0000';
    row.getCell(4).numFmt = '0.00';
    const zip = await JSZip.loadAsync(await book.xlsx.writeBuffer());
    // Programs write more digits than a double holds; the file is taken at its word.
    const path = 'xl/worksheets/sheet1.xml';
    zip.file(path, (await zip.file(path)!.async('string')).replace('<v>42</v>', '<v>12345678901234567</v>'));
    const view = await upload(await zip.generateAsync({ type: 'nodebuffer' }), 'codes.xlsx');
    expect(view.analysis!.sample).toEqual([['12345678901234567', '00123', '123-45-6789', '7']]);
    expect(view.columns.map(({ type }) => type)).toEqual(['text', 'text', 'text', 'integer']);
  });
});

describe('a later file', () => {
  const first = 'id,city,amount\n1,Oslo,10\n2,Lyon,20\n3,Graz,30\n';
  const later = 'id,city,amount\n2,Lyon,25\n3,Graz,30\n4,Rome,40\n';

  async function source(label: string): Promise<{ id: string; report: string }> {
    const { report } = await bringIn(first, label, `${label}.csv`, { key: [0] });
    const sources = (await agent.get('/api/sources').expect(200)).body as SourceView[];
    return { id: sources.find((one) => one.label === label)!.id, report };
  }

  it.each([
    ['update', { added: 1, changed: 1, unchanged: 2, removed: 0 }, [4, 105]],
    ['replace', { added: 1, changed: 1, unchanged: 1, removed: 1 }, [3, 95]],
  ] as const)('%s: says what would change before it does', async (kind, changes, totals) => {
    const { id, report } = await source(`Later ${kind}`);
    expect((await ask(report, [], [], ['records', 'sum_amount'])).cells).toEqual([[3, 60]]);
    const staged = await stage(await upload(later), { kind, source: id });
    expect(staged.staged!.changes).toEqual({ ...changes, doubled: [], keysHere: 0, equal: 0, sameFile: false });
    expect((await ask(report, [], [], ['records', 'sum_amount'])).cells).toEqual([[3, 60]]);
    await commit(staged);
    expect((await ask(report, [], [], ['records', 'sum_amount'])).cells).toEqual([totals]);
    const loads = (await agent.get(`/api/sources/${id}/loads`).expect(200)).body as Load[];
    expect(loads.map((load) => [load.kind, load.state, load.rows])).toEqual([
      [kind, 'done', 3],
      ['import', 'done', 3],
    ]);
  });

  it('append: records with keys that are here already are refused, others join', async () => {
    const { id, report } = await source('Later append');
    const staged = await stage(await upload(later), { kind: 'append', source: id });
    expect(staged.staged!.changes).toMatchObject({ added: 3, unchanged: 3, removed: 0, keysHere: 2 });
    expect(await refusedCommit(staged, 422)).toMatchObject({
      code: 'rows-refused',
      detail: expect.stringContaining('2 of 3 rows') as string,
    });
    expect((await ask(report, [], [], ['records', 'sum_amount'])).cells).toEqual([[3, 60]]);
    await commit(await stage(await upload('id,city,amount\n4,Rome,40\n5,Bern,50\n'), { kind: 'append', source: id }));
    expect((await ask(report, [], [], ['records', 'sum_amount'])).cells).toEqual([[5, 150]]);
    // The database itself keeps the key: nothing that forgets to ask gets past it.
    const twice = demo.connection.pool.query(`INSERT INTO imported."${id}" VALUES (5, 'Bern', 50)`);
    await expect(twice).rejects.toMatchObject({ code: '23505' });
  });

  it.each(['update', 'replace'] as const)('%s: a key twice in the file is counted and refused', async (kind) => {
    const { id, report } = await source(`Doubled ${kind}`);
    const staged = await stage(await upload('id,city,amount\n2,Lyon,25\n2,Lyon,26\n4,Rome,40\n'), { kind, source: id });
    const { changes } = staged.staged!;
    expect(changes!.doubled).toEqual([{ key: ['id'], keys: 1, examples: ['2'] }]);
    expect(Math.min(...[changes!.added, changes!.changed, changes!.unchanged, changes!.removed])).toBeGreaterThanOrEqual(0);
    expect(await refusedCommit(staged, 422)).toMatchObject({
      code: 'rows-refused',
      detail: expect.stringContaining('1 key stands') as string,
    });
    expect((await ask(report, [], [], ['records', 'sum_amount'])).cells).toEqual([[3, 60]]);
  });

  it('without a key: the same file, or mostly equal rows, are asked about', async () => {
    const rows = 'city,amount\nOslo,10\nLyon,20\nGraz,30\n';
    const { dataset } = await bringIn(rows, 'No key');
    const { id } = ((await agent.get('/api/sources').expect(200)).body as SourceView[]).find(({ label }) => label === 'No key')!;
    const total = async (): Promise<unknown> => (await ask(dataset, [], [], ['records', 'sum_amount'])).cells;
    const same = await stage(await upload(rows), { kind: 'append', source: id });
    expect(same.staged!.changes).toMatchObject({ added: 3, equal: 3, sameFile: true });
    expect(await refusedCommit(same, 409)).toMatchObject({ code: 'already-here', detail: expect.stringContaining('imported') as string });
    expect(await total()).toEqual([[3, 60]]);
    const mostly = await stage(await upload('city,amount\nLyon,20\nGraz,30\nRome,40\n'), { kind: 'append', source: id });
    expect(mostly.staged!.changes).toMatchObject({ equal: 2, sameFile: false });
    expect((await refusedCommit(mostly, 409)).detail).toContain('2 of 3 rows');
    await commit(mostly, true);
    expect(await total()).toEqual([[6, 150]]);
  });

  it('goes through what the first one did: bindings, what texts mean, formats and markers', async () => {
    const file = (rows: string): string => `When;Where;Turnover\n${rows}`;
    const target: ImportTarget = {
      ...{ kind: 'fact', dataset: 'hollin-marsh', label: 'Fairs' },
      bindings: [{ column: 1, level: 'country', by: 'label' }],
    };
    const view = await upload(file('03.04.2026;Sweden;1.234,5\n25.04.2026;Danmark;7,5\n26.04.2026;none;1,0\n'), 'fairs.csv');
    expect(view.reading).toMatchObject({ dateOrder: 'dmy', decimalSign: ',' });
    const plan = planOf(view, { reading: { ...view.reading!, emptyWords: ['none'] } });
    plan.columns[1] = { ...plan.columns[1], empties: ['none'] };
    const staged = await stage(view, target, plan);
    expect(staged.staged!.unmatched.map(({ texts }) => texts.map(({ text }) => text))).toEqual([['Danmark']]);
    await agent
      .put('/api/corrections')
      .send({ dataset: 'hollin-marsh', level: 'country', corrections: [{ text: 'Danmark', member: 'Denmark' }] })
      .expect(200);
    await commit(staged);
    const sources = (await agent.get('/api/sources').expect(200)).body as SourceView[];
    const { id, recipe } = sources.find(({ label }) => label === 'Fairs')!;
    expect(recipe!.bindings).toEqual([{ column: 'where', dataset: 'hollin-marsh', level: 'country', by: 'label' }]);

    // Every date fits two orders here, and texts are as in the first file: nothing is guessed anew.
    const second = await upload(file('05.06.2026;Danmark;2.000,5\n06.06.2026;none;3,5\n07.06.2026;Atlantis;1,0\n'), 'fairs-june.csv');
    const followed = await settled(
      (await agent.put(`/api/imports/${second.id}/follow`).send({ source: id }).expect(200)).body as ImportView,
    );
    expect(followed).toMatchObject({ follows: { source: id, label: 'Fairs' }, reading: { dateOrder: 'dmy', decimalSign: ',' } });
    expect(followed.columns[1]).toMatchObject({ type: 'text', empties: ['none'] });
    const later = await stage(followed, { kind: 'append', source: id });
    expect(later.staged!.unmatched.map(({ texts, records }) => [texts.map(({ text }) => text), records])).toEqual([[['Atlantis'], 1]]);
    await commit(later);
    const { rows } = await demo.connection.pool.query(`SELECT "when"::text, "where", turnover::text FROM imported."${id}" ORDER BY 1`);
    expect(rows).toEqual([
      { when: '2026-04-03', where: 'Sweden', turnover: '1234.5' },
      { when: '2026-04-25', where: 'Denmark', turnover: '7.5' },
      { when: '2026-04-26', where: null, turnover: '1.0' },
      { when: '2026-06-05', where: 'Denmark', turnover: '2000.5' },
      { when: '2026-06-06', where: null, turnover: '3.5' },
      { when: '2026-06-07', where: null, turnover: '1.0' },
    ]);
  });

  it('with finer decimals stops, widens or rounds, as the analyst says', async () => {
    const { dataset } = await bringIn('item,price\na,1.7\nb,2.5\n', 'Prices');
    const { id } = ((await agent.get('/api/sources').expect(200)).body as SourceView[]).find(({ label }) => label === 'Prices')!;
    const finer = 'item,price\nc,1.749\nd,3\n';
    const view = await upload(finer);
    const total = async (): Promise<unknown> => (await ask(dataset, [], [], ['sum_price'])).cells;
    const plan = planOf(view, { columns: view.columns.map((column) => (column.name === 'price' ? { ...column, scale: 1 } : column)) });
    const stopped = await stage(view, { kind: 'append', source: id }, plan);
    expect(stopped.problem).toContain('Row 2 holds 1.749 in price, which has more than 1 decimal places');
    const widened = await stage(view, { kind: 'append', source: id }, { ...plan, choices: { 'rounded 1': 'widen' } });
    await commit(widened);
    expect(await total()).toEqual([[8.949]]);
    const rounded = await stage(
      await upload('item,price\ne,1.00049\n'),
      { kind: 'append', source: id },
      {
        ...plan,
        choices: { 'rounded 1': 'round' },
      },
    );
    expect(rounded.staged).toMatchObject({ rounded: 1 });
    await commit(rounded);
    expect(await total()).toEqual([[9.949]]);
  });

  it('of a dimension: a key twice would change every total, so it is refused', async () => {
    const { dataset } = await bringIn('sale,shop,amount\n1,A,100\n2,B,180\n', 'Shop sales');
    await bringIn('shop,place\nA,North\nB,South\n', 'Shops');
    const sources = (await agent.get('/api/sources').expect(200)).body as SourceView[];
    const shops = sources.find(({ label }) => label === 'Shops')!;
    const { definition, draftRevision } = (await agent.get(`/api/datasets/${dataset}/model`).expect(200)).body as {
      definition: Dataset;
      draftRevision: number;
    };
    const table = { table: shops.id, label: 'Shops', columns: shops.columns.map((one) => ({ ...one })) };
    const dimension = dimensionOver(definition, table, 'shop');
    const facts = definition.facts.map((fact) => ({ ...fact, links: [...fact.links, { dimension: dimension.name, column: 'shop' }] }));
    const draft = { ...definition, dimensions: [...definition.dimensions, dimension], facts };
    await agent.put(`/api/datasets/${dataset}/draft`).send({ definition: draft, revision: draftRevision }).expect(200);
    await agent
      .post(`/api/datasets/${dataset}/apply`)
      .send({ revision: draftRevision + 1 })
      .expect(200);
    const total = async (): Promise<unknown> => (await ask(dataset, [], [], ['sum_amount'])).cells;
    expect(await total()).toEqual([[280]]);
    const doubled = await stage(await upload('shop,place\nA,North\nB,South\nA,West\n'), { kind: 'replace', source: shops.id });
    expect(doubled.staged!.changes!.doubled).toMatchObject([{ key: ['shop'], keys: 1 }]);
    await refusedCommit(doubled, 422);
    expect(await total()).toEqual([[280]]);
  });

  it('must have the same columns, by name and type', async () => {
    const { id } = await source('Strict');
    const missing = await upload('id,town,amount\n1,Oslo,10\n');
    const refused = await agent
      .post(`/api/imports/${missing.id}/stage`)
      .send({ plan: planOf(missing), target: { kind: 'append', source: id } })
      .expect(400);
    expect(refused.body).toMatchObject({ detail: expect.stringContaining('no “city”') as string });
  });
});

describe('binding to members that are known', () => {
  it('lists what names no member with the nearest, remembers corrections, and meets the other facts', async () => {
    const content = 'country,month,plan\nSweden,2026-01-01,100\nSveden,2026-01-01,11\nDenmark,2026-02-01,200\nAtlantis,2026-02-01,5\n';
    const target: ImportTarget = {
      kind: 'fact',
      dataset: 'hollin-marsh',
      label: 'Plans',
      bindings: [
        { column: 0, level: 'country', by: 'key' },
        { column: 1, level: 'month', by: 'key' },
      ],
    };
    const view = await upload(content, 'plans.csv');
    const staged = await stage(view, target);
    expect(staged.staged!.unmatched).toMatchObject([
      {
        level: 'country',
        total: 2,
        records: 2,
        texts: [
          { text: 'Atlantis', count: 1 },
          { text: 'Sveden', count: 1, near: [{ label: 'Sweden' }, {}, {}] },
        ],
      },
    ]);
    const [, { near }] = staged.staged!.unmatched[0].texts;
    await agent
      .put('/api/corrections')
      .send({ dataset: 'hollin-marsh', level: 'country', corrections: [{ text: 'Sveden', member: near[0].key }] })
      .expect(200);
    const again = await stage(view, target);
    expect(again.staged!.unmatched[0].texts.map(({ text }) => text)).toEqual(['Atlantis']);
    const known = await agent.get('/api/datasets/hollin-marsh/corrections').expect(200);
    expect(known.body).toContainEqual({ level: 'country', text: 'Sveden', member: near[0].key });
    await commit(again);
    const opened = (await agent.get('/api/reports/sales-against-target?draft=true').expect(200)).body as {
      report: { exhibits: { kind: string; cells: object[] }[] };
      revision: number;
    };
    const report = structuredClone(opened.report);
    const exhibit = report.exhibits.find(({ kind }) => kind === 'crosstab')!;
    exhibit.cells = [{ measure: 'sum_plan' }, { measure: 'net_sales' }];
    await agent.put('/api/reports/sales-against-target').send({ report, revision: opened.revision }).expect(200);
    const axis = { open: { depth: 1, exceptions: [] }, order: { by: 'label', direction: 'asc' }, hideEmpty: true };
    const window = { from: 0, count: 100 };
    const answer = (
      await agent
        .post('/api/reports/sales-against-target/exhibits/territory/crosstab')
        .send({
          draft: true,
          scope: { year: ['2026'] },
          side: axis,
          top: { ...axis, open: { depth: 0, exceptions: [] } },
          rows: window,
          columns: window,
        })
        .expect(200)
    ).body as CrosstabResponse;
    const plan = (country: string): number | null => answer.cells[answer.rows.items.findIndex(({ path }) => path[1] === country)][0];
    expect([plan('Sweden'), plan('Denmark'), plan('Norway')]).toEqual([111, 200, null]);
    expect(answer.cells.at(-1)![0]).toBe(316);
  });
});

it('names become formula names that are unique and plain', () => {
  const taken = new Set<string>();
  expect(['Größe (cm)', 'Größe (cm)', '2024', '東京'].map((label) => nameFor(label, taken))).toEqual([
    'gro_e_cm',
    'gro_e_cm_2',
    'f_2024',
    'field',
  ]);
});

describe('numbers of formats that have numbers', () => {
  /** Most texts write decimals with a comma; the numbers beside them are numbers all the same. */
  const TEXTS = ['1,5', '22,25', '3,75', '4,1'];
  const NUMBERS = [1.234, 2.5, 1234.567, 0.001];

  it.each(['spreadsheet', 'json'])('are numbers whatever the decimal sign of the texts beside them: %s', async (format) => {
    let content: Buffer;
    if (format === 'json') content = Buffer.from(JSON.stringify(TEXTS.map((text, row) => ({ text, number: NUMBERS[row] }))));
    else {
      const workbook = new ExcelJS.Workbook();
      const sheet = workbook.addWorksheet('Sheet');
      sheet.addRow(['text', 'number']);
      TEXTS.forEach((text, row) => sheet.addRow([text, NUMBERS[row]]));
      content = Buffer.from(await workbook.xlsx.writeBuffer());
    }
    const view = await upload(content, format === 'json' ? 'file.json' : 'file.xlsx');
    expect(view.reading!.decimalSign).toBe(',');
    expect(view.columns.map(({ type }) => type)).toEqual(['decimal', 'decimal']);
    expect(view.analysis!.sample.map(([, number]) => number)).toEqual(['1,234', '2,5', '1234,567', '0,001']);
    const staged = await stage(view, { kind: 'dataset', label: `Numbers of ${format}` });
    expect(staged.problem).toBe('');
    const { report } = await commit(staged);
    const answer = await ask(report, [], [], ['sum_text', 'sum_number']);
    expect(answer.cells[0]).toEqual([31.6, 1238.302]);
  });
});

describe('keys of later files', () => {
  const first = 'id,city,amount\n1,Oslo,5\n2,Bergen,6\n';
  const sourceOf = async (label: string): Promise<string> =>
    ((await agent.get('/api/sources').expect(200)).body as { id: string; label: string }[]).find((one) => one.label === label)!.id;

  it('are never empty: such rows are counted, refused, or skipped', async () => {
    await bringIn(first, 'With keys', 'keys.csv', { key: [0] });
    const source = await sourceOf('With keys');
    const view = await upload('id,city,amount\n2,Bergen,7\n,Nowhere,8\n,Nowhere,9\n', 'keys-later.csv');
    const plan = planOf(view, { key: [0] });
    const refused = await stage(view, { kind: 'update', source }, plan);
    expect(refused.problem).toMatch(/Row 3 has no value in id/);
    const [problem] = findProblems(view.analysis!, plan).filter(({ kind }) => kind === 'empty-key');
    expect(problem).toMatchObject({ id: 'empty key 0', count: 2, choices: ['stop', 'skip'] });
    for (const times of [1, 2]) {
      const again = await upload('id,city,amount\n2,Bergen,7\n,Nowhere,8\n,Nowhere,9\n', `keys-later-${times}.csv`);
      const staged = await stage(again, { kind: 'update', source }, planOf(again, { key: [0], choices: { 'empty key 0': 'skip' } }));
      expect(staged.problem).toBe('');
      await commit(staged, true);
    }
    const { rows } = await demo.connection.pool.query<{ n: number; amount: number }>(
      `SELECT count(*)::int AS n, sum(amount)::int AS amount FROM imported."${source}"`,
    );
    expect(rows).toEqual([{ n: 2, amount: 12 }]);
  });

  it('rows that are there already are asked about, however few they are', async () => {
    const many = Array.from({ length: 9 }, (_, index) => `City ${index},${index}`).join('\n');
    await bringIn(`city,amount\nOslo,5\n${many}\n`, 'Without keys');
    const source = await sourceOf('Without keys');
    const fresh = Array.from({ length: 9 }, (_, index) => `New ${index},${index}`).join('\n');
    const view = await upload(`city,amount\nOslo,5\n${fresh}\n`, 'more.csv');
    const staged = await stage(view, { kind: 'append', source });
    expect(await refusedCommit(staged, 409)).toMatchObject({ code: 'already-here', detail: expect.stringContaining('1 of 10') as string });
    expect((await commit(staged, true)).rows).toBe(10);
  });

  it('columns with equal headings are filled in their order', async () => {
    await bringIn('city,amount,amount\nOslo,1,10\n', 'Twice the heading');
    const source = await sourceOf('Twice the heading');
    const view = await upload('city,amount,amount\nBergen,2,20\n', 'twice.csv');
    const followed = await settled((await agent.put(`/api/imports/${view.id}/follow`).send({ source }).expect(200)).body as ImportView);
    const staged = await stage(followed, { kind: 'append', source }, planOf(followed));
    expect(staged.problem).toBe('');
    await commit(staged, true);
    const { rows } = await demo.connection.pool.query(`SELECT * FROM imported."${source}" ORDER BY 1`);
    expect(rows.map((row) => Object.values(row as object).map(String))).toEqual([
      ['Bergen', '2', '20'],
      ['Oslo', '1', '10'],
    ]);
  });
});
