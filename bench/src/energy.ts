import 'reflect-metadata';
import { newPoint, type PointDefinition } from '@loka/core/registers';
import { emptyCounts, emptySlots, QUARTER } from '@loka/core/series';
import { siteDay } from '@loka/core/time';
import { AppModule } from '@loka/server/app.module';
import { DeviceBook } from '@loka/server/book/deviceBook';
import { readConfig } from '@loka/server/config';
import { DevicesService } from '@loka/server/devices/devices.service';
import { PointsService } from '@loka/server/devices/points.service';
import { LinksService } from '@loka/server/devices/links.service';
import { BalanceService } from '@loka/server/balance/balance.service';
import { EnergyService } from '@loka/server/energy/energy.service';
import { InstallationService } from '@loka/server/installation/installation.service';
import { RegistersService } from '@loka/server/registers/registers.service';
import { Pages, type Page } from '@loka/server/series/pages';
import { ReadingsService } from '@loka/server/series/readings.service';
import { SiteService } from '@loka/server/site/site.service';
import { LinkInput } from '@loka/contract/links';
import { NestFactory } from '@nestjs/core';
import { DataSource } from 'typeorm';

// Energy of sixty places from rollups: a month by hour and a year by day, from power and from counters, as one call each.
const PLACES = 60;
const DAYS = 365;
const DAY = 96 * QUARTER;
/** Enough for the 95th percentile not to hang on one collection of garbage. */
const ROUNDS = 100;
const WARM = 5;
const ZONE = 'Europe/Lisbon';

const app = await NestFactory.createApplicationContext(
  AppModule.with({ ...readConfig(process.env), acquire: false }),
  { logger: ['error'], abortOnError: false },
);
const db = app.get(DataSource);
const pages = app.get(Pages);
const energy = app.get(EnergyService);

await app.get(SiteService).save({
  name: 'Bench',
  timeZone: ZONE,
  nominalVoltage: 230,
  frequency: 50,
  conductorScheme: 'iec-60445',
} as never);
const tree = app.get(InstallationService);
const node = async (kind: string, parentId: number | null, name: string, way: string) =>
  (
    await tree.create({
      kind,
      parentId,
      name,
      way,
      phases: 'L1',
      protectiveDevice: null,
      ratedCurrent: 16,
    } as never)
  ).id;
const board = await node('board', await node('supply', null, 'Supply', ''), 'Board', 'MB');
const nodes: number[] = [];
for (let i = 0; i < PLACES; i++) nodes.push(await node('circuit', board, `Way ${i}`, String(i + 1)));
const link = await app
  .get(LinksService)
  .create(Object.assign(new LinkInput(), { name: 'none', host: '127.0.0.1', enabled: false }));
const definition = (key: string, address: number, more: Partial<PointDefinition>): PointDefinition =>
  newPoint({ key, address: String(address), phase: 'L1', ...more });
const map = await app.get(RegistersService).create({
  name: 'Bench',
  description: '',
  messages: [],
  points: Array.from({ length: PLACES }, (_, i) => [
    definition(`p${i}`, 4 * i, { quantity: 'active-power', unit: 'W' }),
    definition(`e${i}`, 4 * i + 2, { quantity: 'energy-import', unit: 'Wh' }),
  ]).flat() as never,
});
await app
  .get(DevicesService)
  .createDevice({ linkId: link.id, mapId: map.id, name: 'Bench', unit: 1, topic: '' });
const points = app.get(DeviceBook).allPoints();
const idOf = (key: string) => points.find((p) => p.key === key)?.id as number;
const place = (key: string, nodeId: number | null) =>
  app.get(PointsService).assign(idOf(key), { nodeId, phase: 'L1' } as never);
for (const [i, id] of nodes.entries()) await place(`p${i}`, id);

/** A year of quarter-hours of a point, as it would lie there. */
async function fill(pointId: number, counter: boolean): Promise<void> {
  const first = Math.floor(Date.now() / DAY - DAYS) * DAY;
  const made: Page[] = [];
  for (let d = 0; d < DAYS; d++) {
    const slots = emptySlots(first + d * DAY, QUARTER, 96);
    const counts = counter ? emptyCounts(slots.start, QUARTER, 96) : null;
    for (let i = 0; i < 96; i++) {
      slots.plus[i] = 100 + Math.random() * 3000;
      slots.min[i] = slots.plus[i] as number;
      slots.max[i] = slots.plus[i] as number;
      slots.last[i] = slots.plus[i] as number;
      slots.count[i] = 900;
      slots.covered[i] = QUARTER;
      if (!counts) continue;
      counts.increment[i] = Math.round(Math.random() * 700);
      counts.covered[i] = QUARTER;
    }
    made.push({ pointId, start: slots.start, slots, counts });
  }
  await pages.write(db, 'quarters', made);
}
for (let i = 0; i < PLACES; i++) {
  await fill(idOf(`p${i}`), false);
  await fill(idOf(`e${i}`), true);
}
await db.query('ANALYZE TABLE rollup_pages');

const today = siteDay(ZONE, Date.now()).start;
const month = { from: siteDay(ZONE, Date.now(), 30).start, to: today };
const year = { from: siteDay(ZONE, Date.now(), 364).start, to: today };

/** Median and 95th percentile of the milliseconds that something takes. */
async function timed(work: () => Promise<unknown>): Promise<{ median: number; p95: number }> {
  const times: number[] = [];
  // What the case before has left is not this one's to clear.
  globalThis.gc?.();
  // The first ones find neither the code compiled nor the pages in the database's pool.
  for (let i = -WARM; i < ROUNDS; i++) {
    const began = performance.now();
    await work();
    if (i >= 0) times.push(performance.now() - began);
  }
  times.sort((a, b) => a - b);
  return { median: times[ROUNDS >> 1] as number, p95: times[Math.floor(ROUNDS * 0.95)] as number };
}
const say = (what: string, { median, p95 }: { median: number; p95: number }) =>
  console.log(
    `${what.padEnd(52)} median ${median.toFixed(0).padStart(4)} ms, p95 ${p95.toFixed(0).padStart(4)} ms`,
  );

say(
  `energy of ${PLACES} places, a month by hour, from power`,
  await timed(() => energy.calendar(month.from, month.to, 'hour')),
);
say(
  `energy of ${PLACES} places, a year by day, from power`,
  await timed(() => energy.calendar(year.from, year.to, 'day')),
);
for (const [i, id] of nodes.entries()) await place(`e${i}`, id);
say('the same month with counters beside', await timed(() => energy.calendar(month.from, month.to, 'hour')));
say('the same year with counters beside', await timed(() => energy.calendar(year.from, year.to, 'day')));
const balance = app.get(BalanceService);
say(
  `balance of ${PLACES} uses, a month by day`,
  await timed(() => balance.ofPeriod(month.from, month.to, 'day')),
);
say('a year by month', await timed(() => balance.ofPeriod(year.from, year.to, 'month')));
for (let i = 0; i < PLACES; i++) await place(`p${i}`, null);
say('the same month from counters alone', await timed(() => energy.calendar(month.from, month.to, 'hour')));
say('the same year from counters alone', await timed(() => energy.calendar(year.from, year.to, 'day')));
say(
  'a chart of 8 points over a year, 1000 pixels wide',
  await timed(() =>
    app.get(ReadingsService).series(
      Array.from({ length: 8 }, (_, i) => idOf(`p${i}`)),
      year,
      { width: 1000 },
    ),
  ),
);
await app.close();
