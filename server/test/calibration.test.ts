import type { Calibration } from '@loka/contract/calibration';
import type { NodeEnergy } from '@loka/contract/energy';
import type { Job, Series } from '@loka/contract/readings';
import { SampleStore } from '../src/series/sampleStore.js';
import { HistoryLoader } from '../src/series/historyLoader.js';
import { RebuildsService } from '../src/series/rebuilds.service.js';
import { RollupWorker } from '../src/series/rollupWorker.js';
import { Loka, until } from './support/loka.js';
import { makeSite, TestBuilding, type MadeSite } from './support/site.js';

let loka: Loka;
let building: TestBuilding;
let site: MadeSite;
let current: number;
let power: number;
/** An hour of recorded history with 10 A and 2300 W, one sample a minute, which ends two hours ago. */
const HOUR_START = Math.floor(Date.now() / 3_600_000 - 3) * 3_600_000;

beforeAll(async () => {
  [loka, building] = await Promise.all([Loka.start(), TestBuilding.start()]);
  site = await makeSite(loka, building, ['clamp-node']);
  current = site.point('clamp-node', 'current-2');
  power = site.point('clamp-node', 'power-2');
  for (const id of [current, power])
    await loka.sql.query('INSERT INTO point_intervals VALUES (?, 0, 60000)', [id]);
  await loka.ask(`/points/${current}/assignment`, 'PUT', { nodeId: site.circuit, phase: 'L1' }); // has the intervals read again
  const minutes = Array.from({ length: 60 }, (_, i) => HOUR_START + i * 60_000);
  const store = loka.app.get(SampleStore);
  store.append(
    minutes.flatMap((t) => [
      { pointId: current, t, v: 10, q: 0 },
      { pointId: power, t, v: 2300, q: 0 },
    ]),
  );
  await store.flush();
  await loka.app.get(RollupWorker).work();
});
afterAll(async () => {
  await loka.stop();
  await building.stop();
});

const energyOfHour = async () =>
  (await loka.ask<NodeEnergy[]>(`/energy?from=${HOUR_START}&to=${HOUR_START + 3_600_000}`)).find(
    (e) => e.nodeId === site.circuit,
  )?.net;
const series = async (id: number) =>
  (
    await loka.ask<Series[]>(
      `/readings?points=${id}&from=${HOUR_START}&to=${HOUR_START + 3_600_000}&width=500`,
    )
  )[0];
/** Lowest, mean and highest of every day of a stretch of minutes. */
const blocks = async (id: number, start: number, minutes: number) => {
  const [line] = await loka.ask<Series[]>(
    `/readings?points=${id}&from=${start}&to=${start + minutes * 60_000}&block=1440`,
  );
  return [...(line?.min ?? []), ...(line?.mean ?? []), ...(line?.max ?? [])];
};
const jobsDone = () =>
  until('jobs done', async () => (await loka.ask<Job[]>('/jobs')).every((j) => j.state === 'done'));

/** Holds a state of the load and gives the span in which it was captured. */
async function hold(mode: 'on' | 'off'): Promise<{ from: number; to: number }> {
  building.load('hot-water', mode);
  await until('the load to follow', async () => {
    const capture = await loka.raw(
      `/calibrations/capture?point=${current}&from=${Date.now() - 1500}&to=${Date.now()}`,
    );
    const mean = (capture.body as { mean?: number }).mean;
    return mean !== undefined && (mode === 'on' ? mean > 10 : mean < 1);
  });
  const from = Date.now();
  await until('three seconds', () => Date.now() - from >= 3200);
  return { from, to: Date.now() };
}

it('an hour at 2300 W is 2300 Wh, before anything is corrected', async () => {
  expect(await energyOfHour()).toBeCloseTo(2300, 6);
});

describe('a clamp that reads 4.9 % low with a zero error', () => {
  let made: Calibration;

  it('is corrected by zero and a known load, the past follows, and its power with it', async () => {
    const zero = await hold('off');
    const load = await hold('on');
    const reference = building.amperes('hot-water', 'L1');
    made = await loka.ask<Calibration>('/calibrations', 'POST', {
      pointId: current,
      points: [
        { label: 'Zero', ...zero, reference: 0 },
        { label: 'Boiler', ...load, reference },
      ],
      validFrom: HOUR_START,
      withPower: true,
    });
    // The building's clamp has a gain of 0.951 and shows 0.048 A with nothing in it; counts are 6 mA wide.
    expect(made.gain).toBeCloseTo(1 / 0.951, 2);
    expect(made.offset).toBeCloseTo(-0.048 / 0.951, 2);
    expect(made.points[1]?.asFound).toBeLessThan(-4);
    expect(Math.abs(made.points[1]?.asLeft ?? 9)).toBeLessThan(1e-6);
    await jobsDone();
    const corrected = await series(current);
    expect(corrected?.mean[5]).toBeCloseTo(10 * made.gain + made.offset, 9);
    expect(await energyOfHour()).toBeCloseTo(2300 * made.gain, 3);
  }, 60_000);

  it('leaves the raw values as they were', async () => {
    const [rows] = await loka.sql.query('SELECT DISTINCT v FROM samples WHERE pointId = ? AND t < ?', [
      current,
      HOUR_START + 3_600_000,
    ]);
    expect(rows).toEqual([{ v: 10 }]);
  });

  it('holds from its instant on and not before', async () => {
    const half = HOUR_START + 1_800_000;
    const now = Date.now();
    const later = await loka.ask<Calibration>('/calibrations', 'POST', {
      pointId: current,
      points: [{ label: 'x', from: now - 2500, to: now, reference: building.amperes('hot-water', 'L1') * 2 }],
      validFrom: half,
      withPower: false,
    });
    await jobsDone();
    const { mean } = (await series(current)) as Series;
    expect(mean[29]).toBeCloseTo(10 * made.gain + made.offset, 9);
    expect(mean[30]).toBeCloseTo(10 * later.gain, 9);
    await loka.ask(`/calibrations/${later.id}/undo`, 'POST');
    await jobsDone();
    expect(((await series(current)) as Series).mean[30]).toBeCloseTo(10 * made.gain + made.offset, 9);
  }, 60_000);

  it('can be taken back, and everything is as it was', async () => {
    await loka.ask(`/calibrations/${made.id}/undo`, 'POST');
    await jobsDone();
    expect(((await series(current)) as Series).mean[5]).toBe(10);
    expect(await energyOfHour()).toBeCloseTo(2300, 6);
    expect(await loka.raw(`/calibrations/${made.id}/undo`, 'POST')).toMatchObject({ status: 409 });
  });
});

it('refuses points that coincide, and says so at the field', async () => {
  const to = Date.now();
  const point = { from: to - 2500, to, label: 'same' };
  const { status, body } = await loka.raw('/calibrations', 'POST', {
    pointId: current,
    points: [
      { ...point, reference: 0 },
      { ...point, reference: 5 },
    ],
    validFrom: to,
    withPower: false,
  });
  expect(status).toBe(422);
  expect(body).toMatchObject({ type: 'urn:loka:problem:invalid', errors: [{ field: 'points.1.reference' }] });
  expect((body as { detail: string }).detail).toContain('change the load');
});

it('refuses a correction of the future and a capture without readings', async () => {
  const to = Date.now();
  expect(
    await loka.raw('/calibrations', 'POST', {
      pointId: current,
      points: [{ from: to - 2500, to, label: '', reference: 5 }],
      validFrom: to + 3_600_000,
      withPower: false,
    }),
  ).toMatchObject({ status: 422, body: { errors: [{ field: 'validFrom' }] } });
  expect(await loka.raw(`/calibrations/capture?point=${current}&from=1000&to=2000`)).toMatchObject({
    status: 422,
  });
  expect(await loka.raw(`/calibrations/capture?point=${current}&from=2000&to=1000`)).toMatchObject({
    status: 422,
    body: { errors: [{ field: 'to' }] },
  });
});

it('what follows from a calibration is a job; cancelled halfway it takes the calibration back, and the whole past is as it was', async () => {
  const start = HOUR_START - 90 * 86_400_000;
  const minutes = 60 * 24 * 80;
  const times = Array.from({ length: minutes }, (_, i) => start + i * 60_000);
  await loka.app.get(HistoryLoader).load(
    current,
    times,
    times.map(() => 10),
  );
  const twice = await loka.ask<{ pointId: number }>('/virtual-meters', 'POST', {
    name: 'Twice',
    formula: '2 * i',
    inputs: [{ name: 'i', pointId: current }],
    quantity: 'current',
    phase: null,
    nodeId: null,
    intervalMs: 1000,
  });
  await loka.app.get(RebuildsService).idle();
  const before = await blocks(twice.pointId, start, minutes);
  expect(new Set(before)).toEqual(new Set([20]));
  const to = Date.now();
  await loka.ask('/calibrations', 'POST', {
    pointId: current,
    points: [{ label: 'x', from: to - 2500, to, reference: building.amperes('hot-water', 'L1') * 2 }],
    validFrom: start,
    withPower: false,
  });
  // The point itself is corrected at once, without a job.
  expect((await blocks(current, start, minutes))[7]).not.toBe(10);
  const job = await until('the job to be under way', async () =>
    (await loka.ask<Job[]>('/jobs')).find((j) => j.state === 'running' && j.progress > 0 && j.progress < 0.9),
  );
  await loka.ask(`/jobs/${job.id}/cancel`, 'POST');
  await until(
    'all jobs to have ended',
    async () =>
      (await loka.ask<Job[]>('/jobs')).every((j) => j.state !== 'running') &&
      (await loka.ask<Job[]>('/jobs'))[0]?.title.includes('brought back'),
    60_000,
  );
  expect((await loka.ask<Job[]>('/jobs')).find((j) => j.id === job.id)?.state).toBe('cancelled');
  expect(await blocks(twice.pointId, start, minutes)).toEqual(before);
  expect(new Set(await blocks(current, start, minutes))).toEqual(new Set([10]));
}, 120_000);
