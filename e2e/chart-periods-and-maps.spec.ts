import { expect, test, type Locator, type Page } from '@playwright/test';
import { begin, put, settings } from './support/compose.ts';
import { choose } from './support/controls.ts';
import { enterAs } from './support/people.ts';

/** Charts that go through periods, maps of points and of own shapes, notes, forecasts as tables, and two members compared. */

const exhibit = (page: Page, title: string): Locator => page.getByRole('region', { name: title, exact: true });
const plot = (place: Locator): Locator => place.getByRole('application').first();

/** Walks to the point whose words begin so; returns these. */
async function pointAt(chart: Locator, words: RegExp, key = 'ArrowRight'): Promise<string> {
  await chart.scrollIntoViewIfNeeded();
  await chart.press('Home');
  const status = chart.getByRole('status');
  await expect(status).not.toBeEmpty();
  for (let step = 0; step < 120; step++) {
    const said = await status.innerText();
    if (words.test(said)) return said;
    await chart.press(key);
  }
  throw new Error(`no point says ${words.source}`);
}
const margin = (page: Page): Locator => page.getByRole('complementary', { name: 'About the chosen figure' });

test('a manager plays a chart through its quarters, stops, and comes back to the same one', async ({ page }) => {
  await enterAs(page, 'Henrike Hollin');
  await page.goto('/reports/sales-in-charts?report.page=moving');
  const countries = exhibit(page, 'Countries by size, margin and attainment');
  const player = countries.getByRole('group', { name: /^Periods of/ });
  // The data ends in October: the last quarter that is over is shown first.
  await expect(player.getByText('Q3 2026', { exact: true })).toBeVisible();
  await player.getByRole('button', { name: 'Next period' }).click();
  await expect(player.getByText('Q4 2026 to date', { exact: true })).toBeVisible();
  await expect(player.getByRole('button', { name: 'Next period' })).toBeDisabled();
  await player.getByRole('button', { name: 'Previous period' }).click();
  await player.getByRole('button', { name: 'Previous period' }).click();
  await expect(plot(countries)).toHaveAttribute('aria-label', /^Bubbles by country, Q2 2026\./);

  // A point is that quarter's, and so is its explanation; the next step takes the choice along.
  const said = await pointAt(plot(countries), /^Germany/);
  expect(said).toMatch(/^Germany, Q2 2026: Net sales €\s[\d.]+\sM, Gross margin [\d.]+\s%, Orders [\d,]+, Attainment/);
  await plot(countries).press('Enter');
  await expect(margin(page).getByText('Quarter is Q2 2026')).toBeVisible();
  await expect(margin(page)).toContainText(/€\s([\d.]+)\sM/.exec(said)![1]);
  await player.getByRole('button', { name: 'Next period' }).click();
  await expect(margin(page).getByText('Quarter is Q3 2026')).toBeVisible();

  // Played from the first quarter at four times the speed, it comes to later ones, and stays where it is paused.
  const slider = player.getByRole('slider');
  await slider.press('Home');
  await expect(player.getByText('Q1 2023', { exact: true }).first()).toBeVisible();
  await choose(player, 'Speed', '4 ×');
  await player.getByRole('button', { name: 'Play' }).click();
  await expect(player.locator('strong')).not.toHaveText('Q1 2023');
  await player.getByRole('button', { name: 'Pause' }).click();
  const period = await player.locator('strong').innerText();
  await expect(page).toHaveURL(/countries\.period=/);
  await page.reload();
  await expect(exhibit(page, 'Countries by size, margin and attainment').locator('strong').first()).toHaveText(period);
});

test('a map of points comes nearer, and draws apart what lay together', async ({ page }) => {
  await enterAs(page, 'Henrike Hollin');
  await page.goto('/reports/sales-in-charts?report.page=where');
  const map = exhibit(page, 'Showrooms by net sales and margin');
  const chart = plot(map);
  await expect(chart).toHaveAttribute('aria-label', /^Map by showroom\. 109 points: Latitude along, Longitude up|^Map by showroom\./);
  await chart.focus();
  const together = await pointAt(chart, /^\d+ points: /);
  await chart.press('Enter');
  await expect(map.getByRole('button', { name: 'Fit to data' })).toBeEnabled();
  for (let step = 0; step < 9; step++) await chart.press('+');
  const alone = await pointAt(chart, /Net sales €/);
  expect(alone).toMatch(/: Net sales €\s[\d,.]+\sk, Gross margin [\d.]+\s%$/);
  await chart.press('Enter');
  await expect(margin(page)).toContainText('thousand euro net sales');
  await map.getByRole('button', { name: 'Fit to data' }).click();
  expect(await pointAt(chart, /^\d+ points: /)).toBe(together);

  // Pies say all of their parts, which are those of the table.
  const pies = plot(exhibit(page, 'Channels in each country'));
  const sweden = await pointAt(pies, /^Sweden: Online/);
  expect(sweden).toMatch(/^Sweden: Online €\s[\d.]+\sM, .*Showroom €\s[\d.]+\sM/);
});

test('a steward sets what is behind maps, and readers see to whom that is owed', async ({ page }) => {
  await enterAs(page, 'Tobias Renn');
  await page.getByRole('link', { name: 'Data' }).click();
  await page.getByRole('heading', { name: 'Tile server' }).scrollIntoViewIfNeeded();
  await page.getByRole('heading', { name: 'Tile server' }).locator('..').getByRole('button', { name: 'Change' }).click();
  const form = page.getByRole('form', { name: 'Tile server' });
  await form.getByLabel('Simulated tiles').uncheck();
  await form.getByLabel('Address').fill('https://tiles.example/no-places');
  await form.getByRole('button', { name: 'Test and save' }).click();
  await expect(form.getByText('holds {z}, {x} and {y} where')).toBeVisible();
  await form.getByLabel('Simulated tiles').check();
  await form.getByLabel('Attribution').fill('Drawn by us, for a test');
  await form.getByRole('button', { name: 'Test and save' }).click();
  await expect(page.getByText('Simulated tiles · Drawn by us, for a test')).toBeVisible();
  await enterAs(page, 'Henrike Hollin');
  const tile = page.waitForResponse((response) => response.url().includes('/api/tiles/') && response.ok());
  await page.goto('/reports/sales-in-charts?report.page=where');
  await tile;
  await expect(exhibit(page, 'Showrooms by net sales and margin').getByText('Drawn by us, for a test')).toBeVisible();
  // Their address is nobody else's.
  await page.goto('/data');
  await expect(page.getByRole('heading', { name: 'Tile server' })).toHaveCount(0);
});

const square = (west: number, south: number): number[][][] => [
  [
    [west, south],
    [west + 6, south],
    [west + 6, south + 5],
    [west, south + 5],
    [west, south],
  ],
];
const shapes = (...names: string[]): Buffer =>
  Buffer.from(
    JSON.stringify({
      type: 'FeatureCollection',
      features: names.map((area, index) => ({
        ...{ type: 'Feature', properties: { code: index + 1, area } },
        geometry: { type: 'Polygon', coordinates: square(8 * index, 45) },
      })),
    }),
  );

test('an analyst maps regions on own shapes, is told what is missing, and writes a note at a point', async ({ page }) => {
  await begin(page, 'Own shapes');
  await page.getByRole('button', { name: 'Start a chart' }).click();
  // Its edges are where they stay once it is drawn.
  await expect(page.getByRole('application')).toBeVisible();
  await page.getByRole('region', { name: 'New chart' }).getByRole('heading').click();
  await page.getByRole('group', { name: 'Along the axis' }).getByRole('button', { name: 'Month', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Remove' }).click();
  await put(page, 'Region', 'Add along the axis');
  await page.getByRole('region', { name: 'New chart' }).getByRole('heading').click();
  await choose(settings(page), 'Chart type', /^Map/);
  await expect(page.getByText('Not on the map: Alpine and Danube, Atlantic, Mediterranean, Nordic')).toBeVisible();

  const input = settings(page).locator('input[type=file]');
  await input.setInputFiles({ name: 'areas.geojson', mimeType: 'application/geo+json', buffer: Buffer.from('{"type":"Topology"}') });
  await expect(settings(page).getByText('This file is no GeoJSON of shapes: it is no collection of features.')).toBeVisible();
  await input.setInputFiles({ name: 'areas.geojson', mimeType: '', buffer: shapes('nordic', 'Atlantic', 'Mediterranean') });
  await expect(settings(page).getByText('Own shapes: 3 shapes have names')).toBeVisible();
  await expect(settings(page).getByLabel('Key', { exact: true })).toBeVisible();
  await expect(page.getByText('Not on the map: Alpine and Danube', { exact: true })).toBeVisible();
  const chart = page.getByRole('application');
  expect(await pointAt(chart, /Mediterranean/)).toMatch(/^Net sales, Mediterranean: €/);

  // A note at a point of the same figures as columns.
  await choose(settings(page), 'Chart type', /^Columns/);
  await expect(chart).toHaveAttribute('aria-label', /^Columns by region/);
  const said = await pointAt(chart, /Nordic/);
  await chart.press('Enter');
  await settings(page).getByRole('button', { name: 'Notes' }).click();
  await settings(page)
    .getByRole('button', { name: `Add note at ${said}` })
    .click();
  await settings(page).getByLabel('Note', { exact: true }).fill('Two showrooms opened');
  await settings(page).getByLabel('Note', { exact: true }).press('Tab');
  await expect(chart).toHaveAttribute('aria-label', new RegExp(`${said.replace(/[.*+?^$()[\]{}|\\]/g, '\\$&')}\\. Two showrooms opened$`));
  await page.keyboard.press('Control+z');
  await expect(chart).toHaveAttribute('aria-label', /\. Note$/);
});

test('an analyst lets a chart go through quarters by its edge, and takes that back', async ({ page }) => {
  await begin(page, 'Through quarters');
  await page.getByRole('button', { name: 'Start a chart' }).click();
  // Its edges are where they stay once it is drawn.
  await expect(page.getByRole('application')).toBeVisible();
  await page.getByRole('group', { name: 'Along the axis' }).getByRole('button', { name: 'Month', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Remove' }).click();
  await put(page, 'Country', 'Add along the axis');
  const edge = page.getByRole('group', { name: 'Through time' });
  await edge.getByRole('button', { name: 'Add a period through time' }).click();
  await page.getByRole('menuitem', { name: 'Quarter', exact: true }).click();
  await expect(page.getByRole('group', { name: /^Periods of/ }).getByText('Q3 2026', { exact: true })).toBeVisible();
  await put(page, 'Channel', 'Add as series');
  const chart = page.getByRole('application');
  await expect(chart).toHaveAttribute('aria-label', /, Q3 2026\. Online/);
  await expect(page.getByRole('group', { name: 'As series' }).getByRole('button', { name: 'Quarter' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Swap axis and series' }).click();
  await expect(chart).toHaveAttribute('aria-label', /by channel, Q3 2026\./);
  await edge.getByRole('button', { name: 'Quarter', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Remove' }).click();
  await expect(page.getByRole('group', { name: /^Periods of/ })).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('group', { name: /^Periods of/ })).toBeVisible();
});

test('a forecast stands in the table of its chart, by the method that the analyst chose', async ({ page }) => {
  await enterAs(page, 'Henrike Hollin');
  await page.goto('/reports/sales-in-charts');
  const months = exhibit(page, 'Net sales and target by month');
  // What is forecast is a line of its own, above the target.
  const chart = plot(months);
  const status = chart.getByRole('status');
  await chart.press('End');
  await chart.press('ArrowUp');
  await chart.press('ArrowUp');
  const said = await status.innerText();
  expect(said).toMatch(/^Net sales, November 2026, forecast: €/);
  await months.getByRole('button', { name: 'Table' }).click();
  const table = page.getByRole('region', { name: 'Forecast' }).getByRole('table');
  await expect(table.getByRole('row')).toHaveCount(7);
  const cells = await table
    .getByRole('row', { name: /^November 2026/ })
    .getByRole('cell')
    .allInnerTexts();
  const spoken = said.match(/\d+\.\d+/g)!;
  expect(cells.map((text) => text.trim())).toEqual(spoken.slice(0, 3));
});

test('a manager reads how two countries differ, and follows both figures', async ({ page }) => {
  await enterAs(page, 'Henrike Hollin');
  await page.goto('/reports/sales-in-charts?report.page=changed');
  const differ = exhibit(page, 'Germany and France');
  await expect(
    differ.getByText(/^Net sales is €\s[\d,]+\sk in Germany, €\s[\d,]+\sk \(\+[\d.]+\s%\) more than €\s[\d,]+\sk in France\.$/),
  ).toBeVisible();
  await differ.getByRole('group', { name: 'Field' }).getByRole('button', { name: 'line' }).click();
  const strings = differ.getByRole('row', { name: /^Strings/ });
  const [france, germany] = await strings.getByRole('cell').allInnerTexts();
  await strings.getByRole('button', { name: france }).click();
  await expect(margin(page).getByText('Country is France', { exact: true })).toBeVisible();
  await expect(margin(page)).toContainText(france);
  await strings.getByRole('button', { name: germany }).click();
  await expect(margin(page).getByText('Country is Germany', { exact: true })).toBeVisible();
  await margin(page)
    .getByRole('button', { name: /order lines$/ })
    .click();
  await expect(page.getByRole('dialog').getByRole('table')).toBeVisible();
});
