import type { PlaceWeather } from '@loka/contract/profile';
import type { Site } from '@loka/contract/site';
import { Loka } from './support/loka.js';
import { register } from './support/point.js';
import { DAY, MINUTE, Recorded, spareCircuit } from './support/recorded.js';

// Eighteen days, each a little warmer than the one before; a load that heats below 14 °C.
let loka: Loka;
let site: Recorded;
const STEP = 10 * MINUTE;
const DAYS = 18;
const START = Math.floor(Date.now() / DAY) * DAY - (DAYS + 1) * DAY;
const celsius = (day: number) => 8 + 0.6 * day;
const watts = (day: number) => 100 + 10 * Math.max(0, 14 - celsius(day));

const ask = (node = site.place, from = START, to = START + DAYS * DAY) =>
  loka.ask<PlaceWeather>(`/profile/${node}/weather?from=${from}&to=${to}`);
const chooseThermometer = async (outdoorPointId: number | null) => {
  const { site: now } = await loka.ask<{ site: Site }>('/site');
  const { id: _id, ...values } = now;
  return loka.ask('/site', 'PUT', { ...values, timeZone: 'UTC', closedDays: [], outdoorPointId });
};

beforeAll(async () => {
  loka = await Loka.start(undefined, { acquire: false });
  site = await Recorded.make(
    loka,
    [
      register('power', 0, { quantity: 'active-power', unit: 'W', phase: 'total', type: 'float32' }),
      register('air', 2, { quantity: 'temperature', unit: '°C', phase: null, type: 'float32' }),
    ],
    STEP,
  );
  const readings = (of: (day: number) => number) =>
    Array.from({ length: (DAYS * DAY) / STEP }, (_, i) => ({
      t: START + i * STEP,
      v: of(Math.floor((i * STEP) / DAY)),
      q: 0,
    }));
  await site.store('power', readings(watts));
  await site.store('air', readings(celsius));
  await site.rollUp();
});
afterAll(() => loka.stop());

it('says that nothing measures the temperature until a thermometer is chosen', async () => {
  await expect(ask()).rejects.toThrow(/409.*Nothing measures the temperature outside/);
});

it('takes a thermometer only', async () => {
  await expect(chooseThermometer(site.id('power'))).rejects.toThrow(/measures a temperature/);
  await expect(chooseThermometer(987_654)).rejects.toThrow(/measures a temperature/);
});

it('finds that it takes 240 Wh a day more for each degree below 14 °C', async () => {
  await chooseThermometer(site.id('air'));
  const { days, wholeDays, fit, pointId } = await ask();
  expect(pointId).toBe(site.id('air'));
  expect([days.length, wholeDays]).toEqual([DAYS, DAYS]);
  // 0.6 °C a day: 8, 8.6, …; of the tenth of a watt-hour and of a degree that a float keeps.
  days.forEach((d, i) => {
    expect(d.celsius).toBeCloseTo(celsius(i), 3);
    expect(d.energy).toBeCloseTo(24 * watts(i), 1);
  });
  expect(fit).toMatchObject({ side: 'below', base: 14, bends: true });
  expect(fit?.perKelvin).toBeCloseTo(240, 1);
});

it('a day that is not over does not count, nor one that was hardly read', async () => {
  const { days, wholeDays } = await ask(site.place, START + 6 * 3_600_000, START + DAYS * DAY - STEP);
  expect(wholeDays).toBe(DAYS - 2);
  expect(days.map((d) => d.start)).not.toContain(START);
  const { days: later, wholeDays: over } = await ask(site.place, START + 16 * DAY, START + 20 * DAY);
  expect(later).toHaveLength(2);
  expect(over).toBeGreaterThanOrEqual(3);
});

it('nothing measures a spare way: it says so', async () => {
  const { spare } = await spareCircuit(loka);
  await expect(ask(spare)).rejects.toThrow(/Nothing measures/);
});

it('once the thermometer is removed it says so, and the site can still be saved', async () => {
  const [{ id }] = await loka.ask<[{ id: number }]>('/devices');
  await loka.ask(`/devices/${id}`, 'DELETE');
  await expect(ask()).rejects.toThrow(/The thermometer outside was removed/);
  await chooseThermometer(site.id('air'));
  await chooseThermometer(null);
});
