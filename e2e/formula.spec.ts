import { expect, test } from '@playwright/test';
import { begin, drawer, put, rowOf } from './support/compose.ts';

test('a formula is written at the foot, mended by a click, applied, and undone', async ({ page }) => {
  await begin(page, `Formulas ${Date.now()}`, 'One cross-tab');
  await put(page, 'Region', 'Add down the side');
  await drawer(page).getByRole('button', { name: 'New measure', exact: true }).click();
  const panel = page.getByRole('region', { name: 'Formula' });
  await panel.getByLabel('Label').fill('Sales of an order');
  const editor = panel.getByRole('textbox', { name: 'Formula' });
  await editor.fill('net_sale / orders_count');
  await expect(panel.getByRole('alert')).toContainText('There is no field or measure called "net_sale"');
  await expect(panel.getByRole('button', { name: 'Apply' })).toBeDisabled();
  await panel.getByRole('button', { name: 'Write net_sales' }).click();
  await expect(editor).toHaveText('net_sales / orders_count');
  // What it comes to is told step by step while it is written.
  await expect(panel.getByText('orders_count', { exact: true })).toBeVisible();
  await editor.press('Control+Enter');
  await expect(panel).toBeHidden();
  await expect(
    page
      .getByRole('treegrid')
      .getByRole('columnheader', { name: /Sales of an order/ })
      .first(),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('treegrid').getByRole('columnheader', { name: /Sales of an order/ })).toHaveCount(0);
});

test('a share and last year are calculated from the menu of a measure, without writing', async ({ page }) => {
  await begin(page, `Quick ${Date.now()}`, 'One cross-tab');
  const tag = page.locator('[data-tag]').filter({ hasText: 'Net sales' }).first();
  await tag.click();
  await page.getByRole('menuitem', { name: 'Share', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Share of column' }).click();
  await expect(
    page
      .getByRole('treegrid')
      .getByRole('columnheader', { name: /Of column/ })
      .first(),
  ).toBeVisible();
  // The shares of all regions are the whole.
  await expect(rowOf(page, 'All regions').getByRole('gridcell').nth(1)).toHaveText('100.0');
});

test('the margin of a growth says which dates stand against each other', async ({ page }) => {
  await page.goto('/sign-in');
  await page.getByRole('button', { name: /^Ines Calloway/ }).click();
  await page.goto('/reports/growth-and-shares');
  const cell = rowOf(page, 'Nordic').first().getByRole('gridcell').nth(2);
  await cell.click();
  const margin = page.getByRole('complementary', { name: 'About the chosen figure' });
  await expect(margin.getByText('growth(net_sales, 1 year)')).toBeVisible();
  await expect(margin.getByText('net_sales back 1 year', { exact: true })).toBeVisible();
  await expect(margin.getByText(/1 Jan 2026 to 31 Oct 2026/)).toBeVisible();
  await expect(margin.getByText(/1 Jan 2025 to 31 Oct 2025/)).toBeVisible();
});
