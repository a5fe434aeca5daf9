import { chromium, type Page } from '@playwright/test';

/**
 * How long a manager waits on the demo data: from the click to the drawn result, in the real interface. Times depend on
 * the machine, so this is no test; `npm run demo` must be running. `npx tsx bench/clicks.ts [address]`
 */
const address = process.argv[2] ?? 'http://127.0.0.1:4600';
const ROUNDS = 9;

const browser = await chromium.launch({
  executablePath: process.env.BOLD_COMPASS_CHROMIUM ?? '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-quic', '--disable-background-networking'],
});
const page = await browser.newPage({ baseURL: address, viewport: { width: 1280, height: 800 } });
// tsx wraps named functions in a helper that the page does not have.
await page.addInitScript('globalThis.__name = (named) => named');
await page.request.post('/api/demo-session', { data: { person: 'henrike-hollin' } });

/** Milliseconds from a click until the page shows what `shown` looks for, measured inside the page, frame by frame. */
async function clickUntil(target: Page, click: string, shown: string): Promise<number> {
  return target.evaluate(
    ([clickPath, shownPath]) => {
      const find = (path: string): Node | null =>
        document.evaluate(path, document, null, XPathResult.FIRST_ORDERED_NODE_TYPE, null).singleNodeValue;
      return new Promise<number>((resolve, reject) => {
        const started = performance.now();
        (find(clickPath) as HTMLElement).click();
        const look = (): void => {
          if (find(shownPath)) resolve(performance.now() - started);
          else if (performance.now() - started > 10_000) reject(new Error(`not shown: ${shownPath}`));
          else requestAnimationFrame(look);
        };
        requestAnimationFrame(look);
      });
    },
    [click, shown] as const,
  );
}

const button = (name: string): string => `//button[@aria-label="${name}"]`;
const row = (name: string): string => `//*[@role="rowheader"][contains(., "${name}")]`;
const settled = `//*[@aria-busy="false"]//*[@role="treegrid"]`;

const times = new Map<string, number[]>();
const note = (what: string, time: number): void => void times.set(what, [...(times.get(what) ?? []), time]);
for (let round = 0; round < ROUNDS; round++) {
  // Another month each round, so that nothing is answered from what was asked before.
  const month = `2025-${String(round + 1).padStart(2, '0')}`;
  const started = performance.now();
  await page.goto(`/reports/sales-against-target?month=${month}`);
  await page.getByRole('treegrid').waitFor();
  await page.getByText('Units sold').waitFor();
  note('opening the report', performance.now() - started);
  note('opening a region', await clickUntil(page, button('Open Nordic'), row('Sweden')));
  note('opening a country', await clickUntil(page, button('Open Sweden'), row('Stockholm')));
  note('all rows to the cities', await clickUntil(page, `//*[@aria-label="Rows to"]/button[3]`, row('Graz')));
  note(
    'ordering by a column',
    await clickUntil(
      page,
      `(//*[@role="columnheader"]//button[@class="order"])[2]`,
      `${settled}//*[@role="columnheader"][@aria-sort="descending"]`,
    ),
  );
  await page.getByRole('button', { name: /^Region: / }).click();
  await page.getByRole('option', { name: /^Atlantic/ }).waitFor();
  note(
    'choosing in a prompt',
    await clickUntil(page, `//*[@role="option"][starts-with(normalize-space(.), "Atlantic")]`, `${settled}[@aria-rowcount < 40]`),
  );
}
/** Composing: a change on an edge of a report of its own, until the new table is drawn. */
await page.request.post('/api/demo-session', { data: { person: 'ines-calloway' } });
const made = await page.request.post('/api/reports', {
  data: { title: 'Clicks', folder: 'Trials', dataset: 'hollin-marsh', layout: 'crosstab' },
});
const { id } = (await made.json()) as { id: string };
for (let round = 0; round < ROUNDS; round++) {
  await page.goto(`/reports/${id}?compose=&year=${2023 + (round % 4)}`);
  await page.getByRole('treegrid').waitFor();
  await page.getByRole('button', { name: 'Units sold', exact: true }).click();
  const cells = '//*[@role="menuitem"][normalize-space(.)="Add to cells"]';
  await page.locator(cells).waitFor();
  note('composing: a measure in the cells', await clickUntil(page, cells, `//*[@role="columnheader"][contains(., "Units sold")]`));
  await page.waitForTimeout(400);
  note(
    'composing: undo',
    await clickUntil(page, button('Undo'), `//*[@role="treegrid"][not(.//*[@role="columnheader"][contains(., "Units sold")])]`),
  );
  await page.waitForTimeout(400);
  const swap = '//button[normalize-space(.)="Swap side and top"]';
  const first = (await page.locator('[role=rowheader] .words').first().textContent())!.trim();
  note(
    'composing: swapping the axes',
    await clickUntil(page, swap, `//*[@role="treegrid"][not(.//*[@role="rowheader"][contains(., "${first}")])]`),
  );
  await page.waitForTimeout(400);
}
await page.request.delete(`/api/reports/${id}`);
await browser.close();
process.stdout.write('| what | median of 9 |\n|---|---|\n');
for (const [what, own] of times)
  process.stdout.write(`| ${what} | ${own.toSorted((a, b) => a - b)[Math.floor(own.length / 2)].toFixed(0)} ms |\n`);
