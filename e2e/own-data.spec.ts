import { readFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
import { fromCSV, op } from 'arquero';
import { enterAs } from './support/people.ts';
import { choose, chooseFile } from './support/controls.ts';

/** An analyst brings a file in and puts a cross-tab together. */

const weather = readFileSync(new URL('../node_modules/vega-datasets/data/seattle-weather.csv', import.meta.url));

test('a CSV file becomes a dataset and a cross-tab that is composed from menus', async ({ page }) => {
  await enterAs(page, 'Ines Calloway');
  await page.getByRole('link', { name: 'Data' }).click();
  await chooseFile(page, 'Choose a file', { name: 'seattle-weather.csv', mimeType: 'text/csv', buffer: weather });
  await expect(page.getByRole('heading', { name: 'No problems' })).toBeVisible();
  await expect(page.getByLabel('Type of date')).toHaveValue('Date');
  await expect(page.getByLabel('Type of precipitation')).toHaveValue('Decimal');

  // A wrong turn: nothing is brought in while cells do not fit and nothing was decided about them.
  await choose(page, 'Type of weather', 'Whole number');
  await expect(page.getByText(/1,461 cells are not a whole number/)).toBeVisible();
  await page.getByText('The first 50').click();
  await expect(page.getByText('Row 2: “drizzle”')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Import' })).toBeDisabled();
  await choose(page, 'Type of weather', 'Text');
  await expect(page.getByRole('heading', { name: 'No problems' })).toBeVisible();

  await page.getByLabel('Name', { exact: true }).fill('Weather in Seattle');
  await page.getByRole('button', { name: 'Import' }).click();
  await expect(page.getByRole('heading', { name: 'Weather in Seattle', level: 1 })).toBeVisible();
  const table = page.getByRole('treegrid');
  await expect(table.getByRole('rowheader', { name: 'drizzle' })).toBeVisible();

  const across = page.getByRole('group', { name: 'Across the top' });
  const cells = page.getByRole('group', { name: 'In the cells' });
  await cells.getByRole('button', { name: 'Add a measure in the cells' }).click();
  await page.getByLabel('Add a measure in the cells: find').fill('temp_max');
  await page.getByRole('menuitem', { name: 'temp_max, average' }).click();
  await expect(page.getByText('Draft saved')).toBeVisible();
  await expect(table.getByRole('columnheader', { name: 'temp_max, average' }).first()).toBeVisible();

  const reference = fromCSV(weather.toString('utf8'), { autoType: false });
  expect(reference.numRows()).toBe(1461);
  const rain = fromCSV(weather.toString('utf8'))
    .groupby('weather')
    .rollup({ sum: op.sum('precipitation'), warmth: op.mean('temp_max'), n: op.count() })
    .objects() as { weather: string; sum: number; warmth: number; n: number }[];

  await across.getByRole('button', { name: 'date, year' }).click();
  await page.getByRole('menuitem', { name: 'Remove', exact: true }).click();
  await expect(table.getByRole('columnheader', { name: '2012' })).toHaveCount(0);
  expect(rain).toHaveLength(5);
  for (const { weather: kind, sum, warmth, n } of rain) {
    const row = table.getByRole('row').filter({ has: page.getByRole('rowheader', { name: kind, exact: true }) });
    const total = sum.toLocaleString('en-GB', { minimumFractionDigits: 1, maximumFractionDigits: 1 });
    await expect(row.getByRole('gridcell')).toHaveText([n.toLocaleString('en-GB'), total, warmth.toFixed(2)]);
  }

  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(across.getByRole('button', { name: 'date, year' })).toBeVisible();
  await page.getByRole('button', { name: 'Swap side and top' }).click();
  await expect(table.getByRole('rowheader', { name: '2012' })).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(table.getByRole('rowheader', { name: 'drizzle' })).toBeVisible();
  await setTotal(page, 'Weather in Seattle', 'rows', 'Never');
  await expect(table.getByRole('rowheader', { name: /^All/ })).toHaveCount(0);
  await expect(page.getByText('Draft saved')).toBeVisible();

  await page.reload();
  await expect(table.getByRole('rowheader', { name: 'drizzle' })).toBeVisible();
  await page.getByRole('link', { name: 'Read' }).click();
  await expect(page.getByText('Draft, not published yet')).toBeVisible();
});

/** Sets a total in the settings of an exhibit. */
async function setTotal(page: Page, exhibit: string, of: 'rows' | 'columns', value: string): Promise<void> {
  await page
    .getByRole('group', { name: `Exhibit ${exhibit}` })
    .getByRole('heading', { level: 2 })
    .click();
  const settings = page.getByRole('complementary', { name: 'Settings' });
  const choice = settings.getByLabel(`Total of the ${of}`);
  if (!(await choice.isVisible())) await settings.getByText('Totals', { exact: true }).click();
  await choose(settings, `Total of the ${of}`, value);
}

test('two people in one draft: the second save says so', async ({ page, browser }) => {
  await enterAs(page, 'Ines Calloway');
  await page.goto('/reports/sales-against-target?compose=');
  const other = await (await browser.newContext()).newPage();
  await enterAs(other, 'Ines Calloway');
  await other.goto('/reports/sales-against-target?compose=');
  await setTotal(other, 'Net sales and attainment', 'rows', 'Never');
  await expect(other.getByText('Draft saved')).toBeVisible();
  await setTotal(page, 'Net sales and attainment', 'columns', 'Never');
  await expect(page.getByRole('alert')).toContainText('Someone else saved this report in the meantime.');
  await page.getByRole('button', { name: 'Reload their version' }).click();
  await expect(page.getByRole('treegrid').getByRole('rowheader', { name: /^All/ })).toHaveCount(0);
  await setTotal(page, 'Net sales and attainment', 'rows', 'Automatic');
  await expect(page.getByText('Draft saved')).toBeVisible();
});

test('managers find neither Data nor Compose', async ({ page }) => {
  await enterAs(page, 'Henrike Hollin');
  await expect(page.getByRole('link', { name: 'Data' })).toHaveCount(0);
  await page.goto('/reports/sales-against-target?compose=');
  await expect(page.getByRole('treegrid')).toBeVisible();
  await expect(page.getByRole('group', { name: 'Down the side' })).toHaveCount(0);
  await page.goto('/data');
  await expect(page.getByText('This page is not for your role')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Add connection' })).toHaveCount(0);
});
