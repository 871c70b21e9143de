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
