import type { PlaceVoltage } from '@loka/contract/profile';
import { Loka } from './support/loka.js';
import { register } from './support/point.js';
import { DAY, MINUTE, Recorded } from './support/recorded.js';

// Two recorded days of a voltage: 231 V, 200 V for the first hour of the second day.
let loka: Loka;
let site: Recorded;
const START = Math.floor(Date.now() / DAY) * DAY - 4 * DAY;

beforeAll(async () => {
  loka = await Loka.start(undefined, { acquire: false });
  site = await Recorded.make(loka, [
    register('volts', 0, { quantity: 'voltage', unit: 'V', phase: 'L2', type: 'float32' }),
  ]);
  await site.minutely('volts', START, 2881, (m) => (m >= 1440 && m < 1500 ? 200 : 231));
  await site.rollUp();
}, 60_000);
afterAll(() => loka.stop());

const address = (from: number, to: number, node = site.place) =>
  `/profile/${node}/voltage?from=${from}&to=${to}`;

it('shares, extremes and dips of what was recorded', async () => {
  const got = await loka.ask<PlaceVoltage>(address(START, START + 2 * DAY));
  expect(got.phases).toHaveLength(1);
  const [phase] = got.phases;
  expect(phase).toMatchObject({ phase: 'L2', readEvery: MINUTE, known: 288, possible: 288, start: START });
  // Six of 288 lie below 207 V.
  expect(phase?.within).toBeCloseTo(282 / 288, 9);
  expect(phase?.withinWide).toBe(1);
  expect(phase?.lowest).toEqual({ volts: 200, at: START + DAY });
  expect(phase?.dips).toEqual([{ start: START + DAY, end: START + DAY + 60 * MINUTE, volts: 200 }]);
  expect(phase?.means[144]).toBe(200);
});

it('a place without a voltage, one that is not there, and too long a period are told', async () => {
  expect((await loka.raw(address(START, START + DAY, site.supply))).status).toBe(409);
  expect((await loka.raw(address(START, START + DAY, 9999))).status).toBe(404);
  const long = await loka.raw(address(START - 90 * DAY, START));
  expect(long).toMatchObject({ status: 422, body: { errors: [{ field: 'to' }] } });
});
