import type { Link } from '@loka/contract/links';
import { Loka, until } from './support/loka.js';
import { makeMap, message, nameSite, newest } from './support/point.js';
import { Mosquitto } from './support/programs.js';
import type { Point } from '@loka/contract/points';
import type { Device } from '@loka/contract/devices';
import { seeded } from './support/crash.js';

// Whatever is sent, by whomever: nothing ends the process, and nothing is answered with a fault of the server.
const ROUNDS = Number(process.env.LOKA_HOSTILE ?? 6000);
let loka: Loka;
let broker: Mosquitto;
let points: Point[];
let device: number;
let link: number;

beforeAll(async () => {
  [loka, broker] = await Promise.all([Loka.start(), Mosquitto.start()]);
  await nameSite(loka);
  ({ id: link } = await loka.ask<Link>('/links', 'POST', {
    name: 'Broker',
    kind: 'mqtt',
    host: 'localhost',
    port: broker.port,
    clientId: 'loka-hostile',
  }));
  const mapId = await makeMap(loka, 'Plug', {
    messages: [
      message('power', { pointer: '/power', quantity: 'active-power', unit: 'W' }),
      message('timed', { pointer: '/v', timePointer: '/at', quantity: 'energy-import', unit: 'kWh' }),
    ],
    availability: { topic: '{device}/online', online: 'yes', offline: 'no' },
  });
  ({ id: device } = await loka.ask<Device>('/devices', 'POST', {
    linkId: link,
    mapId,
    name: 'Plug',
    topic: 'plug',
  }));
  points = await loka.ask<Point[]>('/points');
  await until('connected', async () => {
    await broker.publish('plug/report', '{"power":1}');
    return newest(loka, points, device, 'power')?.v === 1;
  });
}, 60_000);
afterAll(async () => {
  await loka.stop();
  await broker.stop();
});

const nested = (depth: number, open = '[', close = ']') => open.repeat(depth) + close.repeat(depth);

it('messages of every odd kind are counted as misread, acknowledged, and what comes afterwards is read', async () => {
  const odd = [
    nested(20_000),
    `${'{"a":'.repeat(20_000)}1${'}'.repeat(20_000)}`,
    `{"power":${nested(20_000)}}`,
    '{"power":{"__proto__":{"v":1}}}',
    '{"__proto__":{"power":1}}',
    '{"v":1,"at":1e308}',
    '{"v":1,"at":-1e308}',
    '{"v":1,"at":"2026-13-45"}',
    '{"power":1e400}',
    'null',
    '[]',
    '"\ud800"',
    '',
    '1'.repeat(60_000),
    ' '.repeat(60_000),
  ];
  for (const payload of odd) await broker.publishFile('plug/report', payload);
  for (const payload of odd) await broker.publishFile('plug/online', payload.slice(0, 5000));
  await broker.publish('plug/online', 'yes');
  await until('it goes on', async () => {
    await broker.publish('plug/report', '{"power":42}', '-q', '1');
    return newest(loka, points, device, 'power')?.v === 42;
  });
  const health = (await loka.ask<Device[]>('/devices')).find((d) => d.id === device)?.health;
  expect(health?.faults.find((f) => f.kind === 'not understood')?.count).toBeGreaterThan(5);
}, 60_000);

/** A payload that was right once, with some of it cut out, doubled, or turned into something else. */
function spoiled(random: () => number): string {
  const whole = JSON.stringify({
    power: random() * 3000,
    v: random() * 1e6,
    at: Date.now() - random() * 1e9,
    note: 'ä€😀',
  });
  let text = whole;
  for (let i = 0; i <= random() * 4; i++) {
    const at = Math.floor(random() * text.length);
    const length = Math.floor(random() * 12);
    const put = ['', '"', '{', ']', '-', 'e999', 'null', '\\u0000', 'NaN', ',,', text.slice(at, at + 20)][
      Math.floor(random() * 11)
    ] as string;
    text = text.slice(0, at) + put + text.slice(at + length);
  }
  return text.replace(/[\r\n]/g, ' ');
}

it('three thousand spoiled messages on all its topics: each is read or misread, acknowledged, and what comes afterwards is read', async () => {
  const random = seeded(Number(process.env.LOKA_SEED ?? 20_261_126));
  for (const topic of ['plug/report', 'plug/online', 'plug/online/', 'plug//report'])
    await broker.publishLines(
      topic,
      Array.from({ length: 750 }, () => spoiled(random)),
    );
  await broker.publish('plug/online', 'yes');
  await until('it goes on', async () => {
    await broker.publish('plug/report', '{"power":43}', '-q', '1');
    return newest(loka, points, device, 'power')?.v === 43;
  });
  const health = (await loka.ask<Device[]>('/devices')).find((d) => d.id === device)?.health;
  expect(health?.faults.find((f) => f.kind === 'not understood')?.count).toBeGreaterThan(300);
  // What was stored of them is a number, or says that it is none.
  const [rows] = await loka.sql.query('SELECT COUNT(*) AS n FROM samples WHERE v IS NULL AND q < 128');
  expect(rows).toEqual([{ n: 0 }]);
}, 60_000);

const VALUES: ((random: () => number) => unknown)[] = [
  () => null,
  () => [],
  () => [[]],
  () => ({}),
  () => '',
  () => 'x'.repeat(5000),
  () => -1,
  () => 1e308,
  () => 2 ** 53,
  () => 0.5,
  () => true,
  () => '\u0000\ud800’; DROP TABLE points; --',
  () => ({ length: 1e9 }),
  () => ({ __proto__: null, constructor: { prototype: { a: 1 } } }),
  () => [{ id: 1 }, null, 7],
  () => '../../etc/passwd',
  (random) => Math.floor(random() * 5),
  (random) => String(Math.floor(random() * 5)),
];

interface Operation {
  path: string;
  method: string;
  fields: string[];
  queries: string[];
}

/** What can be asked, from the server's own description. */
async function operations(): Promise<Operation[]> {
  const { paths, components } = await loka.ask<{
    paths: Record<
      string,
      Record<string, { requestBody?: unknown; parameters?: { in: string; name: string }[] }>
    >;
    components: { schemas: Record<string, { properties?: Record<string, unknown> }> };
  }>('/docs.json');
  return Object.entries(paths).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, { requestBody, parameters = [] }]) => {
      const name = /"\$ref":"#\/components\/schemas\/(\w+)"/.exec(JSON.stringify(requestBody ?? {}))?.[1];
      return {
        path: path.replace(/^\/api/, ''),
        method: method.toUpperCase(),
        fields: Object.keys(components.schemas[name ?? '']?.properties ?? {}),
        queries: parameters.filter((p) => p.in === 'query').map((p) => p.name),
      };
    }),
  );
}

it(`${ROUNDS} hostile requests over all routes: none is answered with a fault of the server`, async () => {
  const random = seeded(Number(process.env.LOKA_SEED ?? 20_261_126));
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)] as T;
  const value = () => pick(VALUES)(random);
  // The stream of live values does not end by itself; the record of the site takes nothing from whoever asks, and sets half a second of type.
  const all = (await operations()).filter((o) => !['/live', '/records/site.pdf'].includes(o.path));
  expect(all.length).toBeGreaterThan(60);
  const bad: unknown[] = [];
  for (let i = 0; i < ROUNDS; i++) {
    const { path, method, fields, queries } = pick(all);
    const at = path.replace(/\{\w+\}/g, () =>
      encodeURIComponent(String(pick([1, 2, 999_999, -1, 'x', '1e3', '%00', 1.5, '9'.repeat(30)]))),
    );
    const query = queries
      .filter(() => random() < 0.7)
      .map(
        (q) =>
          `${q}=${encodeURIComponent(String(pick([0, 1, -1, 'x', 'NaN', '1,2', 1e308, '', 1_780_000_000_000])))}`,
      )
      .join('&');
    const object = Object.fromEntries(fields.filter(() => random() < 0.8).map((f) => [f, value()]));
    const body =
      method === 'GET' || method === 'DELETE'
        ? undefined
        : pick<() => string>([
            () => JSON.stringify(object),
            () => JSON.stringify(object),
            () => JSON.stringify(object),
            () => JSON.stringify(value()) ?? '',
            () => nested(5000),
            () => `{"a":${nested(5000)}}`,
            () => `{"${fields[0] ?? 'a'}":${nested(5000)}}`,
            () => '{"a":',
            () => JSON.stringify([object, object]),
          ])();
    const response = await fetch(`${loka.base}/api${at}${query ? `?${query}` : ''}`, {
      method,
      headers: { 'content-type': 'application/json' },
      body: body ?? null,
    });
    const text = await response.text();
    if (response.status >= 500)
      bad.push({ method, at, query, body: body?.slice(0, 300), status: response.status, text });
  }
  expect(bad).toEqual([]);
  expect((await loka.ask<{ database: { up: boolean } }>('/health')).database.up).toBe(true);
}, 240_000);
