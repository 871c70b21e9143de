import { expect, test, type Page } from '@playwright/test';
import { atBothSizes } from './accessible.js';
import { SAMPLE_URL, siteDay } from './story.js';

// The energy report of the sample site: read, printed, kept.
test.use({ baseURL: SAMPLE_URL });

const sheet = (page: Page) => page.getByRole('article', { name: /^Energy report of/ });
const part = (page: Page, name: string) => sheet(page).getByRole('region', { name });

test('a week of the site: what it took, what took it, the peak, and the same figures as a file', async ({
  page,
}) => {
  await page.goto(`/profiles?at=1&period=${siteDay(8)}..${siteDay(2)}`);
  await page.getByRole('link', { name: 'Report' }).click();
  const says = part(page, 'What stands out');
  await expect(says).toContainText(/Took [\d.]+kWh, [\d.]+\u00a0€: [\d.]+kWh a day/);
  await expect(says).toContainText(/Deck oven 3\d%/);
  // The oven warms up and the mixer runs when the bakers begin.
  await expect(says).toContainText(/Highest quarter-hour [\d.]+kW, on .* 0\d:\d\d: Deck oven 1[34]/);
  await expect(says).toContainText(/a day (than|as) .*in the period before/);
  await expect(part(page, 'Where it went').getByRole('row', { name: /Not metered on Supply/ })).toBeVisible();
  await expect(part(page, 'Day by day').getByRole('img', { name: /on each of 7 days/ })).toBeVisible();
  await expect(part(page, 'Typical days')).toContainText(/Working days, 6/);
  await expect(part(page, 'The largest loads')).toContainText(/Deck oven\s*Stands by at 36W/);
  // The table's total is the sum that the energy of the place says.
  const [, kwh] = /Took ([\d.]+)kWh/.exec(await says.innerText()) ?? [];
  const csv = await (
    await page.request.get((await page.getByRole('link', { name: 'CSV' }).getAttribute('href')) as string)
  ).text();
  const [, wh] = /^total,Supply,[^,]*,taken,([\d.]+),Wh$/m.exec(csv) ?? [];
  expect(Math.abs(Number(wh) / 1000 - Number(kwh))).toBeLessThan(0.06);
  const days = [...csv.matchAll(/^day,Supply,[^,]*,taken,([\d.]+),Wh$/gm)].map((m) => Number(m[1]));
  expect(days).toHaveLength(7);
  expect(Math.abs(days.reduce((a, b) => a + b, 0) - Number(wh))).toBeLessThan(1);
});

test('on paper stands the report alone, on white, with its pictures', async ({ page }) => {
  await page.goto(`/report?at=1&period=${siteDay(8)}..${siteDay(2)}`);
  await expect(sheet(page)).toBeVisible();
  await page.evaluate(() => document.documentElement.setAttribute('data-sheet', 'dark'));
  await page.emulateMedia({ media: 'print' });
  await expect(page.getByRole('complementary', { name: 'Installation' })).toBeHidden();
  await expect(page.getByRole('button', { name: 'Print or save as PDF' })).toBeHidden();
  await expect(page.getByRole('heading', { name: 'Kept reports' })).toBeHidden();
  await expect(sheet(page).getByRole('img', { name: /days by time of day/ })).toBeVisible();
  const [ink] = /\d+/.exec(await sheet(page).evaluate((e) => getComputedStyle(e).color)) ?? [];
  expect(Number(ink)).toBeLessThan(80);
  expect(await page.title()).toBe(`Brindlewick Bakehouse, Supply, ${siteDay(8)} to ${siteDay(2)}`);
  const pdf = await page.pdf({ format: 'A4' });
  expect(pdf.subarray(0, 5).toString()).toBe('%PDF-');
  expect(pdf.length).toBeGreaterThan(50_000);
});

test('a report is kept, found again, taken away and brought back; that of the last month made itself', async ({
  page,
}) => {
  await page.goto(`/report?at=1&period=${siteDay(5)}`);
  const kept = page.getByRole('region', { name: 'Kept reports' });
  // Of thirty days of history some lie in the month before, except on the last of a month of 31 days; it is made ten minutes
  // after its end.
  if (siteDay(28).slice(0, 7) !== siteDay(0.014).slice(0, 7))
    await expect(kept.getByRole('row', { name: /itself/ }).first()).toBeVisible({ timeout: 60_000 });
  await expect(sheet(page)).toBeVisible();
  await page.getByRole('button', { name: 'Keep it' }).click();
  await expect(page.getByText('The report is kept.')).toBeVisible();
  await page.getByRole('link', { name: 'kept as it was made' }).click();
  await expect(page.getByText(/kept as it was made .* by local person/)).toBeVisible();
  await expect(sheet(page)).toBeVisible();
  const address = page.url();
  await page.getByRole('link', { name: 'as it is now' }).click();
  const mine = kept.getByRole('row', { name: /local person/ });
  await mine.getByRole('button', { name: /^Remove/ }).click();
  await expect(mine).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(mine).toHaveCount(1);
  await mine.getByRole('button', { name: /^Remove/ }).click();
  await expect(mine).toHaveCount(0);
  await page.goto(address);
  await expect(page.getByText('This report is not there')).toBeVisible();
});

test('of a place that nothing measures, and of the future, it says so', async ({ page }) => {
  await page.goto('/report?at=1&period=2999-01');
  await expect(page.getByText('That lies in the future: nothing was read yet.')).toBeVisible();
  await page.goto('/report?at=1&period=2020-05');
  await expect(page.getByText('Nothing was read in this period')).toBeVisible();
  await page.goto('/report?at=9999&period=30-days');
  await expect(page.getByText('This place is no longer there')).toBeVisible();
});

atBothSizes('a report', async (page) => {
  await page.goto(`/report?at=1&period=${siteDay(8)}..${siteDay(2)}`);
  await expect(sheet(page)).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Kept reports' })).toBeVisible();
});
