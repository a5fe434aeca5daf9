import { expect, test } from '@playwright/test';
import { enterAs, grid, openSales, rowOf } from './support/people.ts';

/** What a user meets when something is wrong: a clear message and a way on, and nothing is lost. */

test('an address edited by hand says what is wrong and leads back', async ({ page }) => {
  await openSales(page, 'Henrike Hollin', 'country=Atlantis').catch(() => undefined);
  await page.goto('/reports/sales-against-target?country=Atlantis&territory.side=nonsense&territory.cell=x');
  await expect(page.getByText('There is no country “Atlantis” here, or it is not among what you may see.').first()).toBeVisible();
  await page.getByRole('button', { name: 'Back to the first choice' }).first().click();
  await expect(grid(page)).toBeVisible();
  await page.goto('/reports/sales-against-target?planet=Mars');
  await expect(page.getByText('The address asks for "planet", which this report does not know.').first()).toBeVisible();
});

test('a region that is not theirs looks like one that does not exist', async ({ page }) => {
  await enterAs(page, 'Sanna Wikmark');
  await page.goto('/reports/sales-against-target?region=Mediterranean');
  await expect(page.getByText('There is no region “Mediterranean” here, or it is not among what you may see.').first()).toBeVisible();
  await expect(page.getByRole('treegrid')).toHaveCount(0);
});

test('an unknown report and an unknown page', async ({ page }) => {
  await enterAs(page, 'Henrike Hollin');
  await page.goto('/reports/nothing-here');
  await expect(page.getByText('There is no such report')).toBeVisible();
  await page.getByRole('link', { name: 'Open the list of reports' }).click();
  await expect(page.getByRole('heading', { name: 'Reports', level: 1 })).toBeVisible();
  await page.goto('/somewhere/else');
  await expect(page.getByText('There is no page at this address')).toBeVisible();
});

test('a choice that leaves nothing says so', async ({ page }) => {
  await enterAs(page, 'Henrike Hollin');
  await page.goto('/reports/order-lines?year=2023&city=Oslo&model=5001&channel=Rental&day=2023-01-01');
  await expect(page.getByText('Nothing is left under this choice')).toBeVisible();
  await page.getByRole('button', { name: 'Back to the first choice' }).click();
  await expect(page.getByRole('table')).toBeVisible();
});

test('an expired session asks to sign in and comes back to the same page', async ({ page, context }) => {
  await openSales(page, 'Henrike Hollin', 'year=2025');
  await page.getByRole('button', { name: 'Open Nordic' }).click();
  await expect(rowOf(page, 'Norway')).toBeVisible();
  await context.clearCookies();
  await page.getByRole('button', { name: 'Open Norway' }).click();
  await expect(page.getByText('Your session has ended. Sign in again; the page comes back as it was.')).toBeVisible();
  await page.getByRole('button', { name: /^Henrike Hollin/ }).click();
  await expect(rowOf(page, 'Bergen')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Year: 2025. Change' })).toBeVisible();
});

test('what the server answers wrongly is told in plain words, and can be tried again', async ({ page }) => {
  await enterAs(page, 'Henrike Hollin');
  await page.route('**/crosstab', (route) =>
    route.fulfill({
      status: 500,
      contentType: 'application/problem+json',
      body: JSON.stringify({
        type: 'x',
        title: 'Something went wrong here',
        status: 500,
        detail: 'Try again; nothing was lost.',
        code: 'internal',
      }),
    }),
  );
  await page.goto('/reports/sales-against-target');
  await expect(page.getByText('Something went wrong here')).toBeVisible();
  await page.unroute('**/crosstab');
  await page.getByRole('button', { name: 'Try again' }).click();
  await expect(grid(page)).toBeVisible();
});

test('too large a cross-tab is not drawn, but told', async ({ page }) => {
  await enterAs(page, 'Henrike Hollin');
  await page.route('**/crosstab', (route) =>
    route.fulfill({
      status: 422,
      contentType: 'application/problem+json',
      body: JSON.stringify({
        type: 'x',
        title: 'This would be too large to draw',
        status: 422,
        detail: 'This would make 12,000 rows and 412 columns. Choose fewer members above, or close a level.',
        code: 'too-large',
      }),
    }),
  );
  await page.goto('/reports/sales-against-target');
  await expect(page.getByText('This would make 12,000 rows and 412 columns.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Back to the first choice' })).toBeVisible();
});
