import type { Verification } from '@loka/contract/verify';
import type { Fault } from '@loka/core/verify';
import { HistoryLoader } from '../src/series/historyLoader.js';
import { RebuildsService } from '../src/series/rebuilds.service.js';
import { Loka } from './support/loka.js';
import { register } from './support/point.js';
import { DAY, Recorded } from './support/recorded.js';

// Fifty days of a load of 1000 W, read every quarter of an hour; for a month, from the tenth on, its meter was wired wrongly.
const QUARTER = 15 * 60_000;
const START = Date.UTC(2026, 8, 1);
const [FROM, TO, END] = [START + 10 * DAY, START + 40 * DAY, START + 50 * DAY];

const wrong = (t: number) => t >= FROM && t < TO;

/** A site whose meter reads `share` of the truth in between, and whose counter counts what flows in of it. */
async function fiftyDays(share: number, fault: Fault) {
  const loka = await Loka.start(undefined, { acquire: false });
  const site = await Recorded.make(
    loka,
    [
      register('power', 0, { quantity: 'active-power', unit: 'W', type: 'float32' }),
      register('energy', 2, { quantity: 'energy-import', unit: 'Wh', type: 'float64' }),
    ],
    QUARTER,
  );
  const times = Array.from({ length: (END - START) / QUARTER }, (_, i) => START + i * QUARTER);
  let counted = 50_000;
  const counter = times.map((t) => {
    const sample = { t, v: counted, q: 0 };
    counted += 250 * (wrong(t) ? Math.max(0, share) : 1);
    return sample;
  });
  const history = loka.app.get(HistoryLoader);
  await history.load(
    site.id('power'),
    times,
    times.map((t) => 1000 * (wrong(t) ? share : 1)),
  );
  await history.load(
    site.id('energy'),
    times,
    counter.map((c) => c.v),
  );
  const put = async (kind: string, at: number, faults: Fault[]) =>
    loka.sql.query(
      'INSERT INTO verifications (nodeId, at, who, kind, proven, checks, faults, past) VALUES (?, ?, ?, ?, ?, ?, ?, ?)',
      [site.place, at, 'electrician', kind, faults.length === 0, '[]', JSON.stringify(faults), ''],
    );
  await put('as-found', TO - QUARTER, [fault]);
  await put('as-left', TO, []);
  return { loka, site };
}

/** What follows from a verdict on long stretches is worked out as a job. */
async function worked(loka: Loka, site: Recorded): Promise<void> {
  await loka.app.get(RebuildsService).idle();
  await site.rollUp();
}

const kWh = (wattHours: number | null | undefined) => Math.round((wattHours ?? NaN) / 10) / 100;

it('a clamp that was turned round for a month: proposed since when, corrected, and the whole time comes out right', async () => {
  const { loka, site } = await fiftyDays(-1, { kind: 'reversed', lines: [] });
  try {
    // Twenty days of 24 kWh counted, a month the wrong way round.
    expect(kWh((await site.energy(START, END)).net)).toBeLessThan(482);
    const { past } = await loka.ask<Verification>(`/verifications/${site.place}`);
    expect(past).toMatchObject({ since: FROM, until: TO, ways: ['correct', 'strike', 'leave'] });
    await loka.ask(`/verifications/${site.place}/mended`, 'POST', {
      since: past?.since,
      until: past?.until,
      way: 'correct',
      recordId: past?.recordId,
    });
    await worked(loka, site);
    const energy = await site.energy(START, END);
    expect(energy.source).toBe('power');
    // 1 kW over fifty days.
    expect(kWh(energy.net)).toBeCloseTo(1200, 0);
    expect(energy.coverage).toBeGreaterThan(0.99);
    expect(kWh((await site.energy(FROM, TO)).net)).toBeCloseTo(720, 0);
  } finally {
    await loka.stop();
  }
}, 120_000);

it('a meter that was bridged for a month: struck out, the time is marked and those days leave the total', async () => {
  const { loka, site } = await fiftyDays(0.23, { kind: 'bypassed', lines: [], factor: 0.23 });
  try {
    expect(kWh((await site.energy(START, END)).net)).toBeCloseTo(480 + 165.6, 0);
    const { past } = await loka.ask<Verification>(`/verifications/${site.place}`);
    expect(past).toMatchObject({ since: FROM, ways: ['strike', 'leave'] });
    await loka.ask(`/verifications/${site.place}/mended`, 'POST', {
      since: past?.since,
      until: past?.until,
      way: 'strike',
      recordId: past?.recordId,
    });
    await worked(loka, site);
    const energy = await site.energy(START, END);
    expect(kWh(energy.net)).toBeCloseTo(480, 0);
    expect(energy.coverage).toBeCloseTo(20 / 50, 1);
    const between = await site.energy(FROM + DAY, TO - DAY);
    expect(between.net).toBeNull();
    expect(between.coverage).toBe(0);
  } finally {
    await loka.stop();
  }
}, 120_000);
