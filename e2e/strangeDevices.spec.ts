import { fileURLToPath } from 'node:url';
import { expect, test, type Page } from '@playwright/test';
import { spawn, type ChildProcess } from 'node:child_process';
import { freePort, listens } from '../scripts/lib/ports.mjs';
import { PORTS } from './building.js';
import { storyPage } from './story.js';

// Connecting what the trade meets, through the screens alone: a meter made with pymodbus from a made-up table, a
// broker's topics, several devices at once. Runs after firstSlice.spec.ts, on the same site.

let page: Page;
let meter: ChildProcess;
let port: number;

storyPage(async (fresh) => {
  page = fresh;
  port = await freePort();
  const device = fileURLToPath(new URL('../server/test/support/pymodbusDevice.py', import.meta.url));
  meter = spawn('/usr/bin/python3', [device, 'tcp', String(port)], { stdio: 'ignore' });
  await expect(async () => expect(await listens(port)).toBe(true)).toPass({ timeout: 20_000 });
  await page.request.put('/api/site', {
    data: {
      name: 'Trial site',
      timeZone: 'Europe/Lisbon',
      nominalVoltage: 230,
      frequency: 50,
      conductorScheme: 'iec-60445',
    },
  });
  await page.goto('/field');
});
test.afterAll(() => void meter.kill('SIGKILL'));

const dialog = () => page.getByRole('dialog');
const choose = async (label: string | RegExp, option: string | RegExp) => {
  await dialog().getByLabel(label).click();
  await page.getByRole('option', { name: option }).first().click();
};
/** Pastes as from a spreadsheet into a field of the grid. */
const paste = (label: string, text: string) =>
  page
    .getByLabel(label, { exact: true })
    .first()
    .evaluate((field, data) => {
      const clipboard = new DataTransfer();
      clipboard.setData('text/plain', data);
      field.dispatchEvent(
        new ClipboardEvent('paste', { clipboardData: clipboard, bubbles: true, cancelable: true }),
      );
    }, text);

test('a link to a meter of another make, tried before it is saved', async () => {
  await page.getByRole('button', { name: 'Add a link' }).click();
  await dialog().getByLabel('Name').fill('Strange meter');
  await dialog().getByLabel('Host').fill('127.0.0.1');
  await dialog().getByLabel('Port').fill(String(port));
  await dialog().getByRole('button', { name: 'Try it' }).click();
  await expect(dialog().getByText(/It answers: connected in/)).toBeVisible();
  await dialog().getByRole('button', { name: 'Add link' }).click();
  await expect(page.getByRole('button', { name: /Strange meter/ })).toBeVisible();
});

test('its table is pasted from a spreadsheet, and what each value reads shows beside it before anything is saved', async () => {
  await page
    .locator('div', { has: page.getByRole('button', { name: /Strange meter/ }) })
    .getByRole('button', { name: 'Add a device' })
    .last()
    .click();
  await dialog().getByLabel('Name').fill('Strange meter, unit 7');
  await choose('Link', /Strange meter/);
  await dialog().getByLabel('Unit id').fill('7');
  await choose('Register map', 'Make a new map');
  await dialog().getByRole('button', { name: 'Add device' }).click();
  await expect(page.getByLabel('Register map')).toBeVisible();
  await page.getByRole('button', { name: 'Add a value' }).click();
  await paste(
    'Name',
    [
      'Voltage\tholding\t200\tfrom-0\tfloat32\t1\tvoltage\tV',
      'Frequency\tholding\t202\tfrom-0\tfloat32\t1\tfrequency\tHz',
      'Signed\tholding\t210\tfrom-0\tint16',
      'Whole\tholding\t211\tfrom-0\tint16',
      'Serial\tholding\t220\tfrom-0\tstring',
    ].join('\n'),
  );
  const row = (name: string) =>
    page.locator('tr', { has: page.locator(`input[aria-label="Name"][value="${name}"]`) });
  await expect(row('Voltage')).toContainText('4366 2666');
  await expect(row('Voltage')).toContainText(/230\.\dV/);
  await expect(row('Signed')).toContainText('−432');
});

test('low word first, decimals from another register, a text: each is said once and reads right', async () => {
  const row = (name: string) =>
    page.locator('tr', { has: page.locator(`input[aria-label="Name"][value="${name}"]`) });
  await expect(page.getByText(/Serial: A string takes 1 to 125 registers/)).toBeVisible();
  await page.getByLabel('Length of Serial').fill('4');
  await page.getByLabel('Length of Serial').press('Tab');
  await expect(row('Serial')).toContainText('UNIT 7');
  await page.getByLabel('Order of Frequency').selectOption('low, high');
  await expect(row('Frequency')).toContainText(/49\.98/);
  await page.getByRole('button', { name: 'More about Whole' }).click();
  await page.getByLabel('Second register of Whole').selectOption('decimals');
  await page.getByLabel('Address of the second register of Whole').fill('212');
  await page.getByLabel('Address of the second register of Whole').press('Tab');
  await expect(row('Whole')).toContainText(/231\.\d*47/);
  await page.getByRole('button', { name: 'Save map' }).click();
  await expect(page.getByRole('heading', { name: 'Strange meter, unit 7' })).toBeVisible();
  await expect(page.getByRole('row', { name: /Voltage/ })).toContainText(/230\.\dV/);
  await expect(page.getByRole('row', { name: /Serial/ })).toContainText('UNIT 7');
});

test('several like it at once; a unit that is not there says so, and its neighbour goes on', async () => {
  await page.getByRole('button', { name: 'Add several like it' }).click();
  await dialog().getByLabel('How many').fill('2');
  await dialog().getByLabel('First unit id').fill('8');
  await dialog().getByLabel('Names').fill('Strange meter, unit #');
  await expect(
    dialog().getByText('Strange meter, unit 8 (unit 8), Strange meter, unit 9 (unit 9)'),
  ).toBeVisible();
  await dialog().getByRole('button', { name: 'Add 2 devices' }).click();
  await page.getByRole('button', { name: /Strange meter, unit 8/ }).click();
  await expect(page.getByText(/Unit 8 gave no answer within/).first()).toBeVisible({ timeout: 20_000 });
  await expect(page.getByRole('list', { name: 'Faults since the link was started' })).toContainText(
    'time-out',
  );
  await page.getByRole('button', { name: /Strange meter, unit 7/ }).click();
  await expect(page.getByRole('row', { name: /Voltage/ })).toContainText(/230\.\dV/);
});

test('a broker: its topics are watched, and a number in a payload becomes a value with one click', async () => {
  await page.getByRole('button', { name: 'Add a link' }).click();
  await dialog().getByLabel('Name').fill('Broker');
  await choose(/reached/, 'MQTT broker');
  await expect(dialog().getByLabel('Port')).toHaveValue('1883');
  await dialog().getByLabel('Host').fill('127.0.0.1');
  await dialog().getByLabel('Port').fill(String(PORTS.broker));
  await dialog().getByRole('button', { name: 'Add link' }).click();
  await page.getByRole('link', { name: 'Watch topics' }).click();
  const report = page
    .getByRole('treeitem', { name: /plug-cabinet/ })
    .getByRole('button', { name: /^report/ });
  await report.click();
  await page.getByRole('button', { name: /\/mains\/watts/ }).click();
  await expect(dialog().getByLabel('Quantity')).toHaveText('Active power');
  await expect(dialog().getByLabel(/JSON pointer/)).toHaveValue('/mains/watts');
  await expect(dialog().getByLabel('Time stamp at')).toHaveValue('/at');
  await expect(dialog().getByText(/It reads/)).toContainText(/\dW/);
  await dialog().getByLabel('Name of the value').fill('Cabinet power');
  await dialog().getByRole('button', { name: 'Read this value' }).click();
  await page.getByRole('button', { name: /\/mains\/volts/ }).click();
  await expect(dialog().getByLabel('Device', { exact: true })).toHaveText('Plug cabinet');
  await dialog().getByLabel('Name of the value').fill('Cabinet voltage');
  await dialog().getByRole('button', { name: 'Read this value' }).click();
  await page.getByRole('link', { name: 'Back' }).click();
  await page.getByRole('button', { name: /Plug cabinet/ }).click();
  await expect(page.getByRole('row', { name: /Cabinet power/ })).toContainText(/\d+(\.\d)?W/);
  await expect(page.getByRole('row', { name: /Cabinet voltage/ })).toContainText(/2\d\d\.\dV/);
});

test('a changed map says whom it touches before it is applied, and an earlier version comes back', async () => {
  await page.getByRole('button', { name: /Strange meter, unit 7/ }).click();
  await page.getByRole('link', { name: 'Edit points' }).click();
  await page.locator('input[aria-label="Name"][value="Signed"]').fill('Temperature');
  await page.getByRole('button', { name: 'Save map' }).click();
  await expect(dialog()).toContainText('Changed: Temperature');
  await expect(dialog()).toContainText('Strange meter, unit 9');
  await dialog().getByRole('button', { name: 'Apply to 3 devices' }).click();
  await expect(page.getByRole('row', { name: /Temperature/ })).toBeVisible();
  await page.getByRole('link', { name: 'Edit points' }).click();
  await page.getByRole('button', { name: 'Versions' }).click();
  await dialog()
    .getByRole('row', { name: /^2 / })
    .getByRole('button', { name: 'Make this the newest' })
    .click();
  await expect(page.locator('input[aria-label="Name"][value="Signed"]')).toBeVisible();
});
