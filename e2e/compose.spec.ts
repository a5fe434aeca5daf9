import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import pg from 'pg';
import { begin, drawer, put, rowOf, settings, thousands } from './support/compose.ts';
import { enterAs } from './support/people.ts';
import { choose, chooseFile } from './support/controls.ts';

/** An analyst builds reports from nothing, sees each step, and publishes them; what they show is held against PostgreSQL. */

const client = new pg.Client({ connectionString: process.env.BOLD_COMPASS_E2E_DATABASE });
test.beforeAll(() => client.connect());
test.afterAll(() => client.end());
const rows = async <Row extends object>(sql: string): Promise<Row[]> => (await client.query<Row>(sql)).rows;
const SOLD = `FROM imported.order_lines AS o JOIN imported.showrooms AS s USING (showroom_id) WHERE o.status NOT IN ('Cancelled', 'Returned') AND order_date >= '2026-01-01'`;

test('sales against target, from an empty report to an edition that a manager reads', async ({ page, browser }) => {
  const title = `Attained sales ${Date.now()}`;
  await begin(page, title);
  await page.getByRole('button', { name: 'Cross-tab', exact: true }).click();
  // By menu, by dragging, and by the + on the edge.
  await put(page, 'Region', 'Add down the side');
  await expect(page.getByText('No measure is in the cells yet')).toBeVisible();
  await put(page, 'Net sales', 'Add to cells');
  await expect(rowOf(page, 'Nordic')).toBeVisible();
  await drawer(page)
    .getByRole('button', { name: 'Country', exact: true })
    .dragTo(page.getByRole('button', { name: 'Add a field down the side' }));
  await expect(page.getByRole('group', { name: 'Down the side' }).getByRole('button', { name: 'Country' })).toBeVisible();
  const top = page.getByRole('group', { name: 'Across the top' });
  for (const field of ['Year', 'Quarter']) {
    await top.getByRole('button', { name: 'Add a field across the top' }).click();
    await page.getByLabel('Add a field across the top: find').fill(field);
    await page.keyboard.press('Enter');
    await expect(top.getByRole('button', { name: field, exact: true })).toBeVisible();
  }
  await put(page, 'Target', 'Add to cells');
  await put(page, 'Attainment', 'Add to cells');
  // The reader is asked for the period and the place.
  for (const field of ['Year', 'Region', 'Country']) await put(page, field, 'Add as prompt');
  await page.getByRole('button', { name: /^Year: every year/ }).click();
  await page.getByRole('option', { name: /^2026/ }).click();
  await page.keyboard.press('Escape');
  await expect(page.getByText('Draft saved')).toBeVisible();

  const expected = await rows<{ region: string; net: string; target: string }>(
    `SELECT region, net, target FROM (SELECT region, sum(quantity * unit_price - discount) AS net ${SOLD} GROUP BY region) AS a
     JOIN (SELECT region, sum(revenue) AS target FROM imported.targets JOIN (SELECT DISTINCT country, region FROM imported.showrooms) AS c USING (country)
           WHERE month >= '2026-01-01' GROUP BY region) AS b USING (region)`,
  );
  expect(expected).toHaveLength(4);
  for (const { region, net, target } of expected) {
    const cells = rowOf(page, region).getByRole('gridcell');
    const attainment = ((Number(net) / Number(target)) * 100).toLocaleString('en-GB', {
      minimumFractionDigits: 1,
      maximumFractionDigits: 1,
    });
    // The last three are the total of the year; the needle has a word of its own only where there is an indicator.
    await expect(cells.nth(0)).toHaveText(thousands(net));
    await expect(cells.nth(1)).toHaveText(thousands(target));
    await expect(cells.nth(2)).toHaveText(attainment);
  }
  // A heading is renamed in the settings of its tag; an indicator is switched on.
  await page.getByRole('group', { name: 'In the cells' }).getByRole('button', { name: 'Attainment' }).click();
  await page.keyboard.press('Escape');
  await settings(page).getByLabel('Heading', { exact: true }).fill('Att.');
  await settings(page).getByLabel('Heading', { exact: true }).press('Enter');
  await expect(page.getByRole('columnheader', { name: /^Att\./ }).first()).toBeVisible();

  await page.getByRole('button', { name: 'Publish edition 1' }).click();
  await page.getByLabel('Note', { exact: true }).fill('The first one');
  await page.getByRole('button', { name: 'Publish', exact: true }).click();
  await expect(page.getByText('Edition 1 is published.')).toBeVisible();

  const manager = await (await browser.newContext({ baseURL: new URL(page.url()).origin })).newPage();
  await enterAs(manager, 'Sanna Wikmark');
  await manager
    .getByRole('link', { name: new RegExp(title) })
    .last()
    .click();
  await expect(manager.getByText(/^Edition 1, published/)).toBeVisible();
  await manager.getByRole('button', { name: /^Year: / }).click();
  await manager.getByRole('option', { name: /^2026/ }).click();
  await manager.keyboard.press('Escape');
  await expect(rowOf(manager, 'Nordic').getByRole('gridcell').first()).toHaveText(
    thousands(expected.find(({ region }) => region === 'Nordic')!.net),
  );
  await expect(rowOf(manager, 'Atlantic')).toHaveCount(0);

  // A second edition is compared with the first, and the draft goes back to it.
  await page.getByRole('group', { name: 'In the cells' }).getByRole('button', { name: 'Target' }).click();
  await page.getByRole('menuitem', { name: 'Remove', exact: true }).last().click();
  await page.getByRole('button', { name: 'Editions' }).click();
  const dialog = page.getByRole('dialog', { name: 'Editions' });
  await expect(dialog.getByRole('list', { name: 'Changes' })).toContainText('Target was removed in the cells.');
  await dialog.getByRole('button', { name: /^Restore edition/ }).click();
  await expect(page.getByRole('group', { name: 'In the cells' }).getByRole('button', { name: 'Target' })).toBeVisible();
});

test('a list grouped by line and family, with distinct counts in its footers', async ({ page }) => {
  await begin(page, `Orders by family ${Date.now()}`);
  await page.getByRole('button', { name: 'List', exact: true }).click();
  await put(page, 'Line', 'Group by');
  await put(page, 'Family', 'Group by');
  const margin = settings(page);
  await margin.getByRole('button', { name: 'Order', exact: true }).click();
  await choose(margin, 'Aggregation', 'Distinct count');
  await margin.getByLabel('Show records').uncheck();
  await expect(page.getByText('Draft saved')).toBeVisible();
  const expected = await rows<{ line: string | null; family: string | null; orders: string }>(
    `SELECT line, family, count(DISTINCT order_number) AS orders FROM imported.order_lines JOIN imported.models USING (model_id)
     WHERE status NOT IN ('Cancelled', 'Returned') GROUP BY GROUPING SETS ((line, family), (line), ())`,
  );
  const table = page.getByRole('group', { name: 'Rows of the list' });
  for (const { line, family, orders } of expected.filter(({ line: one }) => one === 'Brass')) {
    const row = table.getByRole('row').filter({ hasText: family ? new RegExp(`^${family}`) : new RegExp(`^${line} total`) });
    await expect(row).toContainText(Number(orders).toLocaleString('en-GB'));
  }
  await expect(table.getByRole('row').last()).toContainText(
    Number(expected.find(({ line }) => line === null)!.orders).toLocaleString('en-GB'),
  );
  // Two columns order the records, the second one with a modifier.
  await margin.getByLabel('Show records').check();
  await table.getByRole('button', { name: /^Quantity/ }).click();
  await table.getByRole('button', { name: /^Unit price/ }).click({ modifiers: ['Shift'] });
  await expect(table.getByRole('columnheader', { name: /Quantity/ })).toHaveAttribute('aria-sort', 'ascending');
  await expect(table.getByRole('columnheader', { name: /Unit price/ })).toHaveAttribute('aria-sort', 'ascending');
});

test('a wrong turn is warned of and undone: a field with 190 members across', async ({ page }) => {
  await begin(page, `Wrong turn ${Date.now()}`);
  await page.getByRole('button', { name: 'Cross-tab', exact: true }).click();
  await put(page, 'Region', 'Add down the side');
  await put(page, 'Net sales', 'Add to cells');
  await expect(rowOf(page, 'Nordic')).toBeVisible();
  await put(page, 'Model', 'Add across the top');
  await expect(page.getByText(/^This would make .* rows and .* columns$/)).toBeVisible();
  await expect(page.getByRole('treegrid')).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('treegrid')).toBeVisible();
  await page.getByRole('button', { name: 'Redo' }).click();
  await page.getByRole('button', { name: 'Top 25, all others as one' }).click();
  // Twenty-five, all others and the total, after the labels.
  await expect(page.getByRole('treegrid')).toHaveAttribute('aria-colcount', '28');
  await rowOf(page, 'Nordic').getByRole('gridcell').first().click();
  await page.keyboard.press('End');
  await expect(page.getByRole('columnheader', { name: /^All other models \(\d+\)/ }).first()).toBeVisible();
});

test('an exhibit is doubled, pasted into another report, laid side by side on another page, and taken out', async ({ page }) => {
  await begin(page, `Places ${Date.now()}`, 'One cross-tab');
  const exhibits = page.getByRole('group', { name: /^Exhibit / });
  await exhibits.first().getByRole('heading', { level: 2 }).click();
  await page.getByRole('button', { name: /^Duplicate / }).click();
  await expect(exhibits).toHaveCount(2);
  const margin = settings(page);
  await margin.getByText('Position and size').click();
  await choose(margin, 'Width', 'Half');
  await page.getByRole('button', { name: 'Text', exact: true }).click();
  await margin.getByLabel('Words in Markdown').fill('## Net sales\n\n**{net_sales}** for {scope}');
  await margin.getByLabel('Words in Markdown').blur();
  const [{ net }] = await rows<{ net: string }>(
    `SELECT sum(quantity * unit_price - discount) AS net FROM imported.order_lines WHERE status NOT IN ('Cancelled', 'Returned')`,
  );
  await expect(page.getByRole('group', { name: 'Exhibit text' }).getByText(`€\u00a0${thousands(net)}\u00a0k`)).toBeVisible();
  await page.getByRole('button', { name: 'Add page' }).click();
  await expect(page.getByRole('tab', { name: 'Page 2' })).toHaveAttribute('aria-selected', 'true');
  await expect(exhibits).toHaveCount(0);
  await page.getByRole('tab', { name: 'Page 1' }).click();
  await exhibits.first().getByRole('heading', { level: 2 }).click();
  await page
    .getByRole('button', { name: /^Copy / })
    .first()
    .click();
  await page.getByRole('tab', { name: 'Page 2' }).click();
  await page.getByRole('button', { name: /^Paste / }).click();
  await expect(exhibits).toHaveCount(1);
  await page
    .getByRole('button', { name: /^Remove (?!page)/ })
    .first()
    .click();
  await expect(exhibits).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(exhibits).toHaveCount(1);
  await page.reload();
  await expect(exhibits).toHaveCount(1);
});

test('reports are favourites, copied, renamed, put away and brought back, saved and taken in as documents', async ({ page }) => {
  await enterAs(page, 'Ines Calloway');
  const stamp = Date.now();
  const list = page.getByRole('list', { name: 'Reports in their folders' });
  await page.getByRole('button', { name: 'Favourite: Repairs and promises' }).click();
  await expect(page.getByRole('navigation', { name: 'Favourites' }).getByRole('link', { name: 'Repairs and promises' })).toBeVisible();
  await page.getByRole('button', { name: 'Favourite: Repairs and promises' }).click();
  await list.getByRole('button', { name: 'More for Repairs and promises' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('menuitem', { name: 'Export report file' }).click();
  const saved = JSON.parse(readFileSync((await (await download).path())!, 'utf8')) as { title: string };
  expect(saved.title).toBe('Repairs and promises');
  await page.getByRole('button', { name: 'New report' }).click();
  const document = { ...saved, title: `Taken in ${stamp}` };
  await chooseFile(page, 'Import report file', {
    name: 'report.json',
    mimeType: 'application/json',
    buffer: Buffer.from(JSON.stringify(document)),
  });
  await expect(page.getByRole('heading', { name: `Taken in ${stamp}`, level: 1 })).toBeVisible();
  await page.getByRole('link', { name: 'Reports', exact: true }).click();
  await list.getByRole('button', { name: `More for Taken in ${stamp}` }).click();
  await page.getByRole('menuitem', { name: 'Rename or move' }).click();
  await page.getByRole('dialog').getByLabel('Title').fill(`Moved ${stamp}`);
  await page.getByRole('dialog').getByLabel('Folder').fill('Elsewhere');
  await page.getByRole('dialog').getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('dialog')).toBeHidden();
  await page.getByLabel('Find a report').fill(`${stamp}`);
  await expect(list.getByRole('heading', { name: 'Elsewhere' })).toBeVisible();
  await list.getByRole('button', { name: `More for Moved ${stamp}` }).click();
  await page.getByRole('menuitem', { name: 'Delete report' }).click();
  await expect(page.getByRole('status').filter({ hasText: 'was deleted' })).toBeVisible();
  await expect(page.getByRole('link', { name: new RegExp(`Moved ${stamp}`) })).toHaveCount(0);
  await page.getByRole('button', { name: 'Restore' }).click();
  await expect(list.getByRole('link', { name: new RegExp(`Moved ${stamp}`) })).toBeVisible();
});
