import type { FastLook, FastLooksSeen } from '@loka/contract/fastLook';
import type { Device } from '@loka/contract/devices';
import type { Point } from '@loka/contract/points';
import type { RegisterMap } from '@loka/contract/registers';
import { rampOf } from '@loka/core/fastLook';
import { LiveReadings } from '../src/live/liveReadings.js';
import { Loka, until } from './support/loka.js';
import { makeSite, TestBuilding, type MadeSite } from './support/site.js';

// A motor is started while its meter is polled as fast as it answers; its link's other units keep their turn.
let building: TestBuilding;
let loka: Loka;
let site: MadeSite;

beforeAll(async () => {
  building = await TestBuilding.start(['main-meter', 'oven-meter', 'clamp-node', 'relay-board', 'gateway']);
  building.running.site.building.inverterOff = true;
  building.load('deck-oven', 'off');
  loka = await Loka.start();
  site = await makeSite(loka, building, ['oven-meter']);
  const points = await loka.ask<Point[]>('/points');
  for (const { id, definition } of points)
    if (['current', 'active-power', 'voltage'].includes(definition.quantity))
      await loka.ask(`/points/${id}/assignment`, 'PUT', { nodeId: site.circuit, phase: null });
}, 60_000);
afterAll(async () => {
  await loka.stop();
  await building.stop();
});

const looks = (node = site.circuit) => loka.ask<FastLooksSeen>(`/fast-looks?node=${node}`);
const begin = (seconds: number, nodeId = site.circuit) =>
  loka.raw('/fast-looks', 'POST', { nodeId, seconds });
const ended = (node = site.circuit) =>
  until('the look to end', async () => (await looks(node)).running === null, 20_000);

it('sees the oven switched on at the very current that flows, and keeps what it saw', async () => {
  const { status } = await begin(4);
  expect(status).toBe(201);
  // One at a time on a link.
  expect((await begin(4)).status).toBe(409);
  await until('some readings', async () => ((await looks()).running?.traces[0]?.t.length ?? 0) > 20);
  building.load('deck-oven', 'on');
  const switchedAt = Date.now();
  await until('the current to flow', () => building.amperes('deck-oven', 'L1') > 15);
  await ended();
  const { kept } = await looks();
  expect(kept).toMatchObject([{ trouble: null, who: 'local person' }]);
  const look = await loka.ask<FastLook>(`/fast-looks/${kept[0]?.id}`);
  const trace = look.traces.find((t) => t.quantity === 'current' && t.phase === 'L1');
  const ramp = rampOf(trace as NonNullable<typeof trace>);
  const truth = building.amperes('deck-oven', 'L1');
  expect(Math.abs((ramp?.settled as number) / truth - 1)).toBeLessThan(0.01);
  expect(ramp?.spacing).toBeLessThan(60);
  expect(Math.abs(look.startedAt + (ramp?.startedAt as number) - switchedAt)).toBeLessThan(1000);
  await loka.ask(`/fast-looks/${look.id}`, 'DELETE');
  expect((await looks()).kept).toEqual([]);
}, 40_000);

it('is called off, ends when the device does not answer, and goes on after that', async () => {
  expect((await begin(30)).status).toBe(201);
  await until('some readings', async () => ((await looks()).running?.traces[0]?.t.length ?? 0) > 5);
  await loka.ask(`/fast-looks/${site.circuit}/stop`, 'POST');
  await ended();
  expect((await loka.raw(`/fast-looks/${site.circuit}/stop`, 'POST')).status).toBe(409);
  expect((await begin(30)).status).toBe(201);
  await until('some readings', async () => ((await looks()).running?.traces[0]?.t.length ?? 0) > 5);
  await building.fault('oven-meter', { kind: 'silent' });
  await ended();
  expect((await looks()).kept[0]?.trouble).toBeTruthy();
  await building.fault('oven-meter', { kind: 'none' });
  await until('a live reading again', () => {
    const reading = loka.app.get(LiveReadings).get(site.point('oven-meter', 'current-l1'));
    return reading !== undefined && reading.v !== null && Date.now() - reading.t < 1500;
  });
}, 60_000);

it('other units of a gateway keep their second while one is looked at', async () => {
  const map = (await loka.ask<RegisterMap[]>('/register-maps')).find((m) =>
    m.name.startsWith('Single-phase'),
  );
  const link = await loka.ask<{ id: number }>('/links', 'POST', {
    name: 'Gateway',
    host: '127.0.0.1',
    port: building.ports.gateway,
    timeoutMs: 1000,
    enabled: true,
  });
  const devices: number[] = [];
  for (const unit of [1, 2])
    devices.push(
      (
        await loka.ask<Device>('/devices', 'POST', {
          linkId: link.id,
          mapId: map?.id,
          name: `Unit ${unit}`,
          unit,
        })
      ).id,
    );
  const points = (await loka.ask<Point[]>('/points')).filter((p) => devices.includes(p.deviceId as number));
  const board = await loka.ask<{ id: number; kind: string }[]>('/installation');
  const made = await loka.ask<{ id: number }>('/installation', 'POST', {
    kind: 'circuit',
    parentId: board.find((n) => n.kind === 'board')?.id,
    name: 'Counter',
    way: '7',
    phases: 'L1',
    protectiveDevice: null,
    ratedCurrent: 10,
  });
  await loka.ask(`/devices/${devices[0]}/assignment`, 'PUT', { nodeId: made.id });
  const other = points.find((p) => p.deviceId === devices[1] && p.definition.quantity === 'current') as Point;
  const live = loka.app.get(LiveReadings);
  await until('the other to be read', () => live.get(other.id) !== undefined);
  expect((await begin(5, made.id)).status).toBe(201);
  const times = new Set<number>();
  await until('the look to end', async () => {
    const t = live.get(other.id)?.t;
    if (t !== undefined) times.add(t);
    return (await looks(made.id)).running === null;
  });
  const spacing = [...times].slice(1).map((t, i) => t - ([...times][i] as number));
  expect(times.size).toBeGreaterThanOrEqual(5);
  expect(Math.max(...spacing)).toBeLessThan(1500);
}, 40_000);

it.each([
  ['no seconds', { seconds: 0 }, 422],
  ['an hour', { seconds: 3600 }, 422],
  ['no such place', { seconds: 5, nodeId: 9999 }, 404],
])('%s is refused', async (_, part, status) => {
  expect((await loka.raw('/fast-looks', 'POST', { nodeId: site.circuit, ...part })).status).toBe(status);
});

it('a place that nothing measures, and one whose device reports by itself, are refused with why', async () => {
  const board = (await loka.ask<{ id: number; kind: string }[]>('/installation')).find(
    (n) => n.kind === 'board',
  );
  const answer = await begin(5, board?.id as number);
  expect(answer).toMatchObject({
    status: 409,
    body: { type: expect.stringContaining('nothing-measured') as string },
  });
});
