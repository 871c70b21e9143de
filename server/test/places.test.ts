import type { Happening } from '@loka/contract/happenings';
import type { RunningSeen, RunningTotal } from '@loka/contract/totals';
import type { Series } from '@loka/contract/readings';
import { QUALITY } from '@loka/core/series';
import { IntervalBook } from '../src/series/intervalBook.js';
import { Loka } from './support/loka.js';
import { register } from './support/point.js';
import { DAY, HOUR, MINUTE, Recorded } from './support/recorded.js';

// What is told of a place besides its readings: what people say, what happened, and what runs on until it is cleared.
let loka: Loka;
let site: Recorded;
beforeAll(async () => {
  loka = await Loka.start(undefined, { acquire: false });
  site = await Recorded.make(loka, [
    register('total', 0, { quantity: 'active-power', unit: 'W', phase: 'total' }),
  ]);
});
afterAll(() => loka.stop());

const start = Date.parse('2026-02-02T00:00:00Z');
const happenings = (from: number, to: number) =>
  loka.ask<Happening[]>(`/happenings?node=${site.place}&from=${from}&to=${to}`);
const running = async (from: number, to: number) =>
  (
    await loka.ask<{ running: RunningSeen | null }>(
      `/totals/running?node=${site.place}&from=${from}&to=${to}`,
    )
  ).running;
const totals = async () => {
  const all = await loka.ask<RunningTotal[]>(`/totals?node=${site.place}`);
  const of = (kind: string) => all.find((t) => t.kind === kind) as RunningTotal;
  return { energy: of('energy'), run: of('run-time') };
};

it('a load of 2 kW for twenty minutes of each hour: eight hours and 24 starts a day, by readings as by minutes', async () => {
  await site.minutely('total', start, 2 * 1440, (i) => (i % 60 >= 10 && i % 60 < 30 ? 2000 : 3));
  await site.rollUp();
  const day = await running(start, start + DAY);
  expect(day).toMatchObject({ runMs: 8 * HOUR, starts: 24, exact: true, threshold: 200 });
  const both = await running(start, start + 2 * DAY);
  expect(both).toMatchObject({ runMs: 16 * HOUR, starts: 48, exact: false });
  expect(await running(start - 9 * DAY, start - 8 * DAY)).toMatchObject({ runMs: 0, starts: 0, known: 0 });
});

it('totals run since the first reading; each is cleared by itself, by who types the name, and its past is kept', async () => {
  const before = await totals();
  // 48 times twenty minutes of 2 kW, and 3 W for the rest.
  const wh = 48 * (2000 / 3) + (3 * 48 * 2) / 3;
  expect(before.energy.value).toBeCloseTo(wh, 0);
  expect(before.run).toMatchObject({ value: 16 * HOUR, starts: 48, threshold: 200 });
  const clear = (name: string) =>
    loka.raw('/totals/clear', 'POST', { nodeId: site.place, kind: 'energy', name });
  expect((await clear('supply')).status).toBe(422);
  expect((await totals()).energy.value).toBeCloseTo(wh, 0);
  expect((await clear('circuit')).status).toBe(200);
  const after = await totals();
  expect(after.energy.value ?? 0).toBeCloseTo(0, 6);
  expect(after.energy.clearings).toMatchObject([{ who: 'local person' }]);
  expect(after.energy.clearings[0]?.stood).toBeCloseTo(wh, 0);
  expect(after.run.value).toBe(16 * HOUR);
  // The history is what it was.
  expect((await site.energy(start, start + 2 * DAY)).net).toBeCloseTo(wh, 0);
  expect((await loka.raw('/totals?node=9999')).status).toBe(404);
});

it('a gap is told with its reason, and only where there is one', async () => {
  const later = start + 3 * DAY;
  await site.minutely('total', later, 300, (i) => (i >= 100 && i < 160 ? null : 500));
  await site.store('total', [{ t: later + 101 * MINUTE, v: null, q: QUALITY.timeout }]);
  await site.rollUp();
  const found = (await happenings(later + 10 * MINUTE, later + 290 * MINUTE)).filter((h) => h.kind === 'gap');
  expect(found).toHaveLength(1);
  expect(found[0]?.says).toContain('time-out, no answer');
  expect(Math.abs((found[0]?.t as number) - (later + 101 * MINUTE))).toBeLessThanOrEqual(2 * MINUTE);
  expect(Math.abs((found[0]?.until as number) - (later + 160 * MINUTE))).toBeLessThanOrEqual(2 * MINUTE);
  expect((await happenings(start - 99 * DAY, start - 98 * DAY)).filter((h) => h.kind === 'gap')).toEqual([]);
});

it('an hour of readings each second is answered by the pixel, and no peak is lost', async () => {
  const hour = start + 10 * DAY;
  await loka.sql.query('REPLACE INTO point_intervals VALUES (?, ?, 1000)', [site.id('total'), hour]);
  await loka.app.get(IntervalBook).reload();
  await site.store(
    'total',
    Array.from({ length: 3600 }, (_, i) => ({
      t: hour + i * 1000,
      v: i === 1717 ? 9000 : i === 2020 ? -50 : 400 + (i % 7),
      q: 0,
    })),
  );
  const path = `/readings?points=${site.id('total')}&from=${hour}&to=${hour + HOUR}&width=900`;
  const [line] = await loka.ask<Series[]>(path);
  expect(line?.step).toBe(4000);
  expect(line?.t.length).toBe(900);
  expect(Math.max(...(line?.max as number[]))).toBe(9000);
  expect(Math.min(...(line?.min as number[]))).toBe(-50);
  expect(JSON.stringify([line]).length).toBeLessThan(45_000);
  // By hand: 400 + (i mod 7) of the first four seconds.
  expect(line?.mean[0]).toBeCloseTo((400 + 401 + 402 + 403) / 4, 9);
  // Near enough, every single reading.
  const [close] = await loka.ask<Series[]>(path.replace(`to=${hour + HOUR}`, `to=${hour + HOUR / 4}`));
  expect([close?.step, close?.t.length]).toEqual([0, 900]);
});

describe('what a person says of an instant', () => {
  const t = start + 5 * HOUR;
  const said = async () => (await happenings(start, start + DAY)).filter((h) => h.kind === 'comment');

  it('is put there, changed by one at a time, and removed', async () => {
    const { id } = await loka.ask<{ id: number }>('/comments', 'POST', {
      nodeId: site.place,
      t,
      text: 'New <b>element</b> fitted',
    });
    expect(await said()).toMatchObject([{ t, says: 'New <b>element</b> fitted', commentId: id }]);
    const change = (version: number, text: string) =>
      loka.raw(`/comments/${id}`, 'PUT', { nodeId: site.place, t, text, version });
    expect((await change(1, 'Element changed')).status).toBe(200);
    expect((await change(1, 'Somebody else')).status).toBe(409);
    expect((await said())[0]?.says).toBe('Element changed');
    await loka.ask(`/comments/${id}`, 'DELETE');
    expect(await said()).toEqual([]);
    expect((await loka.raw(`/comments/${id}`, 'DELETE')).status).toBe(404);
  });

  it.each([
    ['nothing', { text: '' }, 422],
    ['only spaces', { text: '   ' }, 422],
    ['too much', { text: 'x'.repeat(401) }, 422],
    ['of the future', { text: 'soon', t: Date.now() + DAY }, 422],
    ['at no place', { text: 'where', nodeId: 9999 }, 404],
  ])('%s is refused', async (_, part, status) => {
    expect((await loka.raw('/comments', 'POST', { nodeId: site.place, t, ...part })).status).toBe(status);
  });
});

it('another zone is kept with the instant at which the site got it', async () => {
  const { site: before } = await loka.ask<{ site: { version: number; timeZone: string } }>('/site');
  const { id: _, ...rest } = before as typeof before & { id: number };
  await loka.ask('/site', 'PUT', { ...rest, timeZone: 'Asia/Kathmandu' });
  const after = await loka.ask<{ zoneChanges: object[] }>('/site');
  expect(after.zoneChanges).toMatchObject([{ zoneBefore: before.timeZone, zoneAfter: 'Asia/Kathmandu' }]);
  // Saved again with the same one, nothing is added.
  const { site: now } = await loka.ask<{ site: { id: number; version: number } }>('/site');
  const { id: __, ...same } = now;
  await loka.ask('/site', 'PUT', same);
  expect((await loka.ask<{ zoneChanges: object[] }>('/site')).zoneChanges).toHaveLength(1);
});
