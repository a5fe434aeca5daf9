import { expect, test, type Browser, type Locator, type Page } from '@playwright/test';
import pg from 'pg';
import { begin, drawer, put, rowOf, settings, thousands } from './support/compose.ts';
import { choose } from './support/controls.ts';

/** A cross-tab is arranged in its settings: order, subtotals, levels as columns, measures one below the other. */

const client = new pg.Client({ connectionString: process.env.BOLD_COMPASS_E2E_DATABASE });
test.beforeAll(() => client.connect());
test.afterAll(() => client.end());
const rows = async <Row extends object>(sql: string): Promise<Row[]> => (await client.query<Row>(sql)).rows;
const NET = 'sum(quantity * unit_price - discount)';
const SOLD = `FROM imported.order_lines AS o JOIN imported.showrooms AS s USING (showroom_id) WHERE o.status NOT IN ('Cancelled', 'Returned')`;

/** Regions and countries down the side, years across, net sales in the cells. */
async function beginCrosstab(page: Page, title: string): Promise<void> {
  await begin(page, `${title} ${Date.now()}`);
  await page.getByRole('button', { name: 'Cross-tab', exact: true }).click();
  await put(page, 'Region', 'Add down the side');
  await put(page, 'Country', 'Add down the side');
  await put(page, 'Year', 'Add across the top');
  await put(page, 'Net sales', 'Add to cells');
  await expect(rowOf(page, 'Nordic')).toBeVisible();
}
/** The words of the rows, without the signs of their toggles. */
async function labels(page: Page): Promise<string[]> {
  const texts = await page.getByRole('treegrid').getByRole('rowheader').allInnerTexts();
  return texts.map((text) => text.replace(/^[+−]\s*/, ''));
}
const tag = (page: Page, edge: string, name: string) => page.getByRole('group', { name: edge }).getByRole('button', { name, exact: true });

/** Chooses a tag, whose menu opens with it, and closes the menu. */
async function chooseTag(page: Page, edge: string, name: string): Promise<void> {
  await tag(page, edge, name).click();
  await expect(page.getByRole('menu')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('menu')).toBeHidden();
}

test('members stand by a measure in a column that was chosen, and undo outlives the page', async ({ page }) => {
  await beginCrosstab(page, 'Ordered');
  await chooseTag(page, 'Down the side', 'Region');
  const margin = settings(page);
  await choose(margin, 'Sort by', 'Net sales');
  await choose(margin, 'Direction', 'Smallest first');
  await choose(margin, 'Sort by values in: year', '2024');
  const expected = await rows<{ region: string }>(
    `SELECT s.region ${SOLD} AND order_date >= '2024-01-01' AND order_date < '2025-01-01' GROUP BY 1 ORDER BY ${NET}`,
  );
  const ordered = [...expected.map(({ region }) => region), 'All regions'];
  await expect.poll(() => labels(page)).toEqual(ordered);
  await expect(page.getByRole('status').filter({ hasText: 'Draft saved' })).toBeVisible();
  await page.reload();
  await expect.poll(() => labels(page)).toEqual(ordered);
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(() => labels(page)).toEqual([...ordered.slice(0, -1).sort(), 'All regions']);
});

test('subtotals follow their members where that is chosen, and are left out elsewhere', async ({ page }) => {
  await beginCrosstab(page, 'Subtotals');
  await chooseTag(page, 'Down the side', 'Region');
  await choose(settings(page), 'Subtotal', 'After members');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Open Nordic' }).click();
  const countries = await rows<{ country: string }>(`SELECT DISTINCT country ${SOLD} AND region = 'Nordic' ORDER BY 1`);
  await expect
    .poll(() => labels(page))
    .toEqual(expect.arrayContaining(['Nordic', ...countries.map(({ country }) => country), 'Nordic total', 'All regions']));
  const shown = await labels(page);
  expect(shown.indexOf('Nordic total')).toBe(shown.indexOf('Nordic') + countries.length + 1);
  const [{ net }] = await rows<{ net: string }>(`SELECT ${NET} AS net ${SOLD} AND region = 'Nordic'`);
  await expect(rowOf(page, 'Nordic total').getByRole('gridcell').last()).toHaveText(thousands(net));
  await expect(rowOf(page, 'Nordic').getByRole('gridcell').last()).toHaveText('');
  await choose(settings(page), 'Subtotal', 'None');
  await expect(page.getByRole('rowheader', { name: 'Nordic total' })).toHaveCount(0);
});

test('a heading is renamed where it stands, and members are chosen by branch', async ({ page }) => {
  await beginCrosstab(page, 'Renamed');
  await page.getByRole('button', { name: 'Rename Net sales' }).click();
  await page.getByLabel('Heading of Net sales').fill('Sold');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('columnheader', { name: 'Sold' }).first()).toBeVisible();
  await page
    .getByRole('group', { name: /^Exhibit / })
    .getByRole('heading', { level: 2 })
    .click();
  const margin = settings(page);
  await margin.getByText('Filter', { exact: true }).click();
  await choose(margin, 'Add condition', 'City');
  await margin.getByLabel('All of Sweden').check();
  const [{ net }] = await rows<{ net: string }>(`SELECT ${NET} AS net ${SOLD} AND country = 'Sweden'`);
  await expect(rowOf(page, 'Nordic').getByRole('gridcell').last()).toHaveText(thousands(net));
  await expect(margin.getByLabel('Add condition')).toHaveValue('');
});

test('levels stand as columns side by side, and measures one below the other', async ({ page }) => {
  await beginCrosstab(page, 'Laid out');
  await put(page, 'Units sold', 'Add to cells');
  await page.getByRole('treegrid').press('Escape');
  await page
    .getByRole('group', { name: /^Exhibit / })
    .getByRole('heading', { level: 2 })
    .click();
  const margin = settings(page);
  await margin.getByText('Layout', { exact: true }).click();
  await choose(margin, 'Row layout', 'Columns');
  await choose(margin, 'Measure layout', 'Stacked');
  await page.getByRole('button', { name: 'Open Nordic' }).click();
  await expect(page.getByRole('treegrid').getByText('Country', { exact: true })).toBeVisible();
  const line = (label: RegExp) =>
    page
      .getByRole('treegrid')
      .getByRole('row')
      .filter({ has: page.getByRole('rowheader', { name: label }) });
  const [denmark] = await rows<{ net: string; units: string }>(
    `SELECT ${NET} AS net, sum(quantity) AS units ${SOLD} AND country = 'Denmark'`,
  );
  const first = line(/Denmark\s*Net sales, € k$/);
  await expect(first.getByRole('gridcell').last()).toHaveText(thousands(denmark.net));
  const next = Number(await first.getAttribute('aria-rowindex')) + 1;
  const below = page.getByRole('treegrid').locator(`[role=row][aria-rowindex="${next}"]`);
  await expect(below.getByRole('rowheader')).toHaveText(/Units/);
  await expect(below.getByRole('gridcell').last()).toHaveText(Number(denmark.units).toLocaleString('en-GB'));
  await margin.getByLabel('Repeat labels').check();
  await expect(
    line(/Nordic\s*Denmark\s*Net sales, € k$/)
      .or(line(/Nordic\s*Finland\s*Net sales, € k$/))
      .first(),
  ).toBeVisible();
});

test('thousands of rows are told of before they are drawn, and the largest can be chosen instead', async ({ page }) => {
  await begin(page, `Customers ${Date.now()}`);
  await page.getByRole('button', { name: 'Cross-tab', exact: true }).click();
  await put(page, 'Net sales', 'Add to cells');
  await put(page, 'Customer', 'Add down the side');
  await expect(page.getByText(/^This would make [\d,]+ rows and \d+ columns?$/)).toBeVisible();
  await expect(page.getByRole('treegrid')).toHaveCount(0);
  await page.getByRole('button', { name: 'Top 25, all others as one' }).click();
  const [best] = await rows<{ net: string }>(`SELECT ${NET} AS net ${SOLD} GROUP BY customer_id ORDER BY 1 DESC LIMIT 1`);
  const cells = page.getByRole('treegrid').getByRole('gridcell');
  await expect(cells.filter({ hasText: new RegExp(`^${thousands(best.net)}$`) }).first()).toBeVisible();
  const [{ net }] = await rows<{ net: string }>(`SELECT ${NET} AS net ${SOLD}`);
  await expect(rowOf(page, 'All customers').getByRole('gridcell').first()).toHaveText(thousands(net));
});

const middle = async (target: Locator): Promise<{ x: number; y: number }> => {
  const { x, y, width, height } = (await target.boundingBox())!;
  return { x: x + width / 2, y: y + height / 2 };
};

/** A page that fingers are told of, and how one takes hold of something and lets it go elsewhere. */
async function touched(browser: Browser): Promise<{ page: Page; drag: (from: Locator, to: Locator, below?: number) => Promise<void> }> {
  const context = await browser.newContext({ hasTouch: true, viewport: { width: 1280, height: 800 } });
  const page = await context.newPage();
  const touch = await context.newCDPSession(page);
  const send = (type: 'touchStart' | 'touchMove' | 'touchEnd', at?: { x: number; y: number }) =>
    touch.send('Input.dispatchTouchEvent', { type, touchPoints: at ? [at] : [] });
  const drag = async (start: Locator, end: Locator, below = 0): Promise<void> => {
    const [from, { x, y }] = [await middle(start), await middle(end)];
    const to = { x, y: y + below };
    await send('touchStart', from);
    await page.waitForTimeout(450);
    for (let step = 1; step <= 8; step++)
      await send('touchMove', { x: from.x + ((to.x - from.x) * step) / 8, y: from.y + ((to.y - from.y) * step) / 8 });
    await send('touchEnd');
  };
  return { page, drag };
}

test('a finger drags a field onto an edge', async ({ browser }) => {
  const { page, drag } = await touched(browser);
  await begin(page, `By hand ${Date.now()}`, 'One cross-tab');
  const edge = page.getByRole('group', { name: 'Down the side' });
  await expect(edge).toBeVisible();
  const field = drawer(page).getByRole('button', { name: 'Channel', exact: true });
  await field.scrollIntoViewIfNeeded();
  await drag(field, edge);
  await expect(edge.getByRole('button', { name: 'Channel', exact: true })).toBeVisible();
  await page.context().close();
});

test('the columns of a list are dragged by their handles, with a mouse and with a finger', async ({ browser }) => {
  const { page, drag } = await touched(browser);
  await begin(page, `Columns ${Date.now()}`);
  await page.getByRole('button', { name: 'List', exact: true }).click();
  const columns = settings(page)
    .getByRole('list')
    .filter({ has: page.locator('[draggable=true]') });
  const names = (): Promise<string[]> => columns.getByRole('listitem').allInnerTexts();
  await expect(columns.getByRole('listitem').nth(2)).toBeVisible();
  const [first, second, third, ...more] = await names();
  const handle = (index: number): Locator => columns.getByRole('listitem').nth(index).locator('[draggable=true]');
  // Let go above its middle, a column lands before the one it is over.
  await handle(2).dragTo(columns.getByRole('listitem').nth(0), { targetPosition: { x: 20, y: 4 } });
  await expect.poll(names).toEqual([third, first, second, ...more]);
  await drag(handle(2), handle(0), 6);
  await expect.poll(names).toEqual([third, second, first, ...more]);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(names).toEqual([third, first, second, ...more]);
  await page.context().close();
});

test('fields are dropped between the columns of a list, and on what it is grouped by', async ({ page }) => {
  await begin(page, `List edges ${Date.now()}`);
  await page.getByRole('button', { name: 'List', exact: true }).click();
  const columns = page.getByRole('group', { name: 'Columns', exact: true });
  const groups = page.getByRole('group', { name: 'Grouped by', exact: true });
  const tags = (edge: Locator): Promise<string[]> => edge.locator('[data-tag]').allInnerTexts();
  await expect(columns.locator('[data-tag]').nth(1)).toBeVisible();
  const [first, ...rest] = await tags(columns);
  const field = page.getByRole('complementary', { name: 'Fields and measures' }).getByRole('button', { name: 'Channel', exact: true });
  // Let go left of the middle of the second, it lands before it.
  await field.dragTo(columns.locator('[data-tag]').nth(1), { targetPosition: { x: 3, y: 8 } });
  await expect.poll(() => tags(columns)).toEqual([first, 'Channel', ...rest]);
  const headings = (): Promise<string[]> => page.getByRole('columnheader').allInnerTexts();
  await expect.poll(async () => (await headings()).findIndex((text) => text.includes('Channel'))).toBe(1);

  await field.dragTo(groups);
  await expect.poll(() => tags(groups)).toEqual(['Channel']);
  await page
    .getByRole('complementary', { name: 'Fields and measures' })
    .getByRole('button', { name: 'Region', exact: true })
    .dragTo(groups.locator('[data-tag]').first(), { targetPosition: { x: 3, y: 8 } });
  await expect.poll(() => tags(groups)).toEqual(['Region', 'Channel']);
  await expect(page.getByRole('columnheader', { name: 'Region › Channel' })).toBeVisible();
  // By keyboard, through the menu of the tag.
  await groups.getByRole('button', { name: 'Channel', exact: true }).press('Enter');
  await page.getByRole('menuitem', { name: 'Move left' }).click();
  await expect(page.getByRole('columnheader', { name: 'Channel › Region' })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('columnheader', { name: 'Region › Channel' })).toBeVisible();
});

test('a picture is chosen from a file, and no other exhibit asks again because of it', async ({ page }) => {
  await begin(page, `Pictures ${Date.now()}`, 'One cross-tab');
  await expect(page.getByRole('treegrid')).toBeVisible();
  await expect(page.getByText('Draft saved')).toBeVisible();
  const asked: string[] = [];
  page.on('request', (request) => request.url().endsWith('/crosstab') && asked.push(request.url()));
  await page.getByRole('button', { name: 'Picture', exact: true }).click();
  const margin = settings(page);
  await margin.getByLabel('Picture file').setInputFiles({ name: 'words.png', mimeType: 'image/png', buffer: Buffer.from('no picture') });
  await expect(margin.getByRole('alert').filter({ hasText: 'no picture that can be shown' })).toBeVisible();
  const drawing = '<svg xmlns="http://www.w3.org/2000/svg" width="320" height="80"><rect width="320" height="80" fill="#0E4F5C"/></svg>';
  await margin.getByLabel('Picture file').setInputFiles({ name: 'band.svg', mimeType: 'image/svg+xml', buffer: Buffer.from(drawing) });
  await margin.getByLabel('Alternative text').fill('A band of colour');
  await margin.getByLabel('Alternative text').blur();
  const picture = page.getByRole('img', { name: 'A band of colour' });
  await expect.poll(() => picture.evaluate((image: HTMLImageElement) => image.naturalWidth)).toBe(320);
  expect(await picture.getAttribute('src')).toMatch(/^\/api\/reports\/.+\/pictures\/[0-9a-f]{64}$/);
  await expect(page.getByText('Draft saved')).toBeVisible();
  expect(asked).toEqual([]);
});

test('the order that stands while composing is what readers begin with, where the analyst says so', async ({ page }) => {
  await beginCrosstab(page, 'Begins so');
  await expect(page.getByText('Draft saved')).toBeVisible();
  const address = new URL(page.url());
  for (const part of ['desc', 'net_sales', '']) address.searchParams.append('cross-tab.side-order', part);
  await page.goto(address.href);
  const expected = await rows<{ region: string }>(`SELECT s.region ${SOLD} GROUP BY 1 ORDER BY ${NET} DESC`);
  const ordered = [...expected.map(({ region }) => region), 'All regions'];
  await expect.poll(() => labels(page)).toEqual(ordered);

  await page.getByRole('button', { name: 'Publish edition 1' }).click();
  await page.getByLabel('Readers begin with what is chosen and ordered here').check();
  await expect(page.getByRole('list', { name: 'What readers would begin with' })).toContainText('as it is ordered and opened');
  await page.getByRole('button', { name: 'Publish', exact: true }).click();
  await expect(page.getByText('Edition 1 is published.')).toBeVisible();
  // A plain address, as a reader has it.
  await page.goto(address.pathname);
  await expect.poll(() => labels(page)).toEqual(ordered);
});
