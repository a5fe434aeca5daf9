import { expect, test, type Page } from '@playwright/test';
import pg from 'pg';
import { expectNoFindingsComposing, expectNoFindingsOverlaid } from './support/accessible.ts';
import { begin, put, rowOf, settings } from './support/compose.ts';
import { choose } from './support/controls.ts';
import { enterAs } from './support/people.ts';

/** Readers answer prompts of every kind in the scope line; analysts add them. Figures are held against PostgreSQL. */

const client = new pg.Client({ connectionString: process.env.BOLD_COMPASS_E2E_DATABASE });
test.beforeAll(() => client.connect());
test.afterAll(() => client.end());

const scopeLine = (page: Page) => page.getByTestId('scope-line');
const phrase = (page: Page, title: string) => scopeLine(page).getByRole('button', { name: new RegExp(`^${title}: `) });

async function thousandsOf(what: string, where: string): Promise<string> {
  const { rows } = await client.query<{ value: string }>(
    `SELECT ${what} AS value FROM imported.order_lines JOIN imported.showrooms USING (showroom_id) JOIN imported.models USING (model_id)
     WHERE status NOT IN ('Cancelled', 'Returned') AND ${where}`,
  );
  return Math.round(Number(rows[0].value) / 1000).toLocaleString('en-GB');
}

test('a reader changes the period, the branches, what is shown and a number, and goes back', async ({ page }) => {
  test.setTimeout(120_000);
  await enterAs(page, 'Henrike Hollin');
  await page.goto('/reports/what-if');
  await expect(page.getByRole('heading', { name: /^Sales by product line at a discount of 5\s?%/ })).toBeVisible();
  const year = "order_date BETWEEN '2026-01-01' AND '2026-10-31'";
  const net = rowOf(page, 'Strings').getByRole('gridcell').first();
  await expect(net).toHaveText(await thousandsOf('sum(net_amount)', `line = 'Strings' AND ${year}`));

  // A stretch of time.
  await phrase(page, 'Period').click();
  await expectNoFindingsOverlaid(page);
  await choose(page, 'By', 'Quarter');
  await page.getByRole('button', { name: 'Last 3 complete quarters' }).click();
  await page.keyboard.press('Escape');
  await expect(phrase(page, 'Period')).toHaveText('the last 3 complete quarters');
  const quarters = "order_date BETWEEN '2026-01-01' AND '2026-09-30'";
  await expect(net).toHaveText(await thousandsOf('sum(net_amount)', `line = 'Strings' AND ${quarters}`));

  // Branches at two levels, then all but these.
  await phrase(page, 'Territory').click();
  await page.getByRole('checkbox', { name: 'Nordic' }).check();
  await page.getByRole('button', { name: 'Open Atlantic' }).click();
  await page.getByRole('checkbox', { name: 'Ireland' }).check();
  await expectNoFindingsOverlaid(page);
  await expect(phrase(page, 'Territory')).toHaveText('Nordic and Ireland');
  const branches = "(region = 'Nordic' OR country = 'Ireland')";
  await expect(net).toHaveText(await thousandsOf('sum(net_amount)', `line = 'Strings' AND ${quarters} AND ${branches}`));
  await page.getByRole('checkbox', { name: 'All but these' }).check();
  await expect(net).toHaveText(await thousandsOf('sum(net_amount)', `line = 'Strings' AND ${quarters} AND NOT ${branches}`));
  await page.keyboard.press('Escape');
  await expect(phrase(page, 'Territory')).toHaveText('the whole territory but Nordic and Ireland');

  // A number that formulas calculate with, kept within its limits.
  await phrase(page, 'Discount').click();
  await page.getByRole('textbox', { name: 'Number' }).fill('50');
  await page.keyboard.press('Tab');
  await expect(page.getByText('Write a number from 0 to 12.')).toBeVisible();
  await page.getByRole('textbox', { name: 'Number' }).fill('10');
  await page.keyboard.press('Tab');
  await expectNoFindingsOverlaid(page);
  await page.keyboard.press('Escape');
  await expect(page.getByRole('heading', { name: /at a discount of 10\s?%/ })).toBeVisible();
  await expect(rowOf(page, 'Strings').getByRole('gridcell').nth(2)).toHaveText(
    await thousandsOf('sum(quantity * unit_price) * 0.9', `line = 'Strings' AND ${quarters} AND NOT ${branches}`),
  );

  // Numbers from one to another.
  await phrase(page, 'Unit price').click();
  await page.getByRole('textbox', { name: 'From' }).fill('500');
  await page.keyboard.press('Tab');
  await expect(phrase(page, 'Unit price')).toHaveText('from 500');
  await expect(net).toHaveText(
    await thousandsOf('sum(net_amount)', `line = 'Strings' AND ${quarters} AND NOT ${branches} AND unit_price >= 500`),
  );
  await page.keyboard.press('Escape');

  // All but some members.
  await phrase(page, 'Channel').click();
  await page.getByRole('checkbox', { name: 'All but these' }).check();
  await page.getByRole('option', { name: /^Online/ }).click();
  await page.keyboard.press('Escape');
  await expect(phrase(page, 'Channel')).toHaveText('every channel but Online');

  // Other levels in the place of the product lines.
  await phrase(page, 'Shown by').click();
  await page.getByRole('option', { name: 'Segment' }).click();
  await expect(rowOf(page, 'Household')).toBeVisible();
  await expect(rowOf(page, 'Strings')).toHaveCount(0);
  // The Back key undoes choices one by one, and the address holds all of them.
  await page.goBack();
  await expect(rowOf(page, 'Strings')).toBeVisible();
  await expect(phrase(page, 'Channel')).toHaveText('every channel but Online');
  await page.reload();
  await expect(phrase(page, 'Discount')).toHaveText(/10\s?%/);
});

test('a city settles its country, and a choice that becomes impossible is dropped with a note', async ({ page }) => {
  await enterAs(page, 'Henrike Hollin');
  await page.goto('/reports/sales-against-target');
  await phrase(page, 'City').click();
  await page.getByRole('searchbox', { name: 'Find a city' }).fill('Lyon');
  await page.getByRole('option', { name: /^Lyon/ }).click();
  await page.keyboard.press('Escape');
  await expect(phrase(page, 'Country')).toHaveText('France');
  await expect(phrase(page, 'Region')).toHaveText('Atlantic');
  await phrase(page, 'Country').click();
  await page.getByRole('option', { name: /^Ireland/ }).click();
  await page.getByRole('option', { name: /^France/ }).click();
  await expect(page.getByText(/Lyon was dropped from city/)).toBeVisible();
  await expect(phrase(page, 'City')).toHaveText('every city');
});

test('an analyst adds prompts, uses one in a formula, and a report waits for what is required', async ({ page, browser }) => {
  test.setTimeout(120_000);
  const title = `Prompted ${Date.now()}`;
  await begin(page, title);
  await page.getByRole('button', { name: 'Cross-tab', exact: true }).click();
  await put(page, 'Region', 'Add down the side');
  await put(page, 'Net sales', 'Add to cells');
  await page.getByRole('button', { name: 'Settings', exact: true }).click();
  const margin = settings(page);
  for (const [search, offer] of [
    ['Channel', 'Channel'],
    ['calendar', /Calendar|Date/],
    ['Number for', 'Number for formulas'],
  ] as const) {
    await margin.getByLabel('Add prompt', { exact: true }).fill(search);
    await page.getByRole('option', { name: offer }).first().click();
  }
  await expect(scopeLine(page)).toContainText('every channel');
  await expect(scopeLine(page)).toContainText('all dates');
  await margin.getByRole('button', { name: 'Channel', exact: true }).click();
  await margin.getByRole('checkbox', { name: 'Required' }).check();
  await expect(page.getByText('Draft saved')).toBeVisible();
  // A table of two columns has the room that it needs, and is hardly made smaller.
  const scale = await page.getByRole('treegrid').evaluate((grid: HTMLElement) => grid.getBoundingClientRect().width / grid.offsetWidth);
  expect(scale).toBeGreaterThan(0.8);
  await expectNoFindingsComposing(page);

  await page.getByRole('button', { name: 'Publish' }).click();
  const dialog = page.getByRole('dialog', { name: /Publish/ });
  await dialog.getByRole('button', { name: /^Publish/ }).click();
  await expect(page.getByText('Edition 1 is published.')).toBeVisible();
  const address = new URL(page.url()).pathname;

  const phone = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  await enterAs(phone, 'Henrike Hollin');
  await phone.goto(address);
  await expect(phone.getByText('Choose channel to run this report.')).toBeVisible();
  await phrase(phone, 'Channel').click();
  // As a sheet of full height.
  await expect(phone.getByRole('heading', { name: 'Channel' })).toBeVisible();
  await expectNoFindingsOverlaid(phone);
  await phone.getByRole('option', { name: /^Online/ }).click();
  await phone.getByRole('button', { name: 'Done' }).first().click();
  await expect(phone.getByRole('treegrid')).toBeVisible();
  await phone.close();
});

test('a prompt begins where its reader left it', async ({ page }) => {
  await begin(page, `Remembered ${Date.now()}`);
  await page.getByRole('button', { name: 'Cross-tab', exact: true }).click();
  await put(page, 'Country', 'Add down the side');
  await put(page, 'Net sales', 'Add to cells');
  await page.getByRole('button', { name: 'Settings', exact: true }).click();
  const margin = settings(page);
  await margin.getByLabel('Add prompt', { exact: true }).fill('Region');
  await page.getByRole('option', { name: 'Region' }).first().click();
  await margin.getByRole('button', { name: 'Region', exact: true }).click();
  await choose(margin, 'Default', 'From the last visit');
  await expect(page.getByText('Draft saved')).toBeVisible();
  await page
    .getByRole('link', { name: 'Read' })
    .or(page.getByRole('button', { name: 'Read' }))
    .click();
  await expect(phrase(page, 'Region')).toHaveText('every region');
  const address = new URL(page.url()).pathname;
  await phrase(page, 'Region').click();
  await page.getByRole('option', { name: /^Nordic/ }).click();
  await page.keyboard.press('Escape');
  await expect(rowOf(page, 'Sweden')).toBeVisible();
  await expect(rowOf(page, 'Austria')).toHaveCount(0);
  await page.goto(address);
  await expect(phrase(page, 'Region')).toHaveText('Nordic');
  await expect(rowOf(page, 'Austria')).toHaveCount(0);
  await phrase(page, 'Region').click();
  await page.getByRole('option', { name: /^Nordic/ }).click();
  await page.getByRole('option', { name: /^Atlantic/ }).click();
  await page.keyboard.press('Escape');
  await expect(phrase(page, 'Region')).toHaveText('Atlantic');
});

test('a reader keeps what they see under a name, and lets the report open with it', async ({ page }) => {
  await enterAs(page, 'Klara Obertal');
  await page.goto('/reports/sales-against-target?year=2025&territory.side=1');
  await page.getByRole('button', { name: 'Views' }).click();
  await page.getByRole('textbox', { name: 'Name of the view' }).fill('Last year, by country');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByRole('button', { name: 'Start with Last year, by country' }).click();
  await expect(page.getByRole('button', { name: 'Start with Last year, by country no longer' })).toBeVisible();
  await expectNoFindingsOverlaid(page);
  // It opens so, and a link still shows what it says.
  await page.goto('/reports/sales-against-target');
  await expect(phrase(page, 'Year')).toHaveText('2025');
  await expect(rowOf(page, 'Austria')).toBeVisible();
  await page.goto('/reports/sales-against-target?year=2024');
  await expect(phrase(page, 'Year')).toHaveText('2024');
  await page.getByRole('button', { name: 'Views' }).click();
  await page.getByText('Last year, by country').click();
  await expect(phrase(page, 'Year')).toHaveText('2025');
  await page.getByRole('button', { name: 'Views' }).click();
  await page.getByRole('button', { name: 'Delete the view Last year, by country' }).click();
  await expect(page.getByText('Keep what you have chosen')).toBeVisible();
});
