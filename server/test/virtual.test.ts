import type { Device } from '@loka/contract/devices';
import type { Link } from '@loka/contract/links';
import type { Point } from '@loka/contract/points';
import type { Job } from '@loka/contract/readings';
import type { VirtualMeter } from '@loka/contract/virtual';
import { QUALITY } from '@loka/core/series';
import { LiveReadings } from '../src/live/liveReadings.js';
import { CorrectionBook } from '../src/series/correctionBook.js';
import { Journal } from '../src/series/journal.js';
import { RebuildsService } from '../src/series/rebuilds.service.js';
import { ReadingsReader } from '../src/series/readingsReader.js';
import { SampleStore } from '../src/series/sampleStore.js';
import { Loka, until } from './support/loka.js';
import { makeSite, TestBuilding, type MadeSite } from './support/site.js';

let loka: Loka;
let building: TestBuilding;
let site: MadeSite;
const live = (id: number) => loka.app.get(LiveReadings).get(id);

beforeAll(async () => {
  [loka, building] = await Promise.all([Loka.start(), TestBuilding.start()]);
  site = await makeSite(loka, building, ['main-meter', 'clamp-node']);
  await until(
    'readings',
    () =>
      live(point('power-total', 'main-meter'))?.v != null && live(point('power-2', 'clamp-node'))?.v != null,
  );
});
afterAll(async () => {
  await building.stop();
  await loka.stop();
});

const point = (key: string, device: 'main-meter' | 'clamp-node') => site.point(device, key);
const input = (
  name: string,
  formula: string,
  inputs: [string, number][],
  more: Partial<VirtualMeter> = {},
) => ({
  name,
  formula,
  inputs: inputs.map(([n, pointId]) => ({ name: n, pointId })),
  quantity: 'active-power',
  phase: null,
  nodeId: null,
  intervalMs: 1000,
  ...more,
});
const create = (body: object) => loka.ask<VirtualMeter>('/virtual-meters', 'POST', body);
const refusal = async (body: object, path = '/virtual-meters', method = 'POST') => {
  const { status, body: answer } = await loka.raw(path, method, body);
  return { status, ...(answer as { errors?: { field: string; message: string }[] }).errors?.[0] };
};

it('a difference of two meters is computed every second, shown live, stored, and rolled up', async () => {
  const total = point('power-total', 'main-meter');
  const part = point('power-2', 'clamp-node');
  const { pointId } = await create(
    input(
      'Rest',
      'whole - part',
      [
        ['whole', total],
        ['part', part],
      ],
      { nodeId: site.circuit },
    ),
  );
  const first = await until('a value', () => live(pointId)?.v != null && live(pointId));
  expect(first).toMatchObject({ q: QUALITY.good });
  expect(first.t % 1000).toBe(0);
  const own = (await loka.ask<Point[]>('/points')).find((p) => p.id === pointId);
  expect(own).toMatchObject({
    deviceId: null,
    nodeId: site.circuit,
    definition: { kind: 'formula', formula: 'whole - part' },
  });
  // What is stored is the difference of what is stored of its inputs: of readings beside that instant, which of them
  // depends on how busy the machine is.
  await until('stored samples after both inputs', async () => {
    await loka.app.get(SampleStore).flush();
    const store = loka.app.get(ReadingsReader);
    const to = Date.now() - 2000;
    const beside = async (id: number, t: number) =>
      (await store.list(id, t - 1500, t + 1500)).flatMap(({ v }) => (v === null ? [] : [v]));
    const samples = (await store.list(pointId, to - 3000, to)).filter((s) => s.v !== null);
    for (const { t, v } of samples) {
      const [wholes, parts] = [await beside(total, t), await beside(part, t)];
      const off = wholes.flatMap((w) => parts.map((p) => Math.abs(w - p - (v as number))));
      expect(Math.min(...off)).toBeLessThan(1e-3);
    }
    return samples.length > 1;
  });
});
it('a current times the voltage of another meter on the same phase is power; with the nominal one it is uncertain', async () => {
  building.load('hot-water', 'on');
  const amperes = point('current-2', 'clamp-node');
  const volts = point('voltage-l1', 'main-meter');
  const measured = await create(
    input(
      'By voltage',
      'i * u',
      [
        ['i', amperes],
        ['u', volts],
      ],
      { phase: 'L1' },
    ),
  );
  const assumed = await create(input('By nominal', 'i * nominal', [['i', amperes]], { phase: 'L1' }));
  await until('power', () => (live(measured.pointId)?.v ?? 0) > 2000);
  expect(live(measured.pointId)?.q).toBe(QUALITY.good);
  await until('the other', () => (live(assumed.pointId)?.v ?? 0) > 2000);
  expect(live(assumed.pointId)?.q).toBe(QUALITY.assumed);
});
it('a borrowed voltage that falls silent is stood in for by the nominal one, with what it lies between', async () => {
  building.load('hot-water', 'on');
  const made = await create(
    input(
      'Borrowed',
      'i * first(u, nominal)',
      [
        ['i', point('current-2', 'clamp-node')],
        ['u', point('voltage-l1', 'main-meter')],
      ],
      { phase: 'L1' },
    ),
  );
  await until('power', () => (live(made.pointId)?.v ?? 0) > 2000);
  expect(live(made.pointId)).not.toHaveProperty('between');
  await building.fault('main-meter', { kind: 'silent' });
  try {
    const now = await until('the nominal one', () => {
      const reading = live(made.pointId);
      return reading?.q === QUALITY.assumed && reading;
    });
    const amperes = live(point('current-2', 'clamp-node'))?.v as number;
    expect(Math.abs((now.v as number) / (230 * amperes) - 1)).toBeLessThan(0.02);
    expect(now.between![0]).toBeCloseTo(0.9 * (now.v as number), 6);
    expect(now.between![1]).toBeCloseTo(1.1 * (now.v as number), 6);
  } finally {
    await building.fault('main-meter', { kind: 'none' });
  }
  await until('it is good again', () => live(made.pointId)?.q === QUALITY.good);
});
it('a new one gets the past of its inputs, and a calibration of an input goes on into it', async () => {
  const store = loka.app.get(Journal);
  const part = point('power-2', 'clamp-node');
  const t0 = Math.floor(Date.now() / 60_000) * 60_000 - 7_200_000;
  const samples = loka.app.get(SampleStore);
  samples.append(
    Array.from({ length: 120 }, (_, i) => ({ pointId: part, t: t0 + i * 1000, v: 100 + i, q: 0 })),
  );
  await samples.flush();
  const { pointId } = await create(input('Twice', '2 * p', [['p', part]]));
  await until('the job', async () =>
    (await loka.ask<Job[]>('/jobs')).some((j) => j.title.startsWith('Twice') && j.state === 'done'),
  );
  const before = await store.read(pointId, t0, t0 + 120_000);
  expect(before.slice(0, 3).map((s) => [s.t - t0, s.v])).toEqual([
    [0, 200],
    [1000, 202],
    [2000, 204],
  ]);
  // A correction of gain 1.1 from before that time on.
  await loka.sql.query(
    'INSERT INTO calibrations (pointId, madeAt, validFrom, gain, `offset`, evidence) VALUES (?, ?, ?, 1.1, 0, ?)',
    [part, Date.now(), t0 - 1000, '[]'],
  );
  const [[{ id }]] = (await loka.sql.query('SELECT MAX(id) AS id FROM calibrations')) as unknown as [
    [{ id: number }],
  ];
  await loka.sql.query(
    'INSERT INTO corrections (pointId, calibrationId, validFrom, gain, `offset`) VALUES (?, ?, ?, 1.1, 0)',
    [part, id, t0 - 1000],
  );
  await loka.app.get(CorrectionBook).reload();
  const rebuilds = loka.app.get(RebuildsService);
  const plan = await rebuilds.plan(rebuilds.rows.manager, [part], t0 - 1000, {
    own: false,
    calibrationId: id,
  });
  await rebuilds.run('Test', plan);
  await until('the correction in the virtual meter', async () => {
    const [first] = await store.read(pointId, t0, t0 + 1);
    return first && Math.abs((first.v as number) - 220) < 1e-9;
  });
});
it('its quality follows its inputs: one that is silent makes it bad, with the reason', async () => {
  const { pointId } = (await loka.ask<VirtualMeter[]>('/virtual-meters')).find((m) => m.name === 'Rest')!;
  await building.fault('clamp-node', { kind: 'down' });
  await until('bad', () => live(pointId)?.q === QUALITY.inputBad);
  expect(live(pointId)?.v).toBeNull();
  await building.fault('clamp-node', { kind: 'none' });
  await until('good again', () => live(pointId)?.q === QUALITY.good, 30_000);
});
it('units that do not agree, what is no formula, and names that nobody has are refused at their field', async () => {
  const w = point('power-total', 'main-meter');
  const v = point('voltage-l1', 'main-meter');
  expect(
    await refusal(
      input('X', 'a + b', [
        ['a', w],
        ['b', v],
      ]),
    ),
  ).toMatchObject({ status: 422, field: 'formula', message: 'W and V cannot be added.' });
  expect(await refusal(input('X', 'a', [['a', v]]))).toMatchObject({ field: 'formula' });
  expect(await refusal(input('X', 'process.exit(1)', [['a', w]]))).toMatchObject({ field: 'formula' });
  expect(await refusal(input('X', 'a + c', [['a', w]]))).toMatchObject({
    field: 'formula',
    message: expect.stringContaining('“c”'),
  });
  expect(await refusal(input('X', 'a', [['a', 99_999]]))).toMatchObject({ field: 'inputs' });
  expect(
    await refusal(
      input('X', 'a', [
        ['a', w],
        ['a', v],
      ]),
    ),
  ).toMatchObject({ field: 'inputs' });
  expect(await refusal(input('Rest', 'a', [['a', w]]))).toMatchObject({ field: 'name' });
});
it('a cycle is refused; one that another needs cannot be removed; what is removed comes back', async () => {
  const w = point('power-total', 'main-meter');
  const first = await create(input('First', 'a', [['a', w]]));
  const second = await create(input('Second', 'f + f', [['f', first.pointId]]));
  await until('second order', () => {
    const [a, b] = [live(first.pointId), live(second.pointId)];
    return a?.v != null && b?.v != null && a.t === b.t && b.v === 2 * a.v;
  });
  expect(
    await refusal(input('First', 's', [['s', second.pointId]]), `/virtual-meters/${first.pointId}`, 'PUT'),
  ).toMatchObject({
    field: 'inputs',
    message: 'It would be computed from itself: “First” needs “Second” needs “First”.',
  });
  expect((await loka.raw(`/virtual-meters/${first.pointId}`, 'DELETE')).status).toBe(409);
  await loka.ask(`/virtual-meters/${second.pointId}`, 'DELETE');
  expect((await loka.ask<VirtualMeter[]>('/virtual-meters')).some((m) => m.name === 'Second')).toBe(false);
  await loka.ask(`/virtual-meters/${second.pointId}/restore`, 'POST');
  await until('it is computed again', () => live(second.pointId)?.v != null);
});
it('which one moves: values that follow a switched load are ranked, plainest first', async () => {
  const id = site.devices['clamp-node'];
  const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
  const marks: { t: number; on: boolean }[] = [];
  // The load has to be off, and on, for a few readings: that is the experiment, not a guess at how long something takes.
  for (const on of [false, true, false]) {
    building.load('hot-water', on ? 'on' : 'off');
    marks.push({ t: Date.now(), on });
    await wait(4500);
  }
  const moved = await loka.ask<{ pointId: number; step: number; clarity: number }[]>(
    '/devices/which-moves',
    'POST',
    { deviceIds: [id], marks, until: Date.now() },
  );
  const [best, next] = moved;
  expect([best!.pointId, next!.pointId].sort()).toEqual(
    [point('current-2', 'clamp-node'), point('power-2', 'clamp-node')].sort(),
  );
  expect(best!.clarity).toBeGreaterThan(0.9);
  building.load('hot-water', 'auto');
  expect(
    (
      await loka.raw('/devices/which-moves', 'POST', {
        deviceIds: [id],
        marks: marks.slice(0, 1),
        until: Date.now(),
      })
    ).status,
  ).toBe(422);
});
it('lists nothing that has no device among the devices and links', async () => {
  expect((await loka.ask<Device[]>('/devices')).flatMap((d) => d.pointIds)).not.toContain(
    (await loka.ask<VirtualMeter[]>('/virtual-meters'))[0]!.pointId,
  );
  expect((await loka.ask<Link[]>('/links')).length).toBe(2);
});
