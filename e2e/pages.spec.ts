import { expect, test, type Page } from '@playwright/test';
import { expectNoFindings } from './support/accessible.ts';
import { begin, settings } from './support/compose.ts';
import { choose } from './support/controls.ts';
import { enterAs } from './support/people.ts';

/** A report on paper: laid out live while it is composed, its breaks moved by key and mouse, and printed by a reader. */

const pages = (page: Page) => page.getByRole('region', { name: 'Pages' });
const paper = (page: Page, number: number) => pages(page).getByRole('group', { name: new RegExp(`^Page ${number} of`) });
const count = (page: Page) => pages(page).getByRole('status').first();
/** How much ink is on a page: its share of pixels that are not white. */
const ink = (page: Page, number: number): Promise<number> =>
  paper(page, number)
    .locator('canvas')
    .evaluate((canvas: HTMLCanvasElement) => {
      const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
      let dark = 0;
      for (let at = 0; at < data.length; at += 4) if (data[at + 3] > 0 && data[at] < 200) dark++;
      return dark / (data.length / 4);
    });

/** The pages of a new report with three texts. */
async function openPages(page: Page, title: string): Promise<void> {
  await begin(page, title);
  for (const words of ['First words', 'Second words', 'Third words']) {
    await page.getByRole('button', { name: 'Text', exact: true }).click();
    await settings(page).getByRole('textbox').first().fill(words);
    await settings(page).getByRole('textbox').first().blur();
  }
  await page.getByRole('link', { name: 'Pages' }).click();
}

test('an analyst sees the pages, sets the paper and moves a break', async ({ page }) => {
  await openPages(page, 'To be printed');
  await expect(count(page)).toHaveText('1 page');
  await expect.poll(() => ink(page, 1)).toBeGreaterThan(0.001);
  // Paper.
  const frame = await paper(page, 1).boundingBox();
  expect(frame!.width).toBeGreaterThan(frame!.height);
  await choose(settings(page), 'Orientation', 'Portrait');
  await expect.poll(async () => (await paper(page, 1).boundingBox())!.height).toBeGreaterThan(frame!.height);
  // Breaks: put there by their list, moved by the menu, taken back.
  const breaks = settings(page).getByRole('checkbox', { name: /^Before/ });
  await breaks.nth(2).check();
  await expect(count(page)).toHaveText('2 pages');
  await expect(paper(page, 1).getByText(/Page break before .*, moved/)).toBeVisible();
  await paper(page, 1).getByRole('button', { name: 'Move the break at the end of page 1' }).click();
  await page
    .getByRole('menuitem', { name: /^Break before/ })
    .first()
    .click();
  await expect(breaks.nth(1)).toBeChecked();
  await expect(breaks.nth(2)).not.toBeChecked();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(breaks.nth(2)).toBeChecked();
  await expect(count(page)).toHaveText('2 pages');
  await expectNoFindings(page);
  await page.getByRole('link', { name: 'Screen', exact: true }).click();
  await expect(page.getByText('Third words')).toBeVisible();
});

test('a break is dragged up to what begins on the page', async ({ page }) => {
  await openPages(page, 'Breaks by hand');
  const breaks = settings(page).getByRole('checkbox', { name: /^Before/ });
  await breaks.nth(2).check();
  await expect(count(page)).toHaveText('2 pages');
  const handle = paper(page, 1).getByRole('button', { name: /Move the break/ });
  const from = (await handle.boundingBox())!;
  const top = (await paper(page, 1).boundingBox())!;
  await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2);
  await page.mouse.down();
  await page.mouse.move(from.x + from.width / 2, top.y + 60, { steps: 6 });
  await expect(paper(page, 1).getByText(/^Page break before/)).toBeVisible();
  await page.mouse.up();
  await expect(breaks.nth(2)).not.toBeChecked();
  await expect(breaks.nth(1)).toBeChecked();
});

test('a reader prints the pages by Ctrl+P', async ({ page }) => {
  const refused: string[] = [];
  page.on('console', (message) => /Content Security Policy|Refused/.test(message.text()) && refused.push(message.text()));
  await enterAs(page, 'Henrike Hollin');
  await page.goto('/reports/sales-against-target');
  await expect(page.getByRole('treegrid').first()).toBeVisible();
  const [answer] = await Promise.all([page.waitForResponse(/\/api\/exports\/pages$/), page.keyboard.press('Control+p')]);
  expect(answer.status()).toBe(200);
  const frame = page.locator('iframe[title="Pages to print"]');
  await expect(frame).toHaveAttribute('src', /^blob:/);
  const { pages: laidOut, pdf } = (await answer.json()) as { pages: unknown[]; pdf: string };
  expect(laidOut.length).toBeGreaterThan(0);
  expect(atob(pdf).slice(0, 5)).toBe('%PDF-');
  expect(refused).toEqual([]);
});
