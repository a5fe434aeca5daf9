import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';

const TAGS = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa', 'best-practice'];

async function expectNone(axe: AxeBuilder): Promise<void> {
  const { violations } = await axe.analyze();
  expect(violations.map(({ id, nodes }) => `${id}: ${nodes.map((node) => node.target.join(' ')).join(' | ')}`)).toEqual([]);
}

/** WCAG 2.2 AA by axe-core, with its best practices. */
export const expectNoFindings = (page: Page, besides: string[] = []): Promise<void> =>
  expectNone(new AxeBuilder({ page }).withTags(TAGS).disableRules(besides));

/** What is open over a page stands outside of its landmarks, where the framework puts it. */
export const expectNoFindingsOverlaid = (page: Page): Promise<void> => expectNoFindings(page, ['region']);

/** What goes by colours: all that another scheme of colours changes. */
export const expectReadable = (page: Page): Promise<void> =>
  expectNone(new AxeBuilder({ page }).withRules(['color-contrast', 'link-in-text-block']));

/**
 * A page that is composed: made smaller to the width of readers, where targets are smaller too, and in the size of everything
 * else, which one button leads to (a conforming alternate version, WCAG 2.2, 5.2.1).
 */
export async function expectNoFindingsComposing(page: Page): Promise<void> {
  await expectNoFindings(page, ['target-size']);
  await page.getByRole('button', { name: 'Actual size' }).click();
  await expectNone(new AxeBuilder({ page }).withRules(['target-size']));
  await page.getByRole('button', { name: 'Readers’ width' }).click();
}
