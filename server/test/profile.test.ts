import type { ProblemDetails } from '@loka/contract/health';
import type { Point } from '@loka/contract/points';
import type { PlaceDuration, PlaceProfile, PlaceSteps } from '@loka/contract/profile';
import type { Site } from '@loka/contract/site';
import type { PlaceWhatIf } from '@loka/contract/whatIf';
import { emptySpans, WEEKENDS } from '@loka/core/profile';
import { siteClock } from '@loka/core/time';
import { DataSource } from 'typeorm';
import { ProfileThread } from '../src/profile/profileThread.js';
import { IntervalBook } from '../src/series/intervalBook.js';
import { SampleStore } from '../src/series/sampleStore.js';
import { StepTestEntity } from '../src/verify/verify.entity.js';
import { Loka } from './support/loka.js';
import { register } from './support/point.js';
import { DAY, HOUR, MINUTE, Recorded, spareCircuit } from './support/recorded.js';

// What a load does, out of what was recorded: three days of a cold room by the minute, with a gap of two hours.
let loka: Loka;
let site: Recorded;
let spare: number;
const START = Math.floor(Date.now() / DAY) * DAY - 4 * DAY;
const GAP = { from: 1500, to: 1620 };
const watts = (minute: number) => (minute % 360 < 18 ? 1250 : minute % 60 < 24 ? 800 : 46);

beforeAll(async () => {
  loka = await Loka.start(undefined, { acquire: false });
  site = await Recorded.make(loka, [
    register('power', 0, { quantity: 'active-power', unit: 'W', phase: 'total', type: 'float32' }),
  ]);
  await site.minutely('power', START, 4321, (i) => (i >= GAP.from && i < GAP.to ? null : watts(i)));
  await site.rollUp();
  ({ spare } = await spareCircuit(loka));
}, 60_000);
afterAll(() => loka.stop());

const ask = (from: number, to: number, node = site.place) =>
  loka.ask<PlaceProfile>(`/profile/${node}?from=${from}&to=${to}`);

it('levels, runs, what recurs, demand and energy agree with what was recorded', async () => {
  const got = await ask(START, START + 3 * DAY);
  expect(got).toMatchObject({ from: START, to: START + 3 * DAY, step: MINUTE });
  // A reading once a minute speaks for two and a half: the gap is that much shorter.
  expect(Math.abs(got.known - (3 * DAY - 2 * HOUR))).toBeLessThan(3 * MINUTE);
  expect(got.levels.levels.map((l) => Math.round(l.watts))).toEqual([46, 800, 1250]);
  expect(got.recurring).toHaveLength(1);
  expect(got.recurring[0]).toMatchObject({ level: 2, count: 12 });
  expect(Math.abs((got.recurring[0]?.recurrence.period ?? 0) - 6 * HOUR)).toBeLessThan(MINUTE);
  expect(got.recurring[0]?.next).toBeGreaterThanOrEqual(got.to - MINUTE);
  // In each hour one run; one is cut off by the beginning, those of the gap are not seen.
  expect(got.runs?.figures?.count).toBeGreaterThanOrEqual(68);
  expect(got.runs?.figures?.count).toBeLessThanOrEqual(71);
  expect(got.runs?.figures?.on.median).toBeCloseTo(24 * MINUTE, -4);
  expect(got.demand.find((d) => d.block === 15 * MINUTE)?.highest?.watts).toBeCloseTo(1250, 6);
  // The same energy as the energy page's.
  const energy = await site.energy(START, START + 3 * DAY);
  expect(got.energy / (energy.import as number)).toBeCloseTo(1, 2);
});

it('the carpet has a row a day of the site, and nothing in the gap', async () => {
  const { carpet } = await ask(START, START + 3 * DAY);
  expect(carpet.columns).toBe(192);
  const at = (minute: number) =>
    carpet.watts[Math.floor((minute * MINUTE + START - (carpet.days[0] as number)) / (7.5 * MINUTE))];
  expect(at(1560)).toBeNull();
  expect(at(30)).toBe(46);
  expect(at(3)).toBe(1250);
});

it('days are sorted as the site says, and a day that is none is refused', async () => {
  const { version, ...site } = (await loka.ask<{ site: Site }>('/site')).site;
  const [first, second] = [START, START + DAY].map((t) =>
    siteClock(site.timeZone, t + 12 * HOUR, 'yyyy-MM-dd c'),
  );
  const save = (change: Partial<Site>, v: number) =>
    loka.ask<Site>('/site', 'PUT', { ...site, ...change, id: undefined, version: v });
  for (const [field, value] of Object.entries({
    holidays: ['2026-02-30'],
    closedDays: [1, 2, 3, 4, 5, 6, 7],
  })) {
    const input = { ...site, id: undefined, version, [field]: value };
    const { status, body } = await loka.raw('/site', 'PUT', input);
    expect(status).toBe(422);
    expect((body as ProblemDetails).errors?.map((e) => e.field)).toContain(field);
  }
  await save(
    { closedDays: [Number(first?.split(' ')[1])], holidays: [second?.split(' ')[0] as string] },
    version,
  );
  const got = await ask(START, START + 3 * DAY);
  expect(got.dayTypes.map((d) => [d.name, d.rows])).toEqual([
    ['working', [2]],
    ['closed', [0]],
    ['holiday', [1]],
  ]);
  await save({}, version + 1);
});

it('two hours, a minute and a period before anything was read each say what can be said', async () => {
  const short = await ask(START + HOUR, START + 3 * HOUR);
  expect(short.levels.levels.map((l) => Math.round(l.watts))).toEqual([46, 800]);
  expect(short.recurring).toEqual([]);
  expect(short.dayTypes).toEqual([]);
  expect((await ask(START, START + 1)).duration).toBeNull();
  const before = await ask(START - 30 * DAY, START - 20 * DAY);
  expect(before).toMatchObject({ known: 0, energy: 0, duration: null, runs: null, recurring: [] });
});

it('asked for twenty at once, each is told what it asked for', async () => {
  const asked = Array.from({ length: 20 }, (_, i) => START + i * HOUR);
  const got = await Promise.all(asked.map((from) => ask(from, from + DAY)));
  expect(got.map((p) => p.from)).toEqual(asked);
  for (const p of got) expect(p.levels.levels).toHaveLength(3);
});

it('a thread that has failed is told, and the next profile begins anew', async () => {
  const thread = loka.app.get(ProfileThread);
  const spans = emptySpans(0, MINUTE, 2);
  await expect(thread.work('profile', { spans, zone: 'Nowhere/At-all', closing: WEEKENDS })).rejects.toThrow(
    /not a time zone/,
  );
  // What cannot be handed over to it, a function among it, is no reason to hang.
  await expect(
    thread.work('profile', { spans: { ...spans, mean: (() => 1) as never }, zone: 'UTC', closing: WEEKENDS }),
  ).rejects.toThrow();
  expect((await thread.work('profile', { spans, zone: 'UTC', closing: WEEKENDS })).known).toBe(0);
  await thread.onModuleDestroy();
  expect((await ask(START, START + DAY)).step).toBe(MINUTE);
});

it('a year is told by quarter-hours', async () => {
  const got = await ask(START - 300 * DAY, START + 3 * DAY);
  expect(got.step).toBe(15 * MINUTE);
  expect(got.duration?.highest).toBeCloseTo(1250, 6);
});

it('of a place that nothing measures the sum of what is measured behind it', async () => {
  const [whole, part] = [await ask(START, START + 3 * DAY, site.supply), await ask(START, START + 3 * DAY)];
  expect(whole.summed).toEqual([site.place]);
  expect(part.summed).toBeNull();
  expect({ ...whole, nodeId: 0, summed: null }).toEqual({ ...part, nodeId: 0 });
});

it('a meter that is fitted later does not take away what was known of the sum; it is named', async () => {
  const { id: deviceId } = await loka.ask<{ id: number }>('/devices', 'POST', {
    linkId: (await loka.ask<{ id: number }[]>('/links'))[0]?.id,
    mapId: (await loka.ask<{ id: number; name: string }[]>('/register-maps')).find(
      (m) => m.name === 'Recorded',
    )?.id,
    name: 'Fitted later',
    unit: 2,
  });
  await loka.ask(`/devices/${deviceId}/assignment`, 'PUT', { nodeId: spare });
  const fitted = (await loka.ask<Point[]>('/points')).find((p) => p.deviceId === deviceId) as Point;
  await loka.sql.query('REPLACE INTO point_intervals VALUES (?, 0, ?)', [fitted.id, MINUTE]);
  await loka.app.get(IntervalBook).reload();
  const sum = () => ask(START, START + 3 * DAY, site.supply);
  const before = await ask(START, START + 3 * DAY);
  // Nothing of it yet; then two hours; then half of what the other has.
  expect(await sum()).toMatchObject({ summed: [site.place], without: [spare], energy: before.energy });
  const store = async (from: number, until: number) => {
    const samples = loka.app.get(SampleStore);
    samples.append(
      Array.from({ length: (until - from) / MINUTE }, (_, i) => ({
        pointId: fitted.id,
        t: from + i * MINUTE,
        v: 100,
        q: 0,
      })),
    );
    await samples.flush();
    await site.rollUp();
  };
  await store(START + 3 * DAY - 2 * HOUR, START + 3 * DAY);
  expect(await sum()).toMatchObject({ summed: [site.place], without: [spare], known: before.known });
  // By every reading it is the same sum.
  const duration = await loka.ask<PlaceDuration>(
    `/profile/${site.supply}/duration?from=${START}&to=${START + 3 * DAY}`,
  );
  expect(duration.highest?.watts).toBeCloseTo(1250, 6);
  await store(START + DAY, START + 3 * DAY - 2 * HOUR);
  const both = await sum();
  expect(both).toMatchObject({ summed: [site.place, spare], without: [] });
  expect(both.levels.levels.map((l) => Math.round(l.watts))).toEqual([146, 900, 1350]);
  await loka.ask(`/devices/${deviceId}`, 'DELETE');
});

it.each([
  [
    'the future',
    () => `/profile/${site.place}?from=${Date.now() + DAY}&to=${Date.now() + 2 * DAY}`,
    422,
    /future/,
  ],
  ['ten years', () => `/profile/${site.place}?from=${START - 3650 * DAY}&to=${START}`, 422, /a year at most/],
  [
    'an end before its start',
    () => `/profile/${site.place}?from=${START}&to=${START - 1}`,
    422,
    /ends before it starts/,
  ],
  [
    'a place that nothing measures',
    () => `/profile/${spare}?from=${START}&to=${START + DAY}`,
    409,
    /Nothing measures/,
  ],
  ['a place that is not there', () => `/profile/9999?from=${START}&to=${START + DAY}`, 404, /9999/],
])('%s is told', async (_, path, status, says) => {
  const got = await loka.raw(path());
  expect(got.status).toBe(status);
  expect((got.body as ProblemDetails).detail).toMatch(says);
});

describe('for how much of the time how much', () => {
  const duration = (from: number, to: number, node = site.place) =>
    loka.ask<PlaceDuration>(`/profile/${node}/duration?from=${from}&to=${to}`);

  it('by every reading up to a week, and by means of longer periods', async () => {
    const got = await duration(START, START + DAY);
    expect(got.readings).toBe(1440);
    expect(got.highest?.watts).toBe(1250);
    expect(got.highest?.at).toBe(START);
    // Of a day without a gap: 72 min of defrosts; 24 min of each hour, of it 18 in four of them the defrost and 6 after it.
    const running = 20 * 24 + 4 * 6;
    expect((got.byReadings?.known ?? 0) / DAY).toBeCloseTo(1, 6);
    const mean = (1250 * 72 + 800 * running + 46 * (1440 - 72 - running)) / 1440;
    expect(got.byReadings?.mean).toBeCloseTo(mean, 6);
    expect(got.byMeans?.mean).toBeCloseTo(mean, 6);
    // 5 % is exactly the defrosts; a little more of the time it runs.
    expect(Math.round(got.byReadings?.watts[9] ?? 0)).toBe(1250);
    expect(Math.round(got.byReadings?.watts[12] ?? 0)).toBe(800);
    expect(got.coincidence).toBeNull();
    const long = await duration(START - 10 * DAY, START + 4 * DAY);
    expect(long.byReadings).toBeNull();
    expect(long.highest?.watts).toBe(1250);
    expect(long.byMeans?.highest).toBe(1250);
  });

  it('of the gap nothing is said, nor of a time before', async () => {
    const gap = await duration(START + (GAP.from + 30) * MINUTE, START + (GAP.to - 30) * MINUTE);
    expect(gap).toMatchObject({ byReadings: null, byMeans: null, highest: null });
    expect((await loka.raw(`/profile/${spare}/duration?from=${START}&to=${START + DAY}`)).status).toBe(409);
  });
});

describe('loads without a meter', () => {
  const steps = (from: number, to: number) =>
    loka.ask<PlaceSteps>(`/profile/${site.place}/steps?from=${from}&to=${to}`);
  // Of a day: each defrost begins as the compressor would, and six minutes after it that does.
  const defrosts = 4;

  it('by their plates: when each was on; what nobody has named', async () => {
    const nobody = await steps(START, START + DAY);
    expect(nobody.loads).toEqual([]);
    expect(nobody.groups.map((g) => Math.round(g.watts / 10))).toEqual([75, 45]);
    const load = (name: string, ratedPower: number) =>
      loka.ask('/installation', 'POST', {
        kind: 'load',
        parentId: site.place,
        name,
        way: '',
        phases: 'L1',
        protectiveDevice: null,
        ratedCurrent: null,
        ratedPower,
      });
    await load('Compressor', 760);
    await load('Defrost heater', 1200);
    const got = await steps(START, START + DAY);
    const named = (name: string) => got.loads.find((l) => l.name === name);
    expect(got.loads.map((l) => l.by)).toEqual(['plate', 'plate']);
    // The first defrost was on when the day began; its fall, from 1250 to 800 W, is two loads at once.
    expect(named('Defrost heater')?.on).toBe(defrosts * 18 * MINUTE);
    expect(named('Compressor')?.on).toBe((20 * 24 + defrosts * 6) * MINUTE);
    expect(got.unexplained).toEqual([]);
    expect(got.less).toEqual([]);
  });

  it('a step test knows better than the plate', async () => {
    const tests = loka.app.get(DataSource).getRepository(StepTestEntity);
    const load = { name: 'Compressor', watts: 900, powerFactor: null, byRelay: false };
    const found = (own: number) => ({
      t: START,
      on: own > 0,
      own,
      amperes: 3,
      lines: [],
      expected: null,
      above: null,
      elsewhere: [],
      verdict: 'ok',
      says: '',
    });
    await tests.save({
      nodeId: site.place,
      startedAt: START,
      endedAt: START + MINUTE,
      who: 'x',
      steps: [
        { load, on: true, askedAt: START, found: found(752) },
        { load, on: false, askedAt: START, found: found(-756) },
        { load: { ...load, name: 'Fan' }, on: true, askedAt: START, found: 'skipped' },
      ] as never,
    });
    const got = await steps(START, START + DAY);
    expect(got.loads.map(({ name, watts, by }) => [name, watts, by])).toEqual([
      ['Compressor', 754, 'test'],
      ['Defrost heater', 1200, 'plate'],
    ]);
  });

  it('of more than two months, of a sum, and of nothing', async () => {
    expect((await loka.raw(`/profile/${site.place}/steps?from=${START - 90 * DAY}&to=${START}`)).status).toBe(
      422,
    );
    expect((await loka.raw(`/profile/${spare}/steps?from=${START}&to=${START + DAY}`)).status).toBe(409);
    const gap = await steps(START + (GAP.from + 30) * MINUTE, START + (GAP.to - 30) * MINUTE);
    expect(gap).toMatchObject({ count: 0, unexplained: [] });
  });
});

describe('what if', () => {
  const whatIf = (input: object, node = site.place) =>
    loka.raw(`/profile/${node}/what-if`, 'POST', { from: START, to: START + 3 * DAY, ...input });
  const told = async (input: object) => {
    const { status, body } = await whatIf(input);
    expect(status).toBe(200);
    return body as PlaceWhatIf;
  };
  const field = async (input: object) => {
    const { status, body } = await whatIf(input);
    expect(status).toBe(422);
    return (body as ProblemDetails).errors?.map((e) => e.field);
  };

  it('without standby, later, with a plant by the hours of a year: of the supply it is a part of', async () => {
    const standby = await told({ change: 'standby' });
    // What measures the place measures all that is behind the supply: both fall by 46 W for its share of the time.
    const saved = (at: PlaceWhatIf['load']) => (at?.before.taken ?? 0) - (at?.after.taken ?? 0);
    expect(saved(standby.load)).toBeCloseTo(saved(standby.supply), 3);
    // Of 360 minutes 18 defrost, and 24 of each hour but the first run, of it 6 after the defrost.
    const standing = 1 - (18 + 6 + 5 * 24) / 360;
    expect(saved(standby.load) / (46 * standing * 365.25 * 24)).toBeCloseTo(1, 1);
    expect(standby.isSummed).toBe(false);
    const later = await told({ change: 'later', hours: 3 });
    expect(saved(later.load) / (later.load?.before.taken ?? 0)).toBeLessThan(0.01);
    const flat = await told({ roof: 2000, hoursOfYear: Array.from({ length: 8760 }, () => 10).join('\n') });
    // 20 W all the time.
    expect(flat.sun).toBeCloseTo(20 * 24 * 365.25, 0);
    expect(flat.load).toBeNull();
    expect(saved(flat.supply)).toBeCloseTo(20 * 24 * 365.25, 0);
    // Itself in its place, half of it.
    const half = await told({ change: 'instead', instead: site.place, times: 0.5 });
    expect((half.load?.after.taken ?? 0) / (half.load?.before.taken ?? 1)).toBeCloseTo(0.5, 6);
  });

  it('what cannot be is said at its field, and nothing is written down of what was asked', async () => {
    expect(await field({ change: 'hours', hours: -1 })).toEqual(['hours']);
    expect(await field({ change: 'hours', hours: 25 })).toEqual(['hours']);
    expect(await field({ change: 'instead' })).toEqual(['instead']);
    expect(await field({ roof: 1000 })).toEqual(['like']);
    expect(await field({ roof: 1000, like: site.place, likePeak: 1000 })).toEqual(['like']);
    expect(await field({ roof: 1000, hoursOfYear: '1\n2' })).toEqual(['hoursOfYear']);
    expect(await field({ store: 1000 })).toEqual(['storePower']);
    expect(await field({ store: -1 })).toEqual(['store']);
    expect(await field({ change: 'everything' })).toEqual(['change']);
    expect(await field({ from: Date.now() + DAY, to: Date.now() + 2 * DAY })).toEqual(['from']);
    expect((await whatIf({}, spare)).status).toBe(409);
    expect((await whatIf({}, 999_999)).status).toBe(404);
    const audit = await loka.ask<{ subject: string }[]>('/audit');
    expect(audit.filter((a) => a.subject.includes('what-if'))).toEqual([]);
  });
});
