import { expect, test, type Page } from '@playwright/test';
import pg from 'pg';
import { begin, put, settings } from './support/compose.ts';
import { choose } from './support/controls.ts';
import { enterAs } from './support/people.ts';

/** From a figure that is off course to the records behind it and back; and how an analyst makes such ways. */

async function count(sql: string): Promise<number> {
  const client = new pg.Client({ connectionString: process.env.BOLD_COMPASS_E2E_DATABASE });
  await client.connect();
  try {
    const { rows } = await client.query<{ count: string }>(sql);
    return Number(rows[0].count);
  } finally {
    await client.end();
  }
}
const rowOf = (page: Page, table: string, name: string) =>
  page
    .getByRole('treegrid', { name: table })
    .getByRole('row')
    .filter({ has: page.getByRole('rowheader', { name: new RegExp(`${name}$`) }) });
const trail = (page: Page) => page.getByRole('navigation', { name: 'Trail' });

test('a manager follows what is off course down to its records, and comes back with everything as it was', async ({ page }) => {
  await enterAs(page, 'Henrike Hollin');
  await page.goto('/reports/company-at-a-glance');
  // From a link, to where the figure comes from; the region is narrowed.
  await page.getByRole('link', { name: 'Net sales' }).click();
  await expect(page.getByRole('heading', { name: 'Where are we drifting?', level: 1 })).toBeVisible();
  await page.getByRole('button', { name: /^Region: / }).click();
  await page.getByRole('option', { name: /^Mediterranean/ }).click();
  await page.keyboard.press('Escape');
  await expect(rowOf(page, 'Regions and countries', 'Nordic')).toHaveCount(0);
  const italy = rowOf(page, 'Regions and countries', 'Italy');
  await expect(italy.getByRole('img', { name: 'Off course' })).toBeVisible();
  // Opened to its cities, and asked why.
  await page.getByRole('button', { name: 'Open Italy' }).click();
  await expect(rowOf(page, 'Regions and countries', 'Milan')).toBeVisible();
  await italy
    .getByRole('gridcell')
    .nth(1)
    .click({ position: { x: 4, y: 12 } });
  const margin = page.getByRole('complementary', { name: 'About the chosen figure' });
  await expect(margin.getByText('net_sales ÷ target')).toBeVisible();
  const where = page.url();

  // The label leads on; there the showroom's repairs, and each of them.
  await italy.getByText('Italy', { exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Country by country', level: 1 })).toBeVisible();
  await page.getByRole('button', { name: 'Open Milan' }).click();
  const showroom = page.getByRole('treegrid', { name: 'Cities against last year' }).getByRole('row', { level: 3 }).first();
  const name = (await showroom.getByRole('rowheader').innerText()).trim();
  await showroom
    .getByRole('gridcell')
    .first()
    .click({ position: { x: 4, y: 12 } });
  await expect(margin.getByRole('link', { name: /^Repairs of this place/ })).toBeVisible();
  const there = page.url();
  const repairs = await count(
    `SELECT count(*) FROM imported.repairs r JOIN imported.showrooms s USING (showroom_id)
     WHERE s.showroom = '${name.replaceAll("'", "''")}' AND received >= '2026-01-01'`,
  );
  await margin.getByRole('link', { name: /^Repairs of this place/ }).click();
  await expect(page.getByRole('heading', { name: 'Repairs and promises', level: 1 })).toBeVisible();
  await expect(page.getByText(`Showroom ${name}`)).toBeVisible();
  const strip = page.getByRole('region', { name: 'Key figures' });
  await expect(strip).toContainText(new Intl.NumberFormat('en-GB').format(repairs));
  await page
    .getByRole('treegrid', { name: 'Promises kept' })
    .getByRole('gridcell')
    .first()
    .click({ position: { x: 4, y: 12 } });
  await margin.getByRole('button', { name: /^The records/ }).click();
  const records = page.getByRole('dialog');
  await expect(records.getByRole('row').nth(1)).toBeVisible();
  await page.keyboard.press('Escape');

  // Two steps back, and each is as it was left.
  await expect(trail(page).getByRole('button')).toHaveText(['The company at a glance', 'Where are we drifting?', 'Country by country']);
  await trail(page).getByRole('button', { name: 'Country by country' }).click();
  await expect(showroom.getByRole('gridcell').first()).toHaveAttribute('aria-selected', 'true');
  expect(page.url()).toBe(there);
  await trail(page).getByRole('button', { name: 'Where are we drifting?' }).click();
  await expect(rowOf(page, 'Regions and countries', 'Milan')).toBeVisible();
  await expect(italy.getByRole('gridcell').nth(1)).toHaveAttribute('aria-selected', 'true');
  expect(page.url()).toBe(where);
});

test('a link opens in a sheet at the side, and what is behind it stays', async ({ page }) => {
  await enterAs(page, 'Sanna Wikmark');
  await page.goto('/reports/where-are-we-drifting');
  await rowOf(page, 'Regions and countries', 'Sweden')
    .getByRole('gridcell')
    .first()
    .click({ position: { x: 4, y: 12 } });
  await page.getByRole('link', { name: /^Repairs of this place/ }).click();
  const sheet = page.getByRole('dialog').frameLocator('iframe');
  await expect(sheet.getByRole('heading', { name: 'Repairs and promises' })).toBeVisible();
  await expect(sheet.getByRole('button', { name: 'Country: Sweden. Change' })).toBeVisible();
  await expect(sheet.getByRole('navigation', { name: 'Places' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Close', exact: true }).click();
  await expect(rowOf(page, 'Regions and countries', 'Sweden').getByRole('gridcell').first()).toHaveAttribute('aria-selected', 'true');
});

test('members open by another level, and a KPI is watched until it is let go', async ({ page }) => {
  await enterAs(page, 'Henrike Hollin');
  await page.goto('/reports/where-are-we-drifting');
  await page.getByRole('rowheader', { name: 'Italy' }).click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Line', exact: true }).click();
  await expect(rowOf(page, 'Regions and countries', 'Woodwind')).toBeVisible();
  await page.getByRole('rowheader', { name: 'Italy' }).click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Reset levels' }).click();
  await expect(rowOf(page, 'Regions and countries', 'Milan')).toBeVisible();

  // One member alone, while its neighbours stay as they are; its figures are explained where they stand.
  await page.getByRole('rowheader', { name: 'Italy' }).click({ button: 'right' });
  await page.getByLabel('Italy only').check();
  await page.getByRole('menuitem', { name: 'Line', exact: true }).click();
  await expect(rowOf(page, 'Regions and countries', 'Woodwind')).toBeVisible();
  await expect(rowOf(page, 'Regions and countries', 'Milan')).toHaveCount(0);
  await page.getByRole('button', { name: 'Open Spain' }).click();
  await expect(rowOf(page, 'Regions and countries', 'Madrid')).toBeVisible();
  await expect(rowOf(page, 'Regions and countries', 'Woodwind')).toHaveCount(1);
  await rowOf(page, 'Regions and countries', 'Woodwind')
    .getByRole('gridcell')
    .first()
    .click({ position: { x: 4, y: 12 } });
  const about = page.getByRole('complementary', { name: 'About the chosen figure' });
  await expect(about.getByText('Line is Woodwind')).toBeVisible();
  await expect(about.getByText('Country is Italy')).toBeVisible();
  await page.reload();
  await expect(rowOf(page, 'Regions and countries', 'Woodwind').getByRole('gridcell').first()).toHaveAttribute('aria-selected', 'true');
  // A figure there is watched like any other, and its signal leads back to it.
  await rowOf(page, 'Regions and countries', 'Woodwind').getByRole('gridcell').nth(1).click();
  await about.getByRole('button', { name: 'Watch' }).click();
  await expect(about.getByRole('button', { name: 'Watched' })).toBeVisible();
  await page.getByRole('link', { name: 'Signals' }).click();
  await page.getByRole('tab', { name: /^Watched figures/ }).click();
  const figures = page.getByRole('region', { name: 'Watched figures' });
  await figures.getByRole('link', { name: /Attainment.*Woodwind/ }).click();
  await expect(rowOf(page, 'Regions and countries', 'Woodwind').getByRole('gridcell').nth(1)).toHaveAttribute('aria-selected', 'true');
  await about.getByRole('button', { name: 'Watched' }).click();
  await expect(about.getByRole('button', { name: 'Watch', exact: true })).toBeVisible();

  await page.goto('/reports/company-at-a-glance');
  await page.getByRole('button', { name: 'Tell me when Gross margin changes its state' }).click();
  await expect(page.getByRole('button', { name: 'Stop watching Gross margin' })).toBeVisible();
  await page.getByRole('link', { name: 'Signals' }).click();
  await page.getByRole('tab', { name: /^Watched figures/ }).click();
  const watched = page.getByRole('region', { name: 'Watched figures' });
  await expect(watched).toContainText('Gross margin · on course');
  await watched.getByRole('link', { name: 'Gross margin' }).click();
  await expect(page.getByRole('heading', { name: 'The company at a glance', level: 1 })).toBeVisible();
  await page.getByRole('button', { name: 'Stop watching Gross margin' }).click();
  await expect(page.getByRole('button', { name: 'Tell me when Gross margin changes its state' })).toBeVisible();
});

test('how many countries are off course is counted, listed, and leads there', async ({ page }) => {
  await enterAs(page, 'Henrike Hollin');
  await page.goto('/reports/company-at-a-glance');
  await page
    .getByRole('button', { name: /of 19 countries off course/ })
    .first()
    .click();
  await page.getByText('Italy', { exact: true }).click();
  await expect(page.getByRole('button', { name: 'Country: Italy. Change' })).toBeVisible();
  await expect(page.getByRole('button', { name: '1 of 1 country off course' }).first()).toBeVisible();
});

test('an analyst links a report to another, marks and judges its figures, and follows them', async ({ page }) => {
  const title = `Marked sales ${Date.now()}`;
  await begin(page, title);
  // Nine actions from an empty page to a table that leads to the order lines behind each figure.
  await page.getByRole('button', { name: 'Cross-tab', exact: true }).click();
  await put(page, 'Country', 'Add down the side');
  await put(page, 'Net sales', 'Add to cells');
  await settings(page).getByRole('button', { name: 'Drill-through' }).click();
  await choose(settings(page), 'Add link', 'Order lines');
  await expect(settings(page).getByLabel('Target')).toBeVisible();
  await expect(page.getByText('Draft saved')).toBeVisible();
  // What is drawn with the figures, seen at once.
  await page.getByRole('group', { name: 'In the cells' }).getByRole('button', { name: 'Net sales' }).click();
  await page.keyboard.press('Escape');
  await settings(page)
    .getByRole('button', { name: /^Conditional formatting/ })
    .click();
  await choose(settings(page), 'Add format', 'Data bar');
  await expect(page.getByRole('list', { name: 'Legend' })).toContainText('Bars: one scale for each column');
  await choose(settings(page), 'Add format', 'Sparkline');
  await expect(page.getByRole('list', { name: 'Legend' })).toContainText('Lines: net sales');
  // The limits are tried out on the members before anything is saved: a third each.
  await settings(page)
    .getByRole('button', { name: /^Indicator/ })
    .click();
  await settings(page).getByLabel('Show indicator').check();
  await expect(settings(page).getByRole('img', { name: /Of 19 members: \d+ on course, \d+ drifting, \d+ off course/ })).toBeVisible();
  await expect(page.getByRole('treegrid').getByRole('img', { name: 'On course' }).first()).toBeVisible();

  await page
    .getByRole('link', { name: 'Read' })
    .or(page.getByRole('button', { name: 'Read' }))
    .first()
    .click();
  const france = page
    .getByRole('treegrid')
    .getByRole('row')
    .filter({ has: page.getByRole('rowheader', { name: 'France' }) });
  await france
    .getByRole('gridcell')
    .first()
    .click({ position: { x: 4, y: 12 } });
  const link = page.getByRole('link', { name: /^Order lines/ });
  await expect(link).toBeVisible();
  const promised = Number((await link.innerText()).replaceAll(/\D/g, ''));
  expect(promised).toBe(
    await count(
      `SELECT count(*) FROM imported.order_lines JOIN imported.showrooms USING (showroom_id)
       WHERE country = 'France' AND status NOT IN ('Cancelled', 'Returned')`,
    ),
  );
  // The number itself leads there once it is chosen.
  await france.getByRole('gridcell').first().click();
  await expect(page.getByRole('heading', { name: 'Order lines', level: 1 })).toBeVisible();
  await expect(trail(page).getByRole('button', { name: title })).toBeVisible();
  await expect(page.getByText(`${new Intl.NumberFormat('en-GB').format(promised)} order lines`).first()).toBeVisible();
});

test('the label of a column leads to the records of all its figures', async ({ page }) => {
  await begin(page, `Columns ${Date.now()}`);
  await page.getByRole('button', { name: 'Cross-tab', exact: true }).click();
  await put(page, 'Country', 'Add down the side');
  await put(page, 'Channel', 'Add across the top');
  await put(page, 'Net sales', 'Add to cells');
  await settings(page).getByRole('button', { name: 'Drill-through' }).click();
  await choose(settings(page), 'Add link', 'The records');
  await choose(settings(page), 'Link on', 'Column labels');
  await expect(page.getByText('Draft saved')).toBeVisible();
  await page
    .getByRole('link', { name: 'Read' })
    .or(page.getByRole('button', { name: 'Read' }))
    .first()
    .click();
  await page.getByRole('columnheader', { name: 'Rental' }).getByRole('button', { name: 'Rental' }).click();
  const records = page.getByRole('dialog', { name: /^Records behind/ });
  const rental = await count(
    `SELECT count(*) FROM imported.order_lines WHERE channel = 'Rental' AND status NOT IN ('Cancelled', 'Returned')`,
  );
  await expect(records.getByText(`${new Intl.NumberFormat('en-GB').format(rental)} order lines`)).toBeVisible();
});
