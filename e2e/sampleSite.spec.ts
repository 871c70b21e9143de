import { expect, test } from '@playwright/test';

// The sample site: a bakery with 30 days of history and devices that answer.
test.use({ baseURL: process.env.LOKA_SAMPLE_URL ?? 'http://localhost:8420' });

test('the board shows the ways of all boards, live, with energy and a day’s line', async ({ page }) => {
  await page.goto('/board');
  for (const name of ['Main board', 'Bakery board', 'Shop board'])
    await expect(page.getByRole('heading', { name: new RegExp(name) })).toBeVisible();
  const oven = page.getByRole('row', { name: /Deck oven/ });
  await expect(oven).toContainText(/\d ?k?W/);
  await expect(oven.getByRole('img', { name: 'Deck oven, the last 24 hours' })).toBeVisible();
  await expect(page.getByRole('img', { name: /Site demand per phase/ })).toBeVisible();
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
  const [power, counter] = (await (
    await page.request.get(
      `/api/readings?points=${id('power-total')},${id('energy-import')}&from=${from}&to=${now}&block=60`,
    )
  ).json()) as { t: number[]; mean: (number | null)[]; min: (number | null)[]; max: (number | null)[] }[];
  expect(power!.t.length).toBeGreaterThan(230);
  const known = power!.mean.filter((v): v is number => v !== null);
  const energy = known.reduce((sum, v) => sum + v, 0); // hourly means, Wh
  const counted =
    Math.max(...counter!.max.filter((v): v is number => v !== null)) -
    Math.min(...counter!.min.filter((v): v is number => v !== null));
  expect(Math.abs(energy / counted - 1)).toBeLessThan(0.03); // one sample a minute against a counter that misses nothing
});

test('a month on the circuit’s page, chosen in the head, is in the URL', async ({ page }) => {
  await page.goto('/board');
  await page
    .getByRole('complementary', { name: 'Installation' })
    .getByRole('button', { name: /Walk-in cold room/ })
    .click();
  await page.getByRole('button', { name: /^Today/ }).click();
  await page.getByRole('menuitem', { name: '30 days' }).click();
  await expect(page).toHaveURL(/period=30-days/);
  await expect(page.getByText('Energy, 30 days')).toBeVisible();
  await expect(page.getByRole('img', { name: /Active power 1: 30 days/ })).toBeVisible();
});
