import { AsyncLocalStorage } from 'node:async_hooks';
import type { HealthReport } from '@loka/contract/health';
import type { Series } from '@loka/contract/readings';
import { QUALITY } from '@loka/core/series';
import { DataSource } from 'typeorm';
import { IntervalBook } from '../src/series/intervalBook.js';
import { Journal } from '../src/series/journal.js';
import { ReadingsReader } from '../src/series/readingsReader.js';
import { RollupWorker } from '../src/series/rollupWorker.js';
import { SampleStore } from '../src/series/sampleStore.js';
import { Loka } from './support/loka.js';
import { register } from './support/point.js';
import { DAY, HOUR, MINUTE, Recorded } from './support/recorded.js';

// What lies between a stored sample and a figure: rollups of late, absurd, refused and repeated readings.
let loka: Loka;
let site: Recorded;
beforeAll(async () => {
  loka = await Loka.start(undefined, { acquire: false });
  site = await Recorded.make(
    loka,
    [
      register('v', 0, { type: 'float64', quantity: 'other', unit: '' }),
      register('p', 10, { quantity: 'active-power', unit: 'W' }),
    ],
    6000,
  );
});
afterAll(() => loka.stop());

const T = Date.parse('2026-05-05T10:00:00Z');
const minutes = async (key: string, from: number, to: number): Promise<Series> =>
  (await loka.ask<Series[]>(`/readings?points=${site.id(key)}&from=${from}&to=${to}&block=1`))[0] as Series;

it('good, then bad after six seconds: the minute is known for six seconds, also when the bad one comes late', async () => {
  await site.store('v', [{ t: T, v: 5, q: 0 }]);
  await site.rollUp();
  expect((await minutes('v', T, T + MINUTE)).covered).toEqual([15_000]); // it holds for two and a half intervals
  await site.store('v', [{ t: T + 6000, v: null, q: QUALITY.timeout }]);
  for (const look of [() => undefined, () => site.rollUp()]) {
    await look();
    expect((await minutes('v', T, T + MINUTE)).covered).toEqual([6000]);
  }
});
it('a rollup whose only reading is struck out is removed', async () => {
  const t = T + 10 * MINUTE;
  await site.store('v', [{ t, v: 5, q: 0 }]);
  await site.rollUp();
  expect((await minutes('v', t, t + MINUTE)).t).toEqual([t]);
  await loka.ask('/verdicts', 'POST', { pointId: site.id('v'), from: t, to: t + 1, counts: false });
  expect((await minutes('v', t, t + MINUTE)).t).toEqual([]);
});
it('one absurd value does not stop a minute of others', async () => {
  const t = T + 20 * MINUTE;
  await site.store('v', [
    { t, v: 1e308, q: 0 },
    { t: t + 6000, v: 1e308, q: 0 },
    { t: t + 12_000, v: 2, q: 0 },
  ]);
  await site.store('p', [{ t, v: 100, q: 0 }]);
  await site.rollUp();
  const [absurd, other] = await Promise.all([minutes('v', t, t + MINUTE), minutes('p', t, t + MINUTE)]);
  expect(absurd.max).toEqual([1e308]);
  expect(Number.isFinite(absurd.mean[0])).toBe(true);
  expect(other.mean).toEqual([100]);
});
it('readings of a period that begins within a minute count from there on', async () => {
  const t = T + 40 * MINUTE;
  await site.store(
    'p',
    Array.from({ length: 31 }, (_, i) => ({ t: t + i * 6000, v: i < 10 ? 0 : 3600, q: 0 })),
  );
  await site.rollUp();
  // From 30 s on: 30 s of nothing, then 90 s at 3600 W.
  const energy = await site.energy(t + 30_000, t + 150_000);
  expect(energy).toMatchObject({ import: 90, coverage: 1 });
});
it('a value that no database takes is no value, and says so; a row that it refuses is put aside with its reason, and nothing else', async () => {
  const store = loka.app.get(SampleStore);
  const t = T + 60 * MINUTE;
  const pointId = site.id('v');
  store.append([
    { pointId, t, v: 1, q: 0 },
    { pointId, t: t + 1, v: Infinity, q: 0 },
    { pointId, t: t + 2, v: 2, q: 344 }, // what an exception code of 200 came to
    { pointId: -7, t: t + 3, v: 3, q: 0 },
    { pointId, t: t + 4, v: 4, q: 0 },
  ]);
  await store.flush();
  const kept = await loka.app.get(Journal).page(pointId, t, t + MINUTE, 10);
  expect(kept.map(({ v, q }) => [v, q])).toEqual([
    [1, 0],
    [null, QUALITY.notANumber],
    [4, 0],
  ]);
  const health = await loka.ask<HealthReport>('/health');
  expect(health.refused).toMatchObject({ rows: 2, lastReason: expect.stringMatching(/out of range/i) });
  expect(health.spool.samples).toBe(0);
});
it('corrected readings of several points come together in time order, page by page, with quality and hold', async () => {
  const t = T + 5 * HOUR;
  await site.store(
    'v',
    [0, 2, 4, 6].map((i) => ({ t: t + i * 1000, v: i, q: 0 })),
  );
  await site.store(
    'p',
    [1, 2, 5].map((i) => ({ t: t + i * 1000, v: 10 * i, q: i === 5 ? 0x40 : 0 })),
  );
  await site.store('p', [{ t: t - 3000, v: 7, q: 0 }]);
  const ids = [site.id('v'), site.id('p')];
  const read = async (options: object) => {
    const rows: [string, number, number | null, number, number][] = [];
    for await (const r of loka.app.get(ReadingsReader).scan(ids, t, t + MINUTE, options))
      rows.push([r.pointId === ids[0] ? 'v' : 'p', (r.t - t) / 1000, r.v, r.q, r.hold]);
    return rows;
  };
  const all = [
    ['v', 0, 0, 0, 15_000],
    ['p', 1, 10, 0, 15_000],
    ['v', 2, 2, 0, 15_000],
    ['p', 2, 20, 0, 15_000],
    ['v', 4, 4, 0, 15_000],
    ['p', 5, 50, 0x40, 15_000],
    ['v', 6, 6, 0, 15_000],
  ];
  expect(await read({})).toEqual(all);
  expect(await read({ page: 1 })).toEqual(all);
  // With what reaches into the period.
  expect((await read({ carry: true })).filter((r) => r[1] < 0)).toEqual([
    ['v', expect.any(Number), 4, 0, 15_000],
    ['p', -3, 7, 0, 15_000],
  ]);
});
it('a chart of a time that was recorded more densely than today is bounded by what was recorded', async () => {
  const t = T - 30 * DAY;
  // Recorded every second then, every six seconds now: 7200 readings in two hours.
  await loka.sql.query('REPLACE INTO point_intervals VALUES (?, 0, 1000), (?, ?, 6000)', [
    site.id('p'),
    site.id('p'),
    t + DAY,
  ]);
  await loka.app.get(IntervalBook).reload();
  await site.store(
    'p',
    Array.from({ length: 7200 }, (_, i) => ({ t: t + i * 1000, v: i, q: 0 })),
  );
  await site.rollUp();
  const ask = async (to: number) =>
    (await loka.ask<Series[]>(`/readings?points=${site.id('p')}&from=${t}&to=${to}&width=900`))[0] as Series;
  const wide = await ask(t + 2 * HOUR);
  expect([wide.step, wide.t.length]).toEqual([MINUTE, 120]);
  expect(new Set(wide.count)).toEqual(new Set([60]));
  expect((await ask(t + 30 * MINUTE)).step).toBe(0);
  // And one that reports more often than it should is bounded as well.
  await loka.sql.query('REPLACE INTO point_intervals VALUES (?, 0, 60000)', [site.id('p')]);
  await loka.app.get(IntervalBook).reload();
  expect((await ask(t + 2 * HOUR)).step).toBe(MINUTE);
  await loka.sql.query('REPLACE INTO point_intervals VALUES (?, 0, 6000)', [site.id('p')]);
  await loka.app.get(IntervalBook).reload();
});
it('a cell of an export, read as a number, is the value', async () => {
  const t = T + 8 * HOUR;
  const values = [1e30, 2.5e40, 1e-12, 0.1 + 0.2, -1 / 3, 5e-324, 123456789.12345679, 0];
  await site.store(
    'v',
    values.map((v, i) => ({ t: t + i, v, q: 0 })),
  );
  const { body } = await loka.raw(`/readings/export.csv?point=${site.id('v')}&from=${t}&to=${t + 100}`);
  const rows = String(body).trim().split('\r\n').slice(1);
  expect(rows.map((row) => Number(row.split(',')[1]))).toEqual(values);
  expect(rows.map((row) => Number(row.split(',')[4]))).toEqual(values);
});

describe('no query looks through a whole index', () => {
  // A million rows would take a while to make: the tables are filled by the server itself, and what the plan says of the
  // rows to be looked at is held against what lies in the range.
  beforeAll(async () => {
    await loka.sql.query(
      `INSERT INTO samples (pointId, t, v, q) SELECT 1000000 + seq DIV 1000, ${T} + (seq MOD 1000) * 1000, seq, 0 FROM seq_0_to_999999`,
    );
    await loka.sql.query(
      `INSERT INTO rollup_pages (pointId, level, start, flow, shape) SELECT 1000000 + seq DIV 1000, 1 + seq MOD 2, ${T} + (seq MOD 1000) * 3600000, '', '' FROM seq_0_to_999999`,
    );
    await loka.sql.query(
      `INSERT INTO rollup_due (pointId, minute) SELECT 1000000 + seq DIV 100, ${T} + (seq MOD 100) * 60000 FROM seq_0_to_99999`,
    );
    await loka.sql.query(
      `INSERT INTO counter_states (pointId, hour, state) SELECT 1000000 + seq DIV 1000, ${T} + (seq MOD 1000) * 3600000, 'null' FROM seq_0_to_99999`,
    );
    await loka.sql.query(
      `INSERT INTO counter_spans (pointId, until, since, increment, sure) SELECT 1000000 + seq DIV 1000, ${T} + (seq MOD 1000) * 3600000, 0, 1, 1 FROM seq_0_to_99999`,
    );
    await loka.sql.query(
      `INSERT INTO doubts (pointId, t, kind, until, readings) SELECT 1000000 + seq DIV 1000, ${T} + (seq MOD 1000) * 3600000, 'glitch', 0, 1 FROM seq_0_to_99999`,
    );
    await loka.sql.query(
      'ANALYZE TABLE samples, rollup_pages, rollup_due, counter_states, counter_spans, doubts',
    );
  }, 120_000);

  const isScan = ({ type }: { type: string }) => type === 'ALL' || type === 'index';
  const OWN = /\b(samples|rollup_pages|rollup_due|counter_states|counter_spans|counter_exchanges|doubts)\b/;

  /** Runs something and gives the plans of the reading queries on the tables of the series that it made. */
  async function plansOf(
    work: () => Promise<unknown>,
  ): Promise<{ sql: string; type: string; rows: number }[]> {
    const db = loka.app.get(DataSource);
    const seen: { sql: string; parameters: unknown[] }[] = [];
    const { createQueryRunner } = db;
    // What the server does beside is not asked for here.
    const own = new AsyncLocalStorage<true>();
    db.createQueryRunner = (...args: Parameters<typeof createQueryRunner>) => {
      const runner = createQueryRunner.apply(db, args);
      const query = runner.query.bind(runner);
      runner.query = ((sql: string, parameters?: unknown[], structured?: boolean) => {
        if (own.getStore() && /^\s*\(?SELECT/i.test(sql) && OWN.test(sql))
          seen.push({ sql, parameters: parameters ?? [] });
        return query(sql, parameters as never, structured as never);
      }) as typeof runner.query;
      return runner;
    };
    try {
      await own.run(true, work);
    } finally {
      db.createQueryRunner = createQueryRunner;
    }
    const plans = [];
    for (const { sql, parameters } of seen) {
      const [rows] = (await loka.sql.query(`EXPLAIN ${sql}`, parameters)) as unknown as [
        { table: string | null; type: string | null; rows: string | null; Extra: string | null }[],
      ];
      for (const row of rows)
        if (row.table && !row.table.startsWith('<'))
          plans.push({ sql, type: row.type ?? String(row.Extra), rows: Number(row.rows ?? 0) });
    }
    return plans;
  }

  it.each([1, 1000])(
    'in what the screens ask for, with %d points',
    async (count) => {
      const ids = Array.from({ length: count }, (_, i) => 1_000_000 + i);
      const { SlotReader } = await import('../src/series/slotReader.js');
      const { Doubts } = await import('../src/series/doubts.js');
      const { Counters } = await import('../src/series/counters.js');
      const reader = loka.app.get(SlotReader);
      const plans = await plansOf(async () => {
        await reader.read(ids, T + 30_000, T + 3 * HOUR + 30_000, 'all').catch(() => undefined);
        await reader.counts(ids.slice(0, 20), T + 30_000, T + 3 * HOUR);
        await reader.daySums(ids, T, T + 10 * DAY);
        await loka.app.get(Counters).spans(ids, T, T + HOUR);
        await loka.app.get(Doubts).list(ids, T, T + HOUR);
        await loka.app.get(Journal).readManyWithCarry(ids, T + 30_000, T + 90_000);
        await loka.app.get(Journal).extent(ids[0] as number);
        await loka.app.get(ReadingsReader).list(ids[0] as number, T, T + MINUTE, 10, true);
      });
      expect(plans.length).toBeGreaterThan(8);
      // Each point has a thousand rows; never are those of others looked at.
      expect(plans.filter((p) => isScan(p) || p.rows > 1010 * count)).toEqual([]);
    },
    120_000,
  );

  it('in the work on what is due, and at a start', async () => {
    const plans = await plansOf(async () => {
      await loka.app.get(RollupWorker).work(T - DAY);
      await site.store('p', [{ t: T + 12 * HOUR, v: 1, q: 0 }]);
    });
    expect(plans.filter(isScan)).toEqual([]);
    await loka.sql.query('DELETE FROM rollup_due WHERE pointId >= 1000000');
    await loka.sql.query('DELETE FROM samples WHERE pointId >= 1000000');
    const began = Date.now();
    await loka.halt();
    loka = await Loka.start(loka.config);
    expect(Date.now() - began).toBeLessThan(20_000);
  }, 120_000);
});
