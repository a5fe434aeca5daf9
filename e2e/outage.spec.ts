import { expect, test } from '@playwright/test';
import { figuresOf, openSales, rowOf } from './support/people.ts';

/** Runs alone, after the other files: it takes the database away from everyone. */

const control = process.env.BOLD_COMPASS_E2E_CONTROL;

test('a database that stops in the middle of a click comes back without a reload', async ({ page }) => {
  test.skip(!control, 'needs a private database to stop');
  await openSales(page);
  const before = await figuresOf(page, 'Nordic');
  try {
    await fetch(`${control}/pause`);
    // The remembered session is forgotten after two seconds: from then on every answer needs the database.
    await page.waitForTimeout(2_500);
    await page.getByRole('button', { name: 'Open Nordic' }).click();
    await expect(page.getByRole('alert')).toContainText(
      'The database does not answer. What you see stays as it is; this page tries again by itself.',
    );
    expect(await figuresOf(page, 'Nordic')).toEqual(before);
  } finally {
    await fetch(`${control}/resume`);
  }
  await expect(rowOf(page, 'Denmark')).toBeVisible({ timeout: 30_000 });
  await expect(page.getByRole('alert')).toHaveCount(0);
  expect(await figuresOf(page, 'Nordic')).toEqual(before);
});
