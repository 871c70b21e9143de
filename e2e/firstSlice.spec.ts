import { expect, test, type Page } from '@playwright/test';
import { building, PORTS } from './building.js';
import { storyPage } from './story.js';
import { typeInstant } from './typeInstant.js';

// One person's way through an empty site, from the first link to the load switched off. The steps build on one another.

const RESTLESS = ['deck-oven', 'prover', 'mixer'];
let page: Page;
storyPage(async (fresh) => {
  page = fresh;
  // What starts and stops by itself moves the voltage, and with it what is read while something is calibrated.
  for (const name of ['hot-water', ...RESTLESS]) await building.load(name, 'off');
  await page.goto('/');
});
test.afterAll(() => Promise.all(RESTLESS.map((name) => building.load(name, 'auto'))));
const area = (name: string) =>
  page.getByRole('navigation', { name: 'Work areas' }).getByRole('link', { name, exact: true }).click();
const spine = (name: string | RegExp) =>
  page.getByRole('complementary', { name: 'Installation' }).getByRole('button', { name }).click();
const choose = async (label: string, option: string | RegExp) => {
  await page.getByRole('dialog').getByLabel(label).click();
  await page.getByRole('option', { name: option }).first().click();
};
/** Watts that an element shows, whatever its prefix. */
async function watts(text: string): Promise<number> {
  const match = /([−-]?[\d.]+)\s*(k?)W/.exec(text);
  return match ? Number(match[1]?.replace('−', '-')) * (match[2] ? 1000 : 1) : NaN;
}
const powerNow = async () =>
  watts(await page.locator('section', { has: page.getByRole('heading', { name: 'Power now' }) }).innerText());

test('an empty site asks one question at a time, and after the third a reading moves', async () => {
  await page.getByLabel('Name').fill('Trial site');
  await page.getByText(/V, 50 Hz/).click();
  await page.getByLabel('Time zone').fill('Europe/Nowhere');
  await page.getByRole('button', { name: 'Next' }).click();
  await expect(page.getByText('Not a time zone')).toBeVisible();
  await page.getByLabel('Time zone').fill('Europe/Lisbon');
  await page.getByRole('button', { name: 'Next' }).click();
  await expect(page.getByRole('heading', { name: 'How is it supplied?' })).toBeVisible();
  await page.getByRole('button', { name: 'Next' }).click();
  await expect(page.getByRole('heading', { name: 'What measures the supply?' })).toBeVisible();
  // On a phone as well, where the installation is the first screen otherwise.
  const desk = page.viewportSize();
  await page.setViewportSize({ width: 390, height: 844 });
  await expect(page.getByRole('heading', { name: 'What measures the supply?' })).toBeVisible();
  await page.setViewportSize(desk ?? { width: 1280, height: 800 });
  await page.getByLabel('Host').fill('127.0.0.1');
  await page.getByLabel('Port').fill('1');
  await page.getByRole('button', { name: 'Connect' }).click();
  await expect(page.getByText(/refuses port 1/)).toBeVisible();
  await page.getByLabel('Port').fill(String(PORTS['main-meter']));
  // What never answers is not taken for a meter, with whichever map.
  await page.getByLabel('Unit id').fill('9');
  await page.getByRole('button', { name: 'Connect' }).click();
  await expect(page.getByText('Unit 9 does not answer there.')).toBeVisible({ timeout: 20_000 });
  await page.getByLabel('Unit id').fill('1');
  await page.getByRole('button', { name: 'Connect' }).click();
  await expect(page.getByText(/^Recognised: Three-phase meter, float map/)).toBeVisible({ timeout: 20_000 });
  const voltage = page.getByRole('banner').getByRole('button', { name: 'Where Voltage L1 comes from' });
  await expect(voltage).toHaveText(/2[0-9]{2}\.\dV/);
  const frequency = page.getByRole('banner').getByRole('button', { name: 'Where Frequency comes from' });
  const first = await frequency.innerText();
  await expect(async () => expect(await frequency.innerText()).not.toBe(first)).toPass({ timeout: 60_000 });
  await voltage.click();
  await expect(page.getByText('04 00 00 00 02')).toBeVisible(); // where the number comes from, on the wire
  await page.keyboard.press('Escape');
});

test('a way is added to the board', async () => {
  await page.getByRole('button', { name: 'Add a way' }).click();
  await page.getByRole('dialog').getByLabel('Name').fill('Hot-water cylinder');
  await page.getByRole('dialog').getByLabel('Rated current, A').fill('twenty');
  await page.getByRole('button', { name: 'Add way' }).click();
  await expect(page.getByText('The rated current is a number')).toBeVisible();
  await page.getByRole('dialog').getByLabel('Rated current, A').fill('20');
  await page.getByRole('button', { name: 'Add way' }).click();
  await expect(page.getByRole('cell', { name: 'Hot-water cylinder', exact: true })).toBeVisible();
  await expect(page.getByText('not metered').first()).toBeVisible();
});

test('Field: a link that cannot be is refused at the field, and one that answers is added', async () => {
  await area('Field');
  await page.getByRole('button', { name: 'Add a link' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name').fill('Clamp node, wall');
  await dialog.getByLabel('Host').fill('no-such-host.invalid');
  await dialog.getByRole('button', { name: 'Try it' }).click();
  await expect(dialog.getByText(/No machine is called/)).toBeVisible();
  await dialog.getByLabel('Host').fill('127.0.0.1');
  await dialog.getByLabel('Port').fill(String(PORTS['clamp-node']));
  await dialog.getByRole('button', { name: 'Try it' }).click();
  await expect(dialog.getByText(/It answers/)).toBeVisible();
  await dialog.getByRole('button', { name: 'Add link' }).click();
  await expect(page.getByText('Clamp node, wall')).toBeVisible();
});

test('Field: a device with a map made on the spot, its registers read while one types', async () => {
  const links = page.getByRole('region', { name: 'Links and devices' });
  await links.getByRole('button', { name: 'Add a device' }).last().click();
  await page.getByRole('dialog').getByLabel('Name').fill('Clamp node');
  await choose('Register map', 'Make a new map');
  await page.getByRole('button', { name: 'Add device' }).click();
  await page.getByRole('button', { name: 'Add a value' }).first().click();
  await page.getByLabel('Name', { exact: true }).fill('Current 2');
  await page.getByLabel('Kind of Current 2').selectOption('input');
  await page.getByLabel('Counting of Current 2').selectOption('notation');
  await page.getByLabel('Address of Current 2').fill('40111');
  await expect(page.getByText(/names a holding register/)).toBeVisible();
  await page.getByLabel('Address of Current 2').fill('30111');
  await expect(page.getByText('110 006Eh')).toBeVisible(); // the wire counts from 0
  await page.getByLabel('Type of Current 2').selectOption('uint16');
  await page.getByLabel('Quantity of Current 2').selectOption('current');
  await page.getByLabel('Conductor of Current 2').selectOption('L1');
  await page.getByLabel('Scaling of Current 2').selectOption('pairs');
  await page.getByLabel('Second engineering value of Current 2').fill('60');
  await page.getByLabel('Second engineering value of Current 2').blur();
  await expect(page.getByRole('row', { name: /Current 2/ }).getByText('0.048')).toBeVisible(); // 8 counts of 9999 for 60 A
  // The next value: a slip onto a taken register is said at once.
  await page.getByRole('button', { name: 'Add a value' }).click();
  await page.getByLabel('Name', { exact: true }).nth(1).fill('Active power 2');
  await page.getByLabel('Address of Active power 2').fill('30111');
  await expect(page.getByText(/already reads this address/)).toBeVisible();
  await expect(page.getByRole('button', { name: 'Save map' })).toBeDisabled();
  await page.getByLabel('Address of Active power 2').fill('30112');
  await page.getByLabel('Type of Active power 2').selectOption('int16');
  await page.getByLabel('Quantity of Active power 2').selectOption('active-power');
  await page.getByLabel('Second engineering value of Active power 2').fill('14000');
  await page.getByLabel('Second engineering value of Active power 2').blur();
  await page.getByRole('button', { name: 'Save map' }).click();
  await expect(page.getByRole('heading', { name: 'Clamp node', exact: true })).toBeVisible();
  await page.getByLabel('All points belong to').selectOption({ label: 'Way 1 · Hot-water cylinder' });
  await expect(page.getByText(/points belong to Hot-water cylinder/)).toBeVisible();
});

test('Field: the relay board, from a map that Loka has', async () => {
  await page.getByRole('button', { name: 'Add a link' }).click();
  await page.getByRole('dialog').getByLabel('Name').fill('Relay board');
  await page.getByRole('dialog').getByLabel('Host').fill('127.0.0.1');
  await page.getByRole('dialog').getByLabel('Port').fill(String(PORTS['relay-board']));
  await page.getByRole('button', { name: 'Add link' }).click();
  await expect(page.getByRole('dialog')).toBeHidden();
  await page.getByRole('button', { name: 'Add a device' }).last().click();
  await page.getByRole('dialog').getByLabel('Name').fill('Relay board');
  await choose('Register map', 'Relay board, four coils');
  await page.getByRole('button', { name: 'Add device' }).click();
  await page.getByLabel('Relay 1 belongs to').selectOption({ label: 'Way 1 · Hot-water cylinder' });
  await page.getByLabel('Contact 1 belongs to').selectOption({ label: 'Way 1 · Hot-water cylinder' });
  await expect(page.getByRole('row', { name: /^Contact 1/ }).getByText('closed')).toBeVisible();
});

test('the device is killed: its points turn bad with the reason, and come back by themselves', async () => {
  await building.fault('clamp-node', { kind: 'down' });
  await page
    .getByRole('button', { name: /^does not answer Clamp node|Clamp node.*unit/ })
    .first()
    .click();
  const row = page.getByRole('row', { name: /Current 2/ });
  await expect(row.getByText(/connection refused|connection lost/)).toBeVisible();
  await expect(page.getByText(/refuses port|closed the connection/).first()).toBeVisible();
  await building.fault('clamp-node', { kind: 'none' });
  await expect(page.getByRole('row', { name: /Current 2/ }).getByText(/\dA/)).toBeVisible({
    timeout: 40_000,
  });
});

test('Bench: zero, a known load, and the correction holds from the first reading on', async () => {
  await area('Bench');
  await spine(/Hot-water cylinder/);
  await page.getByRole('navigation', { name: 'Bench' }).getByRole('link', { name: 'Calibrate' }).click();
  await expect(page.getByText('steady')).toBeVisible();
  await page.getByRole('button', { name: 'Take zero' }).click();
  await expect(page.getByRole('row', { name: /^Zero/ })).toBeVisible({ timeout: 20_000 });
  await building.load('hot-water', 'on');
  const raw = page.getByRole('group', { name: 'Raw reading' });
  await expect(raw).toHaveText(/^1\d\.\d+ ?A$/); // the load is on, and its reading has come
  await expect(page.getByText('steady')).toBeVisible();
  const { amperes, watts: load, volts } = (await building.state()).loads['hot-water']!.L1;
  // The load as one knows it: watts, volts and power factor give the reference current.
  await page.getByRole('button', { name: 'Known load' }).click();
  await page.getByLabel('Power, W').fill(load.toFixed(1));
  await page.getByLabel('Now, V').fill(volts.toFixed(2));
  // What flows is known here, and not what is on its plate.
  await page.getByLabel(/A heater or kettle/).uncheck();
  await page.getByLabel('Power factor').fill('1.5');
  await expect(page.getByText(/cannot be/)).toBeVisible();
  await page.getByLabel('Power factor').fill('1');
  await expect(page.getByText(/that is/)).toBeVisible();
  // The words of the refusal may still be there for a moment.
  await expect(async () => {
    const told = Number(/that is ([\d.]+)/.exec(await page.getByText(/that is/).innerText())?.[1]);
    expect(Math.abs(told / amperes - 1)).toBeLessThan(0.002);
  }).toPass();
  await page.getByRole('button', { name: 'Take point' }).click();
  const row = page.getByRole('row', { name: /^Heater \d/ });
  await expect(row).toBeVisible({ timeout: 20_000 });
  await expect(row).toContainText(/−[45]\.\d\d %/); // as found: the clamp's gain is 0.951
  await expect(row).toContainText('0.00 %'); // as left
  await page.getByLabel('Applies from').selectOption('beginning');
  await page.getByRole('button', { name: 'Apply correction' }).click();
  await expect(page.getByText('Correction applied')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Take back' })).toBeVisible();
});

test('the circuit’s page shows corrected values, and the past has followed', async () => {
  await page.goto('/board');
  await spine(/Hot-water cylinder/);
  await expect(async () => {
    const truth = (await building.state()).loads['hot-water']!.L1; // moves with the voltage
    const shown = await page.getByRole('button', { name: 'Where Current 2 comes from' }).innerText();
    expect(Math.abs(Number(shown.replace(/[^\d.]/g, '')) / truth.amperes - 1)).toBeLessThan(0.01);
    expect(Math.abs((await powerNow()) / truth.watts - 1)).toBeLessThan(0.01);
  }).toPass();
  await page.getByRole('button', { name: 'Where Current 2 comes from' }).click();
  await expect(page.getByText(/× raw/)).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByText('from Main meter').first()).toBeVisible();
  const points = (await (await page.request.get('/api/points')).json()) as { id: number; key: string }[];
  const id = points.find((p) => p.key === 'current-2')?.id;
  const [series] = (await (
    await page.request.get(
      `/api/readings?points=${id}&from=${Date.now() - 300_000}&to=${Date.now()}&width=500`,
    )
  ).json()) as { mean: number[] }[];
  const idle = series!.mean.filter((v) => v !== null && v < 5);
  expect(Math.max(...idle.map(Math.abs))).toBeLessThan(0.02); // zero reads zero, in the past as well
});

test('readings leave as CSV', async () => {
  await page.getByRole('button', { name: 'Export readings' }).click();
  await typeInstant(page, 'To', '2020-01-01T00:00');
  await expect(page.getByText(/ends before it starts/)).toBeVisible();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Export readings' }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save CSV' }).click();
  const file = await (await download).createReadStream();
  let text = '';
  for await (const chunk of file) text += String(chunk);
  expect(text.split('\r\n')[0]).toBe('time,value,unit,quality,raw');
  expect(text.split('\r\n')[1]).toMatch(
    /^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d\.\d{3}[+-]\d\d:\d\d,-?[\d.e-]+,A,good,[\d.e-]+$/,
  );
});

test('Alerts: a limit is passed, shown in the head on every screen, acknowledged, and kept', async () => {
  await area('Alerts');
  await page.getByRole('button', { name: 'Add an alert' }).first().click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name').fill('Cylinder heats');
  await choose('Point', /Active power 2, Clamp node/);
  await dialog.getByLabel('Limit').fill('lots');
  await dialog.getByRole('button', { name: 'Add alert' }).click();
  await expect(dialog.getByText('Type a number in W, for example 5 W.')).toBeVisible();
  await dialog.getByLabel('Limit').fill('1 kW');
  await dialog.getByLabel('On-delay').fill('1');
  await dialog.getByLabel('Off-delay').fill('1 s');
  await dialog.getByRole('button', { name: 'Add alert' }).click();
  await expect(page.getByRole('banner').getByRole('link', { name: '1 alert' })).toBeVisible();
  await area('Control');
  await page.getByRole('banner').getByRole('link', { name: '1 alert' }).click();
  await page.getByRole('button', { name: 'Acknowledge' }).click();
  await expect(page.getByText('by local person')).toBeVisible();
  await expect(
    page.getByRole('region', { name: 'History' }).getByRole('row', { name: /Cylinder heats/ }),
  ).toBeVisible();
});

test('Control: the load is switched off by hand, the contact confirms, and its power falls', async () => {
  await area('Control');
  await spine(/Hot-water cylinder/);
  await page.getByRole('button', { name: 'Add a switch' }).click();
  await expect(page.getByRole('dialog').getByLabel('Name')).toHaveValue('Hot-water cylinder');
  await page.getByRole('dialog').getByRole('button', { name: 'Add switch' }).click();
  const panel = page.getByRole('region', { name: 'Switch of Hot-water cylinder' });
  await expect(panel.getByText('closed', { exact: true }).last()).toBeVisible();
  await area('Board');
  await spine(/Hot-water cylinder/);
  await expect.poll(powerNow).toBeGreaterThan(2000);
  await panel.getByRole('button', { name: 'Open' }).click();
  await expect(page.getByText('The load loses its supply at once.')).toBeVisible();
  await page.getByRole('button', { name: 'Open Hot-water cylinder' }).click();
  await expect.poll(powerNow).toBeLessThan(20);
  expect((await building.state()).contacts['hot-water']).toBe(false);
  await area('Control');
  await expect(
    page.getByRole('region', { name: 'Operations' }).getByRole('row', { name: /open By hand/ }),
  ).toContainText('confirmed by the contact');
});

test('Control: a welded contact is said to be a mismatch', async () => {
  await building.weld(1, true);
  const panel = page.getByRole('region', { name: 'Switch of Hot-water cylinder' });
  await panel.getByRole('button', { name: 'Close' }).click();
  await page.getByRole('button', { name: 'Close Hot-water cylinder' }).click();
  await expect(panel.getByText('disagrees', { exact: true })).toBeVisible();
  await building.weld(1, false);
});

test('Control: a cut-off opens the switch above its limit, locks it out, and a person restores it', async () => {
  await page.getByRole('button', { name: 'Add a cut-off' }).click();
  const dialog = page.getByRole('dialog');
  await choose('When this reading', /Active power 2, Clamp node/);
  await dialog.getByLabel('Stays above').fill('1,5 kW');
  await dialog.getByLabel('For', { exact: true }).fill('1');
  await dialog.getByLabel('Ignored after closing').fill('4 s');
  await dialog.getByRole('button', { name: 'Add cut-off' }).click();
  await expect(dialog).toBeHidden();
  const panel = page.getByRole('region', { name: 'Switch of Hot-water cylinder' });
  await panel.getByRole('button', { name: 'Close' }).click();
  await page.getByRole('button', { name: 'Close Hot-water cylinder' }).click();
  const rules = page.getByRole('region', { name: 'Cut-off rules' });
  await expect(rules.getByText(/ignoring the surge/)).toBeVisible();
  await expect(rules.getByText(/Cut off at .*kW; locked out/)).toBeVisible({ timeout: 20_000 });
  await expect(
    page
      .getByRole('region', { name: 'Operations' })
      .getByRole('row', { name: /cut-off rule/ })
      .first(),
  ).toContainText('was above 1.5 kW');
  expect((await building.state()).contacts['hot-water']).toBe(false);
  await panel.getByRole('button', { name: 'Restore' }).click();
  await page.getByRole('button', { name: 'Restore Hot-water cylinder' }).click();
  await expect(panel.getByRole('button', { name: 'Close' })).toBeVisible();
});

test('on a phone the spine comes first, and a circuit is complete', async () => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto('/board');
  await spine(/Hot-water cylinder/);
  await expect(page.getByRole('heading', { name: 'Power now' })).toBeVisible();
  await expect(page.getByRole('navigation', { name: 'Work areas' })).toBeInViewport();
  const overflow = await page.evaluate(
    () => document.documentElement.scrollWidth - document.documentElement.clientWidth,
  );
  expect(overflow).toBeLessThanOrEqual(0);
  for (const name of ['Field', 'Bench', 'Control']) {
    await area(name);
    await expect(page.getByRole('main')).toBeVisible();
  }
});

test('keys: / finds a way, Ctrl+K acts, ? lists the keys', async () => {
  await page.setViewportSize({ width: 1280, height: 800 });
  await page.goto('/board');
  await expect(page.getByRole('complementary', { name: 'Installation' })).toBeVisible();
  await page.keyboard.press('/');
  await page.keyboard.type('hot');
  await page.keyboard.press('ArrowDown');
  await expect(
    page.getByRole('complementary', { name: 'Installation' }).getByRole('button', { name: /Main board/ }),
  ).toBeVisible();
  await page.keyboard.press('Control+k');
  await expect(page.getByLabel('What do you want to do?')).toBeFocused();
  await page.keyboard.type('alerts');
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/alerts/);
  // Where it led is where the keys go now, not to the field from which it was opened.
  await expect(page.getByRole('main')).toBeFocused();
  await page.keyboard.press('?');
  await expect(page.getByText('Move in the installation')).toBeVisible();
});
