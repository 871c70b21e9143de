import { jest } from '@jest/globals';
import type { Alert, AlertRule } from '@loka/contract/alerts';
import type { CutOffRule, Switch, SwitchOperation } from '@loka/contract/control';
import { QUALITY } from '@loka/core/series';
import { AcquisitionService } from '../src/acquisition/acquisition.service.js';
import { Intake } from '../src/acquisition/intake.js';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Loka, until } from './support/loka.js';
import { register } from './support/point.js';
import { Recorded } from './support/recorded.js';

// Switches and cut-offs on a device that nobody polls: what is read of it, and what is lost, comes from the test.
const POLL = 200;
let loka: Loka;
let site: Recorded;
let switchId: number;
let device: number;

beforeAll(async () => {
  // It polls nothing: what is read comes from the test, over a link that is on.
  loka = await Loka.start(undefined, { acquire: false });
  const point = (key: string, address: number, more: object) =>
    register(key, address, { intervalMs: POLL, ...more });
  site = await Recorded.make(
    loka,
    [
      point('current', 0, { quantity: 'current', unit: 'A', phase: 'L1' }),
      point('power', 1, { quantity: 'active-power', unit: 'W', phase: 'L1' }),
      point('temperature', 2, { quantity: 'temperature', unit: '°C' }),
      point('relay', 0, {
        kind: 'coil',
        type: 'bool',
        quantity: 'contact-state',
        unit: '',
        access: 'read-write',
      }),
      point('contact', 1, { kind: 'discrete', type: 'bool', quantity: 'contact-state', unit: '' }),
    ],
    POLL,
    true,
  );
  const points = await loka.ask<{ id: number; deviceId: number }[]>('/points');
  device = points.find((p) => p.id === site.id('current'))?.deviceId as number;
  switchId = (
    await loka.ask<{ id: number }>('/switches', 'POST', {
      name: 'Heater',
      nodeId: site.place,
      commandPointId: site.id('relay'),
      statePointId: site.id('contact'),
      timeoutMs: 1000,
    })
  ).id;
}, 60_000);
afterAll(() => loka.stop());

const read = (key: string, v: number | null, q: number = v === null ? QUALITY.timeout : QUALITY.good) =>
  loka.app.get(Intake).accept([{ pointId: site.id(key), t: Date.now(), raw: v, q }]);
const rules = () => loka.ask<CutOffRule[]>('/cut-off-rules');
const theRule = async (id: number) => (await rules()).find((r) => r.id === id) as CutOffRule;
const theSwitch = async () =>
  (await loka.ask<Switch[]>('/switches')).find((s) => s.id === switchId) as Switch;
const open = () => loka.ask<Alert[]>('/alerts');
const openOf = async (kind: string) => (await open()).filter((a) => a.kind === kind && a.returnedAt === null);

/** Reads a value again and again, as a poll would, until somebody stops it. @param value null for a lost one */
function polling(key: string, value: (i: number) => number | null | [number, number]): () => void {
  let i = 0;
  const next = () => {
    const v = value(i++);
    if (Array.isArray(v)) read(key, ...v);
    else read(key, v);
  };
  next();
  const timer = setInterval(next, POLL);
  return () => clearInterval(timer);
}

async function makeRule(more: object): Promise<number> {
  const input = {
    switchId,
    pointId: site.id('current'),
    limit: 50,
    delayMs: 2000,
    ignoreAfterOnMs: 0,
    blindAfterMs: 4000,
    enabled: true,
    ...more,
  };
  return (await loka.ask<{ id: number }>('/cut-off-rules', 'POST', input)).id;
}
async function takeOff(id: number): Promise<void> {
  if ((await theRule(id)).tripped) await loka.ask(`/cut-off-rules/${id}/restore`, 'POST', {});
  await loka.ask(`/cut-off-rules/${id}`, 'DELETE');
}
/** How long it takes to trip, ms; null when it has not after `patience`. */
async function timeToTrip(id: number, patience: number): Promise<number | null> {
  const began = performance.now();
  while (performance.now() - began < patience) {
    if ((await theRule(id)).tripped) return performance.now() - began;
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
  return null;
}

describe('cut-off', () => {
  it.each([
    ['every third reading lost', (i: number) => (i % 3 === 2 ? null : 99)],
    ['a reversed clamp', () => -99],
    [
      'every other one absurd',
      (i: number): number | [number, number] => (i % 2 ? [0, QUALITY.implausible] : 99),
    ],
    ['at the end of the sensor’s range', (): [number, number] => [45, QUALITY.saturated]],
  ])('%s: 99 A over a limit of 50 A trips in its time', async (_what, value) => {
    const id = await makeRule({});
    const stop = polling('current', value);
    try {
      const took = await timeToTrip(id, 4000);
      // Its delay and a poll or two, and what this machine is busy with.
      expect(took).not.toBeNull();
      expect(took as number).toBeGreaterThan(1900);
      expect(took as number).toBeLessThan(2000 + 3 * POLL + 300);
      expect((await theRule(id)).tripped?.value).toBe(
        value(0) === -99 ? 99 : Array.isArray(value(0)) ? 45 : 99,
      );
      await until('the alert', async () => (await openOf('lockout')).length === 1);
    } finally {
      stop();
      await takeOff(id);
    }
    await until('it returns', async () => (await openOf('lockout')).length === 0);
  });

  it.each([
    ['absurd readings alone', (): [number, number] => [1e6, QUALITY.implausible]],
    ['below, with losses', (i: number) => (i % 3 ? 49 : null)],
  ])('%s do not trip', async (_what, value) => {
    const id = await makeRule({});
    const stop = polling('current', value);
    try {
      expect(await timeToTrip(id, 3000)).toBeNull();
    } finally {
      stop();
      await takeOff(id);
    }
  });

  it.each([
    ['whose delay ran out meanwhile', { delayMs: 2000 }, 99, 'waiting', null],
    ['whose delay ran out, and an old answer still says so,', { delayMs: 2000 }, 99, 'waiting', 99],
    ['that opens when nothing is read', { blindAfterMs: 2000, openWhenBlind: true }, 10, 'below', null],
  ])('a rule %s does not trip when the process has stood still', async (_what, more, v, because, waiting) => {
    const id = await makeRule(more);
    let stop = () => {};
    try {
      read('current', v);
      await until('it is seen', async () => {
        const { decision } = await theRule(id);
        return decision && 'because' in decision && decision.because === because;
      });
      Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 3500);
      // What waits at a socket may be read before the timers that are due have their turn, or after.
      if (waiting !== null) read('current', waiting);
      await new Promise((resolve) => setImmediate(() => setImmediate(resolve)));
      stop = polling('current', () => 10);
      // Long enough for the next pause to be one of its own.
      expect(await timeToTrip(id, 2500)).toBeNull();
    } finally {
      stop();
      await takeOff(id);
    }
  });

  it('what flows out of an inverter is no overload, and what flows into a load the wrong way round is', async () => {
    const id = await makeRule({ pointId: site.id('power'), limit: 1000, delayMs: 0 });
    const flow = (flow: string | null) =>
      loka.sql.query('UPDATE installation_nodes SET flow = ? WHERE id = ?', [flow, site.place]);
    const { InstallationBook } = await import('../src/book/installationBook.js');
    await flow('both');
    await loka.app.get(InstallationBook).reload();
    read('power', -3000);
    expect(await timeToTrip(id, 500)).toBeNull();
    await flow('in');
    await loka.app.get(InstallationBook).reload();
    read('power', -3000);
    expect(await timeToTrip(id, 500)).not.toBeNull();
    await takeOff(id);
  });

  it('blind for longer than set is an alert, and opens where so configured', async () => {
    const said = await makeRule({ blindAfterMs: 2000 });
    const opens = await makeRule({ blindAfterMs: 3000, openWhenBlind: true });
    const [alert] = await until('the alert', async () => {
      const found = await openOf('blind');
      return found.length > 0 && found;
    });
    expect(alert).toMatchObject({ name: 'Cut-off of Heater', condition: expect.stringContaining('2 s') });
    expect((await theRule(said)).decision).toEqual({ action: 'none', because: 'blind', long: true });
    await until('it opens', async () => (await theRule(opens)).tripped);
    expect((await theRule(opens)).tripped?.value).toBeNull();
    const [operation] = await loka.ask<SwitchOperation[]>('/switches/operations');
    expect(operation).toMatchObject({
      closed: false,
      cause: 'cut-off',
      reason: expect.stringContaining('nothing could be read'),
    });
    expect((await theSwitch()).lockout).toContain('nothing could be read');
    const stop = polling('current', () => 10);
    await until('the alert returns', async () => (await openOf('blind')).length === 0);
    await takeOff(opens);
    await takeOff(said);
    stop();
  });

  it('an excess from before it was switched off, or watched something else, does not count afterwards', async () => {
    const id = await makeRule({ delayMs: 1500 });
    const input = { ...(await theRule(id)) } as Partial<CutOffRule>;
    const { id: _, tripped: __, decision: ___, missing: ____, version: _____, ...rule } = input as CutOffRule;
    read('current', 99);
    await loka.ask(`/cut-off-rules/${id}`, 'PUT', { ...rule, enabled: false });
    await new Promise((resolve) => setTimeout(resolve, 1600));
    await loka.ask(`/cut-off-rules/${id}`, 'PUT', { ...rule, enabled: true });
    read('current', 99);
    expect(await timeToTrip(id, 800)).toBeNull();
    read('current', 1);
    await takeOff(id);
  });

  it('an interval that is longer than it may be blind is refused', async () => {
    expect(
      await loka.raw('/cut-off-rules', 'POST', {
        switchId,
        pointId: site.id('current'),
        limit: 50,
        delayMs: 0,
        ignoreAfterOnMs: 0,
        blindAfterMs: 100,
        enabled: true,
      }),
    ).toMatchObject({ status: 422 });
  });
});

describe('switch', () => {
  it('says since when its state is not known, and can be commanded both ways all the same', async () => {
    read('contact', 1);
    await until('closed', async () => (await theSwitch()).readBack === true);
    expect((await theSwitch()).unknownSince).toBeNull();
    const before = Date.now();
    read('contact', null);
    const unknown = await until('not known', async () => {
      const now = await theSwitch();
      return now.readBack === null && now;
    });
    expect(unknown.unknownSince as number).toBeGreaterThanOrEqual(before - 5);
    for (const closed of [true, false])
      expect(await loka.raw(`/switches/${switchId}/operate`, 'POST', { closed })).toMatchObject({
        status: 202,
      });
  });
});

describe('a device that is removed', () => {
  it('leaves nothing armed, below the limit, or reading closed; each says what is missing, and that is an alert', async () => {
    const id = await makeRule({});
    const { id: alertRule } = await loka.ask<AlertRule>('/alert-rules', 'POST', {
      name: 'Hot',
      pointId: site.id('temperature'),
      direction: 'above',
      limit: 80,
      deadband: 1,
      onDelayMs: 0,
      offDelayMs: 0,
      enabled: true,
    });
    read('current', 10);
    read('contact', 1);
    await until('closed', async () => (await theSwitch()).readBack === true);
    await loka.ask(`/devices/${device}?anyway=true`, 'DELETE');
    const gone = 'is no longer there: its device, its link or its map has changed';
    expect(await theRule(id)).toMatchObject({ decision: null, missing: expect.stringContaining(gone) });
    expect(await theSwitch()).toMatchObject({ missing: expect.stringContaining(gone) });
    await until('not known', async () => (await theSwitch()).readBack === null);
    expect((await theSwitch()).agreement).not.toBe('agrees');
    const rule = (await loka.ask<AlertRule[]>('/alert-rules')).find((r) => r.id === alertRule);
    expect(rule?.missing).toContain('no longer there');
    const alerts = await until('three alerts', async () => {
      const found = await openOf('missing');
      return found.length === 3 && found;
    });
    expect(alerts.map((a) => a.name).sort()).toEqual(['Cut-off of Heater', 'Heater', 'Hot']);
    await loka.ask(`/devices/${device}/restore`, 'POST');
    await until('all is well', async () => (await openOf('missing')).length === 0);
    expect((await theRule(id)).missing).toBeNull();
    await takeOff(id);
    await loka.ask(`/alert-rules/${alertRule}`, 'DELETE');
  });
});

describe('a command', () => {
  const operations = async () =>
    (await loka.ask<SwitchOperation[]>('/switches/operations')).filter((o) => o.switchId === switchId);
  const operate = (closed: boolean) =>
    loka.ask<SwitchOperation>(`/switches/${switchId}/operate`, 'POST', { closed });
  const outcomeOf = async (id: string) => (await operations()).find((o) => o.id === id)?.outcome;
  /** Writes that the test lets through, one after the other. */
  function writes(): { resolve: () => void; reject: (error: Error) => void }[] {
    const under: { resolve: () => void; reject: (error: Error) => void }[] = [];
    jest
      .spyOn(loka.app.get(AcquisitionService), 'write')
      .mockImplementation(() => new Promise<void>((resolve, reject) => under.push({ resolve, reject })));
    return under;
  }
  afterEach(() => jest.restoreAllMocks());

  it('is finished by its own outcome, never by that of an older one', async () => {
    const under = writes();
    const first = operate(true);
    await until('the first is under way', () => under.length === 1);
    const second = operate(false);
    await until('the second is under way', () => under.length === 2);
    under[1]?.resolve();
    const newer = await second;
    under[0]?.reject(new Error('no answer'));
    const older = await first;
    expect(await outcomeOf(older.id)).toBe('failed');
    expect(await outcomeOf(newer.id)).toBe('waiting');
    expect(await theSwitch()).toMatchObject({ commanded: false, wanted: false });
    read('contact', 0);
    await until('confirmed', async () => (await outcomeOf(newer.id)) === 'confirmed');
  });

  it('is not confirmed by a state that was read before it was sent, or that nobody knows the time of', async () => {
    const under = writes();
    const sending = operate(true);
    await until('it is under way', () => under.length === 1);
    const before = performance.now();
    under[0]?.resolve();
    const { id } = await sending;
    const accept = (at: number) =>
      loka.app
        .get(Intake)
        .accept([{ pointId: site.id('contact'), t: Date.now() + 60_000, raw: 1, q: QUALITY.good, at }]);
    accept(before - 1);
    accept(-Infinity);
    await new Promise((resolve) => setTimeout(resolve, 500));
    expect(await outcomeOf(id)).toBe('waiting');
    // Its time-out is a second; the contact reads closed, but that was before.
    await until('it ends', async () => (await outcomeOf(id)) === 'mismatch');
  });

  it.each([
    ['confirmed', 0],
    ['mismatch', 1],
  ])(
    'between which and its read-back the server was stopped is found out afterwards: %s',
    async (outcome, contact) => {
      const under = writes();
      const sending = operate(false);
      await until('it is under way', () => under.length === 1);
      under[0]?.resolve();
      const { id } = await sending;
      await loka.halt();
      loka = await Loka.start(loka.config);
      site = site.on(loka);
      expect(await outcomeOf(id)).toBe('waiting');
      // What comes before the patience is at its end tells; a contact that stands otherwise is waited for.
      const stop = polling('contact', () => contact);
      await until('it ends', async () => (await outcomeOf(id)) === outcome);
      stop();
    },
    30_000,
  );

  it('outlives a kill while the database is away, as a trip does: both are on disk', async () => {
    const { EventWriter } = await import('../src/database/eventWriter.js');
    const away = Object.assign(new Error('away'), { code: 'ECONNREFUSED' });
    const put = EventWriter.prototype as unknown as { put: () => Promise<void> };
    const database = jest.spyOn(put, 'put').mockRejectedValue(away);
    const id = await makeRule({ delayMs: 0 });
    read('current', 99);
    await until('the trip', async () => (await theRule(id)).tripped);
    await until('the alert', async () => (await openOf('lockout')).length === 1);
    await until('on disk', () => {
      const text = readFileSync(join(loka.config.dataFolder, 'events.ndjson'), 'utf8');
      return ['"cut_off_rules"', '"alerts"', '"switch_operations"'].every((t) => text.includes(t));
    });
    // The stop writes nothing to the database either: as after a kill, only the file is left.
    await loka.halt();
    database.mockRestore();
    loka = await Loka.start(loka.config);
    site = site.on(loka);
    expect((await theRule(id)).tripped?.value).toBe(99);
    expect((await theSwitch()).lockout).toContain('99 A was above 50 A');
    const [operation] = await operations();
    expect(operation).toMatchObject({ closed: false, cause: 'cut-off' });
    expect((await openOf('lockout')).map((a) => a.condition)).toEqual(['Locked out: 99 A was above 50 A']);
    const audit = await loka.ask<{ subject: string }[]>('/audit');
    expect(audit.filter((a) => a.subject === '/api/cut-off-rules')).not.toHaveLength(0);
    await takeOff(id);
  });
});
