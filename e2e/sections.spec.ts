import { expect, test, type Page, type Request } from '@playwright/test';
import { expectNoFindings } from './support/accessible.ts';
import { begin, put, settings } from './support/compose.ts';
import { choose } from './support/controls.ts';
import { enterAs } from './support/people.ts';

/** A report repeated in sections: as tabs, as pages, below each other; by mouse and key, and as an analyst composes it. */

const tab = (page: Page, name: string) => page.getByRole('tab', { name: new RegExp(`${name}$`) });
const table = (page: Page) => page.getByRole('treegrid', { name: 'Net sales and attainment' });
const rowLabels = (page: Page) => table(page).first().getByRole('rowheader');
async function open(page: Page, query = ''): Promise<void> {
  await enterAs(page, 'Henrike Hollin');
  await page.goto(`/reports/region-by-region${query}`);
  await expect(rowLabels(page).first()).toBeVisible();
}

test.describe('a reader', () => {
  test('turns to a section by its tab, which the address names, and Back turns back', async ({ page }) => {
    await open(page);
    await expect(tab(page, 'Alpine and Danube')).toHaveAttribute('aria-selected', 'true');
    await expect(rowLabels(page)).toContainText(['Austria', 'Czechia', 'Germany', 'Hungary', 'Poland', 'Switzerland', 'All countries']);
    await tab(page, 'Nordic').click();
    await expect(rowLabels(page)).toHaveText([/Denmark/, /Finland/, /Norway/, /Sweden/, /All countries/]);
    await expect(page.getByRole('tabpanel', { name: 'Nordic' }).getByText('99.7 % of target')).toBeVisible();
    expect(new URL(page.url()).searchParams.get('report.section')).toBe('Nordic');
    await page.goBack();
    await expect(rowLabels(page).first()).toHaveText(/Austria/);
    await page.goForward();
    await page.reload();
    await expect(rowLabels(page).first()).toHaveText(/Denmark/);
    await tab(page, 'All regions').click();
    await expect(rowLabels(page)).toHaveText([/Alpine and Danube/, /Atlantic/, /Mediterranean/, /Nordic/, /All regions/]);
  });

  test('goes along the tabs by key, and the page has no findings of axe', async ({ page }) => {
    await open(page);
    await tab(page, 'Alpine and Danube').focus();
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('Enter');
    await expect(rowLabels(page).first()).toHaveText(/Belgium/);
    await expectNoFindings(page);
  });

  test('chooses a figure, which is explained in its section, and a link carries the section', async ({ page }) => {
    await open(page, '?report.section=Nordic');
    const cell = table(page)
      .getByRole('row', { name: /Sweden/ })
      .getByRole('gridcell')
      .last();
    const about = page.getByRole('complementary', { name: 'About the chosen figure' });
    await table(page)
      .getByRole('row', { name: /Sweden/ })
      .getByRole('gridcell', { name: /7,141/ })
      .click();
    await expect(about).toContainText('Sweden');
    await expect(about).toContainText('Nordic');
    await expect(about).toContainText('7,141');
    await expect(cell).toBeVisible();
    await about
      .getByRole('link', { name: /Order lines/ })
      .first()
      .click();
    await expect(page.getByRole('heading', { name: 'Order lines', level: 1 })).toBeVisible();
    await expect(page.getByTestId('scope-line')).toContainText('Sweden');
    await expect(page.getByTestId('scope-line')).toContainText('Nordic');
  });

  test('chooses in one of the sections below each other: the others stay as they are', async ({ page }) => {
    await open(page, '?report.sections=one-page');
    const section = (name: string) => page.getByRole('region', { name, exact: true });
    const atlantic = section('Atlantic');
    await atlantic.scrollIntoViewIfNeeded();
    await atlantic
      .getByRole('row', { name: /France/ })
      .getByRole('gridcell', { name: /9,964/ })
      .click();
    await expect(page.getByRole('complementary', { name: 'About the chosen figure' })).toContainText('France');
    await expect(atlantic.getByRole('row', { name: /France/ }).locator('[aria-selected=true]')).toHaveCount(1);
    await expect(section('Alpine and Danube').locator('[role=gridcell][aria-selected=true]')).toHaveCount(0);
    expect(new URL(page.url()).searchParams.get('report.section')).toBe('Atlantic');
  });

  test('goes to a section by the contents, and only what is seen is asked for', async ({ page }) => {
    const asked = new Set<string>();
    page.on('request', (request: Request) => {
      if (!/exhibits\/territory\/crosstab/.test(request.url())) return;
      const { choices } = request.postDataJSON() as { choices: Record<string, string[]> };
      asked.add(choices['report.section']?.[1] ?? 'all');
    });
    await open(page, '?report.sections=one-page');
    await page.waitForLoadState('networkidle');
    expect(asked.size).toBeLessThan(5);
    expect([...asked]).not.toContain('all');
    await page
      .getByRole('navigation', { name: 'Contents' })
      .getByRole('button', { name: /All regions/ })
      .click();
    const last = page.getByRole('region', { name: 'All regions', exact: true });
    await expect(last.getByRole('heading', { name: 'All regions' })).toBeInViewport();
    await expect(last.getByRole('row', { name: /Mediterranean/ })).toBeVisible();
    expect([...asked]).toContain('all');
  });

  test('turns page by page, and lays sections out in another way', async ({ page }) => {
    await open(page);
    await page.getByRole('button', { name: 'Page each' }).click();
    await expect(page.getByRole('button', { name: 'Previous section' })).toBeDisabled();
    await page.getByRole('button', { name: 'Next section' }).click();
    await expect(page.getByRole('heading', { name: 'Atlantic', level: 2 })).toBeVisible();
    await expect(page.getByText('Section 2 of 5')).toBeVisible();
    await choose(page, 'Section', /^Nordic/);
    await expect(rowLabels(page).first()).toHaveText(/Denmark/);
    await page.getByRole('button', { name: 'Tab each' }).click();
    await expect(tab(page, 'Nordic')).toHaveAttribute('aria-selected', 'true');
  });

  test('reads charts on scales that all sections have in common', async ({ page }) => {
    await open(page, '?report.section=Nordic');
    const scale = page.getByRole('group', { name: 'Scale' }).first();
    await expect(scale.getByRole('button', { name: 'own' })).toHaveAttribute('aria-pressed', 'true');
    const answer = page.waitForResponse(/common-scale/);
    await scale.getByRole('button', { name: 'common' }).click();
    const { measures } = (await (await answer).json()) as { measures: { low: number; high: number }[] };
    expect(measures[0].high).toBeGreaterThan(measures[0].low);
    await expect(scale.getByRole('button', { name: 'common' })).toHaveAttribute('aria-pressed', 'true');
  });

  test('chooses other regions, and has their sections only', async ({ page }) => {
    await open(page, '?report.section=Nordic&year=2026&region=Atlantic&region=Mediterranean');
    await expect(page.getByRole('tab')).toHaveText([/Atlantic/, /Mediterranean/, /All regions/]);
    await expect(rowLabels(page).first()).toHaveText(/Belgium/);
  });
});

test('an analyst repeats a page by a level, and readers get it so', async ({ page }) => {
  await begin(page, 'Line by line');
  await page.getByRole('button', { name: 'Start a cross-tab' }).click();
  await put(page, 'Country', 'Add down the side');
  await put(page, 'Net sales', 'Add to cells');
  await page.getByRole('button', { name: 'Settings', exact: true }).click();
  await settings(page)
    .getByRole('button', { name: /^Sections/ })
    .click();
  await choose(settings(page), 'Section by', 'Line');
  await expect(tab(page, 'Keys')).toBeVisible();
  await choose(settings(page), 'Figure', 'Units sold');
  await choose(settings(page), 'Sort by', 'Units sold');
  await choose(settings(page), 'Direction', 'Ascending');
  await choose(settings(page), 'All members', 'Not shown');
  await page.getByRole('button', { name: 'Page each' }).click();
  await expect(page.getByRole('button', { name: 'Next section' })).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('tab').first()).toBeVisible();
  await expect(page.getByText('Draft saved')).toBeVisible();
  await page.getByRole('link', { name: 'Read', exact: true }).click();
  await expect(page.getByRole('tab')).toHaveCount(6);
  await expect(page.getByText('6 sections, none empty.', { exact: false })).toBeVisible();
  const first = await page.getByRole('tab').first().innerText();
  await expect(page.getByRole('tabpanel', { name: first.trim() }).getByRole('row', { name: /Austria/ })).toBeVisible();
});

test('an exhibit is repeated in its place, whatever the rest of the page shows', async ({ page }) => {
  await begin(page, 'Channel by channel');
  await page.getByRole('button', { name: 'Start a cross-tab' }).click();
  await put(page, 'Region', 'Add down the side');
  await put(page, 'Units sold', 'Add to cells');
  await settings(page)
    .getByRole('button', { name: /^Sections/ })
    .click();
  await choose(settings(page), 'Section by', 'Channel');
  await expect(page.getByText('Draft saved')).toBeVisible();
  await page.getByRole('link', { name: 'Read', exact: true }).click();
  const total = page.getByRole('row', { name: /All regions/ }).getByRole('gridcell');
  await tab(page, 'All channels').click();
  const all = Number((await total.innerText()).replaceAll(',', ''));
  let sum = 0;
  const names = await page.getByRole('tab').allInnerTexts();
  for (const name of names.slice(0, -1)) {
    await tab(page, name.trim()).click();
    await expect(page.getByRole('tabpanel', { name: name.trim() })).toBeVisible();
    sum += Number((await total.innerText()).replaceAll(',', ''));
  }
  expect(names.length).toBeGreaterThan(2);
  expect(sum).toBe(all);
});

test('an exhibit is copied by another dimension, and of another measure, in one action', async ({ page }) => {
  await begin(page, 'The same by');
  await page.getByRole('button', { name: 'Start a cross-tab' }).click();
  await put(page, 'Region', 'Add down the side');
  await put(page, 'Net sales', 'Add to cells');
  await page
    .getByRole('group', { name: 'Exhibit New cross-tab' })
    .getByRole('button', { name: /^The same as/ })
    .click();
  await page.getByRole('searchbox', { name: 'The same by: find' }).fill('Line');
  await page.getByRole('menuitem', { name: 'Line', exact: true }).click();
  const byLine = page.getByRole('group', { name: 'Exhibit New cross-tab by line' });
  await expect(byLine.getByRole('row', { name: /Keys/ })).toBeVisible();
  await byLine.getByRole('button', { name: /^The same as/ }).click();
  await page.getByRole('searchbox', { name: 'The same by: find' }).fill('Units sold');
  await page.getByRole('menuitem', { name: 'Units sold', exact: true }).click();
  await expect(page.getByRole('group', { name: /^Exhibit / })).toHaveCount(3);
  await expect(page.getByRole('columnheader', { name: /Units sold/ })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('group', { name: /^Exhibit / })).toHaveCount(2);
});
