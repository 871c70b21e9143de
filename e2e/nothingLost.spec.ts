import { chromium, expect, test, type APIRequestContext, type Page } from '@playwright/test';
import { BENCH_URL } from './story.js';

// Nobody's work is lost: what is changed and not saved, what two change at once, and many tabs.
test.use({ baseURL: BENCH_URL });

interface Map {
  id: number;
  name: string;
}
const madeMap = async (request: APIRequestContext): Promise<Map> => {
  const points = ['Power', 'Voltage'].map((name, i) => ({
    key: name.toLowerCase(),
    name,
    kind: 'holding',
    address: String(2 * i),
    counting: 'from-0',
    type: 'float32',
    wordOrder: 'high-first',
    byteOrder: 'high-first',
    scaling: { kind: 'factor', factor: 1, offset: 0 },
    unit: '',
    quantity: 'other',
    phase: null,
    access: 'read',
    intervalMs: 1000,
  }));
  const data = { name: 'Edited by two', description: '', points, messages: [] };
  return (await (await request.post('/api/register-maps', { data })).json()) as Map;
};
const nameOfRow = (page: Page, row: number) => page.getByLabel('Name', { exact: true }).nth(row);

test('leaving a changed map asks, and so does reloading; saving and leaving an unchanged one do not', async ({
  page,
  request,
}) => {
  const map = await madeMap(request);
  await page.goto(`/field/map/${map.id}`);
  await nameOfRow(page, 0).fill('Power of the oven');
  await page.getByRole('link', { name: 'Alerts', exact: true }).click();
  await expect(page.getByText('Not saved: the changes to “Edited by two”.')).toBeVisible();
  // What Enter presses first loses nothing.
  await page.keyboard.press('Enter');
  await expect(page.getByText('Leave without saving?')).toBeHidden();
  await expect(nameOfRow(page, 0)).toHaveValue('Power of the oven');
  const asked = page.waitForEvent('dialog');
  await page.evaluate(() => setTimeout(() => location.reload()));
  const dialog = await asked;
  expect(dialog.type()).toBe('beforeunload');
  await dialog.dismiss();
  await expect(nameOfRow(page, 0)).toHaveValue('Power of the oven');
  await page.getByRole('button', { name: 'Save map' }).click();
  await expect(page.getByText('The map was saved.')).toBeVisible();
  await page.getByRole('link', { name: 'Alerts', exact: true }).click();
  await expect(page).toHaveURL(/alerts/);
  await request.delete(`/api/register-maps/${map.id}`);
});

test('of two windows on one map the second is told, sees both, and chooses', async ({
  page,
  context,
  request,
}) => {
  const map = await madeMap(request);
  const other = await context.newPage();
  for (const one of [page, other]) {
    await one.goto(`/field/map/${map.id}`);
    await expect(nameOfRow(one, 1)).toHaveValue('Voltage');
  }
  await nameOfRow(other, 1).fill('Voltage L1');
  await other.getByRole('button', { name: 'Save map' }).click();
  await expect(other.getByText('The map was saved.')).toBeVisible();
  await nameOfRow(page, 0).fill('Active power');
  await page.getByRole('button', { name: 'Save map' }).click();
  const told = page.getByRole('dialog');
  await expect(told.getByRole('row', { name: 'Power now “Active power” –' })).toBeVisible();
  await expect(told.getByRole('row', { name: 'Voltage – now “Voltage L1”' })).toBeVisible();
  await told.getByRole('button', { name: 'Take what is there' }).click();
  await expect(nameOfRow(page, 1)).toHaveValue('Voltage L1');
  await expect(nameOfRow(page, 0)).toHaveValue('Power');
  await other.close();
  await request.delete(`/api/register-maps/${map.id}`);
});

test('a form that was changed asks before it is closed; two who change a limit see both', async ({
  page,
  context,
  request,
}) => {
  const rules = (await (await request.get('/api/alert-rules')).json()) as { id: number; limit: number }[];
  const first = rules[0] as { id: number; limit: number };
  const other = await context.newPage();
  const open = async (one: Page) => {
    await one.goto('/alerts');
    await one.getByRole('button', { name: 'Change' }).first().click();
    await expect(one.getByLabel(/^Limit/)).toHaveValue(`${first.limit} V`);
  };
  await open(page);
  await open(other);
  await other.getByLabel(/^Limit/).fill('200');
  await other.getByRole('button', { name: 'Save' }).click();
  await expect(other.getByRole('dialog')).toBeHidden();
  await page.getByLabel(/^Limit/).fill('201');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Cancel' }).last().click();
  await page.getByRole('button', { name: 'Save' }).click();
  await expect(page.getByRole('row', { name: 'Limit 201 200' })).toBeVisible();
  await page.getByRole('button', { name: 'Save mine over it' }).click();
  await expect(page.getByRole('dialog')).toBeHidden();
  const limit = async () =>
    ((await (await request.get('/api/alert-rules')).json()) as { id: number; limit: number }[]).find(
      (r) => r.id === first.id,
    )?.limit;
  await expect.poll(limit).toBe(201);
  await request.put(`/api/alert-rules/${first.id}`, {
    data: {
      ...Object.fromEntries(
        Object.entries(first).filter(
          ([key]) => !['id', 'phase', 'missing', 'version', 'removedAt'].includes(key),
        ),
      ),
    },
  });
  await other.close();
});

test('nine tabs load and are live over one stream; back and forth through kept pages is quick and live', async () => {
  const browser = await chromium.launch({
    // The one without a window keeps no pages.
    executablePath: process.env.LOKA_WHOLE_CHROMIUM ?? '/usr/bin/chromium',
    args: ['--no-sandbox'],
    // Playwright switches it off; in use it is on.
    ignoreDefaultArgs: ['--disable-back-forward-cache'],
  });
  const context = await browser.newContext({ baseURL: BENCH_URL });
  await context.addInitScript(() => {
    const shows: boolean[] = [];
    window.addEventListener('pageshow', (event) => shows.push(event.persisted));
    Object.assign(window, { shows });
  });
  const pages: Page[] = [];
  for (let i = 0; i < 9; i++) {
    const page = await context.newPage();
    await page.goto('/board');
    await expect(page.locator('main')).toContainText(/\d ?k?W/);
    pages.push(page);
  }
  const head = (page: Page) => page.getByRole('banner').innerText();
  for (const page of [pages[0], pages[8]] as Page[]) {
    const before = await head(page);
    await expect.poll(() => head(page), { timeout: 20_000 }).not.toBe(before);
  }
  const page = pages[8] as Page;
  const places = ['/field', '/alerts', '/control', '/settings', '/board'];
  for (const place of places) await page.goto(place);
  for (const place of ['/settings', '/control', '/alerts', '/field']) {
    await page.evaluate(() => setTimeout(() => history.back()));
    await expect(page).toHaveURL(new RegExp(place));
    await expect(page.locator('main')).toBeVisible();
  }
  // It came out of that cache, or nothing of this has been tried.
  const { kept, why } = await page.evaluate(() => ({
    kept: (window as unknown as { shows: boolean[] }).shows.at(-1),
    why: JSON.stringify(performance.getEntriesByType('navigation')[0]),
  }));
  expect(kept, `why it was not kept: ${why}`).toBe(true);
  const before = await head(page);
  await expect.poll(() => head(page), { timeout: 20_000 }).not.toBe(before);
  await browser.close();
});

test('a page that is left before it is drawn joins the stream when it is come back to, not before', async ({
  page,
}) => {
  await page.addInitScript(() => {
    const joins: string[] = [];
    window.SharedWorker = class extends SharedWorker {
      constructor(url: string | URL, options?: string | WorkerOptions) {
        super(url, options);
        joins.push(String(url));
      }
    };
    Object.assign(window, { joins });
    // The code is there by then, and nothing is drawn yet.
    const drawn = () => document.querySelector('main') !== null;
    document.addEventListener('DOMContentLoaded', () => {
      Object.assign(window, { leftBeforeDrawn: !drawn() });
      window.dispatchEvent(new PageTransitionEvent('pagehide', { persisted: true }));
    });
  });
  type Seen = { joins: string[]; leftBeforeDrawn: boolean };
  await page.goto(`${BENCH_URL}/board`);
  await expect(page.locator('main')).toContainText(/\d ?k?W/);
  expect(await page.evaluate(() => (window as unknown as Seen).leftBeforeDrawn)).toBe(true);
  expect(await page.evaluate(() => (window as unknown as Seen).joins)).toEqual([]);
  await page.evaluate(() => window.dispatchEvent(new PageTransitionEvent('pageshow', { persisted: true })));
  await expect.poll(() => page.evaluate(() => (window as unknown as Seen).joins.length)).toBe(1);
  const head = () => page.getByRole('banner').innerText();
  const before = await head();
  await expect.poll(head, { timeout: 20_000 }).not.toBe(before);
});
