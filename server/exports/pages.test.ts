import type { Problem } from '@bold-compass/core/api';
import type { PrintedPages } from '@bold-compass/core/exports';
import { crosstabSchema, pageSetupSchema, textSchema, type PageSetup } from '@bold-compass/core/model';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';
import { exported, pdfPages } from '../../demo/testing/exported-files.ts';
import { scratchReport, type ScratchReport } from '../../demo/testing/scratch-report.ts';

/** A report on paper: its sizes, margins, breaks, head and foot, and tables that are wider than a page. */

type Agent = Awaited<ReturnType<DemoApp['as']>>;
let demo: DemoApp;
let analyst: Agent;
let sanna: Agent;
let scratch: ScratchReport;
const table = crosstabSchema.parse({
  ...{ kind: 'crosstab', id: 'table', title: 'Months', side: { fields: ['region', 'country'], openLevels: 1 } },
  ...{ top: { fields: ['month'] }, cells: [{ measure: 'net_sales' }] },
});
const words = (id: string, startsPage?: boolean) => textSchema.parse({ kind: 'text', id, text: `Words of ${id}`, startsPage });

beforeAll(async () => {
  demo = await demoApp();
  analyst = await demo.as('ines-calloway');
  sanna = await demo.as('sanna-wikmark');
  scratch = await scratchReport(analyst, 'On paper');
});
afterAll(() => demo.close());

async function laidOut(part: object, agent = analyst): Promise<{ pages: PrintedPages['pages']; texts: string[][] }> {
  const { body } = await agent
    .post('/api/exports/pages')
    .send({ report: scratch.id, format: 'pdf', draft: true, ...part })
    .expect(200);
  const { pdf, pages } = body as PrintedPages;
  return { pages, texts: await pdfPages(Buffer.from(pdf, 'base64')) };
}
const setup = (part: Partial<PageSetup>): { pageSetup: PageSetup } => ({ pageSetup: pageSetupSchema.parse(part) });
const YEAR = { scope: { year: ['2026'] } };
const monthsOn = (texts: string[]): string[] => texts.filter((text) => /^\w+ 20\d\d$/.test(text) && !text.startsWith('Year'));

describe('the pages of a report', () => {
  it('have the size and the margins that the report says, or who asks', async () => {
    await scratch.save({ exhibits: [words('first')], ...setup({ size: 'a3', orientation: 'portrait', margins: 'wide' }) });
    const [own] = (await laidOut({})).pages;
    // ISO 216, in points.
    expect([own.width, own.height]).toEqual([841.89, 1190.55]);
    expect(own.parts[0]).toMatchObject({ exhibit: 'first', continues: false });
    expect(own.parts[0].top).toBeGreaterThanOrEqual(70.87);
    const [other] = (await laidOut(setup({ size: 'letter', margins: 'narrow' }))).pages;
    expect([other.width, other.height]).toEqual([792, 612]);
    expect(other.parts[0].top).toBeLessThan(own.parts[0].top);
  });

  it('begin where a break was put, and nowhere else', async () => {
    await scratch.save({ exhibits: [words('first'), words('second', true), words('third')], ...setup({}) });
    const { pages } = await laidOut({});
    expect(pages.map(({ parts }) => parts.map(({ exhibit }) => exhibit))).toEqual([['first'], ['second', 'third']]);
    expect(pages.map(({ begins }) => begins)).toEqual(['', null]);
    // A break before what is first anyway makes no empty page.
    await scratch.save({ exhibits: [words('first', true), words('second')] });
    expect((await laidOut({})).pages).toHaveLength(1);
  });

  it('say at head and foot what they are to say, with values and the number of the page', async () => {
    const edges = {
      head: 'Confidential',
      foot: '{page}/{pages}, {data as of}',
      pageNumber: 'plain',
      title: false,
      dataAsOf: false,
    } as const;
    await scratch.save({ exhibits: [words('first'), words('second', true)], ...setup(edges) });
    const { texts } = await laidOut({});
    texts.forEach((own, page) => {
      const all = own.join(' ');
      expect(all).toContain('Confidential');
      expect(all).toContain(`${page + 1}/2, 31 October 2026`);
      expect(all).not.toContain('Data as of');
      expect(all).not.toMatch(/Page \d of/);
      expect(own).toContain(String(page + 1));
    });
    expect(texts[1].join(' ')).not.toContain('On paper');
    const usual = (await laidOut(setup({ scope: 'every' }))).texts;
    expect(usual[1].join(' ')).toMatch(/On paper.*Page 2 of 2/s);
  });

  it('are of one order where a table is wider than a page: down first, or across first', async () => {
    await scratch.save({ exhibits: [table], ...setup({ orientation: 'portrait' }) });
    const open = { open: { depth: 1, exceptions: [] }, order: null, hideEmpty: true };
    const state = { exhibits: { table: { state: { side: open, top: { ...open, open: { depth: 0, exceptions: [] } } } } } };
    const down = await laidOut({ ...state, ...setup({ orientation: 'portrait', wide: 'down' }) });
    const across = await laidOut({ ...state, ...setup({ orientation: 'portrait', wide: 'across' }) });
    // The same cells, whatever the order.
    const all = ({ texts }: { texts: string[][] }) => new Set(texts.flat().filter((text) => /^[\d,]+$/.test(text)));
    expect(all(across)).toEqual(all(down));
    const months = (laid: { texts: string[][] }) => laid.texts.map((own) => monthsOn(own)[0]);
    const [first, second] = months(across);
    expect(first).not.toBe(second);
    const distinct = new Set(months(down));
    expect(distinct).toEqual(new Set(months(across)));
    expect(down.pages.length).toBe(across.pages.length);
    expect(across.texts[1].join(' ')).toContain('part 2 of');
  });

  it('hold a wide table in smaller letters, and say how small', async () => {
    await scratch.save({ exhibits: [table], ...setup({}) });
    const narrow = { orientation: 'portrait', margins: 'wide' } as const;
    const small = await laidOut({ ...YEAR, ...setup({ ...narrow, wide: 'shrink' }) });
    const usual = await laidOut({ ...YEAR, ...setup(narrow) });
    expect(monthsOn(small.texts[0])).toHaveLength(10);
    expect(small.texts.flat().join(' ')).toMatch(/Set in letters of [\d.]+ points to fit the page/);
    expect(usual.texts.flat().join(' ')).not.toContain('Set in letters');
    expect(usual.pages.length).toBeGreaterThan(small.pages.length);
  });

  it('divide groups where these need not stay together', async () => {
    const cities = { ...table, side: { ...table.side, fields: ['region', 'country', 'city'] }, top: { ...table.top, fields: ['year'] } };
    await scratch.save({ exhibits: [cities], ...setup({}) });
    const open = (depth: number) => ({ open: { depth, exceptions: [] }, order: null, hideEmpty: true });
    const state = { ...YEAR, exhibits: { table: { state: { side: open(2), top: open(0) } } } };
    const kept = await laidOut(state);
    const filled = await laidOut({ ...state, ...setup({ keepGroups: false }) });
    const regions = ['Alpine and Danube', 'Atlantic', 'Mediterranean', 'Nordic'];
    // Below the headings every page of groups begins with one.
    const firstRows = kept.texts.map((own) =>
      own.slice(own.indexOf('Territory') + 1).find((text) => /^[A-Z]/.test(text) && text !== 'Year 2026'),
    );
    expect(firstRows).toEqual(expect.arrayContaining(regions));
    expect(filled.pages[0].parts[0].height).toBeGreaterThan(kept.pages[0].parts[0].height);
    expect(filled.pages.length).toBeLessThanOrEqual(kept.pages.length);
  });

  it('are those of the file', async () => {
    await scratch.save({ exhibits: [table, words('after', true)], ...setup({ margins: 'narrow' }) });
    const { texts } = await laidOut(YEAR);
    expect(await pdfPages(await exported(analyst, { report: scratch.id, format: 'pdf', draft: true, ...YEAR }))).toEqual(texts);
  });
});

describe('pages that are asked for again and again', () => {
  it('are refused past what one person can wait for, and laid out again after that', async () => {
    const ask = () => analyst.post('/api/exports/pages').send({ report: 'sales-in-charts', format: 'pdf', ...YEAR });
    const answers = await Promise.all(Array.from({ length: 9 }, ask));
    const refused = answers.filter(({ status }) => status === 429);
    expect(refused.length).toBeGreaterThan(0);
    expect(answers.every(({ status }) => status === 200 || status === 429)).toBe(true);
    expect((refused[0].body as Problem).code).toBe('too-many-tries');
    await ask().expect(200);
  });
});

describe('pages for somebody who sees a part', () => {
  it('hold nothing else', async () => {
    const { texts } = await laidOut({ report: 'sales-against-target', draft: false, ...YEAR }, sanna);
    expect(texts.flat().join(' ')).toContain('Nordic');
    expect(texts.flat().join(' ')).not.toMatch(/Atlantic|Mediterranean/);
  });

  it('are refused of drafts, and of what is not asked rightly', async () => {
    const post = (part: object) => sanna.post('/api/exports/pages').send({ report: scratch.id, format: 'pdf', ...part });
    await post({ draft: true }).expect(404);
    await post({ report: 'sales-against-target', pageSetup: { size: 'a0' } }).expect(400);
    const { body } = await post({ report: 'sales-against-target', scope: { region: ['Atlantic'] } }).expect(422);
    expect((body as Problem).code).toBe('scope-unknown');
  });
});
