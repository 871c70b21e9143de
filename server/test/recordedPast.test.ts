import type { Alert } from '@loka/contract/alerts';
import type { Calibration } from '@loka/contract/calibration';
import type { SwitchOperation } from '@loka/contract/control';
import type { Point } from '@loka/contract/points';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { SiteImport } from '../src/import/siteImport.js';
import type { SiteFile } from '../src/import/siteFile.js';
import { Loka } from './support/loka.js';

// Three days that the test itself writes down; what people are said to have done then has to agree with them.
const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;
/** The last midnight of Lisbon, which in winter is that of UTC; in summer the hours below are an hour later there. */
const END = Math.floor(Date.now() / DAY) * DAY;
const BEGIN = END - 3 * DAY;
const GAIN = 1.021;

let loka: Loka;
let points: Point[];
const folder = mkdtempSync(join(tmpdir(), 'loka-past-'));
const point = (device: string, key: string): number =>
  points.find((p) => p.deviceName === device && p.key === key)!.id;

beforeAll(async () => {
  loka = await Loka.start();
  const file = JSON.parse(
    readFileSync(new URL('../../fieldsim/sample-site.json', import.meta.url), 'utf8'),
  ) as SiteFile;
  // Nothing answers here: only the past is looked at.
  file.links.forEach((link, i) => Object.assign(link, { enabled: false, port: 1502 + i }));
  const site = new SiteImport(loka.app);
  const [lamp] = file.past!.calibrations.filter((c) => c.point === 'clamp-node/current-4');
  await site.run({ ...file, past: { ...file.past!, calibrations: [{ ...lamp!, daysAgo: 3 }] } });
  const lines = ['time,clamp-node/current-4,mixer-meter/power-total,main-meter/power-total'];
  for (let t = BEGIN; t < END; t += MINUTE) {
    const hour = ((t - BEGIN) % DAY) / HOUR;
    lines.push(
      [
        t,
        hour >= 8 && hour < 16 ? 3 * GAIN : 0.08,
        hour >= 5 && hour < 7 ? 2400 : 0,
        hour >= 9 && hour < 9.25 ? 25_000 : 4000,
      ].join(','),
    );
  }
  const csv = join(folder, 'history.csv');
  writeFileSync(csv, `${lines.join('\n')}\n`);
  await site.loadHistory(csv, () => undefined);
  points = await loka.ask<Point[]>('/points');
}, 60_000);
afterAll(async () => {
  await loka.stop();
  rmSync(folder, { recursive: true });
});

it('a calibration finds what its device adds, at a load of the day, by the instrument of the file', async () => {
  const [made, ...more] = await loka.ask<Calibration[]>(
    `/calibrations?point=${point('Clamp node', 'current-4')}`,
  );
  expect(more).toEqual([]);
  // The instrument may be off by its tolerance, 1 %.
  expect(Math.abs(made!.gain * GAIN - 1)).toBeLessThan(0.01);
  expect(made!.points.map((p) => p.reference)).toEqual([expect.closeTo(3, 1)]);
  expect(made!.points[0]!.asFound).toBeGreaterThan(1);
  expect(made!.points[0]!.instrument?.name).toBe('Clamp meter');
  expect(made!.who).toBe('R. Okafor');
  expect(made!.madeAt).toBeLessThan(BEGIN + 2 * DAY);
});
it('alerts are what the rules find in the readings, once a day; seen by somebody, but for the newest', async () => {
  const alerts = (await loka.ask<Alert[]>('/alerts/history?limit=50')).filter(
    (a) => a.name === 'High site load' && a.kind === 'limit',
  );
  expect(alerts.map((a) => (a.raisedAt - BEGIN) % DAY)).toEqual(Array(3).fill(9 * HOUR + MINUTE));
  expect(alerts.map((a) => (a.returnedAt! - BEGIN) % DAY)).toEqual(Array(3).fill(9 * HOUR + 16 * MINUTE));
  expect(alerts.map((a) => a.acknowledgedBy !== null)).toEqual([false, true, true]);
});
it('the mixer’s switch is opened after its use and closed before the next, and stays closed', async () => {
  const operations = (await loka.ask<SwitchOperation[]>('/switches/operations?limit=50')).sort(
    (a, b) => a.at - b.at,
  );
  expect(operations.map((o) => o.closed)).toEqual([false, true, false, true]);
  for (const { at, closed } of operations) {
    const hour = ((at - BEGIN) % DAY) / HOUR;
    if (closed) expect(hour).toBeLessThan(5);
    else expect(hour).toBeGreaterThan(7);
    expect(Math.abs(hour - (closed ? 5 : 7))).toBeLessThan(0.6);
  }
});
