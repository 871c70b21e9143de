import { fileURLToPath } from 'node:url';
import { expect, test } from '@playwright/test';
import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { createInterface } from 'node:readline';
import { freePort, listens } from '../scripts/lib/ports.mjs';
import { SAMPLE_URL } from './story.js';

// A device that nobody has a map of: its table changes with each run, and is made, written and served without Loka.
test.use({ baseURL: SAMPLE_URL });

interface Told {
  lowFirst: boolean;
  kind: string;
  rows: {
    name: string;
    address: number;
    type: string;
    factor: number;
    quantity: string;
    unit: string;
    value: number;
  }[];
}

const PREFIX: Record<string, number> = { m: 1e-3, k: 1e3, M: 1e6 };
/** The number that a cell shows, in its base unit. */
function shown(text: string, unit: string): number {
  const [, digits = '', prefix = ''] =
    new RegExp(`^([−\\d.]+)\\s*([mkM]?)${unit}`).exec(text.trim().replace('\u202f', '')) ?? [];
  return Number(digits.replace('−', '-')) * (PREFIX[prefix] ?? 1);
}

test('a meter whose table is new is tried, pasted in, set right for all rows at once, and read', async ({
  page,
}) => {
  const seed = Date.now() % 1_000_000;
  test.info().annotations.push({ type: 'seed', description: String(seed) });
  const port = await freePort();
  const script = fileURLToPath(new URL('../server/test/support/seededMeter.py', import.meta.url));
  const meter: ChildProcess = spawn('/usr/bin/python3', [script, String(port), String(seed)]);
  try {
    const [line] = (await once(
      createInterface({ input: meter.stdout as NodeJS.ReadableStream }),
      'line',
    )) as [string];
    const told = JSON.parse(line) as Told;
    await expect.poll(() => listens(port), { timeout: 20_000 }).toBe(true);

    const dialog = page.getByRole('dialog');
    await page.goto('/field');
    await page.getByRole('button', { name: 'Add a link' }).click();
    await dialog.getByLabel('Name').fill('New cabinet');
    await dialog.getByLabel('Host').fill('127.0.0.1');
    await dialog.getByLabel('Port').fill(String(port));
    await dialog.getByRole('button', { name: 'Add link' }).click();
    await expect(dialog).toBeHidden();
    await page
      .locator('div', { has: page.getByRole('button', { name: /New cabinet/ }) })
      .getByRole('button', { name: 'Add a device' })
      .last()
      .click();
    await dialog.getByLabel('Name').fill(`Meter of seed ${seed}`);
    // A unit at which nobody answers is not taken over.
    await dialog.getByLabel('Unit id').fill('4');
    await dialog.getByRole('button', { name: 'Add device' }).click();
    await expect(dialog.getByText('Unit 4 does not answer there.')).toBeVisible({ timeout: 20_000 });
    await dialog.getByLabel('Unit id').fill('3');
    await dialog.getByLabel('Register map').click();
    await page.getByRole('option', { name: 'Make a new map' }).click();
    await dialog.getByRole('button', { name: 'Add device' }).click();

    // Its table as a spreadsheet would give it; the order of words is not in it.
    const table = told.rows
      .map((r) => [r.name, told.kind, r.address, 'from 0', r.type, r.factor, r.quantity, r.unit].join('\t'))
      .join('\n');
    await page.getByLabel('Paste a table here').evaluate((field, data) => {
      const clipboard = new DataTransfer();
      clipboard.setData('text/plain', data);
      field.dispatchEvent(
        new ClipboardEvent('paste', { clipboardData: clipboard, bubbles: true, cancelable: true }),
      );
    }, table);
    await expect(page.getByLabel('Name', { exact: true })).toHaveCount(18);
    if (told.lowFirst)
      await page
        .getByRole('group', { name: 'For all rows' })
        .getByLabel('Words, bytes')
        .selectOption('low, high');
    for (const { name, value, unit } of told.rows) {
      const row = page.locator('tr', { has: page.getByLabel(`Kind of ${name}`, { exact: true }) });
      // Name, words, and what they give, to three digits.
      const gives = row.locator('td').nth(2);
      await expect(async () => {
        const got = shown(await gives.innerText(), unit);
        expect(Math.abs(got - value)).toBeLessThanOrEqual(0.005 * Math.abs(value) + 0.0501);
      }).toPass({ timeout: 20_000 });
    }
    await page.getByRole('button', { name: 'Save map' }).click();
    await expect(page.getByText(/saved/i).first()).toBeVisible();
    await page
      .getByRole('button', { name: 'Back' })
      .or(page.getByRole('link', { name: 'Back' }))
      .click();
    const first = told.rows[0] as Told['rows'][0];
    await expect(page.getByRole('row', { name: new RegExp(`^${first.name}`) })).toContainText(/\d/);
  } finally {
    meter.kill('SIGKILL');
    const ask = page.request;
    const devices = (await (await ask.get('/api/devices')).json()) as {
      id: number;
      name: string;
      linkId: number;
    }[];
    const made = devices.find((d) => d.name === `Meter of seed ${seed}`);
    if (made) {
      await ask.delete(`/api/devices/${made.id}?anyway=true`);
      await ask.delete(`/api/links/${made.linkId}`);
    }
  }
});
