import type { ProblemDetails } from '@loka/contract/health';
import type { EnergyReport, KeptReport } from '@loka/contract/report';
import type { Site } from '@loka/contract/site';
import { periodSpan, textOfUnit } from '@loka/core/time';
import { parse } from 'csv-parse/sync';
import { JobsService } from '../src/jobs/jobs.service.js';
import { KeptReportsService } from '../src/report/keptReports.service.js';
import { Loka } from './support/loka.js';
import { register } from './support/point.js';
import { DAY, HOUR, MINUTE, Recorded, spareCircuit } from './support/recorded.js';

// Energy reports out of what was recorded: a place at 600 W by day and 100 W by night, by the minute, over ten days.
let loka: Loka;
let site: Recorded;
let zone: string;
const START = Math.floor(Date.now() / DAY) * DAY - 11 * DAY;
const DAYS = 10;
const watts = (minute: number) => (minute % 1440 >= 480 && minute % 1440 < 1080 ? 600 : 100);

beforeAll(async () => {
  loka = await Loka.start(undefined, { acquire: false });
  site = await Recorded.make(loka, [
    register('power', 0, { quantity: 'active-power', unit: 'W', phase: 'total', type: 'float32' }),
  ]);
  await site.minutely('power', START, DAYS * 1440 + 1, watts);
  await site.rollUp();
  zone = (await loka.ask<{ site: Site }>('/site')).site.timeZone;
}, 60_000);
afterAll(() => loka.stop());

const iso = (t: number) => new Date(t).toISOString().replace(/[-:]/g, '').replace('.000', '');
const period = (from: number, to: number) => `${iso(from)}..${iso(to)}`;
const now = (of: string, node = site.place) =>
  loka.raw(`/reports/now?node=${node}&period=${encodeURIComponent(of)}`);
const report = async (of: string) => {
  const { status, body } = await now(of);
  expect(status).toBe(200);
  return body as EnergyReport;
};

it('totals, the period before, demand and days are those of what was recorded', async () => {
  // Five whole days of 10 h at 600 W and 14 h at 100 W: 7.4 kWh each.
  const got = await report(period(START + 5 * DAY, START + 10 * DAY));
  expect(got).toMatchObject({ nodeId: site.place, ended: true, from: START + 5 * DAY, to: START + 10 * DAY });
  expect((got.total.taken as number) / 5 / 7400).toBeCloseTo(1, 3);
  expect((got.before?.taken as number) / 5 / 7400).toBeCloseTo(1, 3);
  expect(got.before).toMatchObject({ from: START, to: START + 5 * DAY });
  expect(got.lastYear).toBeNull();
  const quarter = got.profile.demand.find((d) => d.block === 15 * MINUTE)?.highest;
  expect(quarter?.watts).toBeCloseTo(600, 6);
  expect(got.peak?.watts).toBeCloseTo(600, 6);
  expect(got.days.reduce((sum, d) => sum + (d.taken ?? 0), 0)).toBeCloseTo(got.total.taken as number, 3);
  expect(got.profile.runs?.list ?? []).toEqual([]);
  expect(got.alerts).toEqual([]);
  // What goes on has no end yet, and what was not read is told.
  const open = await report('7-days');
  expect(open.ended).toBe(false);
  expect(open.total.coverage).toBeLessThan(0.99);
  expect(open.partly.map((p) => p.name)).toContain(open.place);
});

it('as a table of figures', async () => {
  const of = period(START + 5 * DAY, START + 10 * DAY);
  const { body, type } = await loka.raw(
    `/reports/now.csv?node=${site.place}&period=${encodeURIComponent(of)}`,
  );
  expect(type).toContain('text/csv');
  const rows = parse(body as string, { columns: true }) as Record<string, string>[];
  const taken = rows.find((r) => r['part'] === 'total' && r['quantity'] === 'taken');
  expect(Number(taken?.['value']) / 37_000).toBeCloseTo(1, 3);
  expect(taken?.['unit']).toBe('Wh');
  const days = rows.filter((r) => r['part'] === 'day' && r['quantity'] === 'taken');
  expect(days.length).toBeGreaterThanOrEqual(5);
  expect(rows.find((r) => r['quantity'] === 'highest 15 min')?.['value']).toBe('600');
});

it('one that is kept stays as it was made, is taken away and brought back', async () => {
  const of = period(START + 2 * DAY, START + 4 * DAY);
  const kept = await loka.ask<KeptReport>('/reports', 'POST', { nodeId: site.place, period: of });
  expect(kept.who).toBe('local person');
  const before = await loka.ask<EnergyReport>(`/reports/${kept.id}`);
  // What comes late changes what is now, and not what was made.
  await site.minutely('power', START + 3 * DAY, 60, () => 6000);
  await site.rollUp();
  const later = await report(of);
  expect((later.total.taken as number) - (before.total.taken as number)).toBeGreaterThan(5000);
  expect(await loka.ask<EnergyReport>(`/reports/${kept.id}`)).toEqual(before);
  expect((await loka.raw(`/reports/${kept.id}/report.csv`)).type).toContain('text/csv');
  expect((await loka.raw(`/reports/${kept.id}`, 'DELETE')).status).toBe(204);
  expect((await loka.raw(`/reports/${kept.id}`)).status).toBe(404);
  expect((await loka.raw(`/reports/${kept.id}`, 'DELETE')).status).toBe(404);
  expect((await loka.ask<KeptReport[]>('/reports')).map((r) => r.id)).not.toContain(kept.id);
  expect((await loka.raw(`/reports/${kept.id}/restore`, 'POST')).status).toBe(204);
  expect(await loka.ask<EnergyReport>(`/reports/${kept.id}`)).toEqual(before);
});

it('a month that is over gets its report once, also where that was taken away', async () => {
  const service = loka.app.get(KeptReportsService);
  const month = textOfUnit(zone, START + DAY, 'month');
  const { end } = periodSpan(zone, month, Date.now());
  const monthly = async () =>
    (await loka.ask<KeptReport[]>('/reports')).filter((r) => r.period === month && r.who === null);
  // A minute after its end something may still be on its way.
  await service.makeMonths(end + MINUTE);
  expect((await monthly()).length).toBe(0);
  // Nor is what is being read in told half way.
  let finish = () => {};
  const job = loka.app
    .get(JobsService)
    .run('reading in', () => new Promise((done) => (finish = () => done(null))));
  await service.makeMonths(end + HOUR);
  expect(await monthly()).toEqual([]);
  finish();
  await job;
  await service.makeMonths(end + HOUR);
  const [made, ...more] = await monthly();
  expect(more).toEqual([]);
  const content = await loka.ask<EnergyReport>(`/reports/${(made as KeptReport).id}`);
  expect(content.ended).toBe(true);
  expect(content.profile.known).toBeGreaterThan(0);
  await service.makeMonths(end + DAY);
  expect(await monthly()).toHaveLength(1);
  await loka.ask(`/reports/${(made as KeptReport).id}`, 'DELETE');
  await service.makeMonths(end + 2 * DAY);
  expect(await monthly()).toHaveLength(0);
});

it.each([
  ['a period that is none', 'whenever', 422],
  ['the future', '2999-01', 422],
  ['ten years', '2016-01-01..2025-12-31', 422],
  ['an end before its start', '2026-02-02..2026-01-01', 422],
  ['no period', '', 422],
])('%s is told at the field', async (_, of, status) => {
  const got = await now(of);
  expect(got.status).toBe(status);
  expect((got.body as ProblemDetails).errors?.map((e) => e.field)).toEqual(['period']);
});

it('a place that is not there, and one that nothing measures', async () => {
  expect((await now('2026-01', 999_999)).status).toBe(404);
  const { spare } = await spareCircuit(loka);
  expect((await now('30-days', spare)).status).toBe(409);
  // Before anything was read there is nothing to tell.
  expect((await report('2020-05')).profile.known).toBe(0);
});
