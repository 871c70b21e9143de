import { jest } from '@jest/globals';
import type { EnergyCalendar } from '@loka/contract/energy';
import type { Doubt } from '@loka/contract/doubts';
import type { RegisterMap } from '@loka/contract/registers';
import { QUALITY } from '@loka/core/series';
import { RebuildsService } from '../src/series/rebuilds.service.js';
import { Loka } from './support/loka.js';
import { register } from './support/point.js';
import { DAY, HOUR, MINUTE, Recorded } from './support/recorded.js';

// Counters and power of a place that is recorded once a minute: what the interface says of it, with values by hand.
let loka: Loka;
let site: Recorded;
const power = (key: string, phase: string, address: number) =>
  register(key, address, { quantity: 'active-power', unit: 'W', phase: phase as never });
beforeAll(async () => {
  loka = await Loka.start(undefined, { acquire: false });
  site = await Recorded.make(loka, [
    power('l1', 'L1', 0),
    power('l2', 'L2', 1),
    power('l3', 'L3', 2),
    power('total', 'total', 3),
    register('in', 4, { quantity: 'energy-import', unit: 'Wh', phase: 'total', type: 'float32' }),
    register('out', 6, { quantity: 'energy-export', unit: 'Wh', phase: 'total', type: 'float32' }),
  ]);
});
afterAll(() => loka.stop());

/** What did not count, but for the day's first minutes, at which the counter of the test jumps to another day's level. */
const doubts = (key: string, from: number, to: number) =>
  loka.ask<Doubt[]>(`/doubts?points=${site.id(key)}&from=${from + 5 * MINUTE}&to=${to}`);
const day = (name: string) => Date.parse(`${name}T00:00:00Z`);
const at = (watts: number, minutes: number) => Math.floor((watts * minutes) / 60 + 1e-9);

it('one reading of 0 at noon of a counter at 48 MWh: 48 kWh, listed, and still so from the rollups and after a late reading', async () => {
  const start = day('2026-01-10');
  await site.minutely('in', start, 1441, (i) => (i === 720 ? 0 : 48_000_000 + at(2000, i)));
  expect((await site.energy(start, start + DAY)).import).toBeCloseTo(48_000, 6);
  await site.rollUp();
  expect((await site.energy(start, start + DAY)).import).toBeCloseTo(48_000, 6);
  expect(await doubts('in', start, start + DAY)).toMatchObject([
    { kind: 'glitch', t: start + 720 * MINUTE, after: 0, counted: 0, verdict: null },
  ]);
  // The reading that was there in truth comes late: nothing changes but where it was counted.
  await site.store('in', [{ t: start + 720 * MINUTE + 1, v: 48_000_000 + at(2000, 720), q: 0 }]);
  await site.rollUp();
  expect((await site.energy(start, start + DAY)).import).toBeCloseTo(48_000, 6);
});

it('over a gap of eight hours across midnight each day has its own 48 kWh, and parts sum to the whole', async () => {
  const start = day('2026-01-12');
  await site.minutely('in', start, 2881, (i) => (i > 1200 && i < 1680 ? null : 60_000_000 + at(2000, i)));
  await site.rollUp();
  const [first, second, both] = await Promise.all([
    site.energy(start, start + DAY),
    site.energy(start + DAY, start + 2 * DAY),
    site.energy(start, start + 2 * DAY),
  ]);
  expect(first.import).toBeCloseTo(48_000, 6);
  expect(second.import).toBeCloseTo(48_000, 6);
  expect(both.import).toBeCloseTo(96_000, 6);
  // Four of its hours are spread over the day's end by estimate; of both days together nothing is.
  expect(first.estimated).toBeCloseTo(8000, 6);
  expect(first.coverage).toBeCloseTo(20 / 24, 9);
  expect([both.estimated, both.coverage]).toEqual([0, 1]);
  const calendar = await loka.ask<EnergyCalendar>(
    `/energy/calendar?from=${start}&to=${start + 2 * DAY}&step=hour`,
  );
  const own = calendar.nodes.find((n) => n.nodeId === site.place);
  expect(calendar.borders).toHaveLength(49);
  expect(own?.import.every((wh) => Math.abs((wh as number) - 2000) < 1e-6)).toBe(true);
  expect(own?.import.reduce<number>((a, b) => a + (b as number), 0)).toBeCloseTo(both.import as number, 6);
});

it('a period that begins and ends within a minute is right', async () => {
  const start = day('2026-01-12') + 3 * HOUR + 17_000;
  // To one count.
  const { import: counted } = await site.energy(start, start + 100_000);
  expect(Math.abs((counted as number) - (2000 * 100) / 3600)).toBeLessThan(1);
});

it('a meter that is exchanged: found and asked; entered with both readings it is exact; taken back it is asked again', async () => {
  const start = day('2026-01-20');
  const old = 10_000_000;
  await site.minutely('in', start, 1441, (i) => old + at(2000, i) + (i >= 720 ? 900_000 : 0));
  await site.rollUp();
  expect(Math.abs(((await site.energy(start, start + DAY)).import as number) - 48_000)).toBeLessThanOrEqual(
    1,
  );
  expect(await doubts('in', start, start + DAY)).toMatchObject([{ kind: 'exchange' }]);
  const t = start + 719 * MINUTE + 30_000;
  const before = old + 23_983;
  const entered = { pointId: site.id('in'), t, before, after: before + 900_000 };
  await loka.ask('/exchanges', 'POST', entered);
  expect(await doubts('in', start, start + DAY)).toEqual([]);
  const exact = await site.energy(start, start + DAY);
  expect(Math.abs((exact.import as number) - 48_000)).toBeLessThanOrEqual(1);
  expect(exact.estimated).toBe(0);
  expect(await loka.raw('/exchanges', 'POST', entered)).toMatchObject({ status: 409 });
  await loka.ask(`/points/${site.id('in')}/exchanges/${t}`, 'DELETE');
  expect(await doubts('in', start, start + DAY)).toMatchObject([{ kind: 'exchange' }]);
  // A person says that it was real: 900 kWh more.
  const said = await loka.ask<{ id: number }>('/verdicts', 'POST', {
    pointId: site.id('in'),
    from: start + 720 * MINUTE,
    to: start + 720 * MINUTE + 1,
    counts: true,
  });
  expect((await site.energy(start, start + DAY)).import).toBeCloseTo(948_000, 6);
  await loka.ask(`/verdicts/${said.id}`, 'DELETE');
  expect(Math.abs(((await site.energy(start, start + DAY)).import as number) - 48_000)).toBeLessThanOrEqual(
    1,
  );
});

it('one minute at 1e9 W does not count until somebody says so, and then it does', async () => {
  const start = day('2026-02-03');
  const absurd = start + 600 * MINUTE;
  await site.store(
    'total',
    Array.from({ length: 1440 }, (_, i) => ({ t: start + i * MINUTE, v: 1000, q: 0 as number })).map((s) =>
      s.t === absurd ? { ...s, v: 1e9, q: QUALITY.implausible } : s,
    ),
  );
  await site.rollUp();
  const energy = await site.energy(start, start + DAY);
  expect(energy.import).toBeCloseTo(1000 * (24 - 1 / 60), 6);
  expect(energy.coverage).toBeCloseTo(1439 / 1440, 9);
  const [doubt] = await doubts('total', start, start + DAY);
  expect(doubt).toMatchObject({ kind: 'implausible', t: absurd, until: absurd, after: 1e9, readings: 1 });
  const { id } = await loka.ask<{ id: number }>('/verdicts', 'POST', {
    pointId: site.id('total'),
    from: absurd,
    to: absurd + 1,
    counts: true,
  });
  expect((await site.energy(start, start + DAY)).import).toBeCloseTo(24_000 - 1000 / 60 + 1e9 / 60, 1);
  expect((await doubts('total', start, start + DAY))[0]?.verdict).toMatchObject({ id, counts: true });
  await loka.ask(`/verdicts/${id}`, 'DELETE');
  expect((await site.energy(start, start + DAY)).import).toBeCloseTo(1000 * (24 - 1 / 60), 6);
  // And what Loka thought possible can be struck out.
  const out = { pointId: site.id('total'), from: start, to: start + 12 * HOUR, counts: false };
  await loka.ask('/verdicts', 'POST', out);
  expect((await site.energy(start, start + DAY)).import).toBeCloseTo(12_000, 6);
  expect((await site.energy(start, start + DAY)).coverage).toBeCloseTo(0.5, 9);
});

it('import, export and net are three things, of power and of counters', async () => {
  const start = day('2026-02-10');
  // 3 kW in for twelve hours, 5 kW out for the others.
  const watts = (i: number) => (i < 720 ? 3000 : -5000);
  await site.minutely('total', start, 1440, watts);
  await site.minutely('in', start, 1441, (i) => 70_000_000 + at(3000, Math.min(i, 720)));
  await site.rollUp();
  // The counter of what came in says nothing about what went out, and the power tells that something did: it is not taken.
  expect(await site.energy(start, start + DAY)).toMatchObject({
    source: 'power',
    import: 36_000,
    export: 60_000,
    net: -24_000,
    coverage: 1,
    other: { source: 'counter', export: null },
  });
  await site.minutely('out', start, 1441, (i) => 5_000_000 + at(5000, Math.max(0, i - 720)));
  await site.rollUp();
  const counted = await site.energy(start, start + DAY);
  expect(counted).toMatchObject({ source: 'counter', other: { source: 'power', net: -24_000 } });
  expect(counted.import).toBeCloseTo(36_000, 6);
  expect(counted.export).toBeCloseTo(60_000, 6);
  expect(counted.net).toBeCloseTo(-24_000, 6);
});

describe('a calibration reaches energy', () => {
  const start = day('2026-03-01');
  const half = start + 12 * HOUR;
  const correct = async (key: string, validFrom: number, gain: number) => {
    await loka.sql.query(
      'INSERT INTO calibrations (pointId, madeAt, validFrom, gain, `offset`, evidence) VALUES (?, ?, ?, ?, 0, ?)',
      [site.id(key), Date.now(), validFrom, gain, '[]'],
    );
    const [[{ id }]] = (await loka.sql.query('SELECT MAX(id) AS id FROM calibrations')) as unknown as [
      [{ id: number }],
    ];
    await loka.sql.query(
      'INSERT INTO corrections (pointId, calibrationId, validFrom, gain, `offset`) VALUES (?, ?, ?, ?, 0)',
      [site.id(key), id, validFrom, gain],
    );
    const { CorrectionBook } = await import('../src/series/correctionBook.js');
    await loka.app.get(CorrectionBook).reload();
  };
  beforeAll(async () => {
    for (const [key, watts] of [
      ['l1', 1000],
      ['l2', 500],
      ['l3', 500],
      ['total', 2000],
    ] as const)
      await site.minutely(key, start, 1441, () => watts);
    await site.minutely('in', start, 1441, (i) => 80_000_000 + at(2000, i));
    await site.minutely('out', start, 1441, () => 6_000_000);
    await site.rollUp();
  });

  it('one line of a three-phase meter moves its total, from the instant on from which it holds', async () => {
    expect((await site.energy(start, start + DAY)).import).toBeCloseTo(48_000, 6);
    // L1 has read a tenth too little since noon: 100 W more.
    await correct('l1', half, 1.1);
    const series = (
      await loka.ask<{ mean: number[] }[]>(
        `/readings?points=${site.id('total')}&from=${start}&to=${start + DAY}&block=60`,
      )
    )[0];
    expect(series?.mean[11]).toBeCloseTo(2000, 9);
    expect(series?.mean[12]).toBeCloseTo(2100, 9);
    const energy = await site.energy(start, start + DAY);
    // 12 h at 2 kW and 12 h at 2.1 kW; so the counter, which counts from that power, and so the power itself.
    expect(energy).toMatchObject({ source: 'counter' });
    expect(energy.import).toBeCloseTo(24_000 + 25_200, 3);
    expect(energy.other?.import).toBeCloseTo(24_000 + 25_200, 3);
    // Before noon nothing has moved.
    expect((await site.energy(start, half)).import).toBeCloseTo(24_000, 6);
  });
  it('a single reading, a rollup and an export agree', async () => {
    const t = half + 5 * MINUTE;
    const [single] = await loka.ask<{ mean: number[] }[]>(
      `/readings?points=${site.id('total')}&from=${t}&to=${t + MINUTE}&width=500`,
    );
    expect(single?.mean).toEqual([2000 + 1000 * 1.1 - 1000]);
    const { body } = await loka.raw(`/readings/export.csv?point=${site.id('total')}&from=${t}&to=${t + 1}`);
    expect(String(body).split('\r\n')[1]?.split(',')).toMatchObject({ 1: '2100', 4: '2000' });
  });
});

it('what limits a counter is taken from its register and its place, and can be set; what it has counted follows', async () => {
  const id = site.id('in');
  const seen = await loka.ask<{ largestPower: number; set: { largestPower: boolean } }>(
    `/points/${id}/counter`,
  );
  // 63 A on three lines at 230 V, and a quarter more.
  expect(seen.largestPower).toBeCloseTo(63 * 3 * 230 * 1.25, 6);
  expect(seen.set.largestPower).toBe(false);
  expect(await loka.raw(`/points/${id}/counter`, 'PUT', { modulus: -1 })).toMatchObject({ status: 422 });
  expect(await loka.raw(`/points/${id}/counter`, 'PUT', { modulus: 10, resolution: 20 })).toMatchObject({
    status: 422,
    body: { errors: [{ field: 'resolution' }] },
  });
  expect(await loka.raw(`/points/${site.id('l1')}/counter`)).toMatchObject({ status: 422 });
  // A display of 99 999.9 kWh that has rolled over, inside a gap of six hours.
  const start = day('2026-04-01');
  const counted = (i: number) => (99_990_000 + Math.floor((2000 * i) / 6000 + 1e-9) * 100) % 100_000_000;
  await site.minutely('in', start, 1441, (i) => (i > 180 && i < 540 ? null : counted(i)));
  await site.rollUp();
  await loka.ask(`/points/${id}/counter`, 'PUT', {
    modulus: 100_000_000,
    resolution: 100,
    largestPower: 14_000,
  });
  await loka.app.get(RebuildsService).idle();
  await site.rollUp();
  const energy = await site.energy(start, start + DAY);
  expect(energy.import).toBeCloseTo(48_000, 3);
  expect(energy.estimated).toBeCloseTo(12_000, 0);
  expect((await doubts('in', start, start + DAY)).map((d) => d.kind)).toEqual(['rolled-over']);
});

it('a value that turns out to be a counter is counted from its past readings', async () => {
  const maps = await loka.ask<RegisterMap[]>('/register-maps');
  const map = maps.find((m) => m.name === 'Recorded') as RegisterMap;
  const describeOut = async (quantity: string, unit: string) => {
    const points = map.points.map((p) => (p.key === 'out' ? { ...p, quantity, unit } : p));
    const { name, description, messages, availability } = map;
    await loka.ask(`/register-maps/${map.id}`, 'PUT', { name, description, messages, availability, points });
    await loka.app.get(RebuildsService).idle();
  };
  await describeOut('reactive-power', 'var');
  const start = day('2026-05-01');
  await site.minutely('in', start, 1441, () => 10_000_000);
  await site.minutely('out', start, 1441, (i) => 500_000 + at(1000, i));
  await site.rollUp();
  expect((await site.energy(start, start + DAY)).export).toBeNull();
  await describeOut('energy-export', 'Wh');
  const energy = await site.energy(start, start + DAY);
  expect([energy.import, energy.export, energy.net]).toEqual([0, 24_000, -24_000]);
  // And back: what was counted goes with the counter.
  await describeOut('reactive-power', 'var');
  expect((await site.energy(start, start + DAY)).export).toBeNull();
});

describe('a map that is changed', () => {
  const start = day('2026-05-03');
  const map = async () =>
    (await loka.ask<RegisterMap[]>('/register-maps')).find((m) => m.name === 'Recorded') as RegisterMap;
  const saved = async (quantity: string, unit: string) => {
    const { id, name, description, messages, availability, points } = await map();
    const changed = points.map((p) => (p.key === 'out' ? { ...p, quantity, unit } : p));
    return loka.raw(`/register-maps/${id}`, 'PUT', {
      name,
      description,
      messages,
      availability,
      points: changed,
    });
  };
  const exported = async () => (await site.energy(start, start + DAY)).export;

  it('is saved with the plan of what is to be worked out anew: a stop right after it is made up for', async () => {
    await site.minutely('in', start, 1441, () => 10_000_000);
    await site.minutely('out', start, 1441, (i) => 700_000 + at(500, i));
    await site.rollUp();
    expect(await exported()).toBeNull();
    // The server is gone before the work begins.
    const run = jest.spyOn(loka.app.get(RebuildsService), 'run').mockResolvedValue();
    expect(await saved('energy-export', 'Wh')).toMatchObject({ status: 200 });
    expect(run).toHaveBeenCalled();
    await loka.halt();
    loka = await Loka.start(loka.config, { acquire: false });
    site = site.on(loka);
    await loka.app.get(RebuildsService).idle();
    await site.rollUp();
    expect(await exported()).toBe(12_000);
  });

  it('is not changed at all when something of it cannot be', async () => {
    const before = await map();
    const plan = jest.spyOn(loka.app.get(RebuildsService), 'plan').mockRejectedValue(new Error('no table'));
    expect(await saved('reactive-power', 'var')).toMatchObject({ status: 500 });
    plan.mockRestore();
    expect(await map()).toEqual(before);
    expect(await exported()).toBe(12_000);
  });

  it('of two people who save at the same time, one is told', async () => {
    const { id, name, description, messages, availability, points, version } = await map();
    const input = { name, description, messages, availability, points, version };
    const answers = await Promise.all(
      [1, 2, 3].map((i) =>
        loka.raw(`/register-maps/${id}`, 'PUT', { ...input, description: `By person ${i}` }),
      ),
    );
    expect(answers.map((a) => a.status).sort()).toEqual([200, 409, 409]);
    expect((await map()).version).toBe(version + 1);
  });

  it('a value that was taken out and comes back as another kind is worked out as that', async () => {
    const { id, name, description, messages, availability, points } = await map();
    const save = (list: unknown) =>
      loka.ask(`/register-maps/${id}`, 'PUT', { name, description, messages, availability, points: list });
    await save(points.filter((p) => p.key !== 'out'));
    await save(points.map((p) => (p.key === 'out' ? { ...p, quantity: 'reactive-power', unit: 'var' } : p)));
    await loka.app.get(RebuildsService).idle();
    await site.rollUp();
    expect(await exported()).toBeNull();
    // What it says now has slots: the value of the last minute of the day.
    const { SlotReader } = await import('../src/series/slotReader.js');
    const slots = await loka.app
      .get(SlotReader)
      .read([site.id('out')], start + DAY - HOUR, start + DAY, 'all');
    expect(slots.get(site.id('out'))?.at(-1)?.last.at(-1)).toBe(700_000 + at(500, 1439));
  });
});

it('where a counter says nothing over a period, the calendar takes the power; where it counts, the counter', async () => {
  // Before anything else that the counter has counted, so that no gap reaches into the first day.
  const start = day('2025-06-10');
  const byHour = async (from: number) => {
    const { nodes } = await loka.ask<EnergyCalendar>(
      `/energy/calendar?from=${from}&to=${from + DAY}&step=hour`,
    );
    return nodes.find((n) => n.nodeId === site.place);
  };
  await site.minutely('total', start, 2881, () => 1500);
  await site.minutely('in', start + DAY, 1441, (i) => 11_000_000 + at(1400, i));
  await site.rollUp();
  const [first, second] = [await byHour(start), await byHour(start + DAY)];
  expect(first?.source).toBe('power');
  expect(first?.import).toEqual(Array.from({ length: 24 }, () => 1500));
  expect(first?.coverage).toEqual(Array.from({ length: 24 }, () => 1));
  expect(second?.source).toBe('counter');
  expect(second?.import).toEqual(Array.from({ length: 24 }, () => 1400));
});

it('over a long period the source is the one that the whole of it asks for, read or not', async () => {
  // 1 kW in, but for two hours from noon on the first two days, in which 1 kW flows out; the counter knows only of what
  // comes in. Of more than a hundredth that flows out, the power has to tell.
  const start = day('2025-01-01');
  const flowsOut = (i: number) => i < 2 * 1440 && i % 1440 >= 720 && i % 1440 < 840;
  let counted = 10_000_000;
  await site.minutely('total', start, 12 * 1440 + 1, (i) => (flowsOut(i) ? -1000 : 1000));
  await site.minutely('in', start, 12 * 1440 + 1, (i) => {
    if (i > 0 && !flowsOut(i - 1)) counted += 1000 / 60;
    return Math.floor(counted + 1e-6);
  });
  await site.rollUp();
  const ask = async (from: number, to: number) => {
    const { nodes } = await loka.ask<EnergyCalendar>(`/energy/calendar?from=${from}&to=${to}&step=day`);
    const own = nodes.find((n) => n.nodeId === site.place);
    const sum = (column?: (number | null)[]) => (column ?? []).reduce<number>((a, b) => a + (b ?? 0), 0);
    const all = await site.energy(from, to);
    expect(all.source).toBe(own?.source);
    return { source: own?.source, import: sum(own?.import), export: sum(own?.export), net: sum(own?.net) };
  };
  const check = async () => {
    // 4 of 288 hours.
    const whole = await ask(start, start + 12 * DAY);
    expect(whole.source).toBe('power');
    expect([whole.import, whole.export, whole.net].map(Math.round)).toEqual([284_000, 4000, 280_000]);
    // Borders within days: 2 of 180 hours; 1 of 179, although the sums of the day say 2; 1.5 of 228.
    expect((await ask(start + DAY + 12 * HOUR, start + 9 * DAY)).source).toBe('power');
    expect((await ask(start + DAY + 13 * HOUR, start + 9 * DAY)).source).toBe('counter');
    const half = 30 * MINUTE;
    const late = await ask(start + DAY + 12 * HOUR + half, start + 11 * DAY + half);
    expect(late.source).toBe('counter');
    expect(Math.abs(late.import - 226_500)).toBeLessThan(20);
    expect((await ask(start + 2 * DAY, start + 12 * DAY)).source).toBe('counter');
  };
  await check();
  // Pages that were written before such sums were kept.
  await loka.sql.query('UPDATE rollup_pages SET imported = NULL, exported = NULL');
  await check();
});

it('a year in which only the power tells is told by the power, although there is a counter', async () => {
  const start = day('2024-03-01');
  await site.minutely('total', start, 9 * 1440, () => 600);
  await site.rollUp();
  const { nodes } = await loka.ask<EnergyCalendar>(
    `/energy/calendar?from=${start}&to=${start + 9 * DAY}&step=day`,
  );
  const own = nodes.find((n) => n.nodeId === site.place);
  expect(own?.source).toBe('power');
  expect(own?.import.map((wh) => Math.round(wh as number))).toEqual(
    Array.from({ length: 9 }, () => 600 * 24),
  );
});
