import { expect, test } from '@playwright/test';
import { SAMPLE_URL } from './story.js';

// Finding out what a register means, on a device of the sample site whose map is not known.
test.use({ baseURL: SAMPLE_URL });

test('a voltage is found from an address that is one too high, and the whole map takes its counting', async ({
  page,
  request,
}) => {
  const post = async (path: string, data: object) =>
    (await (await request.post(`/api${path}`, { data })).json()) as { id: number };
  const [link] = (await (await request.get('/api/links')).json()) as { id: number }[];
  const map = await post('/register-maps', {
    name: `Unknown meter ${Date.now()}`,
    description: '',
    points: [],
  });
  const device = await post('/devices', { linkId: link!.id, mapId: map.id, name: 'Unknown meter', unit: 1 });
  await page.goto(`/field/map/${map.id}?device=${device.id}`);
  await page.getByRole('button', { name: 'Add a value' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Voltage L3');
  await page.getByLabel('Address of Voltage L3').fill('5'); // the maker counts from 1: on the wire it is 4
  await page.getByRole('button', { name: 'Find out what Voltage L3 is' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('button', { name: 'Look' }).click();
  const best = dialog.getByRole('list', { name: 'What fits' }).getByRole('listitem').first();
  await expect(best).toContainText(/2[23]\d\.\dV/);
  await expect(best).toContainText('float32');
  await expect(best).toContainText('counts from 1');
  await dialog.getByLabel('Kind, counting and order for all values of the map').check();
  await best.getByRole('button', { name: 'Take this' }).click();
  await expect(page.getByLabel('Counting of Voltage L3')).toHaveValue('from-1');
  await expect(page.getByRole('row', { name: /Voltage L3/ }).getByText(/2[23]\d\.\d/)).toBeVisible();
  // What is not there is said to be not there.
  await page.getByRole('button', { name: 'Find out what Voltage L3 is' }).click();
  await dialog.getByLabel('What do you know about it?').click();
  await page.getByRole('option', { name: 'The frequency near 50 Hz' }).click();
  // Once in a hundred looks the low word of a voltage is 50 Hz by chance; it does not stay so.
  await expect(async () => {
    await dialog.getByRole('button', { name: 'Look' }).click();
    await expect(dialog.getByText(/^Nothing fits/)).toBeVisible({ timeout: 10_000 });
  }).toPass({ timeout: 60_000 });
  await dialog.getByRole('button', { name: 'Close' }).click();
  await page.keyboard.press('Control+z');
  await expect(page.getByLabel('Counting of Voltage L3')).toHaveValue('from-0');
  await request.delete(`/api/devices/${device.id}`);
});
