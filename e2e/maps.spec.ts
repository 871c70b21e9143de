import { expect, test } from '@playwright/test';
import { SAMPLE_URL } from './story.js';

// Register maps as files, through the interface.
test.use({ baseURL: SAMPLE_URL });

const csv = (text: string) => ({
  name: 'Heat pump meter.csv',
  mimeType: 'text/csv',
  buffer: Buffer.from(text),
});

test('a map is imported from CSV; what is wrong with a file is listed by line', async ({ page, request }) => {
  await page.goto('/field');
  await page.getByRole('button', { name: 'Import a map' }).click();
  const dialog = page.getByRole('dialog');
  await dialog
    .getByLabel('CSV or JSON file')
    .setInputFiles(
      csv('name,kind,address,type,quantity,unit\nA,holding,0,float,voltage,V\nB,shelf,2,float32,voltage,V\n'),
    );
  await expect(dialog.getByLabel('Name of the map')).toHaveValue('Heat pump meter');
  await dialog.getByRole('button', { name: 'Import' }).click();
  const wrong = dialog.getByRole('list', { name: 'What is wrong' });
  await expect(wrong.getByText(/line 2: type “float” is none of/)).toBeVisible();
  await expect(wrong.getByText(/line 3: kind “shelf” is none of/)).toBeVisible();
  await dialog
    .getByLabel('CSV or JSON file')
    .setInputFiles(
      csv(
        'name,kind,address,type,quantity,unit\nVoltage,input,0,float32,voltage,V\nPower,input,18,float32,active-power,W\n',
      ),
    );
  await dialog.getByRole('button', { name: 'Import' }).click();
  await expect(page.getByRole('link', { name: 'Heat pump meter' })).toBeVisible();
  await page.getByRole('link', { name: 'Heat pump meter' }).click();
  await expect(page.getByLabel('Name', { exact: true }).nth(1)).toHaveValue('Power');
  const maps = (await (await request.get('/api/register-maps')).json()) as { id: number; name: string }[];
  await request.delete(`/api/register-maps/${maps.find((m) => m.name === 'Heat pump meter')?.id}`);
});

test('the next device is made like the first, and taking one off can be undone', async ({ page }) => {
  await page.goto('/field?device=3');
  await page.getByRole('button', { name: 'Copy', exact: true }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByLabel('Unit id')).toHaveValue('2');
  await expect(dialog.getByLabel('Name')).toHaveValue('Clamp node 2');
  await dialog.getByRole('button', { name: 'Add device' }).click();
  await expect(page.getByRole('heading', { name: 'Clamp node 2' })).toBeVisible();
  await expect(page.getByText(/Unit 2 gave no answer/).first()).toBeVisible(); // there is no unit 2 at this address, and it says so
  await page.getByRole('button', { name: 'Remove' }).click();
  await expect(page.getByText('Clamp node 2 was removed.')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  const entry = page
    .getByRole('region', { name: 'Links and devices' })
    .getByRole('button', { name: /Clamp node 2/ });
  await entry.click();
  await page.getByRole('button', { name: 'Remove' }).click();
  await expect(entry).toBeHidden();
});

test('the same device at other addresses: copied one by one, or several at once, and undone', async ({
  page,
  request,
}) => {
  const ports = JSON.parse(process.env.LOKA_SAMPLE_PORTS ?? '{"gateway":15024}') as Record<string, number>;
  const port = String(ports.gateway);
  const dialog = page.getByRole('dialog');
  const list = page.getByRole('region', { name: 'Links and devices' });
  const links = async () =>
    (await (await request.get('/api/links')).json()) as { name: string; enabled: boolean }[];
  await page.goto('/field');
  await list.getByRole('button', { name: /Dishwasher meter/ }).click();
  await page.getByRole('button', { name: 'Copy', exact: true }).click();
  await dialog.getByRole('combobox', { name: 'Link' }).click();
  await page.getByRole('option', { name: /Another address/ }).click();
  await expect(dialog.getByLabel('Unit id')).toHaveValue('2'); // its own again, not the next one on the gateway
  await dialog.getByLabel('Address', { exact: true }).fill('127.0.0.300');
  await expect(dialog.getByText('Like 192.168.1.41 or 192.168.1.41:502')).toBeVisible();
  await dialog.getByLabel('Address', { exact: true }).fill(`localhost:${port}`);
  await dialog.getByLabel('Name').fill('Dishwasher, by name');
  await dialog.getByRole('button', { name: 'Add device' }).click();
  await expect(page.getByRole('heading', { name: 'Dishwasher, by name' })).toBeVisible();
  await expect(page.getByRole('row', { name: /^Voltage/ })).toContainText(/2\d\d\.\dV/);
  expect((await links()).map((l) => l.name)).toContain(`localhost:${port}`);
  await page.getByRole('button', { name: 'Remove' }).click();
  await expect(page.getByRole('heading', { name: 'Dishwasher, by name' })).toBeHidden();

  await list.getByRole('button', { name: /Dishwasher meter/ }).click();
  await expect(page.getByRole('heading', { name: 'Dishwasher meter' })).toBeVisible();
  await page.getByRole('button', { name: 'Add several like it' }).click();
  await dialog.getByLabel('Addresses of their own').check();
  await dialog.getByLabel('Addresses', { exact: true }).fill(`127.0.1.#:${port}`);
  await dialog.getByLabel('How many').fill('3');
  await dialog.getByLabel('First number').fill('254');
  await expect(dialog.getByRole('button', { name: /^Add/ })).toBeDisabled(); // 127.0.1.256 is no address
  await dialog.getByLabel('First number').fill('7');
  await expect(dialog.getByText(`Dishwasher meter 9 (127.0.1.9:${port})`)).toBeVisible();
  await dialog.getByRole('button', { name: 'Add 3 devices' }).click();
  await expect(list.getByRole('button', { name: /Dishwasher meter 8/ })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(list.getByRole('button', { name: /Dishwasher meter 8/ })).toBeHidden();
  expect((await links()).filter((l) => /^127\.0\.1\.[789]:/.test(l.name)).map((l) => l.enabled)).toEqual([
    false,
    false,
    false,
  ]);
});

test('the settings of one device are copied to another, and given back', async ({ page }) => {
  const list = page.getByRole('region', { name: 'Links and devices' });
  const device = page.getByRole('heading', { name: 'Mixer meter' }).locator('..');
  await page.goto('/field');
  await list.getByRole('button', { name: /Mixer meter unit 1/ }).click();
  await expect(device.getByText('Motor meter, floats with the low word first')).toBeVisible();
  await list.getByRole('button', { name: /Dishwasher meter/ }).click();
  await page.getByRole('button', { name: 'Copy map to' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByRole('button', { name: 'Choose devices' })).toBeDisabled();
  await expect(dialog.getByRole('checkbox', { name: /Oven meter/ })).toBeVisible();
  await expect(dialog.getByRole('checkbox', { name: /Plug meter/ })).toHaveCount(0); // sends messages, and has no registers
  await dialog.getByRole('checkbox', { name: /Mixer meter/ }).check();
  await dialog.getByRole('button', { name: 'Copy to 1' }).click();
  await expect(page.getByText('1 device has taken over the map of Dishwasher meter.')).toBeVisible();
  await list.getByRole('button', { name: /Mixer meter unit 1/ }).click();
  await expect(device.getByText('Single-phase meter, integer map')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(device.getByText('Motor meter, floats with the low word first')).toBeVisible();
  await expect(page.getByRole('row', { name: /^Voltage L1/ })).toContainText(/2\d\d\.\dV/);
  await expect(page.getByLabel('Voltage L1 belongs to')).toHaveValue(/\d+/); // its circuit again
});

test('a device that was removed is found at its circuit, and the same unit goes on with its readings', async ({
  page,
  request,
}) => {
  type Named = { id: number; name: string };
  const of = async <T extends Named>(path: string, name: string) =>
    ((await (await request.get(`/api${path}`)).json()) as T[]).find((one) => one.name === name) as T;
  const mixer = await of('/installation', 'Spiral mixer');
  const before = await of<Named & { mapId: number; linkId: number; unit: number }>('/devices', 'Mixer meter');
  await page.goto(`/field?device=${before.id}`);
  await page.getByRole('button', { name: 'Remove' }).click();
  // Where an earlier test has left a virtual meter that depends on it, that is said first.
  const taken = page.getByText('Mixer meter was removed. Its readings stay.');
  const anyway = page.getByRole('button', { name: 'Remove Mixer meter' });
  await expect(taken.or(anyway)).toBeVisible();
  if (await anyway.isVisible()) await anyway.click();
  await expect(taken).toBeVisible();
  await page.goto(`/board?at=${mixer.id}`);
  await page.getByText(/Read here before: Mixer meter, until/).click();
  const chip = page.getByRole('group', { name: 'Quantities of Mixer meter' }).getByRole('button').first();
  await chip.click();
  await expect(chip).toHaveAttribute('aria-pressed', 'true');
  await page.getByRole('button', { name: 'Export readings' }).click();
  await expect(page.getByRole('dialog').getByLabel('Point')).toBeVisible();
  await page.keyboard.press('Escape');
  const link = ((await (await request.get('/api/links')).json()) as Named[]).find(
    (l) => l.id === before.linkId,
  );
  const map = ((await (await request.get('/api/register-maps')).json()) as Named[]).find(
    (m) => m.id === before.mapId,
  );
  await page.goto('/field');
  await page.getByRole('button', { name: 'Add a device' }).first().click();
  const dialog = page.getByRole('dialog');
  const choose = async (label: string, option: string | RegExp) => {
    await dialog.getByLabel(label).click();
    await page.getByRole('option', { name: option }).first().click();
  };
  await dialog.getByLabel('Name').fill('Mixer meter');
  await choose('Link', new RegExp(`^${link?.name}`));
  await choose('Register map', map?.name ?? '');
  await choose('Its history', /Goes on from Mixer meter/);
  await dialog.getByRole('button', { name: 'Add device' }).click();
  await expect(dialog).toBeHidden();
  expect((await of('/devices', 'Mixer meter')).id).toBe(before.id);
  await page.goto(`/board?at=${mixer.id}`);
  await expect(page.getByText(/Read here before/)).toBeHidden();
  await expect(page.getByText('Power now')).toBeVisible();
});

test('a link on which a cut-off rests asks before it is switched off', async ({ page }) => {
  await page.goto('/field');
  await page
    .getByRole('button', { name: /Clamp node, bakery wall/ })
    .first()
    .click();
  const form = page.getByRole('dialog');
  await form
    .getByText('More')
    .click()
    .catch(() => undefined);
  await form.getByLabel('In use').uncheck();
  await form.getByRole('button', { name: 'Save' }).click();
  const ask = page.getByRole('dialog', { name: /Switch “Clamp node, bakery wall” off/ });
  await expect(ask.getByText(/Cut-off of/).first()).toBeVisible();
  await page.keyboard.press('Enter');
  await expect(ask).toBeHidden();
});
