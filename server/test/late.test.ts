import type { Alert } from '@loka/contract/alerts';
import type { CutOffRule } from '@loka/contract/control';
import type { Device } from '@loka/contract/devices';
import type { Point } from '@loka/contract/points';
import type { VirtualMeter } from '@loka/contract/virtual';
import type { LiveReading } from '@loka/contract/readings';
import { jest } from '@jest/globals';
import { Intake } from '../src/acquisition/intake.js';
import { CutOffsService } from '../src/control/cutOffs.service.js';
import { LiveReadings } from '../src/live/liveReadings.js';
import { Journal } from '../src/series/journal.js';
import { ReadingsReader } from '../src/series/readingsReader.js';
import { Loka, until } from './support/loka.js';
import { makeMap, makeSupply, message, nameSite } from './support/point.js';

// A reading that brings its own time and is older than the newest of its point, or than its hold, is recorded; it is not
// what is true now. Loka's own clock set back makes nothing late.
let loka: Loka;
let link: { id: number; token: string };
let device: number;
let points: Point[];
let rule: number;
let meter: VirtualMeter;
const INTERVAL = 2000;
beforeAll(async () => {
  loka = await Loka.start();
  await nameSite(loka);
  const place = await makeSupply(loka);
  link = await loka.ask('/links', 'POST', {
    kind: 'http-push',
    name: 'Door',
    host: '',
    port: 80,
    timeoutMs: 1000,
    enabled: true,
  });
  const mapId = await makeMap(loka, 'Clocked', {
    messages: [
      message('current', {
        topic: 'm',
        pointer: '/a',
        timePointer: '/at',
        quantity: 'current',
        unit: 'A',
        intervalMs: INTERVAL,
      }),
      message('plain', { topic: 'm', pointer: '/p', quantity: 'other', unit: '', intervalMs: INTERVAL }),
      message('command', {
        topic: 'c',
        pointer: '',
        quantity: 'contact-state',
        access: 'write',
        on: '1',
        off: '0',
      }),
      message('contact', { topic: 's', pointer: '', quantity: 'contact-state', on: '1', off: '0' }),
    ],
  });
  device = (
    await loka.ask<{ id: number }>('/devices', 'POST', {
      linkId: link.id,
      mapId,
      name: 'Clocked',
      topic: 'x',
    })
  ).id;
  points = (await loka.ask<Point[]>('/points')).filter((p) => p.deviceId === device);
  const switchId = (
    await loka.ask<{ id: number }>('/switches', 'POST', {
      name: 'Load',
      nodeId: place,
      commandPointId: id('command'),
      statePointId: id('contact'),
      timeoutMs: 1500,
    })
  ).id;
  rule = (
    await loka.ask<{ id: number }>('/cut-off-rules', 'POST', {
      switchId,
      pointId: id('current'),
      limit: 50,
      delayMs: 0,
      ignoreAfterOnMs: 0,
      enabled: true,
    })
  ).id;
  await loka.ask('/alert-rules', 'POST', {
    name: 'High',
    pointId: id('current'),
    direction: 'above',
    limit: 50,
    deadband: 1,
    onDelayMs: 0,
    offDelayMs: 0,
    enabled: true,
  });
  meter = await loka.ask<VirtualMeter>('/virtual-meters', 'POST', {
    name: 'Twice',
    formula: '2 * i',
    inputs: [{ name: 'i', pointId: id('current') }],
    quantity: 'current',
    phase: null,
    nodeId: null,
    intervalMs: 1000,
  });
  await until('the door', async () => (await send(Date.now(), 1)) === 200);
});
afterAll(() => loka.stop());

const id = (key: string) => points.find((p) => p.key === key)?.id as number;
const send = async (t: number, a: number) =>
  (
    await loka.raw(
      `/push/${link.id}/m`,
      'POST',
      { a, at: t, p: a },
      { authorization: `Bearer ${link.token}` },
    )
  ).status;
const now = (key: string) => loka.app.get(LiveReadings).get(id(key));
const theRule = async () =>
  (await loka.ask<CutOffRule[]>('/cut-off-rules')).find((r) => r.id === rule) as CutOffRule;
const alerts = () => loka.ask<Alert[]>('/alerts');

it.each([
  ['7 s', 7000],
  ['2 h', 2 * 3_600_000],
  ['24 h', 24 * 3_600_000],
])(
  'a reading that comes %s late is recorded, and shown, watched, decided by no more',
  async (_name, late) => {
    await send(Date.now(), 10);
    expect(now('current')?.v).toBe(10);
    const shown: LiveReading[] = [];
    const seen = loka.app.get(LiveReadings).stream.subscribe((batch) => shown.push(...batch));
    const t = Date.now() - late;
    expect(await send(t, 99)).toBe(200);
    await send(Date.now(), 11);
    seen.unsubscribe();
    // What is stored, and how long it was under way.
    const [stored] = await loka.app.get(Journal).page(id('current'), t, t + 1, 1);
    expect(stored).toMatchObject({ t, v: 99 });
    expect(Math.abs((stored?.lag ?? 0) - late)).toBeLessThan(2000);
    expect(shown.filter((r) => r.pointId === id('current')).map((r) => r.v)).toEqual([11]);
    expect(await alerts()).toEqual([]);
    expect((await theRule()).tripped).toBeNull();
    // Of its past the virtual meter learns, of its present it does not.
    await until('the past of the virtual meter', async () => {
      const past = await loka.app.get(ReadingsReader).list(meter.pointId, t - INTERVAL, t + 2 * INTERVAL);
      return past.some((r) => r.v === 198);
    });
    expect(shown.filter((r) => r.pointId === meter.pointId).every((r) => (r.v ?? 0) < 100)).toBe(true);
    const health = (await loka.ask<Device[]>('/devices')).find((d) => d.id === device)?.health;
    expect(health?.faults.find((f) => f.kind === 'late')?.last).toContain('Its clock is slow by that much');
  },
);
it('older than the newest of its point, although within its hold, it is not the present', async () => {
  const t = Date.now();
  await send(t, 20);
  await send(t - 1500, 99);
  expect(now('current')).toMatchObject({ t, v: 20 });
  expect((await theRule()).tripped).toBeNull();
});
it('a device whose clock was minutes ahead and is set right is the present at once', async () => {
  await send(Date.now() + 200_000, 21);
  expect(now('current')?.v).toBe(21);
  await send(Date.now(), 22);
  expect(now('current')?.v).toBe(22);
});
it('a device whose clock is slow leaves what it protects blind, and that is said', async () => {
  await send(Date.now(), 12);
  await until(
    'it sees',
    async () =>
      (await theRule()).decision?.action === 'none' &&
      ((await theRule()).decision as { because?: string }).because === 'below',
  );
  const until_ = Date.now() + INTERVAL * 2.5 + 3000;
  await until(
    'it is blind',
    async () => {
      if (Date.now() < until_) await send(Date.now() - 60_000, 12);
      return ((await theRule()).decision as { because?: string } | null)?.because === 'blind';
    },
    20_000,
  );
  await send(Date.now(), 12);
  await until(
    'it sees again',
    async () => ((await theRule()).decision as { because?: string } | null)?.because === 'below',
  );
  expect(loka.app.get(CutOffsService).list()[0]?.tripped).toBeNull();
});
it('Loka’s own clock set back by an hour makes nothing late', () => {
  const real = Date.now;
  const intake = loka.app.get(Intake);
  try {
    const back = real() - 3_600_000;
    jest.spyOn(Date, 'now').mockImplementation(() => back);
    intake.accept([{ pointId: id('plain'), t: back, raw: 41, q: 0 }]);
    expect(now('plain')).toMatchObject({ t: back, v: 41 });
    intake.accept([{ pointId: id('plain'), t: back + 1000, raw: 42, q: 0 }]);
    expect(now('plain')).toMatchObject({ t: back + 1000, v: 42 });
  } finally {
    jest.restoreAllMocks();
  }
});
it('a present reading over the limit trips and alerts, so that the ones before were not just overlooked', async () => {
  await send(Date.now(), 99);
  await until('the trip', async () => (await theRule()).tripped !== null);
  // The lockout is told of as well, a moment earlier or later.
  const limits = await until('the alert', async () => {
    const found = (await alerts()).filter((alert) => alert.kind === 'limit');
    return found.length > 0 && found;
  });
  expect(limits).toMatchObject([{ name: 'High', value: 99 }]);
});
