import { expect, test } from '@playwright/test';

// Register maps as files, through the interface.
test.use({ baseURL: process.env.LOKA_SAMPLE_URL ?? 'http://localhost:8420' });

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
  await page.getByRole('button', { name: 'Copy' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByLabel('Unit id')).toHaveValue('2');
  await expect(dialog.getByLabel('Name')).toHaveValue('Clamp node 2');
  await dialog.getByRole('button', { name: 'Add device' }).click();
  await expect(page.getByRole('heading', { name: 'Clamp node 2' })).toBeVisible();
  await expect(page.getByText(/Unit 2 gave no answer/).first()).toBeVisible(); // there is no unit 2 at this address, and it says so
  await page.getByRole('button', { name: 'Take off' }).click();
  await expect(page.getByText('Clamp node 2 was taken off.')).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  const entry = page
    .getByRole('region', { name: 'Links and devices' })
    .getByRole('button', { name: /Clamp node 2/ });
  await entry.click();
  await page.getByRole('button', { name: 'Take off' }).click();
  await expect(entry).toBeHidden();
});
