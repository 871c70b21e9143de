import type { EnergyReport } from '@loka/contract/report';
import type { PlaceProfile } from '@loka/contract/profile';
import { Loka } from './support/loka.js';
import { register } from './support/point.js';
import { DAY, HOUR, MINUTE, Recorded } from './support/recorded.js';

// A place of which only a counter is read: 1200 W from 08:00 to 16:00, 60 W else, counted in steps of 10 Wh, with a gap of two hours.
let loka: Loka;
let site: Recorded;
const START = Math.floor(Date.now() / DAY) * DAY - 6 * DAY;
const DAYS = 5;
const GAP = { from: 2 * 1440 + 600, to: 2 * 1440 + 720 };
const watts = (minute: number) => (minute % 1440 >= 480 && minute % 1440 < 960 ? 1200 : 60);

beforeAll(async () => {
  loka = await Loka.start(undefined, { acquire: false });
  site = await Recorded.make(loka, [
    register('in', 0, { quantity: 'energy-import', unit: 'Wh', phase: 'total', type: 'float32' }),
  ]);
  let counted = 0;
  const readings = Array.from({ length: DAYS * 1440 + 1 }, (_, i) => {
    const now = counted;
    counted += watts(i) / 60;
    return Math.floor(now / 10) * 10;
  });
  await site.minutely('in', START, readings.length, (i) =>
    i >= GAP.from && i < GAP.to ? null : (readings[i] as number),
  );
  await site.rollUp();
}, 60_000);
afterAll(() => loka.stop());

const ask = (from: number, to: number) =>
  loka.ask<PlaceProfile>(`/profile/${site.place}?from=${from}&to=${to}`);

it('energy, days and demand are told by quarter-hours; levels and runs are not', async () => {
  const got = await ask(START, START + DAYS * DAY);
  expect(got).toMatchObject({
    source: 'counter',
    step: 15 * MINUTE,
    runs: null,
    recurring: [],
    summed: null,
    without: [],
  });
  expect(got.levels.levels).toEqual([]);
  // 8 h of 1200 W and 16 h of 60 W are 10.56 kWh a day; of the gap nobody knows when its 2.4 kWh were taken.
  expect(got.energy / (DAYS * 10_560 - 2400)).toBeCloseTo(1, 2);
  expect(Math.abs(got.known - (DAYS * DAY - 2 * HOUR))).toBeLessThanOrEqual(30 * MINUTE);
  const quarter = got.demand.find((d) => d.block === 15 * MINUTE)?.highest;
  // Within a step of the counter, 10 Wh, of 300 Wh a quarter-hour.
  expect(Math.abs((quarter?.watts ?? 0) - 1200)).toBeLessThanOrEqual(40);
  expect(got.dayTypes.reduce((n, d) => n + d.rows.length, 0)).toBe(DAYS);
  const noon = got.carpet.watts[got.carpet.columns / 2] as number;
  expect(Math.abs(noon - 1200)).toBeLessThanOrEqual(40);
});

it('what follows from a power alone is refused, and a report is made', async () => {
  const at = `from=${START}&to=${START + DAY}`;
  expect((await loka.raw(`/profile/${site.place}/duration?${at}`)).status).toBe(409);
  const whatIf = { from: START, to: START + DAY, change: 'standby' };
  expect((await loka.raw(`/profile/${site.place}/what-if`, 'POST', whatIf)).status).toBe(409);
  const report = await loka.ask<EnergyReport>(`/reports/now?node=${site.place}&period=7-days`);
  expect(report.profile.source).toBe('counter');
  expect((report.total.taken ?? 0) / DAYS / 10_560).toBeCloseTo(1, 2);
});

it('an hour, a minute, before anything was counted, and the future', async () => {
  const hour = await ask(START + 9 * HOUR, START + 10 * HOUR);
  expect(Math.abs(hour.energy - 1200)).toBeLessThanOrEqual(20);
  expect((await ask(START + MINUTE, START + 2 * MINUTE)).known).toBe(0);
  expect(await ask(START - 30 * DAY, START - 20 * DAY)).toMatchObject({
    known: 0,
    energy: 0,
    duration: null,
  });
  const future = Date.now() + DAY;
  expect((await loka.raw(`/profile/${site.place}?from=${future}&to=${future + DAY}`)).status).toBe(422);
});
