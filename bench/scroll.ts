import { chromium, type Page } from '@playwright/test';

/**
 * How evenly a table of 12,000 rows scrolls, with bars, colours, arrows and sparklines in its cells and without any, side by
 * side in the real interface. Times depend on the machine, so this is no test; `npm run demo` must be running.
 * `npx tsx bench/scroll.ts [address]`
 */
const address = process.argv[2] ?? 'http://127.0.0.1:4600';
const ROUNDS = 3;
const EVENTS = 120;

const browser = await chromium.launch({
  executablePath: process.env.BOLD_COMPASS_CHROMIUM ?? '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--disable-background-networking'],
});
const page = await browser.newPage({ baseURL: address, viewport: { width: 1280, height: 800 } });
await page.addInitScript('globalThis.__name = (named) => named');
await page.request.post('/api/demo-session', { data: { person: 'ines-calloway' } });

const MARKS = [
  [
    { kind: 'bar', scale: 'column' },
    { kind: 'arrow', along: 'columns', threshold: 0.02 },
  ],
  [
    { kind: 'shade', scale: 'column' },
    { kind: 'sparkline', draw: 'line', field: 'quarter', periods: 8, scale: 'own', figure: true },
  ],
];

/** A report of its own with customers by year. */
async function report(isMarked: boolean): Promise<string> {
  const made = await page.request.post('/api/reports', {
    data: { title: 'Scroll', folder: 'Trials', dataset: 'hollin-marsh', layout: 'empty' },
  });
  const { id } = (await made.json()) as { id: string };
  const shown = (await (await page.request.get(`/api/reports/${id}?draft=true`)).json()) as { report: object; revision: number };
  const cells = ['net_sales', 'units'].map((measure, index) => (isMarked ? { measure, marks: MARKS[index] } : { measure }));
  const table = {
    kind: 'crosstab',
    id: 't',
    title: 'Customers',
    width: 12,
    height: 600,
    side: { fields: ['customer'] },
    top: { fields: ['year'] },
    cells,
  };
  await page.request.put(`/api/reports/${id}`, { data: { report: { ...shown.report, exhibits: [table] }, revision: shown.revision } });
  return id;
}

/** Milliseconds between frames while the wheel is turned by `step` pixels an event. */
async function frames(target: Page, step: number): Promise<number[]> {
  await target.evaluate(() => {
    const times: number[] = ((globalThis as { times?: number[] }).times = []);
    let last = performance.now();
    const look = (now: number): void => {
      times.push(now - last);
      last = now;
      requestAnimationFrame(look);
    };
    requestAnimationFrame(look);
  });
  for (let event = 0; event < EVENTS; event++) {
    await target.mouse.wheel(0, step);
    await target.waitForTimeout(16);
  }
  if (!(await target.getByRole('treegrid').evaluate((grid) => grid.parentElement!.scrollTop >= 1_000))) throw new Error('nothing scrolled');
  return target.evaluate(() => (globalThis as { times?: number[] }).times ?? []);
}

const times = new Map<string, number[]>();
for (let round = 0; round < ROUNDS; round++) {
  for (const [isMarked, step] of [
    [true, 40],
    [false, 40],
    [true, 160],
    [false, 160],
  ] as const) {
    const id = await report(isMarked);
    await page.goto(`/reports/${id}?compose`);
    await page.getByRole('button', { name: 'Show anyway' }).click();
    await page.getByRole('rowheader').first().hover();
    await page.waitForTimeout(500);
    const what = `${isMarked ? 'marked' : 'plain'}, ${step} px an event`;
    times.set(what, [...(times.get(what) ?? []), ...(await frames(page, step))]);
    await page.request.delete(`/api/reports/${id}`);
  }
}
await browser.close();
process.stdout.write('| frames | median | slowest twentieth |\n|---|---|---|\n');
for (const [what, own] of times) {
  const sorted = own.toSorted((a, b) => a - b);
  const at = (share: number): string => sorted[Math.floor(sorted.length * share)].toFixed(1);
  process.stdout.write(`| ${what} | ${at(0.5)} ms | ${at(0.95)} ms |\n`);
}
