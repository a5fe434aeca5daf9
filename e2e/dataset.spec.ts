import { expect, test } from '@playwright/test';
import { enterAs } from './support/people.ts';
import { chooseFile } from './support/controls.ts';

/** An analyst says what data means, and looks at it through others' eyes. */

test('a file becomes a dataset whose levels, measures and names are changed as a draft and then applied', async ({ page }) => {
  await enterAs(page, 'Ines Calloway');
  await page.getByRole('link', { name: 'Data' }).click();
  const lines = ['shop,district,amount', 'A1,East,10.50', 'A2,East,4.25', 'B1,West,7.00'];
  const name = `Shops ${Date.now()}`;
  await chooseFile(page, 'Choose a file', { name: 'shops.csv', mimeType: 'text/csv', buffer: Buffer.from(lines.join('\n')) });
  await expect(page.getByRole('heading', { name: 'No problems' })).toBeVisible();
  await page.getByLabel('Name', { exact: true }).fill(name);
  await page.getByRole('button', { name: 'Import' }).click();
  await page.waitForURL(/\/reports\//);
  await page.getByRole('link', { name: 'Data' }).click();
  await page.getByRole('table', { name: 'Datasets' }).getByRole('link', { name }).click();
  await expect(page.getByRole('heading', { name, level: 1 })).toBeVisible();

  await page.getByRole('tab', { name: 'Measures and fields' }).click();
  await page.getByRole('table', { name: 'Measures' }).getByRole('row').filter({ hasText: 'sum(amount)' }).click();
  const editor = page.getByRole('complementary', { name: /^Settings of/ });
  await editor.getByLabel('Label').fill('Takings');
  await editor.getByLabel('Label').press('Tab');
  await page.getByRole('button', { name: 'New measure' }).click();
  // A wrong turn: the formula says what is wrong while it stands, and what was meant.
  await editor.getByLabel('Formula').fill('sum(amont)');
  await editor.getByLabel('Formula').press('Tab');
  await expect(page.getByText(/amont/).last()).toBeVisible();
  await page.getByRole('button', { name: 'Apply changes' }).click();
  await page.getByRole('button', { name: 'Apply', exact: true }).click();
  await expect(page.getByRole('alert').filter({ hasText: 'New measure' })).toBeVisible();
  await editor.getByLabel('Formula').fill('sum(amount) / count()');
  await editor.getByLabel('Formula').press('Tab');
  await expect(page.getByText('Draft saved. Others see it once you apply it.')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(editor.getByLabel('Formula')).toHaveText('sum(amont)');
  await page.getByRole('button', { name: 'Redo' }).click();
  await page.getByRole('button', { name: 'Apply changes' }).click();
  await expect(page.getByRole('dialog').getByText(name)).toBeVisible();
  await page.getByRole('button', { name: 'Apply', exact: true }).click();
  await expect(page.getByText('No changes in draft.')).toBeVisible();

  await page.getByRole('link', { name: 'Measures' }).click();
  await page.getByLabel('Find a measure').fill('takings');
  const row = page
    .getByRole('row')
    .filter({ has: page.getByRole('link', { name }).first() })
    .first();
  await expect(row.getByText('sum(amount)')).toBeVisible();
});

test('facts and dimensions are a picture; each says what the data says of it', async ({ page }) => {
  await enterAs(page, 'Ines Calloway');
  await page.goto('/data/datasets/hollin-marsh');
  await page.getByRole('button', { name: /^Territory, dimension/ }).click();
  const panel = page.getByRole('region', { name: 'Territory' });
  await expect(panel.getByText('Each member of Territory is below one member of the level above.')).toBeVisible();
  const members = panel.getByRole('region', { name: 'Members' });
  for (const name of ['Nordic', 'Sweden']) await members.getByText(name, { exact: true }).click();
  await expect(members.getByText('Stockholm', { exact: true })).toBeVisible();
  await panel.getByRole('button', { name: 'Move City up' }).click();
  await expect(panel.getByText(/members of Country are below several members of City/)).toBeVisible();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Discard draft' }).click();
  await expect(page.getByText('No changes in draft.')).toBeVisible();
  await page.getByRole('button', { name: /^Order lines, fact/ }).click();
  await expect(page.getByRole('region', { name: 'Order lines' }).getByText(/Many order lines to one of showrooms/)).toBeVisible();
});

test('View as shows the reports as a manager sees them, and nothing can be changed', async ({ page }) => {
  await enterAs(page, 'Ines Calloway');
  await page.goto('/data/datasets/hollin-marsh');
  await page.getByRole('tab', { name: 'Access rules' }).click();
  await page.getByRole('button', { name: 'View as Sanna Wikmark' }).click();
  await expect(page.getByText('You see what Sanna Wikmark sees.')).toBeVisible();
  await page
    .getByRole('link', { name: /Sales against target/ })
    .last()
    .click();
  await expect(page.getByText('You see what is yours: Region is Nordic.')).toBeVisible();
  await expect(page.getByRole('treegrid').getByRole('rowheader', { name: 'Atlantic' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Back to yourself' }).click();
  await expect(page.getByRole('heading', { name: 'Datasets' })).toBeVisible();
});
