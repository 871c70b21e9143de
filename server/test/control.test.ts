import type { CutOffRule, Switch, SwitchOperation } from '@loka/contract/control';
import { Loka, until } from './support/loka.js';
import { makeSite, TestBuilding, type MadeSite } from './support/site.js';

let loka: Loka;
let building: TestBuilding;
let site: MadeSite;
let id: number;

beforeAll(async () => {
  [loka, building] = await Promise.all([Loka.start(), TestBuilding.start()]);
  building.load('hot-water', 'on');
  site = await makeSite(loka, building, ['clamp-node', 'relay-board']);
  const input = {
    name: 'Hot water',
    nodeId: site.circuit,
    commandPointId: site.point('relay-board', 'relay-1'),
    statePointId: site.point('relay-board', 'contact-1'),
    timeoutMs: 1500,
  };
  id = (await loka.ask<{ id: number }>('/switches', 'POST', input)).id;
  await until('the contact to be read', async () => (await theSwitch()).readBack === true);
});
afterAll(async () => {
  await loka.stop();
  await building.stop();
});

const theSwitch = async () => (await loka.ask<Switch[]>('/switches')).find((s) => s.id === id) as Switch;
const operate = (closed: boolean) => loka.raw(`/switches/${id}/operate`, 'POST', { closed });
const newest = async () => (await loka.ask<SwitchOperation[]>('/switches/operations'))[0] as SwitchOperation;
const trulyClosed = () => building.running.site.building.contacts.get('hot-water');
const outcome = () => until('an outcome', async () => (await newest()).outcome !== 'waiting' && newest());

it('opens and closes a real relay by hand; the outcome is what the contact reports', async () => {
  const answer = await operate(false);
  expect(answer).toMatchObject({ status: 202, body: { closed: false, cause: 'person', outcome: 'waiting' } });
  expect(await outcome()).toMatchObject({ closed: false, outcome: 'confirmed', who: 'local person' });
  expect(trulyClosed()).toBe(false);
  expect(await theSwitch()).toMatchObject({ commanded: false, readBack: false, agreement: 'agrees' });
  await operate(true);
  expect(await outcome()).toMatchObject({ closed: true, outcome: 'confirmed' });
  expect(trulyClosed()).toBe(true);
});

it('says a mismatch after the time-out when the contact is welded', async () => {
  building.running.site.relayBoard.welded.add(0);
  await operate(false);
  expect(await theSwitch()).toMatchObject({ commanded: false, readBack: true, agreement: 'waiting' });
  expect(await outcome()).toMatchObject({
    outcome: 'mismatch',
    message: expect.stringContaining('still reads closed'),
  });
  expect((await theSwitch()).agreement).toBe('mismatch');
  building.running.site.relayBoard.welded.delete(0);
  await operate(true);
  await outcome();
});

it('a command that cannot be sent fails with the reason', async () => {
  await building.fault('relay-board', { kind: 'down' });
  await operate(false);
  expect(await outcome()).toMatchObject({
    outcome: 'failed',
    message: expect.stringMatching(/refuses port|closed the connection/),
  });
  await building.fault('relay-board', { kind: 'none' });
  await until('the contact to be read again', async () => (await theSwitch()).readBack === true, 30_000);
}, 60_000);

describe('overload cut-off', () => {
  let rule: number;
  const theRule = async () =>
    (await loka.ask<CutOffRule[]>('/cut-off-rules')).find((r) => r.id === rule) as CutOffRule;

  it('ignores the seconds after closing, then cuts off, locks out, and keeps time, value and cause', async () => {
    await operate(false);
    await until('open', () => trulyClosed() === false);
    const input = {
      switchId: id,
      pointId: site.point('clamp-node', 'power-2'),
      limit: 1000,
      delayMs: 1000,
      ignoreAfterOnMs: 4000,
      enabled: true,
    };
    rule = (await loka.ask<{ id: number }>('/cut-off-rules', 'POST', input)).id;
    await operate(true);
    const closedAt = Date.now();
    await until(
      'the surge to be ignored',
      async () =>
        (await theRule()).decision?.action === 'none' &&
        ((await theRule()).decision as { because: string }).because === 'inrush',
    );
    const tripped = await until('the trip', async () => (await theRule()).tripped, 15_000);
    expect(Date.now() - closedAt).toBeGreaterThanOrEqual(4000);
    expect(tripped.value).toBeGreaterThan(2000);
    await until('the relay to be open', () => trulyClosed() === false);
    const operation = await until('the outcome', async () =>
      (await newest()).outcome === 'confirmed' ? newest() : null,
    );
    expect(operation).toMatchObject({
      closed: false,
      cause: 'cut-off',
      reason: expect.stringContaining('was above'),
    });
  }, 40_000);

  it('nobody can close it while it is locked out', async () => {
    expect(await operate(true)).toMatchObject({
      status: 409,
      body: { type: 'urn:loka:problem:locked-out', detail: expect.stringContaining('then restore it') },
    });
    expect(trulyClosed()).toBe(false);
    expect((await theSwitch()).lockout).toContain('Cut off at');
  });

  it('a contact that is closed behind its back is opened again', async () => {
    building.running.site.building.contacts.set('hot-water', true);
    await until('the relay to be open again', () => trulyClosed() === false, 15_000);
  });

  it('cannot be removed while it is tripped, and the lockout outlives a restart', async () => {
    expect(await loka.raw(`/cut-off-rules/${rule}`, 'DELETE')).toMatchObject({ status: 409 });
    await loka.halt();
    loka = await Loka.start(loka.config);
    expect((await theRule()).tripped?.value).toBeGreaterThan(2000);
    expect(await operate(true)).toMatchObject({ status: 409 });
  });

  it('a person restores it, and it protects anew', async () => {
    building.load('hot-water', 'off');
    await loka.ask(`/cut-off-rules/${rule}/restore`, 'POST', { close: true });
    expect((await theRule()).tripped).toBeNull();
    await until('closed again', () => trulyClosed() === true);
    const operation = await until('confirmed', async () =>
      (await newest()).outcome === 'confirmed' ? newest() : null,
    );
    expect(operation).toMatchObject({ closed: true, cause: 'restore' });
  });
});
