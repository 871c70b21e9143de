import type { Calibration, ChangedMonth } from '@loka/contract/calibration';
import { Loka } from './support/loka.js';
import { register } from './support/point.js';
import { DAY, HOUR, MINUTE, Recorded } from './support/recorded.js';

// A counter without a power beside it, as pulse meters are: 2 kW for a day, in steps of 10 Wh.
let loka: Loka;
let site: Recorded;
const START = Math.floor(Date.now() / DAY) * DAY - 3 * DAY;
beforeAll(async () => {
  loka = await Loka.start(undefined, { acquire: false });
  site = await Recorded.make(loka, [
    register('in', 0, { quantity: 'energy-import', unit: 'Wh', phase: 'total', type: 'float32' }),
  ]);
  await site.minutely('in', START, 1441, (i) => 5_000_000 + Math.floor((2000 * i) / 600 + 1e-9) * 10);
  await site.rollUp();
});
afterAll(() => loka.stop());

const input = (reference: number, more: object = {}) => ({
  pointId: site.id('in'),
  points: [
    {
      label: 'Day',
      kind: 'instrument',
      name: 'Reference',
      from: START,
      to: START + 12 * HOUR,
      reference,
      percent: 0.5,
    },
  ],
  validFrom: START + 6 * HOUR,
  withPower: false,
  ...more,
});

it('a counter is compared by what it has counted, and scaled from an instant on; taken back it counts as before', async () => {
  // The reference has counted 2.5 % more: 24.6 kWh where it says 24.
  const preview = await loka.ask<ChangedMonth[]>('/calibrations/preview', 'POST', input(24_600));
  const change = preview.reduce((sum, m) => sum + (m.after as number) - (m.before as number), 0);
  expect(change).toBeCloseTo(0.025 * 2000 * 18, 0);
  const made = await loka.ask<Calibration>('/calibrations', 'POST', input(24_600));
  expect(made).toMatchObject({ offset: 0, fit: { method: 'gain' } });
  expect(made.gain).toBeCloseTo(1.025, 9);
  expect(made.points[0]?.capture.mean).toBe(24_000);
  expect(made.points[0]?.asFound).toBeCloseTo(100 * (24 / 24.6 - 1), 9);
  expect((await site.energy(START, START + 6 * HOUR)).import).toBeCloseTo(12_000, 6);
  expect((await site.energy(START + 6 * HOUR, START + DAY)).import).toBeCloseTo(36_000 * 1.025, 6);
  await loka.ask(`/calibrations/${made.id}/undo`, 'POST');
  expect((await site.energy(START, START + DAY)).import).toBeCloseTo(48_000, 6);
});

it('what it did not count, or was not read at, makes no point; nor is there an offset of a counter', async () => {
  const at = (from: number, to: number) =>
    loka.raw(`/calibrations/capture?point=${site.id('in')}&from=${from}&to=${to}`);
  expect(await at(START - DAY, START + HOUR)).toMatchObject({
    status: 422,
    body: { detail: expect.stringContaining('was not read at the beginning of that time') },
  });
  expect(await at(START + HOUR, START + HOUR + 1)).toMatchObject({
    status: 422,
    body: { detail: expect.stringContaining('counted nothing') },
  });
  await site.minutely('in', START + DAY + MINUTE, 60, (i) => 100 * i);
  expect(await at(START, START + DAY + HOUR)).toMatchObject({
    status: 422,
    body: { detail: expect.stringContaining('went back in that time') },
  });
  for (const more of [{ method: 'line' }, { method: 'offset' }, { noLoad: 5 }])
    expect(await loka.raw('/calibrations', 'POST', input(24_600, more))).toMatchObject({
      status: 422,
      body: { errors: [{ field: 'method' }] },
    });
});
