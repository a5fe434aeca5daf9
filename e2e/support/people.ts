import { expect, type Page } from '@playwright/test';

/** Enters the demo by the sign-in page, as a visitor does. */
export async function enterAs(page: Page, name: string): Promise<void> {
  await page.goto('/sign-in');
  await page.getByRole('button', { name: new RegExp(`^${name}`) }).click();
  await expect(page.getByRole('heading', { name: 'Reports', level: 1 })).toBeVisible();
}

/** Enters the demo and opens the report "Sales against target". */
export async function openSales(page: Page, name = 'Henrike Hollin', query = ''): Promise<void> {
  await enterAs(page, name);
  if (query) await page.goto(`/reports/sales-against-target?${query}`);
  else
    await page
      .getByRole('link', { name: /Sales against target by territory/ })
      .last()
      .click();
  await expect(grid(page)).toBeVisible();
}

export const grid = (page: Page) => page.getByRole('treegrid', { name: 'Net sales and attainment' });

/** The row of a member, by its label. */
export const rowOf = (page: Page, label: string) =>
  grid(page)
    .getByRole('row')
    .filter({ has: page.getByRole('rowheader', { name: label }) })
    .first();

/** The labels of the rows, from the top. */
export const rowLabels = async (page: Page): Promise<string[]> =>
  (await grid(page).getByRole('rowheader').allInnerTexts()).map((text) => text.replace(/^[+−]\s*/, '').trim());

/** The figures of a row as numbers; null where there is none. */
export async function figuresOf(page: Page, label: string): Promise<(number | null)[]> {
  const texts = await rowOf(page, label).getByRole('gridcell').allInnerTexts();
  return texts.map((text) => (text.trim() === '–' ? null : Number(text.trim().replaceAll(',', '').replace('−', '-'))));
}
