import type { Point } from '@loka/contract/points';
import type { Job, Series } from '@loka/contract/readings';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { DataSource } from 'typeorm';
import { SiteFileError } from '../src/import/siteFile.js';
import { SiteImport } from '../src/import/siteImport.js';
import { Loka, until } from './support/loka.js';

// A site from a file, with recorded history and a virtual meter over it; and the database as an earlier Loka left it.
let loka: Loka;
const folder = mkdtempSync(join(tmpdir(), 'loka-history-'));
beforeAll(async () => {
  loka = await Loka.start(undefined, { acquire: false });
});
afterAll(async () => {
  await loka.stop();
  rmSync(folder, { recursive: true });
});

const HOUR = 3_600_000;
const START = Date.parse('2026-02-02T10:00:00Z');
const place = { way: '', phases: 'L1', protectiveDevice: null, ratedCurrent: null };
const file = (more: object = {}) =>
  ({
    site: {
      name: 'From a file',
      timeZone: 'UTC',
      nominalVoltage: 230,
      frequency: 50,
      conductorScheme: 'iec-60445',
    },
    nodes: [{ ref: 'supply', parent: null, kind: 'supply', name: 'Supply', ...place }],
    links: [{ ref: 'link', name: 'Link', host: '127.0.0.1', port: 1502, timeoutMs: 1000, enabled: false }],
    devices: [{ ref: 'meter', link: 'link', map: 'Single-phase meter, integer map', name: 'Meter', unit: 1 }],
    points: [{ point: 'meter/power', node: 'supply' }],
    switches: [],
    cutOffRules: [],
    alertRules: [],
    virtualMeters: [
      {
        name: 'Twice',
        formula: '2 * p',
        inputs: [{ name: 'p', point: 'meter/power' }],
        quantity: 'active-power',
        phase: null,
        node: null,
      },
    ],
    ...more,
  }) as never;

/** An hour, once a minute: power rises by 10 W a minute from 100 W on. */
function history(): string {
  const path = join(folder, 'history.csv');
  const rows = Array.from({ length: 60 }, (_, i) => [START + i * 60_000, 100 + 10 * i, 5].join(','));
  writeFileSync(path, ['time,meter/power,stranger/power', ...rows].join('\n') + '\n');
  return path;
}

it('history is loaded for the points that there are, rolled up, and a virtual meter follows', async () => {
  const made = new SiteImport(loka.app);
  await made.run(file());
  // 60 readings of one point; the column of a device that the site does not have is left out.
  expect(await made.loadHistory(history(), () => undefined)).toBe(60);
  const points = await loka.ask<Point[]>('/points');
  const power = points.find((p) => p.key === 'power');
  const twice = points.find((p) => p.definition.name === 'Twice');
  const [own, virtual] = await loka.ask<Series[]>(
    `/readings?points=${power?.id},${twice?.id}&from=${START}&to=${START + HOUR}&block=60`,
  );
  // The mean of 100, 110 … 690 W.
  expect(own?.mean[0]).toBeCloseTo(395, 6);
  expect(own?.min[0]).toBe(100);
  expect(own?.max[0]).toBe(690);
  expect(virtual?.mean[0]).toBeCloseTo(790, 6);
  expect(virtual?.max[0]).toBe(1380);
});
it('a history of nothing is refused, and so is a site file that names what it does not have', async () => {
  const path = join(folder, 'empty.csv');
  writeFileSync(path, 'time,meter/power\n');
  await expect(new SiteImport(loka.app).loadHistory(path, () => undefined)).rejects.toThrow(SiteFileError);
  const other = await Loka.start(undefined, { acquire: false });
  await expect(
    new SiteImport(other.app).run(file({ points: [{ point: 'meter/colour', node: 'supply' }] })),
  ).rejects.toThrow(/no point meter\/colour/);
  await other.stop();
});
it('the database goes back to what it was before links of other kinds, and forward again, and keeps its readings', async () => {
  const db = loka.app.get(DataSource);
  const columns = async () =>
    (
      await loka.sql.query(
        'SELECT TABLE_NAME, COLUMN_NAME, COLUMN_TYPE, IS_NULLABLE FROM information_schema.COLUMNS WHERE TABLE_SCHEMA = ? ORDER BY 1, 2',
        [loka.config.database.name],
      )
    )[0] as { TABLE_NAME: string; COLUMN_NAME: string }[];
  const count = async () =>
    ((await loka.sql.query('SELECT COUNT(*) AS n FROM samples'))[0] as { n: number }[])[0]?.n;
  const [before, samples] = [await columns(), await count()];
  // A virtual meter does not exist there; what it has computed must not be in the way.
  const newest = async () =>
    (
      (await loka.sql.query('SELECT name FROM migrations ORDER BY timestamp DESC LIMIT 1'))[0] as {
        name: string;
      }[]
    )[0]?.name;
  for (let last = ''; !last.startsWith('MoreLinks');) {
    last = (await newest()) as string;
    await db.undoLastMigration();
  }
  const undone = await columns();
  expect(undone.some((c) => c.TABLE_NAME === 'virtual_meters')).toBe(false);
  expect(undone.some((c) => c.TABLE_NAME === 'links' && c.COLUMN_NAME === 'kind')).toBe(false);
  await db.runMigrations();
  expect(await columns()).toEqual(before);
  expect(await count()).toBe(samples);
  expect((await loka.sql.query('SELECT kind, host FROM links'))[0]).toMatchObject([
    { kind: 'modbus-tcp', host: '127.0.0.1' },
  ]);
});
it('rollups of an earlier Loka are made anew by a job at the next start, and every figure is as it was', async () => {
  const points = await loka.ask<Point[]>('/points');
  const ids = points.filter((p) => p.key === 'power').map((p) => p.id);
  const ask = () =>
    loka.ask<Series[]>(`/readings?points=${ids.join(',')}&from=${START}&to=${START + HOUR}&block=15`);
  // The way back and forth over the migration has left the samples, and a note of what is to be rolled up.
  const [[row]] = (await loka.sql.query('SELECT COUNT(*) AS n FROM rebuilds')) as unknown as [
    [{ n: number }],
  ];
  expect(row.n).toBeGreaterThan(0);
  const config = loka.config;
  await loka.halt();
  loka = await Loka.start(config);
  await until('the job', async () =>
    (await loka.ask<Job[]>('/jobs')).some(
      (j) => j.title.startsWith('Rollups worked out') && j.state === 'done',
    ),
  );
  const [own] = await ask();
  // 100 W, rising by 10 W a minute: means of each quarter of an hour by hand.
  expect(own?.mean.map((v) => Math.round(v as number))).toEqual([170, 320, 470, 620]);
  expect(own?.count).toEqual([15, 15, 15, 15]);
});
