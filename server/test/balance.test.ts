import type { InstantBalance, PeriodBalance } from '@loka/contract/balance';
import { balanceOf, sidesOf, type Bar } from '@loka/core/balance';
import type { EnergyCalendar, NodeEnergy } from '@loka/contract/energy';
import type { InstallationNode } from '@loka/contract/installation';
import { remainderOf } from '@loka/core/energy';
import { siteDay } from '@loka/core/time';
import { buildSite, HISTORY_STEP, valuesOf, type Site } from '@loka/fieldsim/site';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { SiteFile } from '../src/import/siteFile.js';
import { SiteImport } from '../src/import/siteImport.js';
import { Loka } from './support/loka.js';

// The sample site with five days of its history, roof and battery and export included: at every level what flows into a
// place is what flows on from it, the remainder included; and the remainder is that of the building itself.
const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const MINUTE = 60_000;
const ZONE = 'Europe/Lisbon';
let loka: Loka;
let nodes: InstallationNode[];
const folder = mkdtempSync(join(tmpdir(), 'loka-balance-'));
/** What the building itself has counted at the beginning of each day. */
const truths: Map<string, number>[] = [];
const days: { start: number; end: number }[] = [];

beforeAll(async () => {
  loka = await Loka.start(undefined, { acquire: false });
  const file = JSON.parse(
    readFileSync(new URL('../../fieldsim/sample-site.json', import.meta.url), 'utf8'),
  ) as SiteFile;
  file.links.forEach((link, i) => Object.assign(link, { enabled: false, port: 1502 + i }));
  const made = new SiteImport(loka.app);
  // What the meters read is compared with the building, uncorrected.
  delete file.past;
  await made.run(file);
  await made.loadHistory(writeHistory(), () => undefined);
  nodes = await loka.ask<InstallationNode[]>('/installation');
}, 180_000);
afterAll(async () => {
  await loka.stop();
  rmSync(folder, { recursive: true });
});

/** Counters of the building as they truly stand: by load, and of the supply and the roof in both directions. */
const truthOf = ({ building }: Site) =>
  new Map([
    ...[...building.energy].map(([name, wh]) => [`${name} in`, wh] as const),
    ...[...building.fedBack].map(([name, wh]) => [`${name} out`, wh] as const),
  ]);

function writeHistory(): string {
  // A summer week, in which the roof gives more than is taken.
  const since = siteDay(ZONE, Date.parse('2026-07-07T12:00:00Z')).start - HOUR;
  const site = buildSite(7, since);
  const rows: string[] = [];
  let next = siteDay(ZONE, since + 2 * HOUR).start;
  for (let t = Math.ceil(since / MINUTE) * MINUTE; t <= since + HOUR + 5 * DAY + HOUR; t += MINUTE) {
    site.building.advance(t, HISTORY_STEP);
    const readings = valuesOf(site).flatMap(({ name, values }) =>
      Object.entries(values)
        .filter(([key]) => /^(energy|power|pv-power|battery-power|state-of-charge)/.test(key))
        .map(([key, value]) => [`${name}/${key}`, value] as const),
    );
    if (rows.length === 0) rows.push(['time', ...readings.map(([name]) => name)].join(','));
    rows.push([t, ...readings.map(([, value]) => Math.round(value * 1e4) / 1e4)].join(','));
    if (t < next) continue;
    truths.push(truthOf(site));
    next = siteDay(ZONE, t).end;
    if (truths.length > 1) days.push(siteDay(ZONE, t, 1));
  }
  const path = join(folder, 'history.csv');
  writeFileSync(path, rows.join('\n') + '\n');
  return path;
}

const energies = async (from: number, to: number) => {
  const list = await loka.ask<NodeEnergy[]>(`/energy?from=${from}&to=${to}`);
  return new Map(list.map((e) => [e.nodeId, e]));
};
const named = (name: string) => nodes.find((n) => n.name === name) as InstallationNode;
const metered = (id: number, of: Map<number, NodeEnergy>): InstallationNode[] =>
  nodes
    .filter((n) => n.parentId === id)
    .flatMap((n) => (of.get(n.id)?.net != null ? [n] : metered(n.id, of)));

it('closes at every level, every day, and over all of them; hours sum to their day', async () => {
  expect(days).toHaveLength(5);
  const sums = new Map<number, number>();
  for (const { start, end } of days) {
    const of = await energies(start, end);
    const supply = of.get(named('Supply').id) as NodeEnergy;
    expect(supply).toMatchObject({ source: 'counter', coverage: 1, estimated: 0 });
    for (const node of nodes) {
      const own = of.get(node.id)?.net ?? null;
      const parts = metered(node.id, of).map((n) => of.get(n.id)?.net ?? null);
      const remainder = remainderOf(own, parts);
      if (own !== null) sums.set(node.id, (sums.get(node.id) ?? 0) + own);
      if (!remainder) continue;
      expect(remainder.complete).toBe(true);
      const flows = parts.reduce<number>((sum, p) => sum + (p as number), remainder.value);
      expect(flows).toBeCloseTo(own as number, 6);
    }
    const calendar = await loka.ask<EnergyCalendar>(`/energy/calendar?from=${start}&to=${end}&step=hour`);
    for (const { nodeId, net } of calendar.nodes)
      expect(net.reduce<number>((sum, wh) => sum + (wh ?? 0), 0)).toBeCloseTo(of.get(nodeId)?.net ?? 0, 3);
  }
  const [first, last] = [days[0], days.at(-1)] as { start: number; end: number }[];
  const all = await energies((first as { start: number }).start, (last as { end: number }).end);
  for (const [id, sum] of sums) expect(all.get(id)?.net).toBeCloseTo(sum, 3);
});

it('import, export and remainder are those of the building, within the resolution of the counters', async () => {
  let exported = 0;
  // Loads whose circuits have counters, and one count of each, Wh.
  const counted: [name: string, load: string, count: number][] = [
    ['Deck oven', 'deck-oven', 1],
    ['Spiral mixer', 'mixer', 1],
    ['Dough prover', 'prover', 1],
    ['Shop lighting', 'shop-lighting', 10],
    ['Display counter', 'display-counter', 10],
    ['Dishwasher', 'dishwasher', 10],
  ];
  for (const [i, { start, end }] of days.entries()) {
    const of = await energies(start, end);
    const risen = (key: string) =>
      ((truths[i + 1] as Map<string, number>).get(key) ?? 0) -
      ((truths[i] as Map<string, number>).get(key) ?? 0);
    const supply = of.get(named('Supply').id) as NodeEnergy;
    expect(Math.abs((supply.import as number) - risen('supply in'))).toBeLessThanOrEqual(1);
    expect(Math.abs((supply.export as number) - risen('supply out'))).toBeLessThanOrEqual(1);
    exported += risen('supply out');
    let [remainder, truth, allowed] = [supply.net as number, risen('supply in') - risen('supply out'), 2];
    for (const [name, load, count] of counted) {
      const energy = of.get(named(name).id) as NodeEnergy;
      expect([name, energy.source]).toEqual([name, 'counter']);
      expect(Math.abs((energy.net as number) - risen(`${load} in`))).toBeLessThanOrEqual(count);
      remainder -= energy.net as number;
      truth -= risen(`${load} in`);
      allowed += count;
    }
    expect(Math.abs(remainder - truth)).toBeLessThanOrEqual(allowed);
  }
  // With an export worth the name: what was fed back is not taken for what nobody meters.
  expect(exported).toBeGreaterThan(1000);
});

const column = (values: (number | null)[]): number => values.reduce<number>((sum, v) => sum + (v ?? 0), 0);
const balance = (from: number, to: number, step: string) =>
  loka.ask<PeriodBalance>(`/balance?from=${from}&to=${to}&step=${step}`);

it('what comes in is what goes out, hour by hour; each use once, and hours sum to the place’s energy', async () => {
  for (const { start, end } of days) {
    const { borders, uses, given, places } = await balance(start, end, 'hour');
    expect(borders).toHaveLength(25);
    for (let i = 0; i + 1 < borders.length; i++) {
      const into = given.reduce((sum, g) => sum + (g.values[i] as number), 0);
      const out = uses.reduce((sum, u) => sum + (u.values[i] as number), 0);
      expect(Math.abs(into - out)).toBeLessThan(1e-6 * (1 + into));
    }
    expect(new Set(uses.map((u) => u.key)).size).toBe(uses.length);
    const of = await energies(start, end);
    for (const { nodeId, amount } of places) {
      const energy = of.get(nodeId) as NodeEnergy;
      expect((amount?.in ?? 0) - (amount?.out ?? 0)).toBeCloseTo(energy.net ?? 0, 3);
      const use = uses.find((u) => u.kind === 'takes' && u.nodeId === nodeId);
      if (use) expect(column(use.values)).toBeCloseTo(amount?.in ?? 0, 3);
    }
    // The roof and the battery stand behind their inverter and count by themselves.
    expect(uses.some((u) => u.nodeId === named('PV and battery inverter').id && u.kind === 'takes')).toBe(
      false,
    );
  }
});

it('self-use and self-sufficiency are those of the building; the battery’s cycles as well', async () => {
  const [first, last] = [days[0], days.at(-1)] as { start: number; end: number }[];
  const risen = (key: string) =>
    ((truths.at(-1) as Map<string, number>).get(key) ?? 0) -
    ((truths[0] as Map<string, number>).get(key) ?? 0);
  const { selfUse, storages } = await balance(
    (first as { start: number }).start,
    (last as { end: number }).end,
    'day',
  );
  // By the building’s own counters: what the roof gave, less what went back (its battery never feeds the supply).
  const [roof, back, taken] = [risen('pv out'), risen('supply out'), risen('supply in')];
  const used = taken + roof + risen('battery out') - back - risen('battery in');
  expect(Math.abs((selfUse?.generated as number) / roof - 1)).toBeLessThan(0.01);
  expect(Math.abs((selfUse?.selfUse as number) - (roof - back) / roof)).toBeLessThan(0.01);
  expect(Math.abs((selfUse?.used as number) / used - 1)).toBeLessThan(0.01);
  expect(Math.abs((selfUse?.selfSufficiency as number) - (used - taken) / used)).toBeLessThan(0.02);
  expect(storages).toHaveLength(1);
  expect(Math.abs((storages[0]?.discharged as number) / risen('battery out') - 1)).toBeLessThan(0.02);
  expect(storages[0]?.cycles).toBeCloseTo((storages[0]?.discharged as number) / 15_000, 9);
  // The model keeps 96 % on each way.
  expect(Math.abs((storages[0]?.efficiency as number) - 0.96 ** 2)).toBeLessThan(0.03);
});

it('at an instant it is the mean of its minute, and closes', async () => {
  const noon = (days[1] as { start: number }).start + 13 * HOUR + 17_000;
  const { from, to, places } = await loka.ask<InstantBalance>(`/balance/at?t=${noon}`);
  expect([from % MINUTE, to - from]).toEqual([0, MINUTE]);
  expect(places.length).toBeGreaterThan(10);
  const bar = balanceOf(nodes, new Map(places.map((p) => [p.nodeId, p.amount])), named('Supply').id);
  const { in: into, out } = sidesOf(bar as Bar);
  expect(into).toBeCloseTo(out, 6);
  expect(into).toBeGreaterThan(100);
});

it('before the first reading, in the future and over 200 years it says what is so, and is not long about it', async () => {
  const first = (days[0] as { start: number }).start;
  const none = await balance(Date.parse('1999-01-01'), Date.parse('1999-12-31'), 'month');
  expect([none.borders, none.places, none.uses]).toEqual([[], [], []]);
  expect(none.firstAt).toBeGreaterThan(first - 2 * HOUR);
  expect(none.firstAt).toBeLessThan(first);
  expect((await balance(Date.now() + DAY, Date.now() + 2 * DAY, 'hour')).borders).toEqual([]);
  const began = performance.now();
  const long = await balance(Date.parse('1970-01-02'), Date.parse('2170-01-01'), 'month');
  const total = column(long.given.find((g) => g.nodeId === named('Supply').id)?.values ?? []);
  const [energy] = await loka.ask<NodeEnergy[]>(
    `/energy?from=${Date.parse('1970-01-02')}&to=${Date.parse('2170-01-01')}&node=${named('Supply').id}`,
  );
  expect(total).toBeCloseTo(energy?.import as number, 3);
  expect(performance.now() - began).toBeLessThan(20_000);
  const { status } = await loka.raw(`/energy/calendar?from=0&to=${Date.parse('2170-01-01')}&step=quarter`);
  expect(status).toBe(422);
});
