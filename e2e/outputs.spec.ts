import { expect, test } from '@playwright/test';
import { BENCH_CONTROL, BENCH_URL } from './story.js';

// On the sample site: the relay of the hot-water cylinder, whose 3 kW are switched on by hand for it.
test.use({ baseURL: BENCH_URL });

const load = (mode: string) =>
  fetch(`${BENCH_CONTROL}/loads/hot-water`, { method: 'PUT', body: JSON.stringify({ mode }) });
const contact = async () =>
  ((await (await fetch(`${BENCH_CONTROL}/state`)).json()) as { contacts: Record<string, boolean> }).contacts[
    'hot-water'
  ];

test('an output is tried after asking, its circuit moves with it, and it is put back', async ({ page }) => {
  await load('on');
  await page.goto('/bench');
  const outputs = page.getByRole('region', { name: 'Outputs' });
  const row = outputs.getByRole('row').filter({ hasText: 'Way 2 · Hot-water cylinder' });
  // Its load has run for a while, so that there is a level to move from.
  const power = (await (await page.request.get('/api/installation')).json()) as {
    name: string;
    powerPointIds: number[];
  }[];
  const id = power.find((n) => n.name === 'Hot-water cylinder')?.powerPointIds[0];
  await expect
    .poll(
      async () => {
        const now = Date.now();
        const answer = await page.request.get(
          `/api/readings?points=${id}&from=${now - 9000}&to=${now}&width=200`,
        );
        const [series] = (await answer.json()) as { mean: (number | null)[] }[];
        const watts = (series?.mean ?? []).flatMap((v) => v ?? []);
        return watts.length < 5 ? 0 : Math.min(...watts);
      },
      { timeout: 60_000 },
    )
    .toBeGreaterThan(2000);
  await expect(row.getByRole('button', { name: 'Try it' })).toBeEnabled();
  await row.getByRole('button', { name: 'Try it' }).click();
  const dialog = page.getByRole('dialog');
  await expect(dialog).toContainText('loses its supply for that time');
  expect(await contact()).toBe(true);
  await dialog.getByRole('button', { name: /^Open .+ for 12 s$/ }).click();
  await expect(row.getByRole('status')).toContainText(/open, back in \d+ s/);
  expect(await contact()).toBe(false);
  await expect(row).toContainText(/pass ?\d\.\d+ kW came and went with the relay/, { timeout: 60_000 });
  expect(await contact()).toBe(true);
  // A second time, and back at once.
  await row.getByRole('button', { name: 'Try it' }).click();
  await dialog.getByRole('button', { name: /^Open .+ for 12 s$/ }).click();
  await row.getByRole('button', { name: 'Put it back now' }).click();
  await expect(row).toContainText('Stopped before it had been seen.');
  await expect.poll(contact).toBe(true);
  await load('auto');
});
