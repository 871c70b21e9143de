import { expect, test, type Page } from '@playwright/test';
import { BENCH_CONTROL, BENCH_URL } from './story.js';

// On the sample site: the clamp of the hot-water cylinder, which reads 4.9 % too little, against an instrument that is right.
test.use({ baseURL: BENCH_URL });
test.describe.configure({ timeout: 180_000 });

const load = (mode: string) =>
  fetch(`${BENCH_CONTROL}/loads/hot-water`, { method: 'PUT', body: JSON.stringify({ mode }) });
const amperes = async () =>
  (
    (await (await fetch(`${BENCH_CONTROL}/state`)).json()) as {
      loads: Record<string, { L1: { amperes: number } }>;
    }
  ).loads['hot-water']?.L1.amperes as number;

const raw = (page: Page) => page.getByRole('group', { name: 'Raw reading' });
const evidence = (page: Page) => page.getByRole('region', { name: 'Evidence' });
async function take(page: Page, button: string, row: RegExp): Promise<void> {
  await expect(page.getByText('steady')).toBeVisible();
  await page.getByRole('button', { name: button }).click();
  await expect(page.getByRole('row', { name: row })).toBeVisible({ timeout: 20_000 });
}

/** The cylinder's place in Calibrate, with its load on. */
async function openLoaded(page: Page): Promise<number> {
  await load('on');
  const nodes = (await (await page.request.get('/api/installation')).json()) as {
    id: number;
    name: string;
  }[];
  const id = nodes.find((n) => n.name === 'Hot-water cylinder')?.id;
  await page.goto(`/bench?at=${id}`);
  await page.getByRole('navigation', { name: 'Bench' }).getByRole('link', { name: 'Calibrate' }).click();
  await expect(raw(page)).toHaveText(/^1\d\.\d+ ?A$/);
  return id as number;
}

test.afterAll(() => load('auto'));

test('zero, a load and a check point: what they are evidence for is said, a zero under load is asked about', async ({
  page,
}) => {
  const id = await openLoaded(page);

  // Somebody takes the zero with the load on.
  await take(page, 'Take zero', /^Zero/);
  await expect(evidence(page)).toContainText('A zero says nothing of how much a load reads.');
  await page.getByRole('button', { name: 'Apply correction' }).click();
  await expect(page.getByRole('dialog')).toContainText('The zero was taken at 12');
  await page.getByRole('dialog').getByRole('button', { name: 'Cancel' }).click();
  await page.getByRole('button', { name: 'Drop the point Zero' }).click();

  await load('off');
  await expect(raw(page)).toHaveText(/^0\.0\d+ ?A$/);
  await take(page, 'Take zero', /^Zero/);
  await load('on');
  await expect(raw(page)).toHaveText(/^1\d\.\d+ ?A$/);
  await page.getByLabel('Tolerance, ±%').fill('0.3');
  await page.getByLabel(/The reference reads/).fill((await amperes()).toFixed(2));
  await take(page, 'Take point', /^Load 2/);
  await expect(evidence(page)).toContainText('A line through two points leaves no error, by construction.');

  // A check point is proposed, and stays outside of the fit.
  await page.getByLabel(/The reference reads/).fill((await amperes()).toFixed(2));
  const law = page.getByText(/^\(1\.05\d+ ± 0\.00\d+\) × raw − \(0\.05\d* ± 0\.00\d+\) A$/);
  const proposed = await law.innerText();
  await take(page, 'Take check point', /^Load 3 check/);
  expect(await law.innerText()).toBe(proposed);
  await expect(evidence(page)).toContainText(/Meets class 1, IEC 62053-21 at 13\.\d+ ?A/);
  await evidence(page).getByLabel('Judged by').selectOption('0.2S');
  await expect(evidence(page)).toContainText('Cannot tell whether it meets class 0.2 S');

  // What the past would become, before it does; and then it does.
  const lastWeek = async () => {
    const to = Math.floor(Date.now() / 86_400_000) * 86_400_000;
    const energy = await page.request.get(`/api/energy?from=${to - 7 * 86_400_000}&to=${to}`);
    return (
      ((await energy.json()) as { nodeId: number; net: number }[]).find((e) => e.nodeId === id)?.net ?? NaN
    );
  };
  const before = await lastWeek();
  await page.getByLabel('Applies from').selectOption('beginning');
  const month = page.getByText(/^[A-Z][a-z]+ [\d.]+ ?kWh → [\d.]+ ?kWh$/).first();
  const [was, becomes] = [...(await month.innerText()).matchAll(/[\d.]+/g)].map(Number) as [number, number];
  expect(becomes / was).toBeCloseTo(1.051, 2);
  await page.getByRole('button', { name: 'Apply correction' }).click();
  await expect(page.getByText('The correction holds')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Take back' })).toBeVisible();
  expect((await lastWeek()) / before).toBeCloseTo(becomes / was, 2);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('no longer holds')).toBeVisible();
  expect(await lastWeek()).toBe(before);
});

test('on a phone, against another meter: one that flutters, and one that is none', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await openLoaded(page);
  await page.getByRole('button', { name: 'Instrument' }).click();
  await page.getByLabel(/The reference reads/).fill('thirteen');
  await expect(page.getByText(/Type what it shows/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Take point' })).toBeDisabled();
  await page.getByLabel(/The reference reads/).fill('13.1 – 13.3');
  await expect(page.getByText(/good to ±0\.\d+ ?A/)).toBeVisible();
  await page.getByRole('button', { name: 'Other meter' }).click();
  await page.getByLabel(/The other meter/).click();
  await page.getByRole('option', { name: /Supply: Current L1/ }).click();
  await expect(page.getByText(/it reads/)).toBeVisible();
  await take(page, 'Take point', /^Load 1/);
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await page.getByRole('button', { name: 'Discard' }).click();
  // What a metrology bench has found is typed as percent, and nothing is read for it.
  await page.getByRole('button', { name: 'Test bench' }).click();
  for (const [amperes_, error] of [
    ['1', '-1'],
    ['5', '-2,6'],
    ['10', '-2.8'],
  ] as const) {
    await page.getByLabel('Load, A').fill(amperes_);
    await page.getByLabel('Error, %').fill(error);
    await page.getByRole('button', { name: /^Take (check )?point$/ }).click();
    await expect(page.getByRole('row', { name: new RegExp(`^Bench ${amperes_} A`) })).toBeVisible();
  }
  await page.getByRole('button', { name: 'Discard' }).click();
});
