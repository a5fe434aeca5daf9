import type { CrosstabResponse, ReportView } from '@bold-compass/core/api';
import type { Export, ExportFormatName } from '@bold-compass/core/exports';
import { EXPORT_FORMAT_NAMES } from '@bold-compass/core/exports';
import { crosstabSchema, imageSchema, listSchema, textSchema } from '@bold-compass/core/model';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';
import { scratchReport } from '../../demo/testing/scratch-report.ts';
import { allTexts, exported, exportOf, fileOf, packageParts, pdfPages, pdfTags, sheetRows } from '../../demo/testing/exported-files.ts';

/** What leaves the application: the same figures as are read, for whoever may read them, in every format. */

type Agent = Awaited<ReturnType<DemoApp['as']>>;
let demo: DemoApp;
let ines: Agent;
let henrike: Agent;
let sanna: Agent;
beforeAll(async () => {
  demo = await demoApp();
  [ines, henrike, sanna] = await Promise.all(['ines-calloway', 'henrike-hollin', 'sanna-wikmark'].map((person) => demo.as(person)));
});
afterAll(() => demo.close());

const rows = async <Row extends object>(sql: string): Promise<Row[]> => (await demo.connection.pool.query<Row>(sql)).rows;
const SOLD = `FROM imported.order_lines AS o JOIN imported.showrooms AS s USING (showroom_id) WHERE status NOT IN ('Cancelled', 'Returned')`;
const open = (depth: number) => ({ open: { depth, exceptions: [] }, order: null, hideEmpty: true });

describe('figures of an export', () => {
  const SALES = { report: 'sales-against-target', scope: { year: ['2026'] } };
  /** Net sales of 2026 by region and country with all totals, as PostgreSQL groups them. */
  const grouped = (): Promise<{ region: string | null; country: string | null; net: string }[]> =>
    rows(`SELECT region, country, sum(net_amount)::text AS net ${SOLD} AND extract(year FROM order_date) = 2026
          GROUP BY GROUPING SETS ((region, country), (region), ()) ORDER BY region NULLS LAST, country NULLS FIRST`);

  it('are those of PostgreSQL to the cent, at every total, in a spreadsheet that goes on calculating', async () => {
    const request = { ...SALES, format: 'xlsx', exhibits: { territory: { state: { side: open(1), top: open(0) } } } };
    const bytes = await exported(ines, request);
    const sheets = await sheetRows(bytes);
    const sheet = sheets['Net sales and attainment'];
    const found = new Map(sheet.map((cells) => [cells[0], cells]));
    for (const { region, country, net } of await grouped()) {
      const own = found.get(country ?? region ?? 'All regions');
      // The figure as it is, not as it is shown.
      expect(own?.map(Number), `${region} ${country}`).toContain(Number(net));
    }
    // Countries lie below their regions, as toggles have it, and figures are shown in thousands.
    const parts = await packageParts(bytes);
    const [, table] = parts.findLast(([path]) => path.startsWith('xl/worksheets/'))!;
    expect(table.match(/<row [^>]*outlineLevel="1"/g)).toHaveLength(19);
    expect(parts.some(([path, xml]) => path === 'xl/styles.xml' && xml.includes('formatCode="#,##0,"'))).toBe(true);
    expect(sheets.About.flat().join(' ')).toMatch(/2026.*Data as of.*31 October 2026.*Edition 1.*Ines Calloway/s);
  });

  it('stand on pages as they are read: each cell, each heading, in order', async () => {
    const state = { side: open(1), top: open(0) };
    const window = { from: 0, count: 400 };
    const answer = (
      await ines
        .post('/api/reports/sales-against-target/exhibits/territory/crosstab')
        .send({ scope: SALES.scope, draft: false, ...state, rows: window, columns: window })
        .expect(200)
    ).body as CrosstabResponse;
    const bytes = await exported(ines, { ...SALES, format: 'pdf', exhibits: { territory: { state } } });
    expect(await pdfTags(bytes)).toEqual(expect.arrayContaining(['Document', 'H1', 'H2', 'P', 'Table', 'TR', 'TH', 'TD']));
    const pages = await pdfPages(bytes);
    const words = pages.flat();
    expect(words.slice(0, 2)).toEqual(['Sales against target by territory', expect.stringContaining('2026')]);
    const labels = answer.rows.items.map(({ labels: own, role }) => (role === 'total' ? 'All regions' : own.at(-1)!));
    let from = words.indexOf('Territory');
    for (const [row, label] of labels.entries()) {
      const at = words.indexOf(label, from);
      expect(at, label).toBeGreaterThan(from);
      // Net sales stand first, in thousands.
      const net = answer.cells[row][0];
      if (net !== null) expect(words.slice(at, at + 20), label).toContain(Math.round(net / 1000).toLocaleString('en-GB'));
      from = at;
    }
    expect(pages.map((page) => page.find((text) => /^Page \d+ of \d+$/.test(text)))).toEqual(
      pages.map((_, index) => `Page ${index + 1} of ${pages.length}`),
    );
  });

  it('are the same in CSV and JSON as the rows that the table shows', async () => {
    const request = { ...SALES, exhibits: { territory: { state: { side: open(1), top: open(0) } } } };
    const csv = (await exported(ines, { ...request, format: 'csv', exhibit: 'territory' })).toString('utf8');
    const json = JSON.parse((await exported(ines, { ...request, format: 'json' })).toString('utf8')) as {
      schemaVersion: number;
      pages: { exhibits: { id: string; kind: string; tables?: { columns: string[]; rows: unknown[][] }[] }[] }[];
    };
    const table = json.pages[0].exhibits.find(({ id }) => id === 'territory')!.tables![0];
    const lines = csv
      .replace(/^\ufeff/, '')
      .trimEnd()
      .split('\r\n');
    expect(lines).toHaveLength(table.rows.length + 1);
    expect(lines[1].split(',').map((cell) => (cell === '' ? null : Number.isNaN(Number(cell)) ? cell : Number(cell)))).toEqual(
      table.rows[0].map((cell) => (cell === '' ? null : cell)),
    );
    const [{ net }] = await rows<{ net: string }>(`SELECT sum(net_amount) AS net ${SOLD} AND extract(year FROM order_date) = 2026`);
    expect(table.rows.at(-1)).toContain(Math.round(Number(net) / 1000));
  });

  it('stand on slides as native tables and charts, a slide for each exhibit or part of one', async () => {
    const parts = await packageParts(await exported(ines, { report: 'where-are-we-drifting', scope: { year: ['2026'] }, format: 'pptx' }));
    const slides = parts.filter(([path]) => /^ppt\/slides\/slide\d+\.xml$/.test(path)).map(([, xml]) => xml);
    const { report } = (await ines.get('/api/reports/where-are-we-drifting').expect(200)).body as ReportView;
    expect(slides.length).toBeGreaterThan(report.exhibits.length);
    for (const { title } of report.exhibits.filter((exhibit) => 'title' in exhibit) as { title: string }[])
      expect(
        slides.some((xml) => xml.includes(`<a:t>${title}</a:t>`)),
        title,
      ).toBe(true);
    const charts = parts.filter(([path]) => /^ppt\/charts\/chart\d+\.xml$/.test(path)).map(([, xml]) => xml);
    const months = await rows<{ net: string }>(
      `SELECT sum(net_amount)::text AS net ${SOLD} AND extract(year FROM order_date) = 2026 GROUP BY date_trunc('month', order_date) ORDER BY 1`,
    );
    // The chart holds each month to the cent, to be calculated with.
    for (const { net } of months)
      expect(
        charts.some((xml) => xml.includes(`<c:v>${Number(net)}</c:v>`)),
        net,
      ).toBe(true);
    const [{ net: total }] = await rows<{ net: string }>(`SELECT sum(net_amount) AS net ${SOLD} AND extract(year FROM order_date) = 2026`);
    expect(
      slides.some(
        (xml) => xml.includes('<a:tbl>') && xml.includes(`<a:t>${Math.round(Number(total) / 1000).toLocaleString('en-GB')}</a:t>`),
      ),
    ).toBe(true);
    expect(parts.filter(([path]) => path.startsWith('ppt/notesSlides/')).some(([, xml]) => xml.includes('Showing net sales'))).toBe(true);
  });

  it('are all there where a table has more lines than one question brings', async () => {
    const scratch = await scratchReport(ines, 'Long');
    const columns = ['order_number', 'quantity'].map((field) => ({ field }));
    await scratch.show(
      listSchema.parse({
        kind: 'list',
        id: 'lines',
        title: 'Lines',
        fact: 'orders',
        columns,
        order: [{ field: 'order_number', direction: 'asc' }],
      }),
    );
    const scope = { country: ['Sweden'], year: ['2026'] };
    const csv = (await exported(ines, { report: scratch.id, draft: true, scope, format: 'csv', exhibit: 'lines' })).toString('utf8');
    const lines = csv.trimEnd().split('\r\n').slice(1);
    const [{ count, quantity }] = await rows<{ count: string; quantity: string }>(
      `SELECT count(*), sum(quantity) AS quantity FROM imported.order_lines JOIN imported.showrooms USING (showroom_id)
       WHERE country = 'Sweden' AND extract(year FROM order_date) = 2026 AND status NOT IN ('Cancelled', 'Returned')`,
    );
    expect(Number(count)).toBeGreaterThan(2_000);
    expect(lines).toHaveLength(Number(count));
    expect(lines.reduce((sum, line) => sum + Number(line.split(',')[1]), 0)).toBe(Number(quantity));
  });
});

describe('who an export is for', () => {
  it('sees in no format of any report a name or figure outside of their rules', async () => {
    const hidden = await rows<{ name: string }>(
      `SELECT DISTINCT name FROM imported.showrooms, unnest(ARRAY[region, country, city, showroom]) AS name
       WHERE region <> 'Nordic' AND name NOT IN (SELECT unnest(ARRAY[region, country, city, showroom]) FROM imported.showrooms WHERE region = 'Nordic')`,
    );
    expect(hidden.length).toBeGreaterThan(80);
    const reports = ['sales-against-target', 'where-are-we-drifting', 'country-by-country', 'sales-in-charts', 'repairs-and-promises'];
    for (const report of reports) {
      const { report: document } = (await sanna.get(`/api/reports/${report}`).expect(200)).body as ReportView;
      // What an analyst wrote into titles and texts is read by everyone.
      const own = JSON.stringify(document);
      const tables = document.exhibits.filter(({ kind }) => ['crosstab', 'chart', 'list'].includes(kind)).slice(0, 3);
      const requests: [ExportFormatName, object][] = EXPORT_FORMAT_NAMES.filter((format) => format !== 'csv').map((format) => [format, {}]);
      requests.push(...tables.map(({ id }): [ExportFormatName, object] => ['csv', { exhibit: id }]));
      for (const [format, more] of requests) {
        const text = await allTexts(format, await exported(sanna, { report, scope: { year: ['2026'] }, format, ...more }));
        expect(text.length, `${report} ${format}`).toBeGreaterThan(20);
        const leaked = hidden
          .filter(({ name }) => !own.includes(name))
          .filter(({ name }) => new RegExp(`(?<![\\p{L}])${name.replaceAll(/[.*+?^\${}()|[\]\\]/g, '\\$&')}(?![\\p{L}])`, 'u').test(text));
        expect(leaked, `${report} as ${format}`).toEqual([]);
      }
    }
  });

  it('is told in it, and alone gets its file', async () => {
    const request = { report: 'sales-against-target', scope: { year: ['2026'] }, format: 'xlsx' };
    const made = await exportOf(sanna, request);
    const about = (await sheetRows(await fileOf(sanna, made.id))).About.flat();
    expect(about).toContain('Sanna Wikmark, who sees: Region is Nordic');
    for (const other of [ines, henrike]) {
      await other.get(`/api/exports/${made.id}/file`).expect(404);
      await other.post(`/api/exports/${made.id}/cancel`).send({}).expect(404);
      await other.delete(`/api/exports/${made.id}`).expect(404);
      expect(((await other.get('/api/exports').expect(200)).body as Export[]).some(({ id }) => id === made.id)).toBe(false);
    }
    const asOther = { 'X-View-As': 'sanna-wikmark' };
    expect((await ines.get('/api/exports').set(asOther).expect(200)).body).toEqual([]);
    await ines.get(`/api/exports/${made.id}/file`).set(asOther).expect(403);
    await ines.post('/api/exports').set(asOther).send(request).expect(403);
    // Formulas may name members: they are for those who see all of them.
    expect(about.join(' ')).not.toContain('sum(');
    const whole = await sheetRows(await exported(ines, request));
    expect(whole.About.flat().join(' ')).toContain('sum(');
    // What was made under other rules is nobody's any more.
    const { pool } = demo.connection;
    await pool.query(
      `INSERT INTO app.access_rules (person_id, dataset, field, members) VALUES ('sanna-wikmark', 'hollin-marsh', 'channel', '["Online"]')`,
    );
    const agent = await demo.as('sanna-wikmark');
    const { body } = await agent.get(`/api/exports/${made.id}/file`).expect(403);
    expect((body as { detail: string }).detail).toMatch(/has changed/);
    await pool.query(`DELETE FROM app.access_rules WHERE person_id = 'sanna-wikmark' AND field = 'channel'`);
    await sanna.delete(`/api/exports/${made.id}`).expect(200);
    await sanna.get(`/api/exports/${made.id}/file`).expect(404);
  });

  it('gets the edition and never a draft, unless they compose', async () => {
    const scratch = await scratchReport(ines, 'Secret draft');
    await scratch.show(textSchema.parse({ kind: 'text', id: 'words', text: 'Not for managers' }));
    const request = { report: scratch.id, draft: true, format: 'pdf' };
    await henrike.post('/api/exports').send(request).expect(404);
    expect(await pdfPages(await exported(ines, request))).toEqual([expect.arrayContaining(['Secret draft', 'Not for managers', 'Draft'])]);
  });
});

describe('what cannot be exported', () => {
  const post = (body: object) => henrike.post('/api/exports').send({ report: 'sales-against-target', format: 'pdf', ...body });

  it('is refused before it waits, with what to do', async () => {
    await post({ report: 'nothing' }).expect(404);
    await post({ format: 'docx' }).expect(400);
    await post({ scope: { year: ['1066'] } }).expect(422);
    await post({ pages: ['nothing'] }).expect(400);
    await post({ format: 'csv', exhibit: 'nothing' }).expect(400);
    await post({ format: 'csv' }).expect(400);
    await post({ report: 'repair-workshop', format: 'csv', exhibit: 'how' }).expect(400);
    await post({ pageSetup: { size: 'a0' } }).expect(400);
    const { body } = await post({ exhibits: { territory: { state: { side: 'open' } } } }).expect(400);
    expect((body as { detail: string }).detail).toContain('Net sales and attainment');
    await henrike.get('/api/exports/not-an-id/file').expect(400);
  });

  it('is what waits for a choice, as on the screen', async () => {
    const scratch = await scratchReport(ines, 'Asks first');
    const prompts = [{ kind: 'members', id: 'channel', fields: ['channel'], required: true }] as unknown as ReportView['report']['prompts'];
    await scratch.save({ prompts, exhibits: [textSchema.parse({ kind: 'text', id: 'words', text: 'Answered' })] });
    const { revision } = (await ines.get(`/api/reports/${scratch.id}?draft=true`).expect(200)).body as ReportView;
    await ines.post(`/api/reports/${scratch.id}/publish`).send({ note: '', revision, open: [] }).expect(200);
    const request = { report: scratch.id, format: 'pdf' };
    const { body } = await henrike.post('/api/exports').send(request).expect(422);
    expect((body as { detail: string }).detail).toBe('Choose channel to run this report.');
    const [page] = await pdfPages(await exported(henrike, { ...request, scope: { channel: ['Online'] } }));
    expect(page).toContain('Answered');
  });

  it('is said where it turns out later: more than a format holds', async () => {
    const lines = await exportOf(ines, { report: 'order-lines', format: 'pdf' });
    expect(lines).toMatchObject({ state: 'failed', size: null });
    expect(lines.problem).toMatch(/PDF holds 200,000 here\. Close levels/);
  });

  it('leaves the rest of the report as it is: one exhibit says why it is not there', async () => {
    const scratch = await scratchReport(ines, 'Half broken');
    const broken = crosstabSchema.parse({
      kind: 'crosstab',
      id: 'broken',
      title: 'Broken',
      side: { fields: [] },
      top: { fields: [] },
      cells: [{ measure: 'gone' }],
    });
    await demo.connection.pool.query(`UPDATE app.reports SET draft = jsonb_set(draft, '{exhibits}', $1) WHERE id = $2`, [
      JSON.stringify([broken, textSchema.parse({ kind: 'text', id: 'words', text: 'Still here' })]),
      scratch.id,
    ]);
    const [page] = await pdfPages(await exported(ines, { report: scratch.id, draft: true, format: 'pdf' }));
    expect(page).toEqual(expect.arrayContaining(['Broken', expect.stringContaining('gone'), 'Still here']));
  });
});

describe('pictures', () => {
  const svg = (inside: string): string =>
    `data:image/svg+xml;base64,${Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg" width="80" height="40">${inside}</svg>`).toString('base64')}`;
  const picture = (id: string, source: string) => imageSchema.parse({ kind: 'image', id, source, words: `Words of ${id}` });

  it('are drawn on pages, and lead to no file or address', async () => {
    const scratch = await scratchReport(ines, 'Pictures');
    const secret = `<image href="/etc/hostname" width="9" height="9"/><image href="http://127.0.0.1:1/x.png" width="9" height="9"/>`;
    await scratch.show(
      picture('drawing', svg('<text x="1" y="20">Drawn</text><rect width="9" height="9"/>')),
      picture('hostile', svg(`${secret}<text x="1" y="30">Still drawn</text>`)),
      picture('broken', svg('<g><<')),
    );
    const [page] = await pdfPages(await exported(ines, { report: scratch.id, draft: true, format: 'pdf' }));
    expect(page.join(' ')).toMatch(/Drawn.*Still drawn/);
  });

  it('that no page holds are said in words', async () => {
    const scratch = await scratchReport(ines, 'Words');
    const pixel = 'data:image/gif;base64,R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7';
    await scratch.show(picture('gif', pixel));
    const [page] = await pdfPages(await exported(ines, { report: scratch.id, draft: true, format: 'pdf' }));
    expect(page).toContain('Words of gif');
  });
});

describe('hostile names', () => {
  const TITLE = '=HYPERLINK("http://x","y") <b>&amp;</b> \u202Etxt.exe';
  it('come out as what they are, and run nowhere', async () => {
    const scratch = await scratchReport(ines, TITLE);
    const table = crosstabSchema.parse({
      ...{ kind: 'crosstab', id: 'table', title: '=1+1', side: { fields: ['region'] }, top: { fields: [] } },
      cells: [{ measure: 'net_sales', heading: '=cmd|/c calc' }],
    });
    await scratch.show(table, { ...table, id: 'second', title: "a'*[]:?/\\ ".repeat(9) }, { ...table, id: 'third', title: '=1+1' });
    const request = { report: scratch.id, draft: true };
    const bytes = await exported(ines, { ...request, format: 'xlsx' });
    const sheets = await sheetRows(bytes);
    expect(Object.keys(sheets)).toHaveLength(4);
    for (const name of Object.keys(sheets)) {
      expect(name.length).toBeLessThanOrEqual(31);
      expect(name).not.toMatch(/[[\]:*?/\\]/);
    }
    expect(sheets['=1+1'].flat()).toContain('=1+1');
    // No cell of the package holds a formula.
    expect(await allTexts('xlsx', bytes)).not.toMatch(/<f[ >]/);
    const csv = (await exported(ines, { ...request, format: 'csv', exhibit: 'table' })).toString('utf8');
    expect(csv).not.toMatch(/(^|,)"?=/m);
    const [page] = await pdfPages(await exported(ines, { ...request, format: 'pdf' }));
    expect(page[0]).toContain('=HYPERLINK("http://x","y") <b>&amp;</b>');
    const made = await exportOf(ines, { ...request, format: 'json' });
    expect(made.name).not.toMatch(/[<>"\u202E]/);
    const { headers } = await ines.get(`/api/exports/${made.id}/file`).expect(200);
    expect(headers).toMatchObject({
      'x-content-type-options': 'nosniff',
      'content-disposition': expect.stringContaining('attachment') as string,
    });
  });
});
