import type { LoadDraw } from '@loka/contract/control';
import { Loka } from './support/loka.js';
import { register } from './support/point.js';
import { MINUTE, Recorded } from './support/recorded.js';

// What whoever sets a limit is told of the load behind it.
let loka: Loka;
let site: Recorded;
beforeAll(async () => {
  loka = await Loka.start();
  site = await Recorded.make(loka, [
    register('current', 0, {
      quantity: 'current',
      unit: 'A',
      phase: 'L1',
      type: 'uint16',
      scaling: { kind: 'factor', factor: 1, offset: 0 },
    }),
    register('rare', 2, { quantity: 'current', unit: 'A', phase: 'L2' }),
  ]);
}, 60_000);
afterAll(() => loka.stop());

const draw = (key: string) => loka.ask<LoadDraw>(`/points/${site.id(key)}/draw`);

it('the usual draw leaves out a surge of one minute in two hundred; the uncertainty is that of an uncalibrated clamp in steps of 1 A', async () => {
  const begun = Math.floor(Date.now() / MINUTE) * MINUTE - 240 * MINUTE;
  // Backwards: of a current the sign says how the clamp sits.
  await site.minutely('current', begun, 200, (i) => (i === 77 ? -40 : -10));
  await site.minutely('rare', begun, 20, () => 10);
  await site.rollUp();
  const { usual, uncertainty, calibrated } = await draw('current');
  expect([usual, calibrated]).toEqual([10, false]);
  // 2 · √((0.05 · 10 / √3)² + (1 / √12)²), as in core's test.
  expect(uncertainty).toBeCloseTo(0.816497, 5);
});
it('of twenty minutes nothing is said to be usual; of no point there is nothing', async () => {
  expect(await draw('rare')).toEqual({ usual: null, uncertainty: null, calibrated: false });
  expect((await loka.raw('/points/99999/draw')).status).toBe(404);
});
