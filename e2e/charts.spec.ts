import { expect, test, type Locator, type Page } from '@playwright/test';
import { begin, drawer, put, settings } from './support/compose.ts';
import { choose } from './support/controls.ts';
import { enterAs } from './support/people.ts';

/** Charts: each says what its table says, is walked by keys, explained, opened and followed; and how an analyst makes one. */

const exhibit = (page: Page, title: string): Locator => page.getByRole('region', { name: title, exact: true });
const plot = (page: Page, title: string): Locator => exhibit(page, title).getByRole('application').first();

/** What a chart says of its points, one after the other, as keys come to them. */
async function pointsOf(page: Page, title: string, key: string, most = 12): Promise<string[]> {
  const chart = plot(page, title);
  await chart.scrollIntoViewIfNeeded();
  await chart.focus();
  const status = chart.getByRole('status');
  await expect(status).not.toBeEmpty();
  const said: string[] = [];
  while (said.length < most) {
    const words = await status.innerText();
    if (said.at(-1) === words) break;
    said.push(words);
    await chart.press(key);
  }
  return said;
}

/** The figures in what is said, without their units and the shares in brackets. */
const figures = (words: string): string[] =>
  words
    .slice(words.lastIndexOf(': ') + 2)
    .replace(/\(.*\)$/, '')
    .match(/−?\d+(,\d{3})*(\.\d+)?/g) ?? [];

async function tableTexts(page: Page, title: string): Promise<string[]> {
  await exhibit(page, title).getByRole('button', { name: 'Table' }).click();
  const table = page.getByRole('treegrid', { name: title });
  await expect(table).toBeVisible();
  await expect(table.getByRole('gridcell').first()).not.toBeEmpty();
  const texts = await table.getByRole('gridcell').allInnerTexts();
  await page.getByRole('button', { name: 'Show chart' }).click();
  await expect(plot(page, title)).toBeVisible();
  return texts.map((text) => text.trim());
}

const PAGES: Record<string, [title: string, key: string][]> = {
  time: [
    ['Product lines by quarter', 'ArrowRight'],
    ['Net sales and gross margin', 'ArrowRight'],
    ['Net sales by region', 'ArrowRight'],
  ],
  'made-of': [
    ['Variance to target', 'ArrowDown'],
    ['Attainment by country', 'ArrowRight'],
    ['Channels', 'ArrowRight'],
    ['From line to line', 'ArrowRight'],
    ['Families and their lines', 'ArrowRight'],
    ['Few families make most of the sales', 'ArrowRight'],
  ],
  compared: [
    ['Customers by size and order value', 'ArrowRight'],
    ['Seasons of the lines', 'ArrowRight'],
    ['Lines against last year', 'ArrowDown'],
    ['Customers by segment', 'ArrowRight'],
    ['Cities by what they buy', 'ArrowRight'],
    ['Regions, year by year', 'ArrowRight'],
  ],
  movement: [
    ['Net sales day by day', 'ArrowRight'],
    ['Countries from year to year', 'ArrowUp'],
    ['From region to channel', 'ArrowRight'],
    ['Variance to target of each line', 'ArrowDown'],
  ],
};
for (const [id, charts] of Object.entries(PAGES))
  test(`charts show the figures of their tables: ${id}`, async ({ page }) => {
    // Tables draw only what is in view: all of their rows are, on a high screen.
    await page.setViewportSize({ width: 1280, height: 1800 });
    await enterAs(page, 'Henrike Hollin');
    await page.goto(`/reports/sales-in-charts?report.page=${id}`);
    for (const [title, key] of charts) {
      const said = await pointsOf(page, title, key);
      expect(said.length, title).toBeGreaterThan(3);
      const table = await tableTexts(page, title);
      for (const words of said) for (const figure of figures(words)) expect(table, `${title}: ${words}`).toContain(figure);
    }
  });

test('a manager asks why, opens a member, comes back, and follows a bar to its records', async ({ page }) => {
  await enterAs(page, 'Henrike Hollin');
  await page.goto('/reports/where-are-we-drifting');
  const chart = plot(page, 'Furthest below target');
  await expect(chart).toHaveAttribute('aria-label', /^Bars by country\. Variance to target is highest in .* and lowest in Italy/);
  const [first] = await pointsOf(page, 'Furthest below target', 'Home', 1);
  expect(first).toMatch(/^Variance to target, Italy: €\s−/);
  await chart.press('Enter');
  const margin = page.getByRole('complementary', { name: 'About the chosen figure' });
  await expect(margin.getByText('net_sales − target')).toBeVisible();
  await expect(margin).toContainText(figures(first)[0]);
  await margin.getByRole('link', { name: /^Order lines/ }).click();
  await expect(page.getByRole('heading', { name: 'Order lines', level: 1 })).toBeVisible();
  await page.getByRole('navigation', { name: 'Trail' }).getByRole('button').last().click();
  await expect(margin.getByText('net_sales − target')).toBeVisible();

  // A year opens to its months, alone, and closes again.
  await page.goto('/reports/sales-in-charts');
  const months = exhibit(page, 'Net sales and target by month');
  await months.getByRole('group', { name: 'Level' }).getByRole('button', { name: 'year' }).click();
  await expect.poll(async () => (await pointsOf(page, 'Net sales and target by month', 'ArrowRight')).length).toBeLessThan(9);
  const years = plot(page, 'Net sales and target by month');
  await years.press('Home');
  await years.press('e');
  await expect(months.getByRole('group', { name: 'Opened member' })).toContainText('2023');
  expect((await pointsOf(page, 'Net sales and target by month', 'ArrowRight', 20)).join(' ')).toContain('December');
  await months.getByRole('button', { name: 'All years' }).click();
  await expect(months.getByRole('group', { name: 'Level' })).toBeVisible();
  await expect(months.getByText(/^(Net sales: )?Forecast by exponential smoothing/)).toBeVisible();
});

test('a manager reads what changed, and follows a part of it to its records', async ({ page }) => {
  await enterAs(page, 'Henrike Hollin');
  await page.goto('/reports/sales-in-charts?report.page=changed');
  const changed = exhibit(page, 'What changed on last year');
  await expect(
    changed.getByText(/^Net sales rose by €\s[\d,]+\sk \(\+\d\.\d\s%\), from €\s[\d,]+\sk a year before to €\s[\d,]+\sk\.$/),
  ).toBeVisible();
  await expect(changed.getByText(/^Of the difference: .* by prices, .* by volume and .* by mix\.$/)).toBeVisible();
  await changed.getByRole('group', { name: 'Field' }).getByRole('button', { name: 'country' }).click();
  const spain = changed.getByRole('row', { name: /^Spain/ });
  const [before, now, change] = await spain.getByRole('cell').allInnerTexts();
  const number = (text: string): number => Number(text.replaceAll(',', '').replace('−', '-'));
  // Each of the three is rounded by itself.
  expect(Math.abs(number(now) - number(before) - number(change))).toBeLessThanOrEqual(1);
  await spain.getByRole('button', { name: now }).click();
  const margin = page.getByRole('complementary', { name: 'About the chosen figure' });
  await expect(margin).toContainText(now);
  await expect(margin.getByText('Country is Spain')).toBeVisible();
  await expect(margin).toContainText(before);
  // The earlier figure is explained by its own dates, and its records are of these.
  await spain.getByRole('button').first().click();
  await expect(margin).toContainText('net_sales back 1 year');
  await margin.getByRole('button', { name: /order lines$/ }).click();
  const records = page.getByRole('dialog').filter({ has: page.getByRole('table') });
  await expect(records.getByText(/order lines, 1 Jan 2025 to 31 Oct 2025/)).toBeVisible();
  await records.getByRole('button', { name: 'Close the records' }).click();
  // Price, volume and mix are told by their members, which lead on in the same way.
  await changed
    .getByRole('group', { name: 'Price, volume and mix' })
    .getByRole('button', { name: /^Price/ })
    .click();
  const prices = changed.getByRole('table', { name: /^Price by / });
  await prices.getByRole('row').nth(1).getByRole('button').last().click();
  await expect(margin.getByText(/^Model is /)).toBeVisible();
});

test('an analyst makes a chart, is told what suits it better, and draws a cross-tab that it stays in step with', async ({ page }) => {
  await begin(page, 'Drawn sales');
  await page.getByRole('button', { name: 'Start a chart' }).click();
  await expect(page.getByRole('group', { name: 'Along the axis' }).getByRole('button', { name: 'Month', exact: true })).toBeVisible();
  await expect(page.getByRole('application')).toHaveAttribute('aria-label', /^Lines by month\. Net sales/);
  await put(page, 'Region', 'Add as series');
  await expect(page.getByRole('application')).toHaveAttribute('aria-label', /Alpine and Danube .*Nordic/);
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('application')).toHaveAttribute('aria-label', /^Lines by month\. Net sales/);

  // A pie of forty-six months is answered with something better.
  await page.getByRole('region', { name: 'New chart' }).getByRole('heading').click();
  await choose(settings(page), 'Chart type', /^Pie/);
  await expect(page.getByText(/^A pie of \d+ members cannot be read\./)).toBeVisible();
  await page.getByRole('button', { name: 'Change to bars' }).click();
  await expect(page.getByRole('application')).toHaveAttribute('aria-label', /^Bars by month/);
  await expect(settings(page).getByText(/a line shows how values move/)).toBeVisible();
  await settings(page).getByRole('button', { name: 'Change to lines' }).click();
  await expect(page.getByRole('application')).toHaveAttribute('aria-label', /^Lines by month/);

  // A cross-tab, and its chart in one action.
  await page.getByRole('group', { name: 'Add an exhibit' }).getByRole('button', { name: 'Cross-tab' }).click();
  await put(page, 'Region', 'Add down the side');
  await put(page, 'Country', 'Add down the side');
  await put(page, 'Net sales', 'Add to cells');
  await page.getByRole('button', { name: 'Add chart of New cross-tab' }).click();
  await expect(settings(page).getByText('In step with “New cross-tab”.')).toBeVisible();
  const drawn = page.getByRole('application').last();
  await expect(drawn).toHaveAttribute('aria-label', /^Bars by region/);
  await page.getByRole('button', { name: 'Open Nordic' }).click();
  // The members of the opened region are drawn beside the other regions, as they stand in the table.
  await expect(drawn).toHaveAttribute('aria-label', /^Bars by region and country/);
  const said = await (async () => {
    await drawn.focus();
    const words: string[] = [];
    for (let step = 0; step < 12; step++) {
      words.push(await drawn.getByRole('status').innerText());
      await drawn.press('ArrowDown');
    }
    return words.join(' ');
  })();
  expect(said).toContain('Denmark, Nordic');
  expect(said).toContain('Mediterranean');
  await expect(drawer(page)).toBeVisible();
});

test('control limits say what is out of the ordinary, and dumbbells hold two values of each member apart', async ({ page }) => {
  await begin(page, `Limits ${Date.now()}`);
  await page.getByRole('button', { name: 'Chart', exact: true }).click();
  const chart = page.getByRole('region', { name: 'New chart' });
  await expect(chart.getByRole('application')).toBeVisible();
  const margin = settings(page);
  await margin.getByRole('button', { name: /^Reference lines/ }).click();
  await choose(margin, 'Add reference line', 'Control limits');
  await expect(chart.getByText(/^(Outside|All values lie within) the control limits of Net sales, €.[\d,]+.k to €.[\d,]+.k/)).toBeVisible();

  // One series has nothing to be held apart: it says so, and two measures have.
  await choose(margin, 'Chart type', /^Dumbbells/);
  await expect(page.getByText('Dumbbells need two series: two measures, or two members.')).toBeVisible();
  await put(page, 'Target', 'Add as value');
  await expect(page.getByText('Dumbbells need two series: two measures, or two members.')).toBeHidden();
  const first = await pointsOf(page, 'New chart', 'ArrowDown', 3);
  expect(first[0]).toContain('Net sales');
  expect(first).toHaveLength(3);
});

test('a click on a chart chooses the same member while it is composed, where charts are made smaller', async ({ page }) => {
  await enterAs(page, 'Ines Calloway');
  const chosenAt = async (address: string, share: number): Promise<string[]> => {
    await page.goto(address);
    const chart = plot(page, 'Furthest below target');
    await chart.scrollIntoViewIfNeeded();
    // A chart that is drawn has points that keys come to.
    await chart.focus();
    await expect(chart.getByRole('status')).not.toBeEmpty();
    const { width, height } = (await chart.boundingBox())!;
    await chart.click({ position: { x: width - 14, y: height * share } });
    await expect(page).toHaveURL(/variance\.cell=/);
    return new URL(page.url()).searchParams.getAll('variance.cell');
  };
  for (const share of [0.12, 0.5, 0.85]) {
    const read = await chosenAt('/reports/where-are-we-drifting', share);
    expect(read[0]).not.toBe('');
    expect(await chosenAt('/reports/where-are-we-drifting?compose', share)).toEqual(read);
  }
});

test('a click on a band chooses it', async ({ page }) => {
  await page.setViewportSize({ width: 1280, height: 1800 });
  await enterAs(page, 'Henrike Hollin');
  await page.goto('/reports/sales-in-charts?report.page=movement');
  const [first] = await pointsOf(page, 'From region to channel', 'Home', 1);
  expect(first).toMatch(/^Net sales, Alpine and Danube to /);
  // The uppermost band where it begins, and what it says of itself.
  const bands = plot(page, 'From region to channel');
  const { width, height } = (await bands.boundingBox())!;
  await bands.click({ position: { x: width * 0.06, y: height * 0.06 } });
  await expect(page).toHaveURL(/flow\.cell=/);
  const [cell] = new URL(page.url()).searchParams.getAll('flow.cell');
  expect(cell).toContain('Alpine');
  await expect(page.getByRole('complementary', { name: 'About the chosen figure' })).toContainText(figures(first)[0]);
});
