import { expect, test, type Page } from '@playwright/test';
import { enterAs } from './support/people.ts';
import { chooseFile } from './support/controls.ts';

/** Cross-tabs with far more rows and columns than a screen shows: only what is seen is drawn, and what is seen is right. */

const ACCOUNTS = 20_000;
const MONTHS = 120;
const account = (index: number): string => `Account ${String(index).padStart(5, '0')}`;
const amount = (index: number): number => (index % 997) + 1;

/** One record an account, months in turn; each figure follows from the account's number. */
function accountsFile(): Buffer {
  const lines = ['account,month,amount'];
  for (let index = 0; index < ACCOUNTS; index++) {
    const month = index % MONTHS;
    const date = `${2015 + Math.floor(month / 12)}-${String((month % 12) + 1).padStart(2, '0')}-01`;
    lines.push(`${account(index)},${date},${amount(index)}`);
  }
  return Buffer.from(lines.join('\n'));
}

async function bringIn(page: Page, name: string, buffer: Buffer): Promise<void> {
  await enterAs(page, 'Ines Calloway');
  await page.getByRole('link', { name: 'Data' }).click();
  await chooseFile(page, 'Choose a file', { name: `${name}.csv`, mimeType: 'text/csv', buffer });
  await expect(page.getByRole('heading', { name: 'No problems' })).toBeVisible();
  await page.getByLabel('Name', { exact: true }).fill(name);
  await page.getByRole('button', { name: 'Import' }).click();
  await page.waitForURL(/\/reports\//);
  await expect(page.getByRole('heading', { name, level: 1 })).toBeVisible();
}

/** Puts fields on the two axes, as a saved draft, and opens it in Read. */
async function layOut(page: Page, side: string[], top: string[]): Promise<void> {
  const path = `/api${new URL(page.url()).pathname}`;
  const { report, revision } = await (await page.request.get(`${path}?draft=true`)).json();
  const [exhibit] = report.exhibits;
  Object.assign(exhibit.side, { fields: side, openLevels: side.length });
  Object.assign(exhibit.top, { fields: top, openLevels: top.length });
  expect((await page.request.put(path, { data: { report, revision } })).status()).toBe(200);
  await page.goto(new URL(page.url()).pathname);
}

test('twenty thousand rows scroll to their end, drawing only what is seen', async ({ page }) => {
  await bringIn(page, 'Many accounts', accountsFile());
  await layOut(page, ['account'], []);
  const table = page.getByRole('treegrid');
  await expect(table).toHaveAttribute('aria-rowcount', /^200\d\d$/);
  const scroller = table.locator('xpath=..');
  for (const part of [0.31, 0.72, 1]) {
    await scroller.evaluate((element, share) => element.scrollTo(0, element.scrollHeight * share), part);
    await expect(table.getByRole('row').filter({ hasText: 'Account' }).nth(10)).toBeVisible();
    expect(await table.getByRole('row').count()).toBeLessThan(100);
  }
  const last = table.getByRole('row').filter({ has: page.getByRole('rowheader', { name: account(ACCOUNTS - 1) }) });
  await expect(last).toBeVisible();
  await expect(last.getByRole('gridcell').filter({ hasText: /^\d/ }).last()).toHaveText(String(amount(ACCOUNTS - 1)));
});

test('two hundred rows by a hundred and twenty columns scroll both ways without drawing them all', async ({ page }) => {
  const lines = ['account,month,amount'];
  for (let index = 0; index < 200; index++) {
    for (let month = 0; month < MONTHS; month++)
      lines.push(
        `${account(index)},${2015 + Math.floor(month / 12)}-${String((month % 12) + 1).padStart(2, '0')}-01,${index * 1000 + month}`,
      );
  }
  await bringIn(page, 'Accounts by month', Buffer.from(lines.join('\n')));
  await layOut(page, ['account'], ['month_year', 'month_month']);
  const table = page.getByRole('treegrid');
  await expect(table).toBeVisible();
  await expect(table).toHaveAttribute('aria-colcount', /\d{3}/);
  const scroller = table.locator('xpath=..');
  await scroller.evaluate(async (element) => {
    for (let step = 1; step <= 20; step++) {
      element.scrollTo((element.scrollWidth * step) / 20, (element.scrollHeight * step) / 20);
      await new Promise(requestAnimationFrame);
    }
  });
  await expect(table.getByRole('rowheader', { name: account(199) })).toBeVisible();
  expect(await table.getByRole('gridcell').count()).toBeLessThan(2_500);
});
