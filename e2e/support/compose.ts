import { expect, type Locator, type Page } from '@playwright/test';
import { enterAs } from './people.ts';
import { choose } from './controls.ts';

/** Makes a report over the demo company from a starting layout. */
export async function begin(page: Page, title: string, layout = 'An empty page'): Promise<void> {
  await enterAs(page, 'Ines Calloway');
  await page.getByRole('button', { name: 'New report' }).click();
  const dialog = page.getByRole('dialog', { name: 'New report' });
  await dialog.getByLabel('Title').fill(title);
  await dialog.getByLabel('Folder').fill('Trials');
  await choose(dialog, 'Dataset', 'Hollin & Marsh');
  await dialog.getByRole('radio', { name: layout }).check();
  await dialog.getByRole('button', { name: 'Create' }).click();
  await expect(page.getByRole('heading', { name: title, level: 1 })).toBeVisible();
  // What stands beside the page comes after it, and moves it: a press before that is released beside its button.
  await expect(drawer(page).getByRole('button').first()).toBeVisible();
  await expect(settings(page)).toBeVisible();
}
/** Where the fields and measures are. */
export const drawer = (page: Page): Locator => page.getByRole('complementary', { name: 'Fields and measures' });
export const settings = (page: Page): Locator => page.getByRole('complementary', { name: 'Settings' });
/** Puts a field or measure somewhere by its menu, which the keyboard reaches too. */
export async function put(page: Page, name: string, where: string): Promise<void> {
  await drawer(page).getByRole('button', { name, exact: true }).click();
  // A menu that closes is there for a moment after the next one opens.
  await page.getByRole('menuitem', { name: where, exact: true }).last().click();
}
/** The row of a cross-tab whose label ends with a name. */
export const rowOf = (page: Page, name: string): Locator =>
  page
    .getByRole('treegrid')
    .getByRole('row')
    .filter({ has: page.getByRole('rowheader', { name: new RegExp(`${name}$`) }) });
export const thousands = (value: string | number): string => Math.round(Number(value) / 1000).toLocaleString('en-GB');
