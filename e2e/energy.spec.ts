import { expect, test, type Page } from '@playwright/test';
import { SAMPLE_CONTROL, SAMPLE_URL } from './story.js';
import { typeInstant } from './typeInstant.js';

// On the sample site with its history: where energy comes from, exchanged meters, and what sits before a meter.
test.use({ baseURL: SAMPLE_URL });

const open = async (page: Page, name: RegExp, part?: string) => {
  await page.goto('/board');
  await page.getByRole('complementary', { name: 'Installation' }).getByRole('button', { name }).click();
  if (part)
    await page
      .getByRole('navigation', { name: /^Parts of/ })
      .getByRole('link', { name: part })
      .click();
};
const energy = (page: Page) => page.getByRole('region', { name: 'Energy', exact: true });

test('energy says where it comes from, and what the other source says of it', async ({ page }) => {
  await open(page, /Deck oven/, 'Energy');
  await expect(energy(page)).toContainText(
    /Counted by its meter; for yesterday its power says (the same|[\d.]+ % (more|less))/,
  );
  await open(page, /PV and battery inverter/, 'Energy');
  await expect(energy(page)).toContainText('From its power over time.');
  // What flows out stands apart from what flows in.
  await expect(energy(page).getByRole('columnheader', { name: 'out' })).toBeVisible();
  await expect(energy(page).getByRole('row', { name: /Yesterday/ })).toContainText(/−[\d.]+ ?kWh/);
});

test('an exchanged meter is entered with both readings, changes what was counted, and is taken back', async ({
  page,
}) => {
  await open(page, /Dishwasher/, 'Energy');
  const yesterday = () =>
    energy(page)
      .getByRole('row', { name: /Yesterday/ })
      .innerText();
  await expect(energy(page).getByRole('row', { name: /Yesterday/ })).toContainText('kWh');
  const before = await yesterday();
  await energy(page).getByRole('button', { name: 'Meter exchanged…' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel(/Last reading of the old/).fill('lots');
  await dialog.getByRole('button', { name: 'Enter' }).click();
  await expect(dialog.getByText('is a number').first()).toBeVisible();
  // Yesterday at noon, with a last reading far above what was counted: a megawatt-hour more.
  const noon = new Date(Date.now() - 86_400_000);
  await typeInstant(dialog, 'When', `${noon.toISOString().slice(0, 10)}T12:00:30`);
  await dialog.getByLabel(/Last reading of the old/).fill('9999');
  const now = await page.request.get('/api/points');
  const counter = ((await now.json()) as { id: number; deviceName: string; key: string }[]).find(
    (p) => p.deviceName === 'Dishwasher meter' && p.key === 'energy-import',
  );
  const [line] = (await (
    await page.request.get(
      `/api/readings?points=${counter?.id}&from=${Date.parse(`${noon.toISOString().slice(0, 10)}T12:00:00Z`)}&to=${Date.parse(`${noon.toISOString().slice(0, 10)}T12:02:00Z`)}&width=100`,
    )
  ).json()) as { mean: number[] }[];
  await dialog.getByLabel(/First reading of the new/).fill(String((line?.mean[0] ?? 0) / 1000));
  await dialog.getByRole('button', { name: 'Enter' }).click();
  await expect(dialog).toBeHidden();
  await expect.poll(yesterday).not.toBe(before);
  await expect.poll(yesterday).toContain('MWh');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(yesterday).toBe(before);
});

test('two turns through the clamp from now on halve what is read; taken back it reads as before', async ({
  page,
  request,
}) => {
  await open(page, /Walk-in cold room/);
  const current = async () =>
    Number(
      (await page.getByRole('button', { name: 'Where Current 1 comes from' }).innerText()).replace(
        /[^\d.]/g,
        '',
      ),
    );
  await expect.poll(current).toBeGreaterThan(0.2);
  const points = (await (await request.get('/api/points')).json()) as {
    id: number;
    deviceName: string;
    key: string;
  }[];
  const id = points.find((p) => p.deviceName === 'Clamp node' && p.key === 'current-1')?.id;
  // Its compressor comes and goes: what is read is compared with what flows.
  const ofTruth = async () => {
    const [series] = (await (
      await request.get(
        `/api/readings?points=${id}&from=${Date.now() - 10_000}&to=${Date.now() + 1000}&width=100`,
      )
    ).json()) as { mean: number[] }[];
    const state = (await (await request.get(`${SAMPLE_CONTROL}/state`)).json()) as {
      loads: Record<'cold-room', { L2: { watts: number; vars: number; volts: number } }>;
    };
    const { watts, vars, volts } = state.loads['cold-room'].L2;
    return (series?.mean.at(-1) ?? NaN) / (Math.hypot(watts, vars) / volts);
  };
  const reads = (share: number) =>
    expect.poll(async () => Math.abs((await ofTruth()) / share - 1), { timeout: 30_000 }).toBeLessThan(0.15);
  await reads(1);
  await page
    .getByRole('navigation', { name: /^Parts of/ })
    .getByRole('link', { name: 'Wiring' })
    .click();
  const panel = page.locator('section').filter({ has: page.getByRole('heading', { name: 'Transducer' }) });
  await panel.getByRole('button', { name: 'Change…' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Turns through it').fill('0');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog.getByText('goes through at least once')).toBeVisible();
  await dialog.getByLabel('Turns through it').fill('2');
  await dialog.getByRole('button', { name: 'Save' }).click();
  await expect(dialog).toBeHidden();
  await expect(panel).toContainText('2 turns');
  await reads(0.5);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(panel).toContainText('one turn');
  await reads(1);
});
