import { expect, test, type Page } from '@playwright/test';
import { SAMPLE_URL, storyPage } from './story.js';

// On the sample site: a device is found, fitted to its circuit, and told apart from others; virtual meters.
test.use({ baseURL: SAMPLE_URL });

const PORTS = JSON.parse(process.env.LOKA_SAMPLE_PORTS ?? '{"van-meter":15025}') as Record<string, number>;
let page: Page;
storyPage((fresh) => void (page = fresh), SAMPLE_URL);
const dialog = () => page.getByRole('dialog');

test('a device that speaks SunSpec is found, recognised, and added with one click', async () => {
  await page.goto('/field');
  await page.getByRole('link', { name: 'Find devices' }).click();
  await page.getByLabel('Ports').fill(`${PORTS['van-meter']}`);
  await page.getByLabel('Unit ids').fill('1-2');
  await page.getByRole('button', { name: 'Search' }).click();
  const row = page.getByRole('row', { name: /Charger meter/ });
  await expect(row).toContainText('three-phase meter, star (SunSpec 203)');
  await row.getByLabel(/^Name of unit 1/).fill('Charger meter');
  await row.getByRole('button', { name: 'Add' }).click();
  await expect(row.getByRole('link', { name: 'Charger meter' })).toBeVisible();
});

test('from the tree to a moving value in under a minute', async () => {
  const began = Date.now();
  await page.goto('/board');
  await page
    .getByRole('complementary', { name: 'Installation' })
    .getByRole('button', { name: /Van charger/ })
    .click();
  await page.getByRole('link', { name: 'Fit a meter' }).click();
  await expect(page.getByText(/65 A is enough for the 20 A/)).toBeVisible();
  await page.getByLabel('Plug meter').check();
  await expect(page.getByText(/A plug meter carries one line/)).toBeVisible();
  await page.getByLabel('Three-phase meter', { exact: true }).check();
  await page.getByLabel('Device', { exact: true }).selectOption({ label: 'Charger meter' });
  await page.getByRole('button', { name: 'Assign to Van charger' }).click();
  const voltage = page.getByRole('button', { name: 'Where Voltage L1 comes from' }).last();
  await expect(voltage).toHaveText(/2\d\d\.\dV/);
  await expect(page.getByText('near 230 V').first()).toBeVisible();
  const first = await page.getByRole('button', { name: 'Where Frequency comes from' }).last().innerText();
  await expect(async () =>
    expect(
      await page.getByRole('button', { name: 'Where Frequency comes from' }).last().innerText(),
    ).not.toBe(first),
  ).toPass({ timeout: 40_000 });
  expect(Date.now() - began).toBeLessThan(60_000);
});

test('a virtual meter: units are checked while one types, and it reads at once', async () => {
  await page.goto('/field');
  await page.getByRole('button', { name: 'Add one' }).click();
  await dialog().getByLabel('Name', { exact: true }).fill('Bakery night loads');
  const add = (label: RegExp) =>
    dialog()
      .getByLabel('Add an input')
      .evaluate((select: HTMLSelectElement, text) => {
        const option = [...select.options].find((o) => new RegExp(text).test(o.text)) as HTMLOptionElement;
        const set = Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value')?.set;
        set?.call(select, option.value);
        select.dispatchEvent(new Event('change', { bubbles: true }));
      }, label.source);
  await add(/: Active power, Oven meter$/);
  await add(/: Active power, Mixer meter$/);
  await expect(dialog().getByLabel('Formula')).toHaveValue('oven + mixer');
  await expect(dialog().getByText('The units agree.')).toBeVisible();
  await dialog().getByLabel('Formula').fill('oven * mixer');
  await expect(dialog().getByText(/^This gives/)).toBeVisible();
  await expect(dialog().getByRole('button', { name: 'Add virtual meter' })).toBeDisabled();
  await dialog().getByRole('button', { name: 'Sum' }).click();
  await expect(dialog().getByRole('status')).toContainText(/W ?good/);
  await dialog().getByRole('button', { name: 'Add virtual meter' }).click();
  await expect(page.getByRole('button', { name: /Bakery night loads/ }).first()).toBeVisible();
  await expect(page.getByRole('button', { name: 'Where Bakery night loads comes from' })).toHaveText(
    /\d ?k?W/,
  );
});

test('what no meter covers stands in the schedule of its board', async () => {
  await page.goto('/board');
  const row = page.getByRole('row', { name: /Not metered/ });
  await expect(row.first()).toContainText(/\d ?k?W/);
});

test('which of sixteen numbered values follows the lighting: Loka switches it, and the value gets its name', async () => {
  await page.goto('/field');
  await page.getByRole('button', { name: /Measuring module unit 1/ }).click();
  await page.getByRole('link', { name: 'Which one moves?' }).click();
  await page.getByLabel(/by Loka: Bakery lighting/).check();
  for (const [i, word] of ['off', 'on', 'off', 'on'].entries()) {
    await page.getByRole('button', { name: `Switch it ${word}` }).click();
    if (i > 0) await expect(page.getByText(`Switched ${i} time`)).toBeVisible();
    // The experiment itself: the load stays so for some readings.
    await page.waitForTimeout(4500);
  }
  const first = page.getByRole('row').nth(1);
  await expect(first).toContainText(/Value (4|13)/);
  const value4 = page.getByRole('row', { name: /Value 4/ });
  await value4.getByRole('button', { name: 'Name it' }).click();
  await dialog().getByLabel('Name', { exact: true }).fill('Bakery lighting power');
  await dialog().getByRole('button', { name: 'Name it' }).click();
  await expect(page.getByRole('row', { name: /Bakery lighting power/ })).toBeVisible();
});

test('a three-phase meter gives a circuit of one line the values of that line', async () => {
  const ask = async <T>(path: string): Promise<T> =>
    (await (await page.request.get(`/api${path}`)).json()) as T;
  const nodes = await ask<{ id: number; name: string; phases: string }[]>('/installation');
  const prover = nodes.find((n) => n.name === 'Dough prover');
  expect(prover?.phases).toBe('L3');
  await page.goto(`/field/fit/${prover?.id}`);
  await page.getByLabel('A new one').check();
  await page.getByRole('combobox', { name: 'Link' }).click();
  await page.getByRole('option', { name: /^Meter cabinet/ }).click();
  await page.getByRole('combobox', { name: 'Kind of device' }).click();
  await page.getByRole('option', { name: 'Three-phase meter, float map' }).click();
  await page.getByLabel('Unit id').fill('9');
  await page.getByRole('button', { name: 'Connect' }).click();
  await expect(
    page.getByText(/Dough prover meter is connected, and 3 of its \d+ values belong/),
  ).toBeVisible();
  const points =
    await ask<{ deviceName: string; nodeId: number | null; definition: { name: string } }[]>('/points');
  expect(
    points
      .filter((p) => p.deviceName === 'Dough prover meter' && p.nodeId === prover?.id)
      .map((p) => p.definition.name)
      .sort(),
  ).toEqual(['Active power L3', 'Current L3', 'Voltage L3']);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(async () =>
    expect((await ask<{ name: string }[]>('/devices')).map((d) => d.name)).not.toContain(
      'Dough prover meter',
    ),
  ).toPass();
});

test('on a phone the path of fitting is complete', async ({ browser }) => {
  const phone = await browser.newPage({
    viewport: { width: 390, height: 844 },
    baseURL: process.env.LOKA_SAMPLE_URL ?? 'http://localhost:8420',
  });
  const nodes = (await (await phone.request.get('/api/installation')).json()) as {
    id: number;
    name: string;
  }[];
  await phone.goto(`/field/fit/${nodes.find((n) => n.name === 'Van charger')?.id}`);
  await expect(phone.getByText('1. Which circuit')).toBeVisible();
  await expect(phone.getByRole('img', { name: /Isolate first/ })).toBeVisible();
  await expect(phone.getByRole('button', { name: 'Where Voltage L1 comes from' }).last()).toHaveText(
    /2\d\d\.\dV/,
  );
  expect(await phone.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await phone.close();
});
