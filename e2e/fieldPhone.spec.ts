import { expect, test, type Page } from '@playwright/test';

// Field on a phone, at the sample site: the list or one device, never both; nothing wider than the screen.
test.use({
  baseURL: process.env.LOKA_SAMPLE_URL ?? 'http://localhost:8420',
  viewport: { width: 390, height: 844 },
  hasTouch: true,
});

const fitsScreen = async (page: Page) =>
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);

test('from the list to a device and back', async ({ page }) => {
  await page.goto('/field');
  const list = page.getByRole('region', { name: 'Links and devices' });
  await expect(list).toBeVisible();
  await fitsScreen(page);
  await list.getByRole('button', { name: /Display counter meter/ }).tap();
  await expect(page.getByRole('heading', { name: 'Display counter meter' })).toBeVisible();
  await expect(list).toBeHidden();
  await expect(page.getByRole('row', { name: /^Voltage/ })).toContainText(/2\d\d\.\dV/);
  await fitsScreen(page);
  await page.getByRole('button', { name: 'Links and devices' }).tap();
  await expect(list).toBeVisible();
});

test('a command of a device is confirmed by name before it is sent', async ({ page }) => {
  await page.goto('/field');
  await page.getByRole('button', { name: /Display counter meter/ }).tap();
  const row = page.getByRole('row', { name: /Clear the peak/ });
  await row.getByRole('button', { name: 'Send 1' }).tap();
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('It cannot be taken back.');
  await dialog.getByRole('button', { name: 'Cancel' }).tap();
  await expect(dialog).toBeHidden();
  await row.getByRole('button', { name: 'Send 1' }).tap();
  await dialog.getByRole('button', { name: 'Clear the peak' }).tap();
  await expect(dialog.getByRole('status')).toContainText('1 was sent and accepted; it now reads 0.');
});

test('a topic’s payload comes into view when it is chosen', async ({ page }) => {
  await page.goto('/field');
  await page.getByRole('link', { name: 'Watch topics' }).first().tap();
  await page
    .getByRole('treeitem', { name: /plug-prover/ })
    .getByRole('button', { name: /^report/ })
    .tap();
  await expect(page.getByRole('button', { name: /\/mains\/volts/ })).toBeInViewport();
  await fitsScreen(page);
});

test('found devices stand below one another, each with what can be done', async ({ page }) => {
  const ports = JSON.parse(process.env.LOKA_SAMPLE_PORTS ?? '{"gateway":15024}') as Record<string, number>;
  await page.goto('/field/search');
  await page.getByLabel('Ports').fill(String(ports.gateway));
  await page.getByLabel('Unit ids').fill('1-4');
  await page.getByRole('button', { name: 'Search' }).tap();
  await expect(page.getByText(/1 of 1 addresses and ports tried, 4 units found/)).toBeVisible({
    timeout: 30_000,
  });
  await expect(page.getByRole('link', { name: 'Dishwasher meter' })).toBeVisible();
  await fitsScreen(page);
});

test('a phone whose clock is an hour ahead takes no reading for old', async ({ page }) => {
  await page.clock.install({ time: Date.now() + 3_600_000 });
  await page.goto('/field');
  await page.getByRole('button', { name: /Main meter/ }).tap();
  const row = page.getByRole('row', { name: /^Voltage L1/ });
  await expect(row).toContainText(/2\d\d\.\dV/);
  await expect(row).not.toContainText(/\d (s|min|h) old/);
});
