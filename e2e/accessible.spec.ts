import { expect, test } from '@playwright/test';
import { expectNoFindings, expectNoFindingsComposing, expectReadable } from './support/accessible.ts';
import { enterAs, openSales } from './support/people.ts';
import { chooseFile } from './support/controls.ts';

/** Every screen: by every rule in light colours, by those about colours in dark ones. */
for (const scheme of ['light', 'dark'] as const) {
  const looksOver = scheme === 'light' ? expectNoFindings : expectReadable;
  const looksOverComposing = scheme === 'light' ? expectNoFindingsComposing : expectReadable;
  test.describe(`in ${scheme}`, () => {
    test.use({ colorScheme: scheme });
    // Nothing is changed here, so the screens need not wait for each other.
    test.describe.configure({ mode: 'parallel' });
    // Every rule is tried on every element of full tables: seconds a screen, and many on a busy machine.
    test.setTimeout(180_000);

    test('sign-in and library', async ({ page }) => {
      await page.goto('/sign-in');
      await expect(page.getByRole('button', { name: /^Henrike Hollin/ })).toBeVisible();
      await looksOver(page);
      await enterAs(page, 'Henrike Hollin');
      await expect(page.getByRole('link', { name: /Order lines/ }).last()).toBeVisible();
      await looksOver(page);
      await page.getByRole('link', { name: 'Help' }).click();
      await expect(page.getByRole('heading', { name: 'The scope line' })).toBeVisible();
      await looksOver(page);
    });

    test('report, margin and list', async ({ page }) => {
      await openSales(
        page,
        'Henrike Hollin',
        'year=2026&territory.side=0&territory.side=Nordic&territory.cell=Nordic/Sweden&territory.cell=2026&territory.cell=net_sales',
      );
      await expect(page.getByText('Drill through to')).toBeVisible();
      await looksOver(page);
      await page.goto('/reports/order-lines');
      await expect(page.getByRole('table')).toBeVisible();
      await looksOver(page);
    });

    test('KPIs, marks, links and signals', async ({ page }) => {
      await enterAs(page, 'Ines Calloway');
      await page.goto('/reports/company-at-a-glance');
      await expect(page.getByRole('img', { name: /^From / }).first()).toBeVisible();
      await looksOver(page);
      await page.goto('/reports/where-are-we-drifting');
      await expect(page.getByRole('list', { name: 'Legend' }).first()).toBeVisible();
      await expect(page.getByRole('treegrid', { name: 'Regions and countries' }).getByRole('row').nth(3)).toBeVisible();
      await looksOver(page);
      await page.goto('/reports/repair-workshop');
      await expect(page.getByRole('link', { name: 'Violins' })).toBeVisible();
      await looksOver(page);
      await page.goto('/signals');
      await expect(page.getByRole('tab', { name: 'Signals' })).toBeVisible();
      await looksOver(page);
    });

    test('charts, maps and what changed', async ({ page }) => {
      await enterAs(page, 'Ines Calloway');
      await page.goto('/reports/sales-in-charts');
      await expect(page.getByRole('application').first()).toBeVisible();
      await looksOver(page);
      await page.goto('/reports/sales-in-charts?report.page=changed');
      await expect(page.getByRole('group', { name: 'Field' }).first()).toBeVisible();
      await looksOver(page);
      await page.goto('/reports/sales-in-charts?report.page=moving');
      await expect(page.getByRole('button', { name: 'Play' }).first()).toBeVisible();
      await looksOver(page);
      await page.goto('/reports/sales-in-charts?report.page=movement');
      await expect(page.getByRole('application').nth(3)).toBeVisible();
      await looksOver(page);
      await page.goto('/reports/sales-in-charts?report.page=where');
      await expect(page.getByRole('group', { name: 'Zoom' }).first()).toBeVisible();
      await looksOver(page);
    });

    test('settings of a chart, and of a measure', async ({ page }) => {
      await enterAs(page, 'Ines Calloway');
      await page.goto('/reports/sales-in-charts?compose&report.page=made-of');
      await page.getByRole('region', { name: 'Variance to target' }).getByRole('heading').click();
      await expect(page.getByRole('button', { name: /^Trend and forecast/ })).toBeVisible();
      await looksOverComposing(page);
      await page.goto('/reports/where-are-we-drifting?compose');
      await page.getByRole('group', { name: 'In the cells' }).getByRole('button', { name: 'Growth on last year' }).click();
      await page.keyboard.press('Escape');
      await page.getByRole('button', { name: /^Conditional formatting/ }).click();
      await expect(page.getByText('Preview').first()).toBeVisible();
      await looksOverComposing(page);
    });

    test('composing and importing', async ({ page }) => {
      await enterAs(page, 'Ines Calloway');
      await page.goto('/reports/sales-against-target?compose=');
      await expect(page.getByRole('treegrid')).toBeVisible();
      await looksOverComposing(page);
      await page.goto('/measures');
      await expect(page.getByRole('table')).toBeVisible();
      await looksOver(page);
      await page.goto('/data');
      await expect(page.getByText('Warehouse (stand-in)')).toBeVisible();
      await looksOver(page);
      await chooseFile(page, 'Choose a file', { name: 'a.csv', mimeType: 'text/csv', buffer: Buffer.from('a,b\n1,x\n2,y\n') });
      await expect(page.getByRole('heading', { name: 'No problems' })).toBeVisible();
      await looksOver(page);
    });

    test('a query, and what data means', async ({ page }) => {
      await enterAs(page, 'Ines Calloway');
      await page.goto('/data/query/warehouse');
      await expect(
        page.getByRole('complementary', { name: 'Tables' }).getByRole('list').first().getByText('warehouse.sales'),
      ).toBeVisible();
      await expect(page.getByRole('textbox', { name: 'Query' })).toBeVisible();
      await looksOver(page);
      await page.goto('/data/datasets/hollin-marsh');
      await page.getByRole('button', { name: /^Territory, dimension/ }).click();
      await expect(page.getByRole('region', { name: 'Territory' })).toBeVisible();
      await looksOver(page);
      await page.getByRole('tab', { name: 'Measures and fields' }).click();
      await looksOver(page);
      await page.getByRole('tab', { name: 'Access rules' }).click();
      await expect(page.getByRole('button', { name: 'View as Sanna Wikmark' })).toBeVisible();
      await looksOver(page);
    });
  });
}
