import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import pg from 'pg';
import { enterAs, figuresOf, grid, openSales, rowLabels, rowOf } from './support/people.ts';

/** A manager explores "Sales against target", in the order they meet its parts. */

const thousand = (value: string | number): number => Math.round(Number(value) / 1000);

async function query<Row>(sql: string): Promise<Row[]> {
  const client = new pg.Client({ connectionString: process.env.BOLD_COMPASS_E2E_DATABASE });
  await client.connect();
  try {
    return (await client.query(sql)).rows as Row[];
  } finally {
    await client.end();
  }
}
const SOLD = `FROM imported.order_lines o JOIN imported.showrooms s USING (showroom_id) WHERE o.status NOT IN ('Cancelled', 'Returned')`;

test('shows key figures and a cross-tab that equal what PostgreSQL says', async ({ page }) => {
  await openSales(page);
  await expect(page.getByTestId('scope-line')).toContainText('Showing net sales in euro for');
  await expect(page.getByRole('button', { name: 'Year: 2026. Change' })).toBeVisible();
  const expected = await query<{ region: string | null; quarter: string | null; net: string }>(
    `SELECT region, to_char(order_date, 'Q') AS quarter, sum(quantity * unit_price - discount) AS net ${SOLD} AND order_date >= '2026-01-01' GROUP BY CUBE (region, to_char(order_date, 'Q'))`,
  );
  const net = (region: string | null, quarter: string | null): number =>
    thousand(expected.find((row) => row.region === region && row.quarter === quarter)!.net);
  for (const region of ['Nordic', 'Atlantic', 'Alpine and Danube', 'Mediterranean', null]) {
    const figures = await figuresOf(page, region ?? 'All regions');
    expect(figures.filter((_, index) => index % 3 === 0)).toEqual([
      net(region, '1'),
      net(region, '2'),
      net(region, '3'),
      net(region, '4'),
      net(region, null),
    ]);
  }
  const strip = page.getByRole('region', { name: 'Key figures' });
  await expect(strip).toContainText(`€ ${(net(null, null) / 1000).toFixed(2).slice(0, 4)}`);
  await expect(strip).toContainText('Drifting');
  await expect(strip.getByRole('img', { name: 'On course' })).toHaveCount(3);
});

test('a table of a few rows is shown whole, and the wheel over it moves the page', async ({ page }) => {
  await openSales(page);
  await page.getByRole('button', { name: 'Open Nordic' }).click();
  await expect(rowOf(page, 'Sweden')).toBeVisible();
  await page.setViewportSize({ width: 1280, height: 500 });
  await rowOf(page, 'Alpine and Danube').hover();
  // A wheel that turns before the page is laid out anew turns nothing.
  await expect.poll(() => page.evaluate(() => document.documentElement.scrollHeight > window.innerHeight + 120)).toBe(true);
  await page.mouse.wheel(0, 120);
  await expect.poll(() => page.evaluate(() => window.scrollY)).toBe(120);
  // Its last row is in sight once the page has been scrolled to it, with none hidden behind the closing rule.
  await page.mouse.wheel(0, 2_000);
  await expect(rowOf(page, 'All regions')).toBeInViewport();
});

test('opens and closes members, levels and whole axes, and the address says so', async ({ page }) => {
  await openSales(page);
  expect(await rowLabels(page)).toEqual(['Alpine and Danube', 'Atlantic', 'Mediterranean', 'Nordic', 'All regions']);
  await page.getByRole('button', { name: 'Open Nordic' }).click();
  await expect(rowOf(page, 'Sweden')).toBeVisible();
  await page.getByRole('button', { name: 'Open Sweden' }).click();
  await expect(rowOf(page, 'Malmö')).toBeVisible();
  expect(await rowLabels(page)).toEqual([
    'Alpine and Danube',
    'Atlantic',
    'Mediterranean',
    'Nordic',
    'Denmark',
    'Finland',
    'Norway',
    'Sweden',
    'Gothenburg',
    'Malmö',
    'Stockholm',
    'Uppsala',
    'All regions',
  ]);
  const city = await figuresOf(page, 'Malmö');
  expect(city.slice(1, 3)).toEqual([null, null]);
  await expect(rowOf(page, 'Malmö').getByRole('gridcell').nth(1)).toHaveAttribute('title', /Targets are set per country, line and month/);

  await page.getByRole('button', { name: 'Open Q2' }).click();
  await expect(page.getByRole('columnheader', { name: 'April' })).toBeVisible();
  await expect(page.getByRole('columnheader', { name: 'Q2 total' })).toBeVisible();

  const shared = page.url();
  await page.getByRole('group', { name: 'Expand rows to' }).getByRole('button', { name: 'country' }).click();
  await expect(rowOf(page, 'Portugal')).toBeVisible();
  await expect(rowOf(page, 'Malmö')).toHaveCount(0);
  await page.getByRole('group', { name: 'Expand columns to' }).getByRole('button', { name: 'year' }).click();
  await expect(page.getByRole('columnheader', { name: 'Q1' })).toHaveCount(0);
  await page.goBack();
  await page.goBack();
  await expect(rowOf(page, 'Malmö')).toBeVisible();
  await expect(page.getByRole('columnheader', { name: 'April' })).toBeVisible();
  expect(page.url()).toBe(shared);

  await page.reload();
  await expect(rowOf(page, 'Malmö')).toBeVisible();
  await expect(page.getByRole('columnheader', { name: 'April' })).toBeVisible();
});

test('prompts cascade, search and count; everything answers at once', async ({ page }) => {
  await openSales(page);
  await page.getByRole('button', { name: 'Region: every region. Change' }).click();
  await page.getByRole('option', { name: /^Nordic/ }).click();
  await expect(page.getByRole('button', { name: 'Region: Nordic. Change' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(rowOf(page, 'Atlantic')).toHaveCount(0);

  await page.getByRole('button', { name: 'Country: every country. Change' }).click();
  await expect(page.getByRole('option')).toHaveText([/Every country/, /Denmark/, /Finland/, /Norway/, /Sweden/]);
  await page.getByRole('option', { name: /^Sweden/ }).click();
  await page.getByRole('option', { name: /^Norway/ }).click();
  await expect(page.getByRole('button', { name: 'Country: Sweden and Norway. Change' })).toBeVisible();
  await page.keyboard.press('Escape');

  await page.getByRole('button', { name: 'City: every city. Change' }).click();
  await expect(page.getByRole('option')).toHaveCount(8);
  await page.keyboard.press('Escape');

  await page.getByRole('button', { name: 'Month: every month. Change' }).click();
  await page.getByRole('searchbox', { name: 'Find a month' }).fill('mar');
  await expect(page.getByRole('option')).toHaveText([/Every month/, /March 2026/]);
  await page.getByRole('option', { name: /March 2026/ }).click();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('button', { name: 'Month: March. Change' })).toBeVisible();

  const [expected] = await query<{ net: string }>(
    `SELECT sum(quantity * unit_price - discount) AS net ${SOLD} AND country IN ('Sweden', 'Norway') AND to_char(order_date, 'YYYY-MM') = '2026-03'`,
  );
  await expect.poll(() => figuresOf(page, 'Nordic').then((figures) => figures[0])).toBe(thousand(expected.net));

  // A wider choice keeps the countries, which can still be there; another region drops them, and says so.
  await page.getByRole('button', { name: 'Region: Nordic. Change' }).click();
  await page.getByRole('option', { name: /^Every region/ }).click();
  await expect(page.getByRole('button', { name: 'Country: Sweden and Norway. Change' })).toBeVisible();
  await page.getByRole('option', { name: /^Atlantic/ }).click();
  await page.keyboard.press('Escape');
  await expect(page.getByText('Sweden and Norway were dropped from country')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Country: every country. Change' })).toBeVisible();

  await page.getByRole('button', { name: 'Channel: every channel. Change' }).click();
  await page.getByRole('option', { name: /^Online/ }).click();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('region', { name: 'Key figures' })).toContainText('No reading');
  await expect(page.getByRole('region', { name: 'Key figures' })).toContainText('under a choice of channel there is no value');
});

test('orders rows by any column inside their parents, and by label', async ({ page }) => {
  await openSales(page, 'Henrike Hollin', 'year=2026&territory.side=1');
  const header = page.getByRole('columnheader', { name: 'Net sales' }).first();
  await header.getByRole('button').click();
  await expect(header).toHaveAttribute('aria-sort', 'descending');
  const regions = (labels: string[]): string[] =>
    labels.filter((label) => ['Nordic', 'Atlantic', 'Alpine and Danube', 'Mediterranean'].includes(label));
  await expect.poll(async () => regions(await rowLabels(page)).at(-1)).toBe('Mediterranean');
  const labels = await rowLabels(page);
  const [germany, hungary] = [labels.indexOf('Germany'), labels.indexOf('Hungary')];
  expect(germany).toBe(labels.indexOf('Alpine and Danube') + 1);
  expect(hungary).toBeGreaterThan(germany);
  await header.getByRole('button').click();
  await expect(header).toHaveAttribute('aria-sort', 'ascending');
  await page.getByRole('button', { name: 'Territory' }).click();
  await expect.poll(async () => regions(await rowLabels(page))).toEqual(['Alpine and Danube', 'Atlantic', 'Mediterranean', 'Nordic']);
});

test('a cell explains itself and leads to exactly its order lines; Back returns to it', async ({ page }) => {
  await openSales(page);
  await page.getByRole('button', { name: 'Open Nordic' }).click();
  await rowOf(page, 'Sweden').getByRole('gridcell').nth(3).click();
  const margin = page.getByRole('complementary', { name: 'About the chosen figure' });
  await expect(margin).toContainText('Sweden, Q2 2026');
  await expect(margin).toContainText('sum(quantity × unit_price − discount)');
  const [expected] = await query<{ n: number; net: string }>(
    `SELECT count(*)::int AS n, sum(quantity * unit_price - discount) AS net ${SOLD} AND country = 'Sweden' AND order_date BETWEEN '2026-04-01' AND '2026-06-30'`,
  );
  await expect(margin).toContainText(`over ${expected.n.toLocaleString('en-GB')} order lines`);
  await expect(margin).toContainText('Country is Sweden');
  await expect(margin).toContainText('Stockholm');
  await expect(margin).toContainText('Same days, last year');
  await expect(margin).toContainText('Share of Nordic');

  const before = page.url();
  await margin.getByRole('link', { name: /^Order lines/ }).click();
  await expect(page.getByRole('heading', { name: 'Order lines', level: 1 })).toBeVisible();
  await expect(page.getByTestId('scope-line')).toContainText('Sweden');
  await expect(page.getByTestId('scope-line')).toContainText('Quarter Q2 2026');
  await expect(page.getByText(`${expected.n.toLocaleString('en-GB')} order lines`)).toBeVisible();
  const net = Number(expected.net).toLocaleString('en-GB', { minimumFractionDigits: 2 });
  await expect(page.getByRole('table').locator('tfoot')).toContainText(net);

  await page.getByRole('button', { name: 'Net', exact: true }).click();
  await expect(page.getByRole('columnheader', { name: 'Net' })).toHaveAttribute('aria-sort', 'ascending');
  await page.getByRole('button', { name: 'Next page' }).click();
  await expect(page.getByText('Page 2 of')).toBeVisible();
  await page.goBack();
  await page.goBack();
  await page
    .getByRole('navigation', { name: 'Trail' })
    .getByRole('button', { name: /^Sales against target/ })
    .click();
  await expect(rowOf(page, 'Sweden').getByRole('gridcell').nth(3)).toHaveAttribute('aria-selected', 'true');
  expect(page.url()).toBe(before);
});

test('a drill-through opens in a new tab too', async ({ page, context }) => {
  await openSales(page, 'Henrike Hollin', 'year=2026&territory.cell=Nordic&territory.cell=2026&territory.cell=net_sales');
  const opened = context.waitForEvent('page');
  await page.getByRole('link', { name: /^Order lines/ }).click({ modifiers: ['ControlOrMeta'] });
  const tab = await opened;
  await expect(tab.getByTestId('scope-line')).toContainText('Nordic');
  await expect(tab.getByRole('table')).toBeVisible();
});

test('everything in the cross-tab can be done with the keyboard', async ({ page }) => {
  await openSales(page);
  await grid(page).focus();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowRight');
  await expect(rowOf(page, 'Denmark')).toBeVisible();
  await expect(rowOf(page, 'Nordic')).toHaveAttribute('aria-expanded', 'true');
  await page.keyboard.press('c');
  await expect(rowOf(page, 'Denmark')).toHaveCount(0);
  await page.keyboard.press('Shift+E');
  await expect(rowOf(page, 'Portugal')).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('e');
  await expect(rowOf(page, 'Copenhagen')).toBeVisible();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('o');
  await expect(page.getByRole('columnheader', { name: 'Net sales' }).first()).toHaveAttribute('aria-sort', 'descending');
  await page.keyboard.press('w');
  await expect(page.getByRole('complementary', { name: 'About the chosen figure' })).toContainText('Denmark, Q1 2026');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('complementary', { name: 'About the chosen figure' })).toHaveCount(0);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Order lines', level: 1 })).toBeVisible();
  await page.keyboard.press('Backspace');
  await expect(grid(page)).toBeVisible();
  await page.keyboard.press('/');
  await expect(page.getByRole('button', { name: 'Year: 2026. Change' })).toBeFocused();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('open this member');
});

test('empty rows and columns are shown by a switch', async ({ page }) => {
  await openSales(page, 'Klara Obertal', 'year=2023&country=Poland&territory.side=3');
  const closed = await rowLabels(page);
  await page.getByRole('group', { name: 'Empty rows and columns' }).getByRole('button', { name: 'rows' }).click();
  await expect.poll(() => rowLabels(page).then((labels) => labels.length)).toBe(closed.length + 1);
});

test('a regional manager sees their region only, and is told so', async ({ page }) => {
  await openSales(page, 'Sanna Wikmark');
  expect(await rowLabels(page)).toEqual(['Nordic']);
  await expect(page.getByText('You see what is yours: Region is Nordic.')).toBeVisible();
  await page.getByRole('button', { name: /^Country: / }).click();
  await expect(page.getByRole('option')).toHaveText([/Every country/, /Denmark/, /Finland/, /Norway/, /Sweden/]);
});

test('a wide and long cross-tab draws only what is seen', async ({ page }) => {
  await openSales(page, 'Henrike Hollin', '*=&territory.side=3&territory.top=2');
  await expect(rowOf(page, 'Alpine and Danube')).toBeVisible();
  const drawn = await grid(page).getByRole('gridcell').count();
  expect(drawn).toBeLessThan(2_500);
  expect(Number(await grid(page).getAttribute('aria-rowcount'))).toBeGreaterThan(190);
  expect(Number(await grid(page).getAttribute('aria-colcount'))).toBeGreaterThan(190);
  await grid(page).focus();
  for (let presses = 0; presses < 14; presses++) await page.keyboard.press('PageDown');
  await expect(rowOf(page, 'All regions')).toBeVisible();
  await page.keyboard.press('End');
  await expect(page.getByRole('columnheader', { name: 'All years' })).toBeVisible();
  const [total] = await query<{ net: string }>(`SELECT sum(quantity * unit_price - discount) AS net ${SOLD}`);
  await expect(rowOf(page, 'All regions').getByRole('gridcell').nth(-3)).toHaveText(thousand(total.net).toLocaleString('en-GB'));
});

test('a phone can read it', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await openSales(page, 'Elin Dahlmark');
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await page.getByRole('button', { name: 'Open Nordic' }).click();
  await rowOf(page, 'Sweden').getByRole('gridcell').first().click();
  await expect(page.getByRole('complementary', { name: 'About the chosen figure' })).toContainText('Why this number');
});

test('signs in with email and password, and out again', async ({ page }) => {
  await page.goto('/reports/order-lines?country=Ireland');
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('status')).toHaveText('Fill in both your email and your password.');
  await page.getByLabel('Email').fill('gareth.penhale@hollin-marsh.example');
  await page.getByLabel('Password').fill('wrong');
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('status')).toHaveText(/do not belong together/);
  await expect(page.getByLabel('Email')).toHaveValue('gareth.penhale@hollin-marsh.example');
  await page.getByLabel('Password').fill('compass-demo');
  await page.getByRole('button', { name: 'Sign in' }).click();
  // The page that was asked for comes back, scope included.
  await expect(page.getByRole('button', { name: 'Country: Ireland. Change' })).toBeVisible();
  await page.getByRole('button', { name: /Gareth Penhale/ }).click();
  await page.getByRole('menuitem', { name: 'Dark appearance' }).click();
  await expect(page.locator('.v-theme--dark').first()).toBeVisible();
  await page.getByRole('button', { name: /Gareth Penhale/ }).click();
  await page.getByRole('menuitem', { name: 'Sign out', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
  await page.goto('/reports');
  await expect(page.getByRole('heading', { name: 'Sign in' })).toBeVisible();
});

test('the library finds reports', async ({ page }) => {
  await enterAs(page, 'Henrike Hollin');
  await page.getByLabel('Find a report').fill('lines');
  await expect(page.getByRole('link', { name: /Order lines/ }).last()).toBeVisible();
  await expect(page.getByRole('link', { name: /Sales against target/ })).toHaveCount(0);
  await page.getByLabel('Find a report').fill('zzz');
  await expect(page.getByText('No report matches “zzz”')).toBeVisible();
});

test('the records behind a figure open from the margin, are ordered, and taken along as a file', async ({ page }) => {
  await openSales(page, 'Henrike Hollin', 'year=2026&territory.cell=Nordic&territory.cell=2026&territory.cell=net_sales');
  const margin = page.getByRole('complementary', { name: 'About the chosen figure' });
  await margin.getByRole('button', { name: /order lines$/ }).click();
  const dialog = page.getByRole('dialog', { name: /Records behind Nordic, 2026/ });
  const sold = await query<{ n: string; net: string; most: string }>(
    `SELECT count(*) AS n, sum(net_amount) AS net, max(net_amount) AS most
     FROM imported.order_lines JOIN imported.showrooms USING (showroom_id)
     WHERE region = 'Nordic' AND order_date >= '2026-01-01' AND status NOT IN ('Cancelled', 'Returned')`,
  );
  const count = Number(sold[0].n).toLocaleString('en-GB');
  const money = (value: string): string => Number(value).toLocaleString('en-GB', { minimumFractionDigits: 2, maximumFractionDigits: 2 });
  await expect(dialog.getByText(`${count} order lines; net sales €`)).toContainText(money(sold[0].net));
  const heading = dialog.getByRole('columnheader', { name: 'Net amount' });
  await heading.click();
  await heading.click();
  await expect(dialog.getByRole('row').nth(1)).toContainText(money(sold[0].most));
  await dialog.getByRole('button', { name: 'Next page' }).click();
  await expect(dialog.getByText(/^Page 2 of /)).toBeVisible();
  const download = page.waitForEvent('download');
  await dialog.getByRole('button', { name: 'Download CSV' }).click();
  const file = await (await download).path();
  const lines = readFileSync(file, 'utf8').trim().split('\r\n');
  expect(lines).toHaveLength(Number(sold[0].n) + 1);
  await dialog.getByRole('button', { name: 'Close the records' }).click();
  await expect(dialog).toBeHidden();
});

test('a row becomes the whole of what is shown, and Back leads to what was before', async ({ page }) => {
  await openSales(page, 'Henrike Hollin', 'year=2026&territory.side=0&territory.side=Nordic');
  await rowOf(page, 'Sweden').getByRole('gridcell').first().click();
  await page.getByRole('button', { name: 'Show only Sweden' }).click();
  await expect(page.getByRole('button', { name: 'Country: Sweden. Change' })).toBeVisible();
  await expect(rowOf(page, 'Norway')).toHaveCount(0);
  await page.goBack();
  await expect(rowOf(page, 'Norway')).toBeVisible();
});

test('a cross-tab is taken along as it stands on the screen, and so are its records', async ({ page }) => {
  await openSales(page, 'Sanna Wikmark', 'year=2026&territory.side=0&territory.side=Nordic');
  const table = page.getByRole('region', { name: 'Net sales and attainment' });
  const saved = async (choice: string): Promise<string[]> => {
    await table.getByRole('button', { name: /^Download / }).click();
    const download = page.waitForEvent('download');
    await page.getByText(choice, { exact: true }).click();
    return readFileSync(await (await download).path(), 'utf8')
      .trim()
      .split('\r\n');
  };
  const lines = await saved('Table as shown, CSV');
  expect(lines[0]).toMatch(/Net sales \(thousand euro\)/);
  // What is open is there, what is closed is not, and each figure is the one on the screen.
  const sweden = lines.find((line) => line.includes(',Sweden,'))!.split(',');
  expect(sweden[0]).toBe('Nordic');
  const shown = await rowOf(page, 'Sweden').getByRole('gridcell').first().innerText();
  expect(Number(sweden.find((value) => /^-?\d/.test(value)))).toBe(Number(shown.replaceAll(',', '').replace('−', '-')));
  expect(lines.some((line) => line.includes('Stockholm'))).toBe(false);
  expect(lines.some((line) => line.includes('Atlantic'))).toBe(false);
  const [{ n }] = await query<{ n: string }>(
    `SELECT count(*) AS n FROM imported.order_lines JOIN imported.showrooms USING (showroom_id)
     WHERE region = 'Nordic' AND order_date >= '2026-01-01' AND status NOT IN ('Cancelled', 'Returned')`,
  );
  expect(await saved('Its records, CSV')).toHaveLength(Number(n) + 1);
});

test('a reader draws the width of a column, which the address keeps, and fits it again', async ({ page }) => {
  await enterAs(page, 'Henrike Hollin');
  await page.goto('/reports/sales-against-target');
  const table = page.getByRole('treegrid', { name: 'Net sales and attainment' });
  const handle = table.getByRole('separator', { name: 'Width of the labels' });
  await expect(handle).toBeVisible();
  const width = async (): Promise<number> => Number(await handle.getAttribute('aria-valuenow'));
  const before = await width();
  await handle.focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('ArrowRight');
  await expect.poll(width).toBe(before + 16);
  expect(new URL(page.url()).searchParams.get('territory.widths')).toBe(`label:${before + 16}`);
  await page.reload();
  await expect.poll(width).toBe(before + 16);
  const box = (await handle.boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 60, box.y + box.height / 2, { steps: 4 });
  await page.mouse.up();
  await expect.poll(width).toBeGreaterThan(before + 60);
  await handle.dblclick();
  await expect.poll(width).toBe(before);
});
