import { expect, test } from '@playwright/test';
import { SAMPLE_CONTROL, SAMPLE_URL } from './story.js';

// The sample site: a bakery with 30 days of history and devices that answer.
test.use({ baseURL: SAMPLE_URL });

test('the board shows the ways of all boards, live, with energy and a day’s line', async ({ page }) => {
  await page.goto('/board');
  for (const name of ['Main board', 'Bakery board', 'Shop board'])
    await expect(page.getByRole('heading', { name: new RegExp(name) })).toBeVisible();
  const oven = page.getByRole('row', { name: /Deck oven/ });
  await expect(oven).toContainText(/\d ?k?W/);
  await expect(oven.getByRole('img', { name: 'Deck oven, the last 24 hours' })).toBeVisible();
  await expect(page.getByRole('img', { name: /Site demand per phase/ })).toBeVisible();
});

test('an alert that is over says so on the board, until somebody acknowledges it', async ({
  page,
  request,
}) => {
  const [alert] = (await (await request.get('/api/alerts/history')).json()) as object[];
  const raisedAt = Date.parse('2026-11-29T06:35:00Z');
  const over = { raisedAt, returnedAt: raisedAt + 180_000, acknowledgedAt: null, phase: 'returned' };
  const shown = {
    ...alert,
    ...over,
    id: 'over',
    kind: 'limit',
    name: 'High load',
    condition: 'above 24 kW.',
  };
  await page.route('**/api/alerts', (route) => route.fulfill({ json: [shown] }));
  await page.goto('/board');
  // Lisbon keeps UTC in winter.
  await expect(page.getByText('above 24 kW · 29 Nov 06:35 to 06:38. Not acknowledged.')).toBeVisible();
});

test('thirty days of history answer, and the meter’s counter agrees with its power', async ({ page }) => {
  const now = Date.now();
  const from = now - 10 * 86_400_000;
  const points = (await (await page.request.get('/api/points')).json()) as {
    id: number;
    deviceName: string;
    key: string;
  }[];
  const id = (key: string) => points.find((p) => p.deviceName === 'Main meter' && p.key === key)?.id;
  const [power, imported, exported] = (await (
    await page.request.get(
      `/api/readings?points=${id('power-total')},${id('energy-import')},${id('energy-export')}&from=${from}&to=${now}&block=60`,
    )
  ).json()) as { t: number[]; mean: (number | null)[]; min: (number | null)[]; max: (number | null)[] }[];
  expect(power!.t.length).toBeGreaterThan(230);
  const known = power!.mean.filter((v): v is number => v !== null);
  const energy = known.reduce((sum, v) => sum + v, 0); // hourly means, Wh
  const risen = (counter: typeof imported) =>
    Math.max(...counter!.max.filter((v): v is number => v !== null)) -
    Math.min(...counter!.min.filter((v): v is number => v !== null));
  const counted = risen(imported) - risen(exported); // the roof feeds in at noon
  expect(Math.abs(energy / counted - 1)).toBeLessThan(0.03); // one sample a minute against a counter that misses nothing
});

test('what is pressed on a circuit’s page stays where it is while the trend is still coming', async ({
  page,
  request,
}) => {
  const nodes = (await (await request.get('/api/installation')).json()) as { id: number; name: string }[];
  let come = () => {};
  const held = new Promise<void>((resolve) => (come = resolve));
  await page.route(/\/assets\/TrendPanel.*\.js|\/api\/(readings|energy|happenings)/, async (route) => {
    await held;
    await route.continue();
  });
  await page.goto(`/board?at=${nodes.find((n) => n.name === 'Spiral mixer')?.id}`);
  const main = page.getByRole('main');
  const look = main.getByRole('button', { name: 'Look', exact: true });
  const operate = main
    .getByRole('region', { name: 'Switch of Spiral mixer' })
    .getByRole('button', { name: /Open|Close/ });
  const tops = async () =>
    Promise.all([look, operate].map(async (one) => (await one.boundingBox())?.y ?? NaN));
  await expect(operate).toBeVisible();
  await expect(main.getByRole('button', { name: /^Where the power of/ })).toBeVisible();
  const before = await tops();
  come();
  await expect(main.getByText('The figures as a table').first()).toBeVisible();
  await expect(main.getByRole('group', { name: 'Energy today' })).toContainText(/\d.*Wh/);
  for (const [i, top] of (await tops()).entries())
    expect(Math.abs(top - (before[i] as number))).toBeLessThan(1);
});

test('values of several units are added to the trend of a circuit and taken away again', async ({ page }) => {
  await page.goto('/board');
  await page
    .getByRole('complementary', { name: 'Installation' })
    .getByRole('button', { name: /Deck oven/ })
    .click();
  const main = page.getByRole('main');
  const value = (name: string) => main.getByRole('button', { name, exact: true });
  const trend = main.getByRole('img', { name: /: Today$/ });
  const shows = (...names: string[]) =>
    expect(trend).toHaveAttribute(
      'aria-label',
      `${names.map((name) => `Oven meter, ${name}`).join('; ')}: Today`,
    );
  await shows('Active power');
  for (const [name, ...shown] of [
    ['Voltage L1', 'Voltage L1', 'Active power'],
    ['Active power', 'Voltage L1'],
    ['Current L2', 'Voltage L1', 'Current L2'],
    ['Power factor', 'Voltage L1', 'Current L2', 'Power factor'],
    ['Voltage L1', 'Current L2', 'Power factor'],
    ['Current L2', 'Power factor'],
  ] as [string, ...string[]][]) {
    await value(name).click();
    await shows(...shown);
  }
});

test('a month on the circuit’s page, chosen in the head, is in the URL', async ({ page }) => {
  await page.goto('/board');
  await page
    .getByRole('complementary', { name: 'Installation' })
    .getByRole('button', { name: /Walk-in cold room/ })
    .click();
  await page.getByRole('button', { name: /^Period: Today/ }).click();
  await page.getByRole('dialog', { name: 'Period' }).getByRole('button', { name: 'Last 30 days' }).click();
  await expect(page).toHaveURL(/period=30-days/);
  await expect(page.getByRole('img', { name: /Active power 1: Last 30 days/ })).toBeVisible();
  await page
    .getByRole('navigation', { name: /^Parts of/ })
    .getByRole('link', { name: 'Energy' })
    .click();
  await expect(page).toHaveURL(/period=30-days/);
  await expect(
    page
      .getByRole('region', { name: 'Energy', exact: true })
      .getByRole('rowheader', { name: 'Last 30 days' }),
  ).toBeVisible();
  // For somebody else the same days, also next month; the browser has not been asked to let Loka use its clipboard.
  await page.getByRole('button', { name: /^Period: Last 30 days/ }).click();
  await page
    .getByRole('dialog', { name: 'Period' })
    .getByRole('button', { name: 'Copy a link to this' })
    .click();
  await expect(page.getByText('The link to what is shown is copied.')).toBeVisible();
  const search = page.getByRole('searchbox').or(page.getByPlaceholder('Find a way or load')).first();
  await search.click();
  await page.keyboard.press('Control+V');
  await expect(search).toHaveValue(/\/board\?.*period=\d{4}-\d\d-\d\d/);
});

test('a board whose ways do not all have a reading says of how many its sum is, and without which', async ({
  page,
  request,
}) => {
  const setFault = (fault: object) =>
    request.put(`${SAMPLE_CONTROL}/devices/clamp-node/fault`, { data: fault });
  await page.goto('/board');
  const board = page
    .getByRole('complementary', { name: 'Installation' })
    .getByRole('button', { name: /Bakery board/ });
  await expect(board).toHaveText(/Bakery board[\d.]+ ?k?W/);
  try {
    await setFault({ kind: 'exception', code: 4 });
    await expect(board).toContainText('3 of 5', { timeout: 30_000 });
    await expect(board.getByTitle(/without Walk-in cold room, Bakery lighting$/)).toBeVisible();
    await expect(page.getByRole('row', { name: /Walk-in cold room/ })).toContainText('no data');
  } finally {
    await setFault({ kind: 'none' });
  }
  await expect(board).toHaveText(/Bakery board[\d.]+ ?k?W/, { timeout: 30_000 });
});

test('a way whose voltage is borrowed is shown with the nominal one while the meter it comes from is silent', async ({
  page,
  request,
}) => {
  const setFault = (fault: object) =>
    request.put(`${SAMPLE_CONTROL}/devices/main-meter/fault`, { data: fault });
  await page.goto('/board');
  const row = page.getByRole('row', { name: /Extraction fan/ });
  await expect(row).toContainText(/\d ?W|kW/);
  await expect(row).not.toContainText('≈');
  try {
    await setFault({ kind: 'silent' });
    await expect(row).toContainText(/≈ ?[\d.]+ ?k?W/, { timeout: 30_000 });
    // 10 % of the voltage to either side.
    const title = await row.getByTitle(/^Between .* nominal voltage/).getAttribute('title');
    const [, low = '', high = ''] = /^Between ([\d.]+) k?W and ([\d.]+) k?W/.exec(title ?? '') ?? [];
    expect(Number(high) / Number(low)).toBeCloseTo(1.1 / 0.9, 1);
    await expect(row).not.toContainText('no data');
    // A way that measures its own voltage goes on; one that says nothing now is not said to be logged.
    const supply = page.getByRole('row', { name: /Dough prover/ });
    await expect(supply).toContainText(/\d ?W|kW/);
  } finally {
    await setFault({ kind: 'none' });
  }
  await expect(row).not.toContainText('≈', { timeout: 60_000 });
});
