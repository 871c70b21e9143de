import type { Alert, AlertRule } from '@loka/contract/alerts';
import { Loka, until } from './support/loka.js';
import { makeSite, TestBuilding, type MadeSite } from './support/site.js';

let loka: Loka;
let building: TestBuilding;
let site: MadeSite;

beforeAll(async () => {
  [loka, building] = await Promise.all([Loka.start(), TestBuilding.start()]);
  building.load('hot-water', 'off');
  site = await makeSite(loka, building, ['clamp-node']);
});
afterAll(async () => {
  await loka.stop();
  await building.stop();
});

const rule = (over: object = {}) => ({
  name: 'High load',
  pointId: site.point('clamp-node', 'power-2'),
  direction: 'above',
  limit: 1000,
  deadband: 100,
  onDelayMs: 1000,
  offDelayMs: 1000,
  enabled: true,
  ...over,
});
const open = () => loka.ask<Alert[]>('/alerts');
const one = () => until('an open alert', async () => (await open())[0]);

it('is raised after its delay, acknowledged, returns, and stays in the history', async () => {
  await loka.ask('/alert-rules', 'POST', rule());
  expect(await open()).toEqual([]);
  building.load('hot-water', 'on');
  const alert = await one();
  expect(alert).toMatchObject({
    name: 'High load',
    condition: 'above 1 kW',
    phase: 'unacknowledged',
    returnedAt: null,
  });
  expect(alert.value).toBeGreaterThan(2000);
  const seen = await loka.ask<Alert>(`/alerts/${alert.id}/acknowledge`, 'POST');
  expect(seen).toMatchObject({ phase: 'acknowledged', acknowledgedBy: 'local person' });
  building.load('hot-water', 'off');
  await until('nothing open', async () => (await open()).length === 0);
  const [past] = await loka.ask<Alert[]>('/alerts/history');
  expect(past).toMatchObject({ id: alert.id, phase: 'normal' });
  expect(past?.returnedAt).toBeGreaterThan(alert.raisedAt);
});

it('one that is over before anybody saw it stays open until it is acknowledged, over a restart as well', async () => {
  building.load('hot-water', 'on');
  const alert = await one();
  building.load('hot-water', 'off');
  await until('over', async () => (await open())[0]?.phase === 'returned-unacknowledged');
  await loka.ask<Alert[]>('/alerts/history'); // waits until what happened is written down
  await loka.halt();
  loka = await Loka.start(loka.config);
  expect((await open())[0]).toMatchObject({ id: alert.id, phase: 'returned-unacknowledged' });
  await loka.ask(`/alerts/${alert.id}/acknowledge`, 'POST');
  expect(await open()).toEqual([]);
});

it('an active one is ended when its rule is removed', async () => {
  building.load('hot-water', 'on');
  const alert = await one();
  const [watched] = await loka.ask<AlertRule[]>('/alert-rules');
  expect(watched?.phase).toBe('unacknowledged');
  await loka.ask(`/alert-rules/${watched?.id}`, 'DELETE');
  expect((await open()).find((a) => a.id === alert.id)?.returnedAt).not.toBeNull();
});

it.each([
  ['a limit that is not a number', { limit: 'high' }, 'limit', 'The limit is a number'],
  ['a negative deadband', { deadband: -1 }, 'deadband', 'not negative'],
  ['a point that is not there', { pointId: 999_999 }, 'pointId', 'Choose the point'],
])('refuses %s at its field', async (_what, over, field, message) => {
  const { status, body, type } = await loka.raw('/alert-rules', 'POST', rule(over));
  expect(status).toBe(422);
  expect(type).toContain('application/problem+json');
  expect(body).toMatchObject({ errors: [{ field, message: expect.stringContaining(message) }] });
});
