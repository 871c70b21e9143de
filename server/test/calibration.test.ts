import type { PeriodBalance } from '@loka/contract/balance';
import type { Calibration, ChangedMonth } from '@loka/contract/calibration';
import type { EnergyCalendar, NodeEnergy } from '@loka/contract/energy';
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
    // What corrects its power is said there, where nothing was calibrated itself.
    expect(await loka.ask(`/calibrations/holding?point=${power}`)).toMatchObject({
      correction: { gain: made.gain, offset: 0, validFrom: HOUR_START, with: 'Current 2' },
    });
    expect(await loka.ask(`/calibrations/holding?point=${current}`)).toMatchObject({
      correction: { gain: made.gain, offset: made.offset, with: null },
    });
    const corrected = await series(current);
    expect(corrected?.mean[5]).toBeCloseTo(10 * made.gain + made.offset, 9);
    expect(await energyOfHour()).toBeCloseTo(2300 * made.gain, 3);
  }, 60_000);

  it('is taken for as exact in the balance as its calibration says', async () => {
    const { places } = await loka.ask<PeriodBalance>(
      `/balance?from=${HOUR_START}&to=${HOUR_START + 3_600_000}&step=hour`,
    );
    const place = places.find((p) => p.nodeId === site.circuit);
    expect(place?.limit.why).toBe('calibrated');
    // Half a per cent at least, and less than the three of a meter of which nothing is known.
    expect(place?.limit.relative).toBeGreaterThanOrEqual(0.005);
    expect(place?.limit.relative).toBeLessThan(0.03);
    expect(place?.amount?.in).toBeCloseTo(2300 * made.gain, 3);
  });

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
      meant: true,
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

describe('how certain it is', () => {
  type Point = { label: string; from: number; to: number; reference: number } & Record<string, unknown>;
  const make = (points: Point[], more: object = {}) =>
    loka.raw('/calibrations', 'POST', {
      pointId: current,
      points,
      validFrom: Date.now(),
      withPower: false,
      ...more,
    });
  let zero: { from: number; to: number };
  let load: { from: number; to: number };
  let truth: number;
  beforeAll(async () => {
    zero = await hold('off');
    load = await hold('on');
    truth = building.amperes('hot-water', 'L1');
  }, 60_000);
  const instrument = { kind: 'instrument', name: 'Handheld', percent: 0.3, digit: 0.01 };
  const two = (): Point[] => [
    { label: 'Zero', ...zero, reference: 0, kind: 'zero' },
    { label: 'Boiler', ...load, reference: truth, ...instrument },
  ];

  it('two points leave no error, so that they are evidence of no class; a check point is', async () => {
    const made = (await make(two())).body as Calibration;
    expect(made.best).toBeNull();
    // 0.3 % of what the handheld shows, rectangular, and half a digit; the clamp's counts are 6 mA wide and hardly scatter.
    expect((made.fit?.uGain ?? 0) / made.gain).toBeGreaterThan(0.003 / Math.sqrt(3));
    expect((made.fit?.uGain ?? 0) / made.gain).toBeLessThan(0.0025);
    expect(made.points[1]?.uncertainty).toBeGreaterThan(1.96 * (0.003 / Math.sqrt(3)) * truth);
    const checked = (
      await make([...two(), { label: 'Check', ...load, reference: truth, ...instrument, check: true }])
    ).body as Calibration;
    expect(checked.gain).toBeCloseTo(made.gain, 9);
    expect(checked.fit?.method).toBe('line');
    // As sure as ±0.36 %: inside the ±0.5 % of class 0.5 S at 0.8 of the rated current, not inside the ±0.2 % of 0.2 S.
    expect(checked.best).toMatchObject({ accuracy: '0.5S', verdict: 'meets', from: truth, to: truth });
    const listed = await loka.ask<Calibration[]>(`/calibrations?point=${current}`);
    expect(listed[0]).toEqual(checked);
    for (const { id } of [checked, made]) await loka.ask(`/calibrations/${id}/undo`, 'POST');
  });

  it('a weak reference is evidence of a weak class', async () => {
    const weak = { ...instrument, percent: 1.5 };
    const points = two().map((p) => (p.kind === 'zero' ? p : { ...p, ...weak }));
    const made = (
      await make([...points, { label: 'Check', ...load, reference: truth, ...weak, check: true }])
    ).body as Calibration;
    expect(made.best?.accuracy).toBe('2');
    await loka.ask(`/calibrations/${made.id}/undo`, 'POST');
  });

  it('what it would change in the past is shown before it is applied, and comes about as shown', async () => {
    const input = { pointId: current, points: two(), validFrom: HOUR_START, withPower: true };
    const energy = async () => {
      const found = await loka.ask<EnergyCalendar>(
        `/energy/calendar?from=${HOUR_START}&to=${end}&step=month`,
      );
      return found.nodes.find((n) => n.nodeId === site.circuit)?.net ?? [];
    };
    // What runs on while this is compared is left out: the hour of recorded history alone.
    const end = HOUR_START + 3_600_000;
    const before = await energyOfHour();
    const months = await loka.ask<ChangedMonth[]>('/calibrations/preview', 'POST', input);
    expect(months.at(0)?.from).toBe(HOUR_START);
    const change = months.reduce((sum, m) => sum + (m.after as number) - (m.before as number), 0);
    // Looking changes nothing.
    expect(await energyOfHour()).toBe(before);
    expect(await loka.ask<Calibration[]>(`/calibrations?point=${current}`)).toEqual(
      expect.not.arrayContaining([expect.objectContaining({ superseded: false })]),
    );
    const made = await loka.ask<Calibration>('/calibrations', 'POST', input);
    await jobsDone();
    const after = (await energyOfHour()) as number;
    expect(after / (before as number)).toBeCloseTo(made.gain, 9);
    expect((await energy()).at(0)).toBeCloseTo(after, 6);
    // The hour, and what the load has drawn since this test began.
    expect(change / months.reduce((sum, m) => sum + (m.before as number), 0)).toBeCloseTo(made.gain - 1, 6);
    await loka.ask(`/calibrations/${made.id}/undo`, 'POST');
    expect(await energyOfHour()).toBe(before);
    const none = await loka.ask<ChangedMonth[]>('/calibrations/preview', 'POST', {
      ...input,
      withPower: false,
    });
    // The current alone moves no energy.
    expect(none.every((m) => m.after === m.before)).toBe(true);
  });

  it('another meter is averaged over the same seconds, as it is corrected', async () => {
    const other = site.point('clamp-node', 'current-1');
    const [rows] = await loka.sql.query(
      'SELECT AVG(v) AS mean FROM samples WHERE pointId = ? AND t BETWEEN ? AND ?',
      [other, load.from, load.to],
    );
    const point = { label: 'Beside', ...load, reference: 0, kind: 'meter', pointId: other, percent: 0.5 };
    const { body } = await make([{ ...point }], { meant: true });
    const mean = (rows as { mean: number }[])[0]?.mean as number;
    expect((body as Calibration).points[0]?.reference).toBeCloseTo(mean, 9);
    await loka.ask(`/calibrations/${(body as Calibration).id}/undo`, 'POST');
    for (const pointId of [current, power, 99_999]) {
      const { status } = await make([{ ...point, pointId }]);
      expect(status).toBe(pointId === 99_999 ? 404 : 422);
    }
  });

  it.each([
    ['a zero with the load on', () => [{ label: 'Zero', ...load, reference: 0 }], /The zero was taken at 12/],
    ['twice as much', () => [{ label: 'x', ...load, reference: 2 * truth }], /The gain is 2\.\d+: a ratio/],
    ['the other way round', () => [{ label: 'x', ...load, reference: -truth }], /The gain is negative/],
  ])('%s is asked about first', async (_, points, says) => {
    const { status, body } = await make(points());
    expect({ status, ...(body as object) }).toMatchObject({
      status: 409,
      type: 'urn:loka:problem:doubtful',
      detail: expect.stringMatching(says),
    });
    const meant = await make(points(), { meant: true });
    expect(meant.status).toBe(201);
    await loka.ask(`/calibrations/${(meant.body as Calibration).id}/undo`, 'POST');
  });

  it('percent errors of a test bench give the correction that takes them away', async () => {
    // A transducer that reads 0.97 of what flows, and 0.05 A more.
    const errors = [1, 5, 10, 20].map((load) => [load, 100 * ((0.97 * load + 0.05) / load - 1)] as const);
    const to = Date.now();
    const points = errors.map(([reference, error]) => ({
      label: `Bench ${reference} A`,
      from: to,
      to,
      kind: 'bench',
      reference,
      error,
      percent: 0.1,
    }));
    const made = (await make(points)).body as Calibration;
    expect(made.gain).toBeCloseTo(1 / 0.97, 9);
    expect(made.offset).toBeCloseTo(-0.05 / 0.97, 9);
    // Four points, of which two are to spare: evidence of the best class, as good as the bench.
    expect(made.best?.accuracy).toBe('0.2S');
    expect(made.points.map((p) => Math.abs(p.asLeft ?? 9) < 1e-9)).toEqual([true, true, true, true]);
    await loka.ask(`/calibrations/${made.id}/undo`, 'POST');
    const { status, body } = await make([{ ...(points[0] as Point), error: undefined }]);
    expect({ status, ...(body as object) }).toMatchObject({
      status: 422,
      errors: [{ field: 'points.0.error' }],
    });
  });

  it('bends where it is to, below its floor nothing flows, and the past follows', async () => {
    // Bench errors by hand: at 1 A 5 % too little, at 8 A 3 %, at 12 A 2 %.
    const to = Date.now();
    const points = [
      [1, -5],
      [8, -3],
      [12, -2],
    ].map(([reference, error]) => ({
      label: `Bench ${reference} A`,
      from: to,
      to,
      kind: 'bench',
      reference: reference as number,
      error,
      percent: 0.1,
    }));
    const more = { method: 'pieces', noLoad: 0.2, validFrom: HOUR_START };
    const made = (await make(points, more)).body as Calibration;
    expect(made.knots?.map((k) => k.raw)).toEqual([0.95, 8 * 0.97, 12 * 0.98]);
    expect(made.best).toBeNull();
    await jobsDone();
    // 10 A raw lies between 7.76 and 11.76: 8 + 4 · 2.24 / 4.
    expect((await series(current))?.mean[5]).toBeCloseTo(8 + (4 * 2.24) / 4, 9);
    const t = HOUR_START + 60_000;
    const [single] = await loka.ask<Series[]>(
      `/readings?points=${current}&from=${t}&to=${t + 60_000}&width=500`,
    );
    expect(single?.mean[0]).toBeCloseTo(10.24, 9);
    // Live, with the load off: what the clamp shows of nothing is nothing.
    await hold('off');
    await until('the newest reading', async () => {
      const [live] = await loka.ask<Series[]>(
        `/readings?points=${current}&from=${Date.now() - 2000}&to=${Date.now()}&width=500`,
      );
      return live?.mean.at(-1) === 0;
    });
    await hold('on');
    await loka.ask(`/calibrations/${made.id}/undo`, 'POST');
    await jobsDone();
    expect((await series(current))?.mean[5]).toBe(10);
    // A floor that hides loads is asked about.
    expect((await make(points, { ...more, noLoad: 3 })).body).toMatchObject({
      type: 'urn:loka:problem:doubtful',
      detail: expect.stringContaining('Below 3 A nothing would be read any more'),
    });
  }, 60_000);

  it('a load that creeps while it is averaged is asked about', async () => {
    // Ten readings from 12.4 to 12.76 A: 2.9 %.
    const from = HOUR_START - 600_000;
    const store = loka.app.get(SampleStore);
    store.append(
      Array.from({ length: 10 }, (_, i) => ({
        pointId: current,
        t: from + i * 1000,
        v: 12.4 + 0.04 * i,
        q: 0 as const,
      })),
    );
    await store.flush();
    const point = { label: 'Boiler', from, to: from + 9000, reference: 13.2, ...instrument };
    const { status, body } = await make([point]);
    expect(status).toBe(409);
    expect((body as { detail: string }).detail).toBe('“Boiler” moved by 0.36 A while it was averaged.');
  });

  it('points that the steps of the reading cannot tell apart make no gain', async () => {
    const { status, body } = await make([
      { label: 'Zero', ...zero, reference: 0 },
      { label: 'x', from: zero.from, to: zero.to - 500, reference: 5 },
    ]);
    expect(status).toBe(422);
    expect((body as { detail: string }).detail).toMatch(/closer together|have the raw reading/);
  });

  it('one that is all check points corrects nothing', async () => {
    const { status, body } = await make([{ label: 'x', ...load, reference: truth, check: true }]);
    expect(status).toBe(422);
    expect((body as { detail: string }).detail).toBe(
      'All points are check points. At least one has to be in the fit.',
    );
  });

  it.each([
    [{ percent: -1 }, 'percent'],
    [{ percent: 101 }, 'percent'],
    [{ digit: -1 }, 'digit'],
    [{ flutter: 'much' }, 'flutter'],
    [{ kind: 'guess' }, 'kind'],
  ])('%p is refused at its field', async (more, field) => {
    const { status, body } = await make([{ label: 'x', ...load, reference: truth, ...more }]);
    expect({ status, ...(body as object) }).toMatchObject({
      status: 422,
      errors: [{ field: `points.0.${field}` }],
    });
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
    meant: true,
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
