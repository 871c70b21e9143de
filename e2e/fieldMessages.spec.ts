import { expect, test, type Page } from '@playwright/test';
import { SAMPLE_URL, storyPage } from './story.js';

// On the sample site: a door at which a script posts, a map of messages under edit, a virtual meter that is changed.
test.use({ baseURL: SAMPLE_URL });

interface Named {
  id: number;
  name: string;
}
let page: Page;
storyPage((fresh) => void (page = fresh), SAMPLE_URL);
const dialog = () => page.getByRole('dialog');
const ask = async <T>(path: string): Promise<T> =>
  (await (await page.request.get(`/api${path}`)).json()) as T;

test('a push link gives its token once; what a script posts becomes a value with a click, and reads on', async () => {
  await page.goto('/field');
  await page.getByRole('button', { name: 'Add a link' }).click();
  await dialog().getByLabel('Name').fill('Boiler script');
  await dialog()
    .getByLabel(/reached/)
    .click();
  await page.getByRole('option', { name: /HTTP push/ }).click();
  await dialog().getByRole('button', { name: 'Add link' }).click();
  const token = await dialog().getByLabel('Token', { exact: true }).inputValue();
  expect(token.length).toBeGreaterThan(20);
  await expect(dialog().getByLabel('For example')).toHaveValue(new RegExp(`Bearer ${token}`));
  await dialog().getByRole('button', { name: 'I have it' }).click();

  const link = (await ask<Named[]>('/links')).find((l) => l.name === 'Boiler script');
  const post = (watts: number, bearer = token) =>
    page.request.post(`/api/push/${link?.id}/boiler`, {
      data: { heating: { watts }, on: true },
      headers: { authorization: `Bearer ${bearer}` },
    });
  expect((await post(1)).status()).toBe(200);
  expect((await post(1, 'another')).status()).toBe(401);
  await page.goto(`/field/topics/${link?.id}`);
  await page
    .getByRole('treeitem', { name: /boiler/ })
    .getByRole('button')
    .click();
  await page.getByRole('button', { name: /\/heating\/watts/ }).click();
  await dialog().getByLabel('Name of the device').fill('Boiler');
  await expect(dialog().getByLabel('Quantity')).toHaveText('Active power');
  await dialog().getByLabel('Name of the value').fill('Boiler power');
  await dialog().getByRole('button', { name: 'Read this value' }).click();
  await expect(page.getByText(/is read|is connected|Boiler power/).first()).toBeVisible();
  expect((await post(1150)).status()).toBe(200);
  const device = (await ask<Named[]>('/devices')).find((d) => d.name === 'Boiler');
  await page.goto(`/field?device=${device?.id}`);
  await expect(page.getByRole('row', { name: /Boiler power/ })).toContainText('1.15kW');
  await page.reload();
  await expect(page.getByText(token)).toHaveCount(0);
});

test('a map of messages: what a row gives, what cannot be, undo, and saving', async () => {
  const device = (await ask<Named[]>('/devices')).find((d) => d.name === 'Plug meter, cabinet') as Named;
  await page.goto(`/field?device=${device.id}`);
  await page.getByRole('link', { name: 'Edit points' }).click();
  const gives = (name: string) =>
    page.getByRole('row').filter({ has: page.locator(`input[aria-label="Name"][value="${name}"]`) });
  await expect(gives('Voltage')).toContainText(/2\d\d\.\dV/);
  const pointer = page.getByLabel('Pointer of Voltage');
  await pointer.fill('/mains/volt');
  await expect(gives('Voltage')).toContainText('There is nothing at “/mains/volt”');
  await pointer.fill('mains');
  await expect(page.getByRole('alert').filter({ hasText: 'Voltage' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Save map' })).toBeDisabled();
  await expect(page.getByRole('link', { name: 'Discard' })).toBeVisible();
  for (let i = 0; i < 2; i++) await page.getByRole('button', { name: 'Undo' }).click();
  await expect(pointer).toHaveValue('/mains/volts');
  await expect(page.getByRole('link', { name: 'Back' })).toBeVisible();
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(pointer).toHaveValue('/mains/volt');
  await page.keyboard.press('Control+z');
  await page.getByRole('button', { name: 'Add a value' }).click();
  await page.locator('input[aria-label="Name"]').last().fill('Phase shift');
  await page.getByLabel('Pointer of Phase shift').fill('/mains/factor');
  await page.getByLabel('Quantity of Phase shift').selectOption({ label: 'Power factor' });
  await page.getByRole('button', { name: 'Save map' }).click();
  await expect(dialog()).toContainText('Phase shift');
  await expect(dialog()).toContainText('Plug meter, prover');
  await dialog()
    .getByRole('button', { name: /^Apply/ })
    .click();
  await expect(page.getByRole('row', { name: /Phase shift/ })).toContainText(/0\.\d+/);
});

test('a virtual meter is changed, refuses to be computed from itself, is removed and put back', async () => {
  await page.goto('/field');
  await page
    .getByRole('button', { name: /^Site demand/ })
    .first()
    .click();
  const short = dialog().getByLabel('Short name of Main meter, Active power');
  await short.fill('from the net');
  await short.blur();
  await expect(short).toHaveValue('grid'); // no name of a formula: it is put back
  await short.fill('net');
  await short.blur();
  await expect(dialog().getByLabel('Formula')).toHaveValue('net + roof + battery');
  await dialog().getByRole('button', { name: 'Save' }).click();
  await expect(page.getByText('Site demand is computed from now on')).toBeVisible();

  const meters = await ask<{ pointId: number; name: string }[]>('/virtual-meters');
  const demand = meters.find((m) => m.name === 'Site demand');
  const itself = await page.request.put(`/api/virtual-meters/${demand?.pointId}`, {
    data: {
      name: 'Site demand',
      formula: 'a',
      inputs: [{ name: 'a', pointId: demand?.pointId }],
      quantity: 'active-power',
      phase: 'total',
      nodeId: null,
      intervalMs: 1000,
    },
  });
  expect(itself.status()).toBe(422);
  expect(((await itself.json()) as { detail: string }).detail).toContain('computed from itself');

  await page
    .getByRole('button', { name: /^Site demand/ })
    .first()
    .click();
  await dialog().getByRole('button', { name: 'Remove', exact: true }).click();
  await expect(page.getByText('Site demand was removed.')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('button', { name: 'Where Site demand comes from' })).toHaveText(/\dk?W/);
});

test('a value picked right after the page was opened goes to the device whose topic it is, at the pace at which it comes', async () => {
  const broker = (await ask<(Named & { kind: string })[]>('/links')).find((l) => l.kind === 'mqtt');
  await page.goto(`/field/topics/${broker?.id}`);
  await page
    .getByRole('treeitem', { name: /plug-cabinet/ })
    .getByRole('button', { name: /^report/ })
    .click();
  await page.getByRole('button', { name: /\/mains\/watts/ }).click();
  await expect(dialog().getByLabel('Device', { exact: true })).toHaveText('Plug meter, cabinet');
  await expect(dialog().getByLabel('Reports every')).toHaveValue('2 s');
  await dialog().getByRole('button', { name: 'Cancel' }).click();
});
