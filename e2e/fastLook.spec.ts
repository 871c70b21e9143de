import { expect, test } from '@playwright/test';
import { BENCH_CONTROL, BENCH_URL } from './story.js';

// A motor's start in the fast look, against what the building truly drew.
test.use({ baseURL: BENCH_URL });

test('the mixer’s starting current is seen, with its peak, and kept', async ({ page, request }) => {
  const load = (mode: string) => request.put(`${BENCH_CONTROL}/loads/mixer`, { data: { mode } });
  const amperes = async () => {
    const state = (await (await request.get(`${BENCH_CONTROL}/state`)).json()) as {
      loads: Record<string, Record<'L1', { amperes: number; watts: number; vars: number; volts: number }>>;
    };
    const { watts, vars, volts } = (
      state.loads['mixer'] as { L1: { watts: number; vars: number; volts: number } }
    ).L1;
    return Math.hypot(watts, vars) / volts;
  };
  const nodes = (await (await request.get('/api/installation')).json()) as { id: number; name: string }[];
  try {
    await load('off');
    await page.goto(`/board?at=${nodes.find((n) => n.name === 'Spiral mixer')?.id}`);
    const look = page.getByRole('region', { name: 'Fast look' });
    await look.getByRole('button', { name: 'Look', exact: true }).click();
    await expect(look.getByText(/s left/)).toBeVisible();
    await expect(look.getByText(/Nothing has risen yet/)).toBeVisible();
    await load('on');
    // Its peak lasts for six tenths of a second; the building says itself what it is.
    let peak = 0;
    await expect
      .poll(async () => (peak = Math.max(peak, await amperes())), { intervals: [20] })
      .toBeGreaterThan(10);
    await expect(look.getByRole('button', { name: 'Look', exact: true })).toBeVisible({ timeout: 20_000 });
    const words = await look.getByRole('status').innerText();
    const [, seen = NaN, settled = NaN] = (/peak ([\d.]+) A.*settled at ([\d.]+) A/.exec(words) ?? []).map(
      Number,
    );
    expect(Math.abs(seen / peak - 1)).toBeLessThan(0.03);
    expect(Math.abs(settled / (await amperes()) - 1)).toBeLessThan(0.03);
    // It is still there for who comes later.
    await page.reload();
    await expect(look.getByRole('status')).toContainText(`peak ${seen} A`);
  } finally {
    await load('auto');
  }
});
