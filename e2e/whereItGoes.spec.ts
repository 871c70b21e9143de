import { expect, test, type Page } from '@playwright/test';
import { expectAccessible } from './accessible.js';
import { SAMPLE_URL, siteDay } from './story.js';
import { typeInstant } from './typeInstant.js';

// Where it all goes: one period everywhere, a circuit's page, and the balance of sources and uses, on a month of the bakery.
test.use({ baseURL: SAMPLE_URL });

/** A day on which the bakery works, and of which there is a week before: not a Monday. */
const working = [2, 3].map(siteDay).find((d) => new Date(`${d}T12:00:00Z`).getUTCDay() !== 1) as string;

const part = (page: Page, name: string) =>
  page.getByRole('navigation', { name: /^Parts of/ }).getByRole('link', { name, exact: true });
const node = async (page: Page, name: string): Promise<number> => {
  const nodes = (await (await page.request.get('/api/installation')).json()) as {
    id: number;
    name: string;
  }[];
  return nodes.find((n) => n.name === name)?.id ?? NaN;
};
const kwh = (text: string): number => Number(text.replace('−', '-').replace(/[^\d.-]/g, ''));

test('a stretch of a trend is gone into by drawing over it, shared as a link, and left with one key', async ({
  page,
  browser,
}) => {
  await page.goto(`/board?at=${await node(page, 'Deck oven')}&period=${working}`);
  const chart = page.getByRole('img', { name: /Active power: / });
  await expect(chart.locator('canvas')).toBeVisible();
  // Its axis is that of the period as soon as the figures are there.
  await expect(page.getByText('The figures as a table').first()).toBeVisible();
  const box = await chart.boundingBox();
  if (!box) throw new Error('the chart is nowhere');
  await page.mouse.move(box.x + 150, box.y + 100);
  await page.mouse.down();
  await page.mouse.move(box.x + 250, box.y + 110, { steps: 5 });
  await page.mouse.up();
  await expect(page).toHaveURL(/period=\d{8}T\d{6}(\.\d+)?Z\.\.\d{8}T/);
  const url = page.url();
  const control = page.getByRole('button', { name: /^Period: / });
  const words = await control.getAttribute('aria-label');
  // Somebody else opens the link elsewhere.
  const other = await browser.newPage();
  await other.goto(url);
  await expect(other.getByRole('button', { name: /^Period: / })).toHaveAttribute('aria-label', words ?? '');
  await other.close();
  await page.keyboard.press('Escape');
  await expect(page).toHaveURL(new RegExp(`period=${working}`));
});

test('one back and one forward; beside another it is in the URL and in every figure', async ({ page }) => {
  await page.goto(`/board?at=${await node(page, 'Deck oven')}&tab=energy&period=${working}`);
  await page.getByRole('button', { name: 'One period back' }).click();
  const before = new Date(Date.parse(`${working}T12:00:00Z`) - 86_400_000).toISOString().slice(0, 10);
  await expect(page).toHaveURL(new RegExp(`period=${before}`));
  await page.keyboard.press(']');
  await expect(page).toHaveURL(new RegExp(`period=${working}`));
  await page.getByRole('button', { name: /^Period: / }).click();
  await page
    .getByRole('dialog', { name: 'Period' })
    .getByRole('button', { name: 'the same weekdays before' })
    .click();
  await page.keyboard.press('Escape');
  await expect(page).toHaveURL(/beside=weekday/);
  await expect(page.getByRole('region', { name: 'Figures' })).toContainText(/beside \w{3} \d/);
  // Into two instants that end before they start: said, and nothing is changed.
  await page.getByRole('button', { name: /^Period: / }).click();
  await typeInstant(page, 'To', '2020-01-01T00:00');
  await expect(page.getByText('It ends before it starts.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Show' })).toBeDisabled();
});

test('energy by the hour sums to the figure above it, with its cost by the site’s price', async ({
  page,
}) => {
  await page.goto(`/board?at=${await node(page, 'Deck oven')}&tab=energy&period=${working}`);
  const figures = page.getByRole('region', { name: 'Figures' });
  await expect(figures).toContainText(/Taken/);
  await page.getByText('The figures as a table').click();
  const cells = page.getByRole('region', { name: /Energy of Deck oven/ }).locator('tbody tr td:nth-child(2)');
  await expect(cells).toHaveCount(24);
  const sum = (await cells.allInnerTexts()).map(kwh).reduce((a, b) => a + b, 0);
  const taken = kwh((await figures.locator('dd').first().innerText()).split('kWh')[0] ?? '');
  expect(Math.abs(sum - taken)).toBeLessThan(0.02);
  const cost = kwh((await figures.locator('dd').nth(1).innerText()).split('€')[0] ?? '');
  expect(Math.abs(cost - sum * 0.21)).toBeLessThan(0.02);
});

test('the flow picture closes, leads into a board, and says what nobody meters', async ({ page }) => {
  await page.goto(`/balance?period=${working}`);
  const drawing = page.getByRole('img', { name: /^Sources and uses/ });
  await expect(drawing).toBeVisible();
  const rows = page.locator('table').first().locator('tbody tr');
  await expect(rows.filter({ hasText: 'Deck oven' })).toBeVisible();
  await expect(rows.filter({ hasText: 'Not metered' }).first()).toContainText('±');
  // What stands in the rows, headings apart, is what stands over the drawing.
  const total = kwh((await drawing.getAttribute('aria-label'))?.match(/[\d.]+/)?.[0] ?? '');
  const values = await rows
    .filter({ hasNot: page.locator('[data-heading="true"]') })
    .evaluateAll((list) =>
      list
        .filter((row) => (row as HTMLElement).dataset.heading !== 'true')
        .map((row) => Number((row.children[4] as HTMLElement).innerText.replace('−', '-'))),
    );
  expect(Math.abs(values.reduce((a, b) => a + b, 0) - total)).toBeLessThan(0.1);
  await page.getByRole('button', { name: 'Bakery board', exact: true }).click();
  await expect(page).toHaveURL(new RegExp(`at=${await node(page, 'Bakery board')}`));
  await expect(page.getByRole('heading', { name: 'Balance of Bakery board' })).toBeVisible();
  await expect(rows.filter({ hasText: 'Spiral mixer' })).toBeVisible();
  await expect(rows.filter({ hasText: 'Deck oven' })).toHaveCount(0);
});

test('now and at an instant: dragged along the trend it says which minute it is', async ({ page }) => {
  await page.goto(`/balance?period=${working}&view=now`);
  await expect(page.getByRole('img', { name: /^Sources and uses/ })).toBeVisible();
  const slider = page.getByRole('slider', { name: 'Instant' });
  await slider.focus();
  await slider.fill(String(5 * 60));
  await expect(page).toHaveURL(/instant=\d+/);
  await expect(page.getByText(/^mean of \w{3} \d+ \w{3} 05:00–05:01$/)).toBeVisible();
  await page.getByRole('button', { name: 'Live' }).click();
  await expect(page).not.toHaveURL(/instant=/);
});

test('uses are hidden by their name, and ranked from most to least with their share', async ({ page }) => {
  await page.goto(`/balance?period=${working}&beside=before`);
  // Every use of the picture beside what it was.
  const oven = page.getByRole('row').filter({ hasText: 'Deck oven' }).first();
  await expect(page.getByRole('columnheader', { name: 'Change' })).toBeVisible();
  await expect(oven.getByRole('cell').last()).toHaveText(/^[+−±]\d+ %$/);
  const uses = page.getByRole('region', { name: 'Uses over time' });
  const cooking = uses.getByRole('button', { name: /Cooking/ });
  await expect(cooking).toHaveAttribute('aria-pressed', 'true');
  const all = kwh((await uses.locator('.measured').first().innerText()).replace('kWh', ''));
  await cooking.click();
  await expect(page).toHaveURL(/hide=cooking/);
  await expect
    .poll(async () => kwh((await uses.locator('.measured').first().innerText()).replace('kWh', '')))
    .toBeLessThan(all);
  await uses.getByRole('button', { name: 'board', exact: true }).click();
  await expect(uses.getByRole('button', { name: /Main board/ })).toBeVisible();
  const ranking = page.getByRole('region', { name: 'Most to least' });
  const energies = (await ranking.locator('tbody tr td:nth-child(2)').allInnerTexts()).map(kwh);
  expect(energies.length).toBeGreaterThan(8);
  expect([...energies].sort((a, b) => b - a)).toEqual(energies);
  await expect(ranking.locator('tbody tr').first()).toContainText(/\d+ %.*€.*[+−]?\d+ %/);
});

test('a comment is put at an instant, seen in the history, and removed with a way back', async ({ page }) => {
  await page.goto(`/board?at=${await node(page, 'Dough prover')}&period=${working}`);
  await page.getByRole('button', { name: 'Add a comment' }).click();
  const dialog = page.getByRole('dialog');
  await typeInstant(dialog, 'Instant', `${working}T10:30:00`);
  await dialog.getByLabel('Comment').fill('Door seal <renewed>');
  await dialog.getByRole('button', { name: 'Add comment' }).click();
  await expect(dialog).toBeHidden();
  await expect(page.getByRole('button', { name: /^Comment, .*Door seal <renewed>/ })).toBeVisible();
  await part(page, 'History').click();
  const row = page.getByRole('row', { name: /Door seal <renewed>/ });
  await expect(row).toContainText('10:30:00');
  await row.getByRole('button', { name: 'Change' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Remove' }).click();
  await expect(row).toBeHidden();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(row).toBeVisible();
});

test('a running total is cleared by who types the name of the place', async ({ page }) => {
  await page.goto(`/board?at=${await node(page, 'Display counter')}&tab=energy&period=${working}`);
  const totals = page.getByRole('region', { name: 'Running totals' });
  await totals.getByRole('button', { name: 'Clear…' }).last().click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel(/Type the name/).fill('display');
  await dialog.getByRole('button', { name: 'Clear', exact: true }).click();
  await expect(dialog.getByText(/It is called “Display counter”/)).toBeVisible();
  await dialog.getByLabel(/Type the name/).fill('Display counter');
  await dialog.getByRole('button', { name: 'Clear', exact: true }).click();
  await expect(dialog).toBeHidden();
  await expect(totals.getByText('Cleared 1 times')).toBeVisible();
});

test('a period before the first sample, in the future, of 200 years, and a place without readings say what is so', async ({
  page,
}) => {
  await page.goto('/balance?period=1999');
  await expect(page.getByText(/lies before the first reading/)).toBeVisible();
  await page.goto('/balance?period=2090-05');
  await expect(page.getByText('This period has not begun yet.')).toBeVisible();
  await page.goto('/balance?period=1900-01-01..2099-12-31');
  await expect(page.getByText(/Readings begin on/)).toBeVisible({ timeout: 30_000 });
  await page.goto('/balance?period=soon');
  await expect(page.getByRole('button', { name: 'Period: Today' })).toBeVisible();
  // A load of this test's own: every circuit of the bakery is fitted by one story or another.
  const made = await page.request.post('/api/installation', {
    data: {
      kind: 'load',
      parentId: await node(page, 'Dishwasher'),
      name: 'Rinse pump',
      way: '',
      phases: 'L1',
    },
  });
  expect(made.status()).toBe(201);
  const { id } = (await made.json()) as { id: number };
  await page.goto(`/board?at=${id}&tab=energy`);
  await expect(page.getByText('Nothing measures this yet')).toBeVisible();
  expect((await page.request.delete(`/api/installation/${id}`)).ok()).toBe(true);
});

test.describe('without serious findings of axe-core, and without sideways scrolling', () => {
  for (const [name, width, height] of [
    ['desktop', 1280, 800],
    ['phone', 390, 844],
  ] as const)
    for (const [what, path, there] of [
      ['the balance', '/balance?period=DAY&beside=weekday', /Most to least/],
      ['the flow now', '/balance?period=DAY&view=now', /Live/],
      ['a circuit', '/board?at=OVEN&period=DAY', /What happened/],
      ['its energy', '/board?at=OVEN&tab=energy&period=DAY&beside=before', /Running totals/],
      ['its history', '/board?at=OVEN&tab=history&period=30-days', /Record/],
      ['a board', '/board?at=BOARD&tab=now&period=DAY', /On it/],
      ['the schedule', '/board?at=BOARD', /Add a way/],
    ] as const)
      test(`${what}, ${name}`, async ({ page }) => {
        await page.setViewportSize({ width, height });
        const url = path
          .replace('DAY', working)
          .replace('OVEN', String(await node(page, 'Deck oven')))
          .replace('BOARD', String(await node(page, 'Bakery board')));
        await page.goto(url);
        await expect(page.getByText(there).first()).toBeVisible();
        await expectAccessible(page);
        const wider = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
        expect(wider).toBeLessThanOrEqual(0);
        const work = await page.locator('#work').evaluate((e) => e.scrollWidth - e.clientWidth);
        expect(work).toBeLessThanOrEqual(0);
      });
});
