import { expect, type Locator, type Page } from '@playwright/test';

/** Chooses from a list by the label of its control: opened by key, and scrolled to what is chosen. */
export async function choose(place: Page | Locator, label: string | RegExp, option: string | RegExp): Promise<void> {
  const page = 'page' in place ? place.page() : place;
  const control = place.getByLabel(label, typeof label === 'string' ? { exact: true } : {}).first();
  await control.scrollIntoViewIfNeeded();
  await control.press('Enter');
  const list = page.getByRole('listbox').last();
  await expect(list).toBeVisible();
  const wanted = list.getByRole('option', typeof option === 'string' ? { name: option, exact: true } : { name: option });
  // Long lists draw only what is seen.
  for (let step = 0; step < 40; step++) {
    // One that is about to be drawn anew is gone before it is clicked.
    const isChosen =
      (await wanted.count()) > 0 &&
      (await wanted.click({ timeout: 2_000 }).then(
        () => true,
        () => false,
      ));
    // A slow page may take the click after it was given up.
    if (isChosen || !(await list.isVisible())) break;
    // It begins at what is chosen, and comes to that while it opens.
    await list
      .evaluate((element, isTop) => (element.scrollTop = isTop ? 0 : element.scrollTop + 200), step % 10 === 0, { timeout: 2_000 })
      .catch(() => undefined);
    await page.waitForTimeout(30);
  }
  await expect(list).toBeHidden();
}

/** Chooses a file in the dialog of the system that a button opens. */
export async function chooseFile(page: Page, button: string, file: { name: string; mimeType: string; buffer: Buffer }): Promise<void> {
  const opened = page.waitForEvent('filechooser');
  await page.getByRole('button', { name: button, exact: true }).click();
  await (await opened).setFiles(file);
}
