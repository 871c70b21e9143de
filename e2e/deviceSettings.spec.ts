import { expect, test, type Page } from '@playwright/test';
import { BENCH_URL } from './story.js';

// On the sample site: four like meters on a gateway, each with a gain and an interval of its own in holding registers.
test.use({ baseURL: BENCH_URL });

const panel = (page: Page) => page.getByRole('region', { name: 'Settings in the device' });
const row = (page: Page, name: string) => panel(page).getByRole('row').filter({ hasText: name });

async function open(page: Page, device: RegExp): Promise<void> {
  await page.getByRole('region', { name: 'Links and devices' }).getByRole('button', { name: device }).click();
  await panel(page).getByRole('button', { name: 'Read now' }).click();
}

test('settings are read, wanted, written and read back, undone, and copied to like devices', async ({
  page,
}) => {
  await page.goto('/field');
  await open(page, /Display counter meter/);
  await expect(row(page, 'Measuring interval')).toContainText('0.1 s');
  await panel(page).getByRole('button', { name: 'Use as wanted' }).click();
  await expect(row(page, 'Gain of the current')).toContainText('as wanted');

  // What has no room in the register is refused, and stays as it was typed.
  const interval = page.getByLabel('Measuring interval, wanted');
  await interval.fill('0.25');
  await interval.press('Enter');
  await expect(page.getByText('“Measuring interval” has no room for 0.25: it would be 0.3.')).toBeVisible();
  await expect(interval).toHaveValue('0.25');
  await interval.fill('0.5');
  await interval.press('Enter');
  await expect(row(page, 'Measuring interval')).toContainText('not as wanted');

  await panel(page).getByRole('button', { name: 'Write 1 …' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('0.1 s → 0.5 s');
  await dialog.getByRole('button', { name: 'Write 1 setting' }).click();
  await expect(page.getByText('Display counter meter: 1 setting written and read back.')).toBeVisible();
  await expect(row(page, 'Measuring interval')).toContainText('from 0.1 s, by local person');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(row(page, 'Measuring interval')).toContainText('from 0.5 s');
  await expect(interval).toHaveValue('0.1');

  await interval.fill('0.4');
  await interval.press('Enter');
  await expect(row(page, 'Measuring interval')).toContainText('not as wanted');
  await panel(page).getByRole('button', { name: 'Copy to like devices …' }).click();
  await dialog.getByRole('checkbox', { name: /Gain of the current/ }).uncheck();
  await dialog.getByRole('checkbox', { name: /Shop lighting meter/ }).check();
  await dialog.getByRole('checkbox', { name: /Espresso meter/ }).check();
  await dialog.getByRole('button', { name: 'Write into 2' }).click();
  await expect(page.getByText('2 devices set as Display counter meter: 2 settings written.')).toBeVisible();
  await open(page, /Espresso meter/);
  await expect(row(page, 'Measuring interval')).toContainText('0.4 s');
  await expect(row(page, 'Measuring interval')).toContainText('as wanted');
});

test('a plug meter tells its settings by messages, and takes what is sent to it', async ({ page }) => {
  await page.goto('/field');
  const links = page.getByRole('region', { name: 'Links and devices' });
  await links.getByRole('button', { name: /Plug meter, prover/ }).click();
  await expect(row(page, 'Report interval')).toContainText('2 s');
  await expect(row(page, 'Direction')).toContainText('as it flows');
  const interval = page.getByLabel('Report interval, wanted');
  await interval.fill('3');
  await interval.press('Enter');
  await panel(page).getByRole('button', { name: 'Write 1 …' }).click();
  await page.getByRole('dialog').getByRole('button', { name: 'Write 1 setting' }).click();
  await expect(row(page, 'Report interval')).toContainText('from 2 s, by local person');
  await expect(row(page, 'Report interval')).toContainText('as wanted');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(row(page, 'Report interval')).toContainText('from 3 s');
});

test('on a phone the settings are read and wanted as well', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto('/field');
  await open(page, /Dishwasher meter/);
  await expect(row(page, 'Measuring interval')).toContainText('s');
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
});
