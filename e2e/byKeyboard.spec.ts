import { expect, test, type Locator, type Page } from '@playwright/test';
import { building, PORTS } from './building.js';
import { storyPage } from './story.js';

// The whole job without a pointer, on an empty site: the first meter, a circuit, its clamp, calibration, an alert, a dashboard.
const URL = process.env.LOKA_KEYS_URL ?? 'http://localhost:8430';

let page: Page;
storyPage(async (fresh) => {
  page = fresh;
  await load('off');
  await page.goto('/');
}, URL);
test.afterAll(() => load('auto'));

const load = (mode: 'on' | 'off' | 'auto') => building.load('hot-water', mode);

/** So many things can be reached one after the other; more, and nobody would get there. */
const MOST = 160;

/** Goes on by Tab until something has the focus. */
async function reach(what: Locator, key = 'Tab'): Promise<void> {
  await what.waitFor();
  for (let i = 0; i < MOST; i++) {
    if (await what.evaluate((element) => element === document.activeElement)) return;
    await page.keyboard.press(key);
  }
  throw new Error(`${String(what)} was not reached by ${MOST} times ${key}`);
}
async function press(
  name: string | RegExp,
  role: 'button' | 'link' = 'button',
  scope: Page | Locator = page,
) {
  await reach(scope.getByRole(role, typeof name === 'string' ? { name, exact: true } : { name }).first());
  await page.keyboard.press('Enter');
}
async function type(label: string | RegExp, text: string): Promise<void> {
  await reach(page.getByLabel(label, typeof label === 'string' ? { exact: true } : {}).first());
  await page.keyboard.press('Control+a');
  await page.keyboard.type(text);
}
/** Opens a list, goes down to an option, and takes it. */
async function choose(label: string | RegExp, option: RegExp): Promise<void> {
  await reach(page.getByRole('combobox', { name: label }).first());
  await page.keyboard.press('Enter');
  const wanted = page.getByRole('option', { name: option }).first();
  for (let i = 0; i < 40; i++) {
    if (await wanted.evaluate((element) => element === document.activeElement)) break;
    await page.keyboard.press('ArrowDown');
  }
  await page.keyboard.press('Enter');
}
/** Of a list of the browser's own. */
async function select(label: string | RegExp, letters: string): Promise<void> {
  await reach(page.getByLabel(label, typeof label === 'string' ? { exact: true } : {}).first());
  await page.keyboard.type(letters);
}
const area = (name: string) => press(name, 'link', page.getByRole('navigation', { name: 'Work areas' }));

test('the site is named, and the first meter is read', async () => {
  await type('Name', 'By keyboard');
  // What is assumed is folded away.
  await reach(page.locator('summary', { hasText: /V, 50 Hz/ }));
  await page.keyboard.press('Enter');
  await type('Time zone', 'Europe/Lisbon');
  await press('Next');
  await expect(page.getByRole('heading', { name: 'How is it supplied?' })).toBeVisible();
  await press('Next');
  await type('Host', '127.0.0.1');
  await type('Port', String(PORTS['main-meter']));
  await press('Connect');
  await expect(page.getByText(/^Recognised: Three-phase meter, float map/)).toBeVisible({ timeout: 30_000 });
  await expect(
    page.getByRole('banner').getByRole('button', { name: 'Where Voltage L1 comes from' }),
  ).toHaveText(/2\d\d\.\dV/);
});

test('a circuit is added, and the channel of a clamp node assigned to it', async () => {
  await press('Add a way');
  await type('Name', 'Hot-water cylinder');
  await type('Rated current, A', '20');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('cell', { name: 'Hot-water cylinder', exact: true })).toBeVisible();
  await area('Field');
  await press('Add a link');
  await type('Name', 'Clamp node');
  await type('Host', '127.0.0.1');
  await type('Port', String(PORTS['clamp-node']));
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog')).toBeHidden();
  const node = page.getByRole('region', { name: 'Links and devices' });
  await reach(node.getByRole('button', { name: 'Add a device' }).last());
  await page.keyboard.press('Enter');
  await type('Name', 'Clamp node');
  await choose('Register map', /^Four-channel clamp node/);
  await reach(page.getByRole('dialog').getByRole('button', { name: 'Add device' }));
  await page.keyboard.press('Enter');
  await select('Current 2 belongs to', 'Way 1');
  await select('Active power 2 belongs to', 'Way 1');
  await expect(page.getByRole('row', { name: /^Current 2/ })).toContainText(/\dA/);
});

test('its clamp is calibrated against an instrument', async () => {
  await area('Bench');
  await press(/Hot-water cylinder/, 'link');
  await press('Calibrate', 'link', page.getByRole('navigation', { name: 'Bench' }));
  await press('Take zero');
  await expect(page.getByRole('row', { name: /^Zero/ })).toBeVisible({ timeout: 30_000 });
  await load('on');
  await expect(page.getByRole('group', { name: 'Raw reading' })).toHaveText(/^1\d\.\d+ ?A$/);
  await press('Instrument');
  const { amperes } = (await building.state()).loads['hot-water']!.L1;
  await type(/The reference reads/, amperes.toFixed(2));
  await press('Take point');
  // As left, the instrument and Loka agree.
  await expect(page.getByRole('row', { name: /[−+]\d\.\d\d % .*0\.00 %/ })).toBeVisible({ timeout: 30_000 });
  await press('Apply correction');
  await expect(page.getByText('Correction applied')).toBeVisible();
});

test('a limit is watched, and the alert acknowledged', async () => {
  await area('Alerts');
  await press('Add an alert');
  await type('Name', 'Cylinder heats');
  await choose('Point', /Active power 2, Clamp node/);
  await type('Limit', '1 kW');
  await type('On-delay', '1');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('banner').getByRole('link', { name: '1 alert' })).toBeVisible();
  await press('Acknowledge');
  await expect(page.getByText('by local person')).toBeVisible();
});

test('a dashboard shows its power', async () => {
  await area('Dashboards');
  await press('New dashboard');
  await press('Add an element');
  await reach(page.getByRole('dialog').getByRole('radio').first());
  await reach(
    page
      .getByRole('dialog')
      .getByRole('button', { name: /Hot-water cylinder/ })
      .first(),
  );
  await page.keyboard.press('Enter');
  const sheet = page.getByRole('region', { name: 'Desk arrangement' });
  await expect(sheet.getByRole('button', { name: /^1, Number, Hot-water cylinder/ })).toBeVisible();
  await expect(sheet.getByRole('button', { name: /^Where Hot-water cylinder/ })).toContainText(/\d ?k?W/);
  await expect(page.getByText(/editing, last kept/)).toBeVisible();
});
