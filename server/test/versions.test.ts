import type { CutOffRule, Switch } from '@loka/contract/control';
import type { AlertRule } from '@loka/contract/alerts';
import type { Device } from '@loka/contract/devices';
import type { Link } from '@loka/contract/links';
import type { Point } from '@loka/contract/points';
import { Loka } from './support/loka.js';
import { makeMap, makeSupply, nameSite, register } from './support/point.js';

// Whatever can be edited in two windows: the second to save is told, with what is there now, and nothing is overwritten.
let loka: Loka;
beforeAll(async () => {
  loka = await Loka.start();
  await nameSite(loka);
}, 60_000);
afterAll(() => loka.stop());

async function site() {
  const link = await loka.ask<Link>('/links', 'POST', {
    name: 'Broker',
    kind: 'mqtt',
    host: '127.0.0.1',
    port: 1,
    enabled: false,
    password: 'secret-word',
  });
  const door = await loka.ask<Link>('/links', 'POST', {
    name: 'Line',
    host: '127.0.0.1',
    port: 2,
    enabled: false,
  });
  const mapId = await makeMap(loka, 'Meter', {
    points: [
      register('a', 0, { quantity: 'active-power', unit: 'W' }),
      register('relay', 9, {
        kind: 'coil',
        type: 'bool',
        quantity: 'contact-state',
        unit: '',
        access: 'read-write',
      }),
    ],
  });
  const device = await loka.ask<Device>('/devices', 'POST', {
    linkId: door.id,
    mapId,
    name: 'Meter',
    unit: 1,
    topic: '',
  });
  const supply = { id: await makeSupply(loka) };
  const point = (await loka.ask<Point[]>('/points')).find((p) => p.definition.key === 'a') as Point;
  const rule = await loka.ask<AlertRule>('/alert-rules', 'POST', {
    name: 'High',
    pointId: point.id,
    direction: 'above',
    limit: 5,
    deadband: 0,
    onDelayMs: 0,
    offDelayMs: 0,
    enabled: true,
  });
  const meter = await loka.ask<{ pointId: number }>('/virtual-meters', 'POST', {
    name: 'Twice',
    formula: '2 * a',
    inputs: [{ name: 'a', pointId: point.id }],
    quantity: 'active-power',
    intervalMs: 1000,
  });
  const other = (await loka.ask<Point[]>('/points')).find((p) => p.definition.key === 'relay') as Point;
  const contact = await loka.ask<Switch>('/switches', 'POST', {
    name: 'Contactor',
    nodeId: supply.id,
    commandPointId: other.id,
    statePointId: other.id,
    timeoutMs: 3000,
  });
  const cutOff = await loka.ask<CutOffRule>('/cut-off-rules', 'POST', {
    switchId: contact.id,
    pointId: point.id,
    limit: 50,
    delayMs: 0,
    ignoreAfterOnMs: 0,
    enabled: false,
  });
  return { contact, cutOff, link, door, mapId, device, supply, rule, meter, point };
}

const SEEN_OF_SWITCH = [
  'wanted',
  'commanded',
  'commandedAt',
  'readBack',
  'readBackAt',
  'agreement',
  'lockout',
  'unknownSince',
  'missing',
];
it('an older version is answered with 409 and what is there now; the newest, or none, is taken', async () => {
  const made = await site();
  const kinds: [path: string, list: string, key: string, id: number, change: object, omit: string[]][] = [
    ['/links', '/links', 'id', made.link.id, { name: 'Other broker' }, ['health', 'hasPassword']],
    ['/devices', '/devices', 'id', made.device.id, { name: 'Other meter' }, ['health', 'pointIds', 'stuck']],
    [
      '/installation',
      '/installation',
      'id',
      made.supply.id,
      { name: 'Grid' },
      [
        'position',
        'powerPointIds',
        'currentPointIds',
        'feedsIn',
        'purposeShown',
        'job',
        'switchId',
        'wiringFault',
        'wiringFaultSince',
      ],
    ],
    ['/alert-rules', '/alert-rules', 'id', made.rule.id, { limit: 7 }, ['phase', 'missing', 'removedAt']],
    ['/switches', '/switches', 'id', made.contact.id, { timeoutMs: 4000 }, SEEN_OF_SWITCH],
    [
      '/cut-off-rules',
      '/cut-off-rules',
      'id',
      made.cutOff.id,
      { limit: 60 },
      ['tripped', 'decision', 'missing'],
    ],
    ['/virtual-meters', '/virtual-meters', 'pointId', made.meter.pointId, { formula: '3 * a' }, ['pointId']],
  ];
  for (const [path, list, key, id, change, omit] of kinds) {
    const read = async () => {
      const all = await loka.ask<Record<string, unknown>[]>(list);
      const found = { ...all.find((one) => one[key] === id) };
      return Object.fromEntries(Object.entries(found).filter(([k]) => k !== 'id' && !omit.includes(k)));
    };
    const before = await read();
    expect([path, before.version]).toEqual([path, 1]);
    const mine = 'name' in before ? { name: 'Mine' } : { limit: 70 };
    const put = (body: object) => loka.raw(`${path}/${id}`, 'PUT', body);
    const [first, second] = await Promise.all([put({ ...before, ...change }), put({ ...before, ...mine })]);
    // Of two at the very same time one wins, and the other one is told.
    expect([path, [first.status, second.status].sort()]).toEqual([path, [200, 409]]);
    const told = (first.status === 409 ? first : second).body as {
      version: number;
      now: Record<string, unknown>;
    };
    const now = await read();
    expect(told.version).toBe(2);
    expect(told.now).toMatchObject(first.status === 200 ? change : mine);
    expect(now).toMatchObject({ ...told.now, version: 2 });
    expect(JSON.stringify(told)).not.toContain('secret-word');
    // Knowing that, it may be overwritten; who says no version is a program that means it.
    expect((await put({ ...before, ...mine, version: 2 })).status).toBe(200);
    const { version: _, ...without } = before;
    expect((await put({ ...without, ...change })).status).toBe(200);
    expect(await read()).toMatchObject({ ...change, version: 4 });
  }
});
it('the site itself as well, and what is not there is not there', async () => {
  const { site: before } = await loka.ask<{ site: { id: number; version: number; name: string } }>('/site');
  const { id: _, ...values } = before;
  expect((await loka.raw('/site', 'PUT', { ...values, name: 'A' })).status).toBe(200);
  expect(await loka.raw('/site', 'PUT', { ...values, name: 'B' })).toMatchObject({
    status: 409,
    body: { now: { name: 'A' } },
  });
  expect((await loka.raw('/alert-rules/99999', 'PUT', {})).status).toBe(422);
});
