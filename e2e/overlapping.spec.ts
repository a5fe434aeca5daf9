import { expect, test, type Page } from '@playwright/test';
import { enterAs, grid, openSales } from './support/people.ts';

/** Clicks that overlap: what was asked before the last one is given up, and nothing speaks of another figure than the one that was clicked. */

const drifting = 'Regions and countries';
const rowOf = (page: Page, table: string, name: string) =>
  page
    .getByRole('treegrid', { name: table })
    .getByRole('row')
    .filter({ has: page.getByRole('rowheader', { name: new RegExp(`${name}$`) }) });
const margin = (page: Page) => page.getByRole('complementary', { name: 'About the chosen figure' });

/** Holds the answers to some questions back until they are let go. */
async function hold(page: Page, address: RegExp): Promise<() => void> {
  let letGo = (): void => undefined;
  const gone = new Promise<void>((resolve) => (letGo = resolve));
  await page.route(address, async (route) => {
    await gone;
    await route.continue().catch(() => undefined);
  });
  return letGo;
}

for (const country of ['Sweden', 'Norway', 'Denmark'])
  test(`a label leads to its own member, after the figure of another one was chosen: ${country}`, async ({ page }) => {
    await enterAs(page, 'Henrike Hollin');
    await page.goto('/reports/where-are-we-drifting');
    await rowOf(page, drifting, 'Italy')
      .getByRole('gridcell')
      .nth(1)
      .click({ position: { x: 4, y: 12 } });
    await expect(margin(page).getByText('net_sales ÷ target')).toBeVisible();
    await rowOf(page, drifting, country).getByText(country, { exact: true }).click();
    await expect(page.getByRole('heading', { name: 'Country by country', level: 1 })).toBeVisible();
    await expect(page.getByRole('button', { name: `Country: ${country}. Change` })).toBeVisible();
  });

test('of two labels clicked one after the other the last one is followed', async ({ page }) => {
  await enterAs(page, 'Henrike Hollin');
  await page.goto('/reports/where-are-we-drifting');
  await expect(rowOf(page, drifting, 'Sweden')).toBeVisible();
  const letGo = await hold(page, /\/explain$/);
  for (const country of ['Sweden', 'Italy', 'Norway']) await rowOf(page, drifting, country).getByText(country, { exact: true }).click();
  letGo();
  await expect(page.getByRole('button', { name: 'Country: Norway. Change' })).toBeVisible();
});

test('a link that is not known yet is not followed once another figure is chosen', async ({ page }) => {
  await enterAs(page, 'Henrike Hollin');
  await page.goto('/reports/where-are-we-drifting');
  await expect(rowOf(page, drifting, 'Sweden')).toBeVisible();
  const letGo = await hold(page, /\/explain$/);
  await rowOf(page, drifting, 'Sweden').getByText('Sweden', { exact: true }).click();
  await rowOf(page, drifting, 'Italy')
    .getByRole('gridcell')
    .nth(1)
    .click({ position: { x: 4, y: 12 } });
  letGo();
  await expect(margin(page).getByText('net_sales ÷ target')).toBeVisible();
  await expect(
    margin(page)
      .getByText(/^Italy/)
      .first(),
  ).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Where are we drifting?', level: 1 })).toBeVisible();
});

test('the margin explains the figure that was clicked last, whichever exhibit it is in', async ({ page }) => {
  await enterAs(page, 'Henrike Hollin');
  await page.goto('/reports/growth-and-shares');
  const tables = page.getByRole('treegrid');
  await expect(tables.nth(1)).toBeVisible();
  const titles = await Promise.all([0, 1].map((at) => tables.nth(at).getAttribute('aria-label')));
  for (const at of [0, 1, 0, 1]) {
    const cell = tables.nth(at).getByRole('gridcell').first();
    const figure = (await cell.innerText()).trim();
    await cell.click({ position: { x: 4, y: 12 } });
    await expect(margin(page).locator('.figure strong'), titles[at] ?? '').toContainText(figure.replace(/\s?%$/, ''));
    // One figure is chosen, and the address says which.
    await expect(page.locator('[role=gridcell][aria-selected=true]')).toHaveCount(1);
    expect([...new Set(new URL(page.url()).searchParams.keys())].filter((key) => key.endsWith('.cell'))).toHaveLength(1);
  }
});

test('a choice that is answered after its report was left changes nothing in the next one', async ({ page }) => {
  await openSales(page, 'Henrike Hollin', 'region=Nordic&country=Sweden');
  await expect(grid(page)).toBeVisible();
  const letGo = await hold(page, /\/possible$/);
  await page.getByRole('button', { name: 'Region: Nordic. Change' }).click();
  await page.getByRole('option', { name: /^Mediterranean/ }).click();
  await page.getByRole('option', { name: /^Nordic/ }).click();
  await page.keyboard.press('Escape');
  await page.getByRole('link', { name: 'Reports' }).first().click();
  await page
    .getByRole('link', { name: /^Repairs and promises/ })
    .last()
    .click();
  await expect(page.getByRole('heading', { name: 'Repairs and promises', level: 1 })).toBeVisible();
  const before = page.url();
  const answered = page.waitForResponse(/\/possible$/).catch(() => null);
  letGo();
  await Promise.race([answered, page.waitForLoadState('networkidle')]);
  await expect(page.getByRole('heading', { name: 'Repairs and promises', level: 1 })).toBeVisible();
  expect(page.url()).toBe(before);
});
