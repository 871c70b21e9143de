import type { NodeEnergy } from '@loka/contract/energy';
import type { SensingVersion } from '@loka/contract/sensing';
import { QUALITY } from '@loka/core/series';
import { Intake } from '../src/acquisition/intake.js';
import { LiveReadings } from '../src/live/liveReadings.js';
import { Loka } from './support/loka.js';
import { register } from './support/point.js';
import { HOUR, MINUTE, Recorded } from './support/recorded.js';

// What sits before the meter on one circuit: it reaches readings, rollups and energy from its instant on, and never what is stored.
let loka: Loka;
let site: Recorded;
const START = Date.parse('2026-06-01T00:00:00Z');
const HALF = START + 30 * MINUTE;
beforeAll(async () => {
  loka = await Loka.start(undefined, { acquire: false });
  site = await Recorded.make(loka, [
    register('current', 0, { quantity: 'current', unit: 'A', phase: 'L1' }),
    register('power', 1, { quantity: 'active-power', unit: 'W', phase: 'L1' }),
    register('voltage', 2, { quantity: 'voltage', unit: 'V', phase: 'L1' }),
    register('counter', 3, { quantity: 'energy-import', unit: 'Wh', phase: 'L1', type: 'float32' }),
  ]);
  await site.minutely('current', START, 60, () => 20);
  await site.minutely('power', START, 60, () => 4600);
  await site.minutely('counter', START, 61, (i) => 1_000_000 + Math.round((4600 * i) / 60));
  await site.rollUp();
});
afterAll(() => loka.stop());

const sensing = (more: object) => ({
  pointIds: [site.id('current'), site.id('power')],
  validFrom: HALF,
  ratio: 1,
  turns: 1,
  reversed: false,
  burden: null,
  nominalVoltage: null,
  ...more,
});
const means = async (key: string) =>
  (
    await loka.ask<{ mean: number[] }[]>(
      `/readings?points=${site.id(key)}&from=${START}&to=${START + HOUR}&block=15`,
    )
  )[0]?.mean;
const energy = async (from = START, to = START + HOUR) =>
  (await loka.ask<NodeEnergy[]>(`/energy?from=${from}&to=${to}`)).find(
    (e) => e.nodeId === site.place,
  ) as NodeEnergy;

it('two turns from half an hour on: half the current, half the power, half the energy from there, and the stored values as they were', async () => {
  const made = await loka.ask<SensingVersion[]>('/sensing', 'POST', sensing({ turns: 2 }));
  expect(made).toHaveLength(2);
  expect(await means('current')).toEqual([20, 20, 10, 10]);
  expect(await means('power')).toEqual([4600, 4600, 2300, 2300]);
  // The counter counts from the same power: 2300 Wh before, 1150 Wh after.
  const all = await energy();
  expect(all.source).toBe('counter');
  expect(Math.abs((all.net as number) - 3450)).toBeLessThan(1.5);
  expect(all.other?.net).toBeCloseTo(3450, 6);
  const [rows] = await loka.sql.query('SELECT DISTINCT v FROM samples WHERE pointId = ?', [
    site.id('current'),
  ]);
  expect(rows).toEqual([{ v: 20 }]);
  const { body } = await loka.raw(
    `/readings/export.csv?point=${site.id('current')}&from=${HALF}&to=${HALF + 1}`,
  );
  expect(String(body).split('\r\n')[1]?.split(',')).toMatchObject({ 1: '10', 4: '20' });
  await loka.ask(`/sensing/${made.map((m) => m.id).join(',')}`, 'DELETE');
  expect(await means('current')).toEqual([20, 20, 20, 20]);
});
it('an arrow the wrong way round: what was counted in flows out, and the other way', async () => {
  await loka.ask('/sensing', 'POST', sensing({ reversed: true }));
  expect(await means('power')).toEqual([4600, 4600, -4600, -4600]);
  const late = await energy(HALF, START + HOUR);
  expect(Math.abs((late.net as number) + 2300)).toBeLessThan(1.5);
  expect(late.export).toBeGreaterThan(2298);
  // At the same instant again: it is replaced, not put beside.
  await loka.ask('/sensing', 'POST', sensing({}));
  expect(await loka.ask<SensingVersion[]>(`/sensing?point=${site.id('power')}`)).toHaveLength(1);
  expect(await means('power')).toEqual([4600, 4600, 4600, 4600]);
});
it('reaches the reading that is shown now, with what a calibration starts from beside it', async () => {
  await loka.ask(
    '/sensing',
    'POST',
    sensing({ validFrom: Date.now() - 1000, ratio: 100 / 0.05, burden: 22 }),
  );
  loka.app.get(Intake).accept([{ pointId: site.id('current'), t: Date.now(), raw: 1.1, q: 0 }]);
  const shown = loka.app.get(LiveReadings).get(site.id('current'));
  expect(shown?.raw).toBe(1.1);
  expect(shown?.v).toBeCloseTo(100, 9);
  expect(shown?.sensed).toBeCloseTo(100, 9);
});
it('refuses what cannot be, at its field, and what does not go through a transformer', async () => {
  const fault = async (more: object) => {
    const { status, body } = await loka.raw('/sensing', 'POST', sensing(more));
    return [status, (body as { errors?: { field: string }[] }).errors?.[0]?.field];
  };
  expect(await fault({ turns: 0 })).toEqual([422, 'turns']);
  expect(await fault({ ratio: -2 })).toEqual([422, 'ratio']);
  expect(await fault({ burden: 0 })).toEqual([422, 'burden']);
  expect(await fault({ validFrom: Date.now() + HOUR })).toEqual([422, 'validFrom']);
  expect(await fault({ pointIds: [site.id('voltage')], turns: 2 })).toEqual([422, 'pointIds']);
  expect((await fault({ pointIds: [424242] }))[0]).toBe(404);
  expect((await loka.raw('/sensing/424242', 'DELETE')).status).toBe(404);
});
it('a Hall sensor’s signal has a zero of its own; a divider goes before a voltage alone', async () => {
  const hall = { kind: 'hall', ratio: 50, ratedCurrent: 50, signal: '4-20', pointIds: [site.id('current')] };
  const milliamperes = () =>
    loka.app.get(Intake).accept([{ pointId: site.id('current'), t: Date.now(), raw: 0.012, q: 0 }]);
  milliamperes();
  await loka.ask('/sensing', 'POST', sensing({ ...hall, validFrom: Date.now() - 500 }));
  milliamperes();
  // By hand: 12 mA is the middle of 4–20 mA, half of 50 A.
  expect(loka.app.get(LiveReadings).get(site.id('current'))?.v).toBeCloseTo(25, 9);
  const divider = { kind: 'voltage-transformer', ratio: 400, validFrom: Date.now() - 500 };
  await loka.ask('/sensing', 'POST', sensing({ ...divider, pointIds: [site.id('voltage')] }));
  loka.app.get(Intake).accept([{ pointId: site.id('voltage'), t: Date.now(), raw: 0.575, q: 0 }]);
  expect(loka.app.get(LiveReadings).get(site.id('voltage'))?.v).toBeCloseTo(230, 9);
  const faults = async (more: object) => (await loka.raw('/sensing', 'POST', sensing(more))).status;
  expect(await faults({ ...hall, signal: null })).toBe(422);
  expect(await faults({ ...hall, signal: '1-5' })).toBe(422);
  expect(await faults({ ...divider, pointIds: [site.id('current')] })).toBe(422);
  expect(await faults({ kind: 'magic' })).toBe(422);
  expect(await faults({ kind: 'current-transformer', accuracyClass: '7' })).toBe(422);
});
it('what is only described changes no reading, and is there when it is asked for', async () => {
  const described = { kind: 'current-transformer', ratedCurrent: 60, accuracyClass: '1' };
  const [version] = await loka.ask<SensingVersion[]>(
    '/sensing',
    'POST',
    sensing({ ...described, pointIds: [site.id('power')], validFrom: Date.now() - 500 }),
  );
  expect(version).toMatchObject({ ...described, signal: null });
  loka.app.get(Intake).accept([{ pointId: site.id('power'), t: Date.now(), raw: 4600, q: 0 }]);
  const shown = loka.app.get(LiveReadings).get(site.id('power'));
  expect(shown?.v).toBe(4600);
});

it('what is above the range of its transducer is marked, with the power of its line, and no transducer is taken that ends below what flows', async () => {
  const intake = loka.app.get(Intake);
  const live = (key: string) => loka.app.get(LiveReadings).get(site.id(key));
  const read = (amperes: number) =>
    intake.accept(
      [
        { pointId: site.id('current'), raw: amperes },
        { pointId: site.id('power'), raw: 230 * amperes },
        { pointId: site.id('voltage'), raw: 230 },
      ].map((r) => ({ ...r, t: Date.now(), q: 0 })),
    );
  read(20);
  const clamp = { kind: 'current-transformer', pointIds: [site.id('current'), site.id('power')] };
  const { status, body } = await loka.raw(
    '/sensing',
    'POST',
    sensing({ ...clamp, ratedCurrent: 5, validFrom: Date.now() }),
  );
  expect(status).toBe(422);
  expect((body as { detail: string }).detail).toBe(
    'It would read 20.0 A now, and a transducer of 5 A ends at 6.00 A. Its rating is the primary current that is printed on it; a ratio that the device applies already is 1 here.',
  );
  const made = await loka.ask<SensingVersion[]>(
    '/sensing',
    'POST',
    sensing({ ...clamp, ratedCurrent: 25, validFrom: Date.now() }),
  );
  // 120 % of 25 A are 30 A.
  read(29);
  expect(['current', 'power', 'voltage'].map((key) => live(key)?.q)).toEqual([0, 0, 0]);
  read(31);
  expect(['current', 'power', 'voltage'].map((key) => live(key)?.q)).toEqual([
    QUALITY.saturated,
    QUALITY.saturated,
    0,
  ]);
  expect(made).toHaveLength(2);
  // A larger one from now on.
  await loka.ask('/sensing', 'POST', sensing({ ...clamp, ratedCurrent: 60, validFrom: Date.now() }));
  read(31);
  expect(live('current')?.q).toBe(0);
});
