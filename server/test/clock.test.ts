import { jest } from '@jest/globals';
import type { Alert } from '@loka/contract/alerts';
import type { CutOffRule, Switch, SwitchOperation } from '@loka/contract/control';
import { QUALITY } from '@loka/core/series';
import { ClockWatch } from '../src/acquisition/clockWatch.js';
import { LiveReadings } from '../src/live/liveReadings.js';
import { Loka, until } from './support/loka.js';
import { makeSite, TestBuilding, type MadeSite } from './support/site.js';

// The machine's clock is set while devices are polled, a switch is operated and a cut-off protects.
const HOUR = 3_600_000;
let loka: Loka;
let building: TestBuilding;
let site: MadeSite;
let switchId: number;
let rule: number;
const realNow = Date.now;
let off = 0;

beforeAll(async () => {
  jest.spyOn(Date, 'now').mockImplementation(() => realNow() + off);
  [loka, building] = await Promise.all([Loka.start(), TestBuilding.start()]);
  building.load('hot-water', 'on');
  site = await makeSite(loka, building, ['clamp-node', 'relay-board']);
  switchId = (
    await loka.ask<{ id: number }>('/switches', 'POST', {
      name: 'Hot water',
      nodeId: site.circuit,
      commandPointId: site.point('relay-board', 'relay-1'),
      statePointId: site.point('relay-board', 'contact-1'),
      timeoutMs: 1500,
    })
  ).id;
  await until('the contact to be read', async () => (await theSwitch()).readBack === true);
  await loka.ask('/alert-rules', 'POST', {
    name: 'Power',
    pointId: site.point('clamp-node', 'power-2'),
    direction: 'above',
    limit: 1000,
    deadband: 10,
    onDelayMs: 1500,
    offDelayMs: 0,
    enabled: true,
  });
}, 60_000);
afterAll(async () => {
  jest.restoreAllMocks();
  await loka.stop();
  await building.stop();
});

const theSwitch = async () =>
  (await loka.ask<Switch[]>('/switches')).find((s) => s.id === switchId) as Switch;
const theRule = async () =>
  (await loka.ask<CutOffRule[]>('/cut-off-rules')).find((r) => r.id === rule) as CutOffRule;
const polled = () => loka.app.get(LiveReadings).get(site.point('clamp-node', 'power-2'))?.at ?? 0;

describe.each([
  ['back', -HOUR],
  ['forward', HOUR],
])('set %s by an hour', (way, by) => {
  beforeAll(() => (off += by));

  it('polling goes on', async () => {
    const before = performance.now();
    await until('a reading', () => polled() > before, 3000);
    await until('the next one', () => polled() > before + 1000, 3000);
  });

  it('it is said', async () => {
    const jump = await until('the jump', () => loka.app.get(ClockWatch).lastJump, 3000);
    expect(Math.abs(jump.by - by)).toBeLessThan(2000);
    const { clock } = await loka.ask<{ clock: { lastJump: { by: number } } }>('/health');
    expect(Math.abs(clock.lastJump.by - by)).toBeLessThan(2000);
  });

  it('a switch is operated, and its outcome found', async () => {
    for (const closed of [false, true]) {
      await loka.ask(`/switches/${switchId}/operate`, 'POST', { closed });
      await until(
        'confirmed',
        async () => {
          const all = await loka.ask<SwitchOperation[]>('/switches/operations');
          return all.some((o) => o.closed === closed && o.outcome === 'confirmed');
        },
        4000,
      );
    }
  });

  it('a cut-off trips in its time, an alert comes after its delay', async () => {
    const alerts = async () =>
      (await loka.ask<Alert[]>('/alerts')).filter((a) => a.name === 'Power' && a.returnedAt === null);
    const input = {
      switchId,
      pointId: site.point('clamp-node', 'power-2'),
      limit: 1000,
      delayMs: 2000,
      ignoreAfterOnMs: 0,
      enabled: true,
    };
    rule = (await loka.ask<{ id: number }>('/cut-off-rules', 'POST', input)).id;
    const began = performance.now();
    await until('the alert', async () => (await alerts()).length > 0, 6000);
    await until('the trip', async () => (await theRule()).tripped, 6000);
    const took = performance.now() - began;
    expect(took).toBeGreaterThan(1900);
    expect(took).toBeLessThan(6000);
    await until('open', () => building.running.site.building.contacts.get('hot-water') === false);
    await loka.ask(`/cut-off-rules/${rule}/restore`, 'POST', { close: true });
    await loka.ask(`/cut-off-rules/${rule}`, 'DELETE');
    await until('closed', async () => (await theSwitch()).readBack === true);
  }, 30_000);

  it(
    way === 'back'
      ? 'what is read in the hour that has been before is kept, and marked'
      : 'nothing is marked',
    async () => {
      const id = site.point('clamp-node', 'power-1');
      const now = Date.now();
      await until('samples', async () => {
        const [rows] = await loka.sql.query('SELECT q FROM samples WHERE pointId = ? AND t > ? AND t <= ?', [
          id,
          now,
          now + 60_000,
        ]);
        const list = rows as { q: number }[];
        if (list.length < 3) return false;
        expect(new Set(list.map((r) => r.q))).toEqual(new Set([way === 'back' ? QUALITY.repeatedTime : 0]));
        return true;
      });
      // What is shown and decided by is of now.
      expect(loka.app.get(LiveReadings).get(id)?.q).toBe(0);
    },
  );
});
