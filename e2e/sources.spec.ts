import { expect, test } from '@playwright/test';
import { enterAs } from './support/people.ts';
import { choose } from './support/controls.ts';

/** An analyst takes records from another database by a query, and keeps them up to date. */

test('a query becomes a source: checked while it is written, tried, brought in, refreshed', async ({ page }) => {
  await enterAs(page, 'Ines Calloway');
  await page.getByRole('link', { name: 'Data' }).click();
  await page.getByRole('link', { name: 'New source' }).first().click();
  const tables = page.getByRole('complementary', { name: 'Tables' });
  await expect(tables.getByRole('list').first().getByText('warehouse.sales')).toBeVisible();
  await tables.getByRole('list').first().getByText('staff').click();
  await tables.getByRole('button', { name: 'Sample rows' }).last().click();
  await expect(
    page.getByRole('region', { name: 'The first rows of warehouse.staff' }).getByRole('columnheader', { name: /^lead_id/ }),
  ).toBeVisible();

  const editor = page.getByRole('textbox', { name: 'Query' });
  await editor.click();
  await page.keyboard.press('Control+a');
  await page.keyboard.insertText('SELECT chanel, count(*) AS lines FROM warehouse.sales WHERE sold_on >= :since GROUP BY 1');
  // A wrong turn: the fault is said while typing, with what the server would have understood.
  await expect(page.getByRole('alert')).toContainText('column "chanel" does not exist');
  await page.keyboard.press('Control+a');
  await page.keyboard.insertText('SELECT channel, count(*) AS lines FROM warehouse.sales WHERE sold_on >= :since GROUP BY 1');
  await choose(page.getByRole('group', { name: 'since' }), 'Type', 'Date');
  await page.getByRole('group', { name: 'since' }).getByLabel('Value').fill('2026-01-01');
  await page.getByRole('button', { name: 'Show the first 100 rows' }).click();
  const rows = page.getByRole('region', { name: /The first \d rows of the query/ });
  await expect(rows.getByRole('cell', { name: 'Online' })).toBeVisible();

  const name = `Lines by channel ${Date.now()}`;
  await page.getByLabel('Name', { exact: true }).fill(name);
  await page.getByRole('button', { name: 'Import' }).click();
  await expect(page.getByRole('heading', { name, level: 1 })).toBeVisible();
  await expect(page.getByRole('row', { name: /Imported.*done/ })).toBeVisible();
  await page.getByRole('button', { name: 'Refresh now' }).click();
  await expect(page.getByRole('row', { name: /Refreshed.*done/ })).toBeVisible();
  await choose(page, 'Refreshed', 'Daily at 05:00 (UTC)');
  await page.reload();
  await expect(page.getByLabel('Refreshed')).toHaveValue('Daily at 05:00 (UTC)');
});

test('a connection that does not work says why, and keeps what was typed', async ({ page }) => {
  await enterAs(page, 'Ines Calloway');
  await page.goto('/data');
  await page.getByRole('button', { name: 'Add connection' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Elsewhere');
  await page.getByRole('spinbutton', { name: 'Port' }).fill('1');
  await page.getByLabel('Database').fill('books');
  await page.getByLabel('User').fill('reader');
  await page.getByLabel('Password').fill('secret');
  await page.getByRole('button', { name: 'Test and save' }).click();
  await expect(page.getByRole('alert')).toContainText('Nothing answers at this host and port');
  await expect(page.getByLabel('Database')).toHaveValue('books');
});

test('records can be left where they are: the cross-tab asks their database', async ({ page }) => {
  await enterAs(page, 'Ines Calloway');
  await page.goto('/data/query/warehouse');
  await expect(page.getByRole('complementary', { name: 'Tables' }).getByRole('list').first().getByText('warehouse.sales')).toBeVisible();
  await page.getByRole('textbox', { name: 'Query' }).click();
  await page.keyboard.press('Control+a');
  await page.keyboard.insertText("SELECT channel, quantity FROM warehouse.sales WHERE sold_on >= '2026-10-01'");
  await expect(page.getByText('Answers')).toBeVisible();
  await choose(page, 'Records', 'Live: queried at the source');
  const name = `Sales of October ${Date.now()}`;
  await page.getByLabel('Name', { exact: true }).fill(name);
  await page.getByRole('button', { name: 'Create dataset' }).click();
  await expect(page.getByRole('heading', { name, level: 1 })).toBeVisible();
  await expect(page.getByText('Live: queried at the source')).toBeVisible();
  await page.getByRole('link', { name: 'Reports', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Reports', level: 1 })).toBeVisible();
  await page.getByRole('link', { name }).click();
  await expect(page.getByRole('treegrid').getByRole('rowheader', { name: 'Online' })).toBeVisible();
});

test('several tables become one query, and the query of a source can be changed and the records removed', async ({ page }) => {
  await enterAs(page, 'Ines Calloway');
  await page.goto('/data/query/warehouse');
  await page.getByText('Join tables').click();
  await choose(page, 'First table', 'warehouse.sales');
  await choose(page, 'Join a table', 'warehouse.staff');
  await expect(page.getByLabel('Column of warehouse.staff that is named')).toHaveValue('person_id');
  await expect(page.getByText(/^Many to one; each of the [\d,]+ that are named is there/)).toBeVisible();
  // A wrong turn: a column that many rows share would count sales many times.
  await choose(page, 'Column of warehouse.staff that is named', 'lead_id');
  await expect(page.getByText(/stand in several rows of warehouse\.staff .* sums too large/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Write as query' })).toBeDisabled();
  await choose(page, 'Column of warehouse.staff that is named', 'person_id');
  await page.getByRole('button', { name: 'Write as query' }).click();
  await expect(page.getByLabel('Query', { exact: true })).toContainText('LEFT JOIN warehouse.staff AS b ON b.person_id = a.adviser_id');
  const name = `Sales and staff ${Date.now()}`;
  await page.getByLabel('Name', { exact: true }).fill(name);
  await choose(page, 'Records', 'Live: queried at the source');
  await page.getByRole('button', { name: 'Create dataset' }).click();
  await expect(page.getByRole('heading', { name, level: 1 })).toBeVisible();
  await page.getByRole('link', { name: 'Change the query' }).click();
  await page.getByLabel('Query', { exact: true }).press('Control+End');
  await page.keyboard.type('\nWHERE a.quantity >= :least::int');
  await page.getByRole('group', { name: 'least' }).getByLabel('Value').fill('2');
  await page.getByRole('group', { name: 'least' }).getByLabel('Value').press('Enter');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByRole('list', { name: 'Parameters' })).toContainText(':least is “2”');
  // What a dataset stands on stays.
  await page.getByRole('button', { name: 'Delete source' }).click();
  await expect(page.getByRole('alert')).toContainText('Delete that first');
});
