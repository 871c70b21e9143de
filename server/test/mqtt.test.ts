import type { Device } from '@loka/contract/devices';
import type { Link } from '@loka/contract/links';
import type { Point } from '@loka/contract/points';
import type { Switch } from '@loka/contract/control';
import type { TopicsSeen } from '@loka/contract/messages';
import { QUALITY } from '@loka/core/series';
import { setTimeout as pause } from 'node:timers/promises';
import { Loka, until } from './support/loka.js';
import { makeMap, makeSupply, message, nameSite, newest } from './support/point.js';
import { Mosquitto, run } from './support/programs.js';

// The broker is Debian's mosquitto, and mosquitto_pub and mosquitto_sub stand for the devices.
let loka: Loka;
let broker: Mosquitto;
let points: Point[] = [];
const made: Record<string, number> = {};

const MESSAGES = [
  message('power', { pointer: '/power/active', quantity: 'active-power', unit: 'W' }),
  message('voltage', { pointer: '/volts', quantity: 'voltage', unit: 'V' }),
  message('timed', { pointer: '/energy', timePointer: '/at', quantity: 'energy-import', unit: 'kWh' }),
  message('plain', { topic: '{device}/temperature', pointer: '', quantity: 'temperature', unit: '°C' }),
  message('quick', { topic: '{device}/quick', pointer: '', intervalMs: 400 }),
  message('command', {
    topic: '{device}/relay/wanted',
    pointer: '',
    quantity: 'contact-state',
    access: 'write',
    on: 'ON',
    off: 'OFF',
  }),
  message('contact', {
    topic: '{device}/relay',
    pointer: '/state',
    quantity: 'contact-state',
    on: 'ON',
    off: 'OFF',
  }),
];
const availability = { topic: '{device}/online', online: 'yes', offline: 'no' };

beforeAll(async () => {
  [loka, broker] = await Promise.all([Loka.start(), Mosquitto.start()]);
  await nameSite(loka);
  const mapId = await makeMap(loka, 'Plug', { messages: MESSAGES, availability });
  const { id: linkId } = await loka.ask<Link>('/links', 'POST', {
    name: 'Broker',
    kind: 'mqtt',
    host: 'localhost',
    port: broker.port,
  });
  made.link = linkId;
  for (const name of ['plug-1', 'plug-2'])
    made[name] = (
      await loka.ask<Device>('/devices', 'POST', { linkId, mapId, name, topic: `site/${name}` })
    ).id;
  points = await loka.ask<Point[]>('/points');
  await connected();
});
afterAll(async () => {
  await loka.stop();
  await broker.stop();
});

const reading = (device: string, key: string) => newest(loka, points, made[device] as number, key);
const deviceNow = async (name: string) =>
  (await loka.ask<Device[]>('/devices')).find((d) => d.id === made[name]) as Device;
const linkNow = async () => (await loka.ask<Link[]>('/links')).find((l) => l.id === made.link) as Link;
/** Until a message that is sent again and again arrives: the subscription may still be on its way. */
const connected = () =>
  until('a first message', async () => {
    await broker.publish('site/plug-1/temperature', '20');
    return reading('plug-1', 'plain')?.v === 20;
  });

it('one JSON with several values, for the device on whose topic it comes', async () => {
  await broker.publish('site/plug-1/report', '{"power":{"active":1150.5},"volts":"230.1","energy":12.5}');
  await until('the power', () => reading('plug-1', 'power')?.v === 1150.5);
  expect(reading('plug-1', 'voltage')).toMatchObject({ v: 230.1, q: QUALITY.good });
  expect(reading('plug-2', 'power')).toBeUndefined();
});
it('the time inside the payload is that of the reading, and what is stored carries it', async () => {
  const t = Date.now() - 20_000;
  await broker.publish('site/plug-1/report', JSON.stringify({ energy: 12.6, at: t / 1000 }));
  await until('the reading', () => reading('plug-1', 'timed')?.t === t);
  const id = points.find((p) => p.deviceId === made['plug-1'] && p.key === 'timed')!.id;
  await until('the sample', async () => {
    const [rows] = await loka.sql.query('SELECT v FROM samples WHERE pointId = ? AND t = ?', [id, t]);
    return (rows as { v: number }[])[0]?.v === 12_600;
  });
});
it('what is no JSON, has no such member, or is no number is counted, said, and never a value', async () => {
  const before =
    (await deviceNow('plug-1')).health.faults.find((f) => f.kind === 'not understood')?.count ?? 0;
  for (const payload of [
    '{"power":{"active":',
    '{"power":1}',
    '{"power":{"active":"NaN"},"volts":1e999}',
    '\u0001\u0002',
    '[]',
  ])
    await broker.publish('site/plug-1/report', payload);
  await until('the bad readings', async () => {
    const faults = (await deviceNow('plug-1')).health.faults.find((f) => f.kind === 'not understood');
    return (faults?.count ?? 0) >= before + 10;
  }).catch(async (error: Error) => {
    throw new Error(`${error.message}; ${JSON.stringify([await linkNow(), await deviceNow('plug-1')])}`);
  });
  expect(reading('plug-1', 'power')).toMatchObject({ v: null, q: QUALITY.badAnswer });
  await broker.publish('site/plug-1/report', '{"power":{"active":7},"volts":231}');
  await until('it goes on', () => reading('plug-1', 'power')?.v === 7);
});
it('no message of a device is lost while others on its broker are added, changed and removed', async () => {
  const { mapId, linkId } = await deviceNow('plug-1');
  const beside = { linkId, mapId, name: 'plug-3' };
  const arrives = (id: number, topic: string, value: number) =>
    until(`what comes on ${topic}`, async () => {
      await broker.publish(`${topic}/temperature`, String(value));
      return newest(loka, await loka.ask<Point[]>('/points'), id, 'plain')?.v === value;
    });
  let sent = 0;
  let over = false;
  async function* numbers() {
    while (!over) {
      yield String(5000 + sent++);
      await pause(2);
    }
  }
  const publishing = broker.publishLines('site/plug-1/temperature', numbers());
  try {
    await until('the first', () => (reading('plug-1', 'plain')?.v ?? 0) >= 5000);
    const { id } = await loka.ask<Device>('/devices', 'POST', { ...beside, topic: 'site/plug-3' });
    await arrives(id, 'site/plug-3', 3);
    await loka.ask(`/devices/${id}`, 'PUT', { ...beside, topic: 'site/plug-4' });
    await arrives(id, 'site/plug-4', 4);
    await loka.ask(`/devices/${id}`, 'DELETE');
  } finally {
    over = true;
    await publishing;
  }
  // The last one was sent after all changes, and what was sent before it has come before it, if it came.
  await until('the last', () => reading('plug-1', 'plain')?.v === 4999 + sent);
  const id = points.find((p) => p.deviceId === made['plug-1'] && p.key === 'plain')!.id;
  const stored = async () => {
    const [rows] = await loka.sql.query(
      'SELECT COUNT(*) AS n, MAX(v) AS last FROM samples WHERE pointId = ? AND v >= 5000',
      [id],
    );
    return (rows as { n: number; last: number }[])[0];
  };
  await until('the last of them stored', async () => (await stored())?.last === 4999 + sent);
  expect((await stored())?.n).toBe(sent);
});
it('silence is noticed after two and a half intervals, and ends with the next message', async () => {
  await until('silence', async () => reading('plug-2', 'quick')?.q === QUALITY.silent);
  expect((await deviceNow('plug-2')).health.fault).toMatch(
    /Nothing has arrived on “site\/plug-2\/quick”.*every/,
  );
  await broker.publish('site/plug-2/quick', '3');
  await until('its voice', () => reading('plug-2', 'quick')?.v === 3);
  await until('silence again', () => reading('plug-2', 'quick')?.q === QUALITY.silent);
});
it('a device whose last will says that it is gone is offline at once, with all its values', async () => {
  await broker.publish('site/plug-1/online', 'no', '-r');
  await until('offline', () => reading('plug-1', 'power')?.q === QUALITY.offline);
  expect((await deviceNow('plug-1')).health).toMatchObject({
    state: 'failing',
    fault: expect.stringContaining('offline'),
  });
  await broker.publish('site/plug-1/online', 'yes', '-r');
  await broker.publish('site/plug-1/report', '{"power":{"active":8},"volts":231}');
  await until('back', () => reading('plug-1', 'power')?.v === 8);
  expect((await deviceNow('plug-1')).health.state).toBe('answering');
});
it('a switch is a command topic, and its state comes back on another', async () => {
  const nodeId = await makeSupply(loka);
  const point = (key: string) => points.find((p) => p.deviceId === made['plug-1'] && p.key === key)!.id;
  const { id } = await loka.ask<{ id: number }>('/switches', 'POST', {
    name: 'Plug',
    nodeId,
    commandPointId: point('command'),
    statePointId: point('contact'),
    timeoutMs: 5000,
  });
  // mosquitto_sub waits for one command and hands it on.
  const command = run('mosquitto_sub', [
    '-p',
    String(broker.port),
    '-t',
    'site/plug-1/relay/wanted',
    '-C',
    '1',
    '-W',
    '15',
  ]);
  const subscribed = async () => {
    await loka.ask(`/switches/${id}/operate`, 'POST', { closed: true });
    return Promise.race([
      command.then(({ stdout }) => stdout.trim()),
      new Promise<null>((r) => setTimeout(() => r(null), 400)),
    ]);
  };
  expect(await until('the command', subscribed)).toBe('ON');
  await broker.publish('site/plug-1/relay', '{"state":"ON"}');
  await until('confirmed', async () => {
    const view = (await loka.ask<Switch[]>('/switches')).find((s) => s.id === id);
    return view?.readBack === true && view.agreement === 'agrees';
  });
});
it('shows what is being published as topics with payload, age and rate, also those that no point takes', async () => {
  await until('the topic', async () => {
    await broker.publish('elsewhere/deep/down', '{"x":[1,2]}');
    const { topics } = await loka.ask<TopicsSeen>(`/links/${made.link}/topics`);
    const found = topics.find((t) => t.topic === 'elsewhere/deep/down');
    return found && found.count >= 2 && found.everyMs !== null && found.payload === '{"x":[1,2]}';
  });
});
it('counts its messages, and a broker that goes away turns every value bad with the reason, until it is back', async () => {
  expect((await linkNow()).health.perSecond).toBeGreaterThan(0);
  await broker.halt();
  await until('the loss', async () => (await linkNow()).health.state === 'failing');
  expect(reading('plug-1', 'power')?.v).toBeNull();
  const { mapId, linkId } = await deviceNow('plug-1');
  const added = { linkId, mapId, name: 'plug-5', topic: 'site/plug-5' };
  const { id } = await loka.ask<Device>('/devices', 'POST', added);
  const own = await loka.ask<Point[]>('/points');
  await until('the loss also there', () => newest(loka, own, id, 'power')?.q === QUALITY.refused);
  await broker.again();
  await until('it is back', async () => {
    await broker.publish('site/plug-1/report', '{"power":{"active":9},"volts":231}');
    return reading('plug-1', 'power')?.v === 9;
  });
  await until('one that was added meanwhile', async () => {
    await broker.publish('site/plug-5/report', '{"power":{"active":5},"volts":231}');
    return newest(loka, own, id, 'power')?.v === 5;
  });
  await loka.ask(`/devices/${id}`, 'DELETE');
  expect((await linkNow()).health.faults.map((f) => f.kind)).toEqual(
    expect.arrayContaining(['connection lost']),
  );
});
it('MQTT 5 with TLS, user and password; what is wrong with them is said', async () => {
  const secure = {
    name: 'Secure',
    kind: 'mqtt',
    host: 'localhost',
    port: broker.securePort,
    mqttVersion: '5',
    tls: true,
    user: 'meter',
    timeoutMs: 3000,
  };
  const good = { ...secure, password: 'kept secret', certificate: broker.certificate };
  expect((await loka.raw('/links/test', 'POST', good)).status).toBe(200);
  const detail = async (link: object) =>
    ((await loka.raw('/links/test', 'POST', link)).body as { detail: string }).detail;
  expect(await detail({ ...good, password: 'guessed' })).toMatch(/does not let this user in/);
  expect(await detail({ ...good, certificate: '' })).toMatch(/certificate is not accepted/);
  expect(await detail({ ...good, port: 1 })).toMatch(/refuses port 1/);
  const { id } = await loka.ask<Link>('/links', 'POST', good);
  await until(
    'the link answers',
    async () => (await loka.ask<Link[]>('/links')).find((l) => l.id === id)?.health.state === 'answering',
  );
  const shown = (await loka.ask<Link[]>('/links')).find((l) => l.id === id) as Link & Record<string, unknown>;
  expect(shown.hasPassword).toBe(true);
  expect(JSON.stringify(shown)).not.toContain('kept secret');
  // A change without a password keeps it.
  const { password: _, ...kept } = good;
  await loka.ask(`/links/${id}`, 'PUT', { ...kept, name: 'Secure, renamed' });
  await until(
    'it still answers',
    async () => (await loka.ask<Link[]>('/links')).find((l) => l.id === id)?.health.state === 'answering',
  );
  const [audit] = await loka.sql.query('SELECT detail FROM audit');
  expect(JSON.stringify(audit)).not.toContain('kept secret');
});
it('with a client id of its own, what comes while Loka is away is delivered afterwards', async () => {
  const link = await linkNow();
  const { id: _, health: __, hasPassword: ___, ...input } = link;
  await loka.ask(`/links/${link.id}`, 'PUT', { ...input, clientId: 'loka-site' });
  await connected();
  const config = loka.config;
  await loka.halt();
  const t = Date.now() - 1000;
  await broker.publish('site/plug-2/report', JSON.stringify({ energy: 99, at: t }), '-q', '1');
  loka = await Loka.start(config);
  const id = points.find((p) => p.deviceId === made['plug-2'] && p.key === 'timed')!.id;
  await until('the sample', async () => {
    const [rows] = await loka.sql.query('SELECT v FROM samples WHERE pointId = ? AND t = ?', [id, t]);
    return (rows as { v: number }[])[0]?.v === 99_000;
  });
});
it('what was queued while Loka was away and has no time of its own is uncertain; what comes afterwards is good', async () => {
  const config = loka.config;
  await loka.halt();
  for (const value of ['41', '42', '43']) await broker.publish('site/plug-2/temperature', value, '-q', '1');
  loka = await Loka.start(config);
  const id = points.find((p) => p.deviceId === made['plug-2'] && p.key === 'plain')!.id;
  const stored = async () =>
    (await loka.sql.query('SELECT v, q FROM samples WHERE pointId = ? AND v > 40 ORDER BY t', [id]))[0];
  await until('the queue', async () => ((await stored()) as object[]).length === 3);
  expect(await stored()).toEqual([41, 42, 43].map((v) => ({ v, q: QUALITY.queued })));
  expect(reading('plug-2', 'plain')).toMatchObject({ v: 43, q: QUALITY.queued });
});
it('two thousand messages without a time of their own are two thousand readings', async () => {
  const id = points.find((p) => p.deviceId === made['plug-1'] && p.key === 'plain')!.id;
  const count = async () =>
    (
      (
        await loka.sql.query(
          'SELECT COUNT(*) AS n, COUNT(DISTINCT v) AS d FROM samples WHERE pointId = ? AND v BETWEEN 1000 AND 2999',
          [id],
        )
      )[0] as { n: number; d: number }[]
    )[0];
  // Every other one is like the one before it: it is a reading of its own anyway.
  await broker.publishLines(
    'site/plug-1/temperature',
    Array.from({ length: 2000 }, (_, i) => String(1000 + (i >> 1))),
  );
  await until('all of them', async () => (await count())?.n === 2000, 30_000);
  expect(await count()).toEqual({ n: 2000, d: 1000 });
});
