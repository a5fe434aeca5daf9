import { readFileSync } from 'node:fs';
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { expectNoFindingsOverlaid } from './support/accessible.ts';
import { choose } from './support/controls.ts';
import { enterAs } from './support/people.ts';

/** What a manager sees leaves the application as a file that says the same. */

const dialog = (page: Page) => page.getByRole('dialog', { name: 'Export' });
const exportsOf = (page: Page) => dialog(page).getByRole('list', { name: 'Your exports' }).getByRole('listitem');

/** Whoever tried before left nothing here. */
async function clear(page: Page): Promise<void> {
  const list = (await (await page.request.get('/api/exports')).json()) as { id: string }[];
  for (const { id } of list) await page.request.delete(`/api/exports/${id}`);
}

async function wordsOf(path: string): Promise<string[]> {
  const document = await getDocument({ data: new Uint8Array(readFileSync(path)), verbosity: 0 }).promise;
  const pages = await Promise.all(
    Array.from({ length: document.numPages }, async (_, index) => (await document.getPage(index + 1)).getTextContent()),
  );
  return pages.flatMap(({ items }) => items.flatMap((item) => ('str' in item ? [item.str] : [])));
}

test('a manager exports what is on the screen as PDF, and the page says what they see', async ({ page }) => {
  await enterAs(page, 'Sanna Wikmark');
  await clear(page);
  await page.goto('/reports/sales-against-target?year=2026');
  const table = page.getByRole('treegrid', { name: 'Net sales and attainment' });
  await table.getByRole('button', { name: 'Open Nordic' }).first().click();
  await expect(table.getByRole('rowheader', { name: /Sweden/ })).toBeVisible();
  await page.getByRole('button', { name: 'Export', exact: true }).click();
  await expect(dialog(page)).toContainText('Showing net sales in euro for 2026');
  await expect(dialog(page)).toContainText('Made for Sanna Wikmark, who sees: Region is Nordic.');
  await dialog(page).getByRole('button', { name: 'Export PDF' }).click();
  const made = exportsOf(page).first();
  await expect(made).toContainText('1 page');
  await expectNoFindingsOverlaid(page);
  const download = page.waitForEvent('download');
  await made.getByRole('link', { name: 'Download Sales against target by territory.pdf' }).click();
  const words = await wordsOf((await (await download).path())!);
  expect(words).toEqual(expect.arrayContaining(['Sales against target by territory', 'Nordic', 'Sweden', 'Finland', 'Page 1 of 1']));
  expect(words).not.toContain('Stockholm');
  const shown = await table
    .getByRole('row')
    .filter({ has: page.getByRole('rowheader', { name: /Finland/ }) })
    .getByRole('gridcell')
    .allInnerTexts();
  const first = shown.map((text) => text.trim().split(/\s/)[0]).find((text) => /\d/.test(text))!;
  expect(words).toContain(first);

  // Opened further than on the screen, on other paper.
  await dialog(page)
    .getByRole('radio', { name: /Expanded to/ })
    .check();
  await choose(dialog(page), 'Level', 'city');
  await dialog(page).getByRole('radio', { name: 'Portrait' }).check();
  await dialog(page).getByRole('button', { name: 'Export PDF' }).click();
  await expect(exportsOf(page)).toHaveCount(2);
  await expect(exportsOf(page).first()).toContainText('page');
  const second = page.waitForEvent('download');
  await exportsOf(page)
    .first()
    .getByRole('link', { name: /^Download/ })
    .click();
  expect(await wordsOf((await (await second).path())!)).toEqual(expect.arrayContaining(['Stockholm', 'Uppsala']));

  await exportsOf(page)
    .first()
    .getByRole('button', { name: /^Remove/ })
    .click();
  await expect(exportsOf(page)).toHaveCount(1);
  await exportsOf(page)
    .first()
    .getByRole('button', { name: /^Remove/ })
    .click();
  await expect(dialog(page).getByText('Your exports')).toHaveCount(0);
});

test('rows of one exhibit leave as CSV, and what is too large says so and is cancelled', async ({ page }) => {
  await enterAs(page, 'Henrike Hollin');
  await clear(page);
  await page.goto('/reports/order-lines');
  await page.getByRole('button', { name: 'Export', exact: true }).click();
  await dialog(page).getByRole('button', { name: 'Export PDF' }).click();
  await expect(exportsOf(page).first()).toContainText('PDF holds 200,000 here');
  await dialog(page).getByRole('radio', { name: /^CSV/ }).check();
  await expect(dialog(page).getByRole('combobox', { name: 'Exhibit' })).toBeVisible();
  await dialog(page).getByRole('button', { name: 'Export CSV' }).click();
  await exportsOf(page).first().getByRole('button', { name: 'Cancel' }).click();
  await expect(exportsOf(page).first()).toContainText('Cancelled');
  for (let left = 2; left > 0; left--) {
    await exportsOf(page)
      .first()
      .getByRole('button', { name: /^Remove/ })
      .click();
    await expect(exportsOf(page)).toHaveCount(left - 1);
  }
  const { violations } = await new AxeBuilder({ page }).include('[role=dialog]').withTags(['wcag2a', 'wcag2aa']).analyze();
  expect(violations).toEqual([]);
});

test('a chart is saved as a picture at twice its size, and figures are copied as a table', async ({ page, context }) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await enterAs(page, 'Henrike Hollin');
  await page.goto('/reports/where-are-we-drifting');
  const chart = page.getByRole('region', { name: 'Furthest below target' });
  const plot = chart.getByRole('application');
  await expect(plot).toBeVisible();
  const box = (await plot.boundingBox())!;
  await chart.getByRole('button', { name: 'Download Furthest below target' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('menuitem', { name: 'Picture, PNG' }).or(page.getByText('Picture, PNG')).first().click();
  const png = readFileSync((await (await download).path())!);
  // The signature, then the width and height of the header (PNG specification, 5.2 and 11.2.2).
  expect(png.subarray(0, 8)).toEqual(Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]));
  expect(Math.abs(png.readUInt32BE(16) - 2 * box.width)).toBeLessThanOrEqual(2);
  expect(Math.abs(png.readUInt32BE(20) - 2 * box.height)).toBeLessThanOrEqual(2);
  // More is on it than paper.
  expect(png.byteLength).toBeGreaterThan(5_000);

  await chart.getByRole('button', { name: 'Download Furthest below target' }).click();
  const vectors = page.waitForEvent('download');
  await page.getByText('Picture, SVG').click();
  const svg = readFileSync((await (await vectors).path())!, 'utf8');
  // Well-formed, with real text, bars as shapes, and words for who does not see them.
  const found = await page.evaluate((text) => {
    const read = new DOMParser().parseFromString(text, 'image/svg+xml');
    const texts = [...read.querySelectorAll('text')].map((one) => one.textContent);
    return {
      failed: read.querySelector('parsererror') !== null,
      title: read.querySelector('title')?.textContent,
      texts,
      shapes: read.querySelectorAll('path, rect').length,
      sizes: [...read.querySelectorAll('text')].map((one) => one.getAttribute('font-size')),
    };
  }, svg);
  expect(found.failed).toBe(false);
  expect(found.title).toContain('Variance to target');
  expect(found.texts).toEqual(expect.arrayContaining(['Italy', 'Spain']));
  expect(found.shapes).toBeGreaterThan(12);
  expect(found.sizes.every((size) => /^\d+(\.\d+)?px$/.test(size ?? ''))).toBe(true);
  // The chart on the screen is as it was.
  await expect(plot).toBeVisible();

  await chart.getByRole('button', { name: 'Download Furthest below target' }).click();
  await page.getByText('Copy figures').click();
  await expect(chart.getByText('Copied')).toBeVisible();
  const copied = await page.evaluate(() => navigator.clipboard.readText());
  const [heading, rule, first] = copied.split('\n');
  expect(heading).toMatch(/^\| .* \|$/);
  expect(rule).toContain('---:');
  expect(first).toContain('Italy');
});
