import type { Problem } from '@bold-compass/core/api';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';
import { allTexts, exported, pdfPages, sheetRows } from '../../demo/testing/exported-files.ts';

/** A report in sections as it leaves the application: each section with its own figures, for whoever may see it. */

type Agent = Awaited<ReturnType<DemoApp['as']>>;
let demo: DemoApp;
let henrike: Agent;
let sanna: Agent;
let totals: Map<string, number>;
beforeAll(async () => {
  demo = await demoApp();
  [henrike, sanna] = await Promise.all(['henrike-hollin', 'sanna-wikmark'].map((person) => demo.as(person)));
  const { rows } = await demo.connection.pool.query<{ region: string | null; net: string }>(
    `SELECT region, sum(net_amount)::text AS net FROM imported.order_lines JOIN imported.showrooms USING (showroom_id)
     WHERE status NOT IN ('Cancelled', 'Returned') AND extract(year FROM order_date) = 2026 GROUP BY ROLLUP (region) ORDER BY region`,
  );
  totals = new Map(rows.map(({ region, net }) => [region ?? 'All regions', Number(net)]));
});
afterAll(() => demo.close());

const REGIONS = ['Alpine and Danube', 'Atlantic', 'Mediterranean', 'Nordic', 'All regions'];
const request = (part: object): object => ({ report: 'region-by-region', scope: { year: ['2026'] }, ...part });
interface Exhibit {
  id: string;
  section?: string;
  text?: string;
  tables?: { columns: string[]; rows: (string | number | null)[][] }[];
}
interface Page {
  title?: string;
  exhibits: Exhibit[];
}
const pagesOf = async (agent: Agent, part: object): Promise<Page[]> =>
  (JSON.parse((await exported(agent, request({ format: 'json', ...part }))).toString('utf8')) as { pages: Page[] }).pages;
const tableOf = ({ exhibits }: Page, id: string) => exhibits.find((one) => one.id === id)!.tables![0];

describe('each section of a report', () => {
  it('is a page with the figures of PostgreSQL, and all together are the last', async () => {
    const pages = await pagesOf(henrike, {});
    expect(pages.map(({ title }) => title)).toEqual(REGIONS);
    for (const page of pages) {
      const { rows } = tableOf(page, 'lines');
      const total = rows.at(-1)!;
      // Thousands, as they are shown.
      expect(total, page.title).toContain(Math.round(totals.get(page.title!)! / 1000));
      expect(page.exhibits.every(({ section }) => section === page.title)).toBe(true);
    }
    const labels = (at: number) => tableOf(pages[at], 'territory').rows.map(([label]) => label);
    expect(labels(3)).toEqual(['Denmark', 'Finland', 'Norway', 'Sweden', 'All countries']);
    expect(labels(4)).toEqual([...REGIONS.slice(0, 4), 'All regions']);
  });

  it('stands as deep open as it does on the screen, and so do all together', async () => {
    const open = (depth: number) => ({ open: { depth, exceptions: [] }, order: null, hideEmpty: true });
    const pages = await pagesOf(henrike, { exhibits: { territory: { state: { side: open(0), top: open(0) } } } });
    expect(tableOf(pages[3], 'territory').rows.map(([label]) => label)).toEqual([
      'Denmark',
      'Finland',
      'Norway',
      'Sweden',
      'All countries',
    ]);
    // A level deeper: what the sections show of each region.
    expect(tableOf(pages[4], 'territory').rows.length).toBe(4 + 19 + 1);
  });

  it('has sheets of its own, and pages of its own', async () => {
    const sheets = await sheetRows(await exported(henrike, request({ format: 'xlsx' })));
    expect(Object.keys(sheets)).toEqual(expect.arrayContaining(['Nordic Product lines', 'Atlantic Product lines']));
    expect(sheets['Nordic Product lines'].find(([label]) => label === 'All lines')?.map(Number)).toContain(totals.get('Nordic'));
    const pages = await pdfPages(await exported(henrike, request({ format: 'pdf' })));
    const starts = REGIONS.map((name) => pages.findIndex((words) => words.slice(0, 6).includes(name)));
    expect(starts.every((at, index) => at >= 0 && (index === 0 || at > starts[index - 1]))).toBe(true);
  });

  it('is left out where only the open one is asked for', async () => {
    const [nordic, ...others] = await pagesOf(henrike, { sections: 'open', choices: { 'report.section': ['region', 'Nordic'] } });
    expect([nordic.title, others]).toEqual(['Nordic', []]);
    expect(tableOf(nordic, 'lines').rows.at(-1)).toContain(Math.round(totals.get('Nordic')! / 1000));
    const whole = await pagesOf(henrike, { sections: 'open' });
    expect(whole.map(({ title }) => title)).toEqual(['All regions']);
  });

  it('is none where the page is repeated by nothing, or by another level, whatever is open elsewhere', async () => {
    const other = await pagesOf(henrike, { report: 'sales-against-target', choices: { 'report.section': ['region', 'Nordic'] } });
    expect(other.map(({ title }) => title ?? '')).toEqual(['']);
    expect(tableOf(other[0], 'territory').rows.map(([label]) => label)).toEqual(REGIONS);
    const byLine = await pagesOf(henrike, { sections: 'open', choices: { 'report.section': ['line', 'Keys'] } });
    expect(byLine.map(({ title }) => title)).toEqual(['All regions']);
    expect(tableOf(byLine[0], 'lines').rows.at(-1)).toContain(Math.round(totals.get('All regions')! / 1000));
  });

  it('is the open one in a format of one table', async () => {
    const part = { format: 'csv', exhibit: 'territory', choices: { 'report.section': ['region', 'Nordic'] } };
    const lines = (await exported(henrike, request(part))).toString('utf8').split(/\r?\n/);
    expect(lines.some((line) => line.startsWith('Denmark,'))).toBe(true);
    expect(lines.some((line) => line.startsWith('France,') || line.startsWith('Nordic,'))).toBe(false);
  });
});

describe('sections of somebody who sees a part', () => {
  it('are theirs: nothing of another region is in any format', async () => {
    const pages = await pagesOf(sanna, {});
    expect(pages.map(({ title }) => title)).toEqual(['Nordic']);
    for (const format of ['xlsx', 'pptx', 'pdf'] as const) {
      const texts = await allTexts(format, await exported(sanna, request({ format })));
      expect(texts).toContain('Denmark');
      expect(texts).not.toMatch(/Atlantic|Mediterranean|Alpine|France|Austria/);
    }
  });

  it('are refused where they are not theirs', async () => {
    const hostile = request({ format: 'json', sections: 'open', choices: { 'report.section': ['region', 'Atlantic'] } });
    const { body } = await sanna.post('/api/exports').send(hostile).expect(422);
    expect((body as Problem).detail).toMatch(/^There is no region “Atlantic” here/);
  });
});
