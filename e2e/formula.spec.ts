import { expect, test } from '@playwright/test';
import { begin, drawer, put, rowOf } from './support/compose.ts';
import { enterAs } from './support/people.ts';

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
  await enterAs(page, 'Ines Calloway');
  await page.goto('/reports/growth-and-shares');
  const cell = rowOf(page, 'Nordic').first().getByRole('gridcell').nth(2);
  await cell.click();
  const margin = page.getByRole('complementary', { name: 'About the chosen figure' });
  await expect(margin.getByText('growth(net_sales, 1 year)')).toBeVisible();
  await expect(margin.getByText('net_sales back 1 year', { exact: true })).toBeVisible();
  await expect(margin.getByText(/1 Jan 2026 to 31 Oct 2026/)).toBeVisible();
  await expect(margin.getByText(/1 Jan 2025 to 31 Oct 2025/)).toBeVisible();
});

test('a level and a total show another measure from the menu of a figure, and a heading calculates beside it', async ({ page }) => {
  await begin(page, `By level ${Date.now()}`, 'One cross-tab');
  const total = rowOf(page, 'All regions').getByRole('gridcell').first();
  const region = rowOf(page, 'Nordic').getByRole('gridcell').first();
  const before = await region.textContent();
  await total.click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Nothing' }).click();
  await expect(total).toHaveText('');
  await expect(region).toHaveText(before!);
  await total.click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Another measure' }).click();
  await page.getByRole('menuitem', { name: 'Orders', exact: true }).click();
  await expect(total).not.toHaveText('');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(total).toHaveText('');

  await page
    .getByRole('treegrid')
    .getByRole('columnheader', { name: /^Net sales/ })
    .first()
    .click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Share', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Share of column' }).click();
  await expect(
    page
      .getByRole('treegrid')
      .getByRole('columnheader', { name: /Of column/ })
      .first(),
  ).toBeVisible();
});

test('a figure is pinned as a control total, and one that does not tie out is told above the report', async ({ page, browser }) => {
  await enterAs(page, 'Ines Calloway');
  await page.goto('/reports/sales-against-target?year=2024');
  await rowOf(page, 'All regions').getByRole('gridcell').last().click();
  await rowOf(page, 'Nordic').getByRole('gridcell').first().click();
  const margin = page.getByRole('complementary', { name: 'About the chosen figure' });
  await margin.getByRole('button', { name: 'Pin as control total' }).click();
  const dialog = page.getByRole('dialog', { name: 'Pin a control total' });
  await dialog.getByLabel('Expected value').fill('about a million');
  await dialog.getByRole('button', { name: 'Pin', exact: true }).click();
  await expect(dialog.getByText(/Write a number/)).toBeVisible();
  await dialog.getByLabel('Expected value').fill('1,000,000.00');
  await dialog.getByLabel('Source').fill('Ledger of 2024');
  await dialog.getByRole('button', { name: 'Pin', exact: true }).click();
  await expect(margin.getByText(/Pinned as a control total/)).toBeVisible();
  await page.reload();
  await expect(page.getByText(/1,000,000.00 was expected and it is/)).toBeVisible();
  // Who sees only a part is told so without figures.
  const other = await (await browser.newContext()).newPage();
  await enterAs(other, 'Gareth Penhale');
  await other.goto('/reports/sales-against-target');
  await expect(other.getByText(/does not tie out/)).toBeVisible();
  await expect(other.getByText(/was expected/)).toHaveCount(0);
  await other.close();

  await page.goto('/measures');
  await page.getByRole('link', { name: '1 of 2 not tied out' }).click();
  const list = page.getByRole('list', { name: 'Control totals' });
  await expect(list.getByText(/Ledger of 2024/)).toBeVisible();
  await list.getByRole('button', { name: /Region is Nordic/ }).click();
  await expect(list.getByText(/Ledger of 2024/)).toHaveCount(0);
});

test('members are put together in the place of themselves, and the total stays', async ({ page }) => {
  await begin(page, `Groups ${Date.now()}`, 'One cross-tab');
  const side = page.getByRole('group', { name: 'Down the side' });
  await side.getByRole('button', { name: 'Region', exact: true }).click();
  await page.keyboard.press('Escape');
  const figure = (name: string) => rowOf(page, name).getByRole('gridcell').last();
  const [nordic, atlantic, total] = await Promise.all(['Nordic', 'Atlantic', 'All regions'].map((name) => figure(name).textContent()));
  await page.getByRole('button', { name: /^Groups of members/ }).click();
  await page.getByRole('button', { name: 'Add group' }).click();
  await page.getByRole('checkbox', { name: 'Nordic' }).check();
  await page.getByRole('checkbox', { name: 'Atlantic' }).check();
  await page.getByLabel('Name', { exact: true }).fill('North and west');
  await page.keyboard.press('Tab');
  await expect(rowOf(page, 'North and west')).toBeVisible();
  await expect(rowOf(page, 'Nordic')).toHaveCount(0);
  const number = (text: string | null): number => Number(text!.replaceAll(',', ''));
  // In thousands, each rounded for itself.
  await expect
    .poll(async () => Math.abs(number(await figure('North and west').textContent()) - number(nordic) - number(atlantic)))
    .toBeLessThan(2);
  await expect(figure('All regions')).toHaveText(total!);

  // From the menu of a member: into a group that is there, and into a new one, down the side and across the top.
  await page.getByRole('rowheader', { name: 'Mediterranean' }).click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Add to North and west' }).click();
  await expect(rowOf(page, 'Mediterranean')).toHaveCount(0);
  await page.getByRole('button', { name: 'Settings of the report' }).click();
  await page.getByRole('rowheader', { name: 'North and west' }).click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Edit group' }).click();
  await expect(page.getByRole('checkbox', { name: 'Mediterranean' })).toBeChecked();
  await expect(page.getByRole('checkbox', { name: 'Alpine and Danube' })).not.toBeChecked();
  await page.getByRole('columnheader', { name: '2025', exact: true }).click({ button: 'right' });
  await page.getByRole('menuitem', { name: 'Group with others …' }).click();
  await expect(page.getByRole('checkbox', { name: '2025' })).toBeChecked();
  await page.getByRole('checkbox', { name: '2024' }).check();
  await expect(page.getByRole('columnheader', { name: '2025 and others' })).toBeVisible();
  await expect(page.getByRole('columnheader', { name: '2024', exact: true })).toHaveCount(0);
  await expect(figure('All regions')).toHaveText(total!);
});

test('members stand in Pareto classes, and the total stays', async ({ page }) => {
  await begin(page, `Classes ${Date.now()}`, 'One cross-tab');
  const side = page.getByRole('group', { name: 'Down the side' });
  await side.getByRole('button', { name: 'Region', exact: true }).click();
  await page.keyboard.press('Escape');
  const figure = async (name: string): Promise<number> =>
    Number((await rowOf(page, name).getByRole('gridcell').last().textContent())!.replaceAll(',', ''));
  const regions = await Promise.all(['Alpine and Danube', 'Atlantic', 'Mediterranean', 'Nordic'].map(figure));
  const total = await figure('All regions');
  await page.getByRole('button', { name: /^Pareto classes/ }).click();
  await page.getByLabel('Group by class').check();
  await expect(rowOf(page, 'Class A')).toBeVisible();
  await page.getByLabel('Cumulative percent').fill('80, 50');
  await page.keyboard.press('Tab');
  await expect(page.getByText('One to five rising percentages below 100')).toBeVisible();
  await page.getByLabel('Cumulative percent').fill('20');
  await page.keyboard.press('Tab');
  // The largest region crosses the first fifth by itself.
  await expect.poll(() => figure('Class A')).toBe(Math.max(...regions));
  expect(Math.abs((await figure('Class A')) + (await figure('Class B')) - total)).toBeLessThan(2);
  expect(await figure('All regions')).toBe(total);
});
