import type { HealthReport } from '@loka/contract/health';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startMariadb, type RunningMariadb } from '../../scripts/lib/mariadb.mjs';
import { SampleStore } from '../src/series/sampleStore.js';
import { Spool } from '../src/series/spool.js';
import { Loka, until } from './support/loka.js';
import { makeSite, TestBuilding, type MadeSite } from './support/site.js';

describe('the database goes away while readings come in', () => {
  let database: RunningMariadb;
  let folder: string;
  let loka: Loka;
  let building: TestBuilding;
  let site: MadeSite;

  beforeAll(async () => {
    folder = mkdtempSync(join(tmpdir(), 'loka-spool-'));
    database = await startMariadb(folder, { fast: true });
    building = await TestBuilding.start();
    loka = await Loka.start(Loka.on(database, 'loka_spool'));
    site = await makeSite(loka, building, ['main-meter']);
  }, 120_000);
  afterAll(async () => {
    await loka.stop();
    await building.stop();
    await database.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  it('samples are spooled and are there afterwards, without a gap', async () => {
    const id = site.point('main-meter', 'voltage-l1');
    const times = async () =>
      (
        (await loka.sql.query('SELECT t FROM samples WHERE pointId = ? ORDER BY t', [id]))[0] as {
          t: number;
        }[]
      ).map((r) => r.t);
    await until('samples before', async () => (await times()).length >= 3);
    const lastBefore = (await times()).at(-1) as number;
    await database.pause();
    const health = () => loka.ask<HealthReport>('/health');
    await until('samples in the spool', async () => (await health()).spool.samples > 5 * 13, 30_000);
    expect((await health()).database.up).toBe(false);
    // What needs the database says so plainly; the server does not fall over.
    const refused = await loka.raw('/links');
    expect(refused.status).toBe(503);
    expect((refused.body as { detail: string }).detail).toContain('nothing is lost');
    const away = Date.now();
    await database.resume();
    await until('the spool to be empty', async () => (await health()).spool.samples === 0, 30_000);
    await until('samples after', async () => ((await times()).at(-1) as number) > away + 1000, 30_000);
    const all = (await times()).filter((t) => t >= lastBefore);
    const gaps = all.slice(1).map((t, i) => t - (all[i] as number));
    expect(Math.max(...gaps)).toBeLessThan(2500);
    expect((await health()).spool.lost).toBe(0);
  }, 120_000);
});

describe('the database hangs while readings come in', () => {
  let database: RunningMariadb;
  let folder: string;
  let loka: Loka;
  beforeAll(async () => {
    folder = mkdtempSync(join(tmpdir(), 'loka-hang-'));
    database = await startMariadb(folder, { fast: true });
    loka = await Loka.start({
      port: 0,
      dataFolder: mkdtempSync(join(tmpdir(), 'loka-data-')),
      webFolder: null,
      allowedNetworks: null,
      acquire: false,
      database: {
        host: '127.0.0.1',
        port: database.port,
        user: 'loka',
        password: database.password,
        name: 'loka_hang',
        timeoutMs: 1000,
      },
    });
  }, 120_000);
  afterAll(async () => {
    database.thaw();
    await loka.stop();
    await database.stop();
    rmSync(folder, { recursive: true, force: true });
  });

  it('one that does not answer is one that is away: it is told so, readings go to the spool, and are there afterwards', async () => {
    const store = loka.app.get(SampleStore);
    const t = Date.now() - 60_000;
    const put = (i: number) => store.append([{ pointId: 7, t: t + i, v: i, q: 0 }]);
    put(0);
    await store.flush();
    await database.freeze();
    for (let i = 1; i <= 50; i++) put(i);
    await until('readings in the spool', () => store.status().spool.samples >= 50, 30_000);
    const refused = await loka.raw('/links');
    expect(refused).toMatchObject({
      status: 503,
      body: { detail: expect.stringContaining('does not answer') },
    });
    for (let i = 51; i <= 60; i++) put(i);
    database.thaw();
    await until(
      'the spool to be empty',
      () => store.status().spool.samples === 0 && store.status().waiting === 0,
      30_000,
    );
    await store.flush();
    const [rows] = (await loka.sql.query(
      'SELECT v FROM samples WHERE pointId = 7 ORDER BY t',
    )) as unknown as [{ v: number }[]];
    expect(rows.map((r) => r.v)).toEqual(Array.from({ length: 61 }, (_, i) => i));
    expect(store.status().spool.lost).toBe(0);
  }, 120_000);
});

describe('the spool on disk', () => {
  it('keeps what an earlier run has left, brings it in once, and counts a torn line as lost', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'loka-spool-'));
    const { appendFile } = await import('node:fs/promises');
    const first = new Spool(folder);
    await first.open();
    await first.write([
      { pointId: 1, t: 10, v: 1.25, q: 0 },
      { pointId: 1, t: 20, v: null, q: 129 },
    ]);
    await appendFile(join(folder, 'samples.ndjson'), '[1,30,');
    const second = new Spool(folder);
    await second.open();
    expect(second.status().samples).toBe(3);
    const got = [];
    for await (const batch of second.replay(1)) got.push(...batch);
    expect(got).toEqual([
      { pointId: 1, t: 10, v: 1.25, q: 0 },
      { pointId: 1, t: 20, v: null, q: 129 },
    ]);
    expect(second.status()).toMatchObject({ samples: 0, bytes: 0, lost: 1 });
    rmSync(folder, { recursive: true });
  });

  it('a replay that is broken off is brought in again from the start', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'loka-spool-'));
    const spool = new Spool(folder);
    await spool.open();
    await spool.write([
      { pointId: 1, t: 10, v: 1, q: 0 },
      { pointId: 1, t: 20, v: 2, q: 0 },
    ]);
    for await (const _batch of spool.replay(1)) break;
    expect(spool.status().samples).toBe(2);
    const got = [];
    for await (const batch of spool.replay(10)) got.push(...batch);
    expect(got.map((s) => s.t)).toEqual([10, 20]);
    rmSync(folder, { recursive: true });
  });
});
