import type { Device } from '@loka/contract/devices';
import type { Link, MadeLink } from '@loka/contract/links';
import type { Point } from '@loka/contract/points';
import type { TopicsSeen } from '@loka/contract/messages';
import { Loka, until } from './support/loka.js';
import { makeMap, message, nameSite, newest } from './support/point.js';

let loka: Loka;
let link: MadeLink;
let device: number;
let points: Point[];

beforeAll(async () => {
  loka = await Loka.start();
  await nameSite(loka);
  link = await loka.ask<MadeLink>('/links', 'POST', { name: 'Door', kind: 'http-push' });
  const mapId = await makeMap(loka, 'Logger', {
    messages: [
      message('voltage', { topic: '{device}:voltage', pointer: '', quantity: 'voltage', unit: 'V' }),
      message('power', { topic: 'boiler', pointer: '/power', quantity: 'active-power', unit: 'W' }),
    ],
  });
  device = (
    await loka.ask<Device>('/devices', 'POST', {
      linkId: link.id,
      mapId,
      name: 'Logger',
      topic: 'urn:dev:ow:10e2073a01080063',
    })
  ).id;
  points = await loka.ask<Point[]>('/points');
  await until('the door', async () => (await post('/boiler', { power: 0 })).status === 200);
});
afterAll(() => loka.stop());

const post = (path: string, body: unknown, headers: Record<string, string> = {}) =>
  loka.raw(`/push/${link.id}${path}`, 'POST', body, { authorization: `Bearer ${link.token}`, ...headers });

it('SenML and flat JSON, with the token of the link', async () => {
  const at = Math.floor(Date.now() / 1000) - 60;
  const pack = [
    { bn: 'urn:dev:ow:10e2073a01080063:', bt: at, n: 'voltage', u: 'V', v: 120.1 },
    { n: 'current', u: 'A', v: 1.2 },
  ];
  expect(await post('', pack, { 'content-type': 'application/senml+json' })).toMatchObject({
    status: 200,
    body: { messages: 2, taken: 1 },
  });
  expect(newest(loka, points, device, 'voltage')).toMatchObject({ v: 120.1, t: at * 1000 });
  expect((await post('/boiler', { power: 1150 })).body).toEqual({ messages: 1, taken: 1 });
  expect(newest(loka, points, device, 'power')?.v).toBe(1150);
  // What was answered with 200 is stored.
  const id = points.find((p) => p.key === 'voltage')!.id;
  const [rows] = await loka.sql.query('SELECT v FROM samples WHERE pointId = ? AND t = ?', [id, at * 1000]);
  expect(rows).toEqual([{ v: 120.1 }]);
});
it('a script that posts every few seconds may keep its connection: it is not closed as the next one comes', async () => {
  const { headers } = await fetch(`${loka.base}/api/push/${link.id}`, { method: 'POST' });
  // As RFC 9112, 9.3 has it by default; for how long, in seconds, is told in a header of its own.
  expect(headers.get('connection')).toBe('keep-alive');
  expect(Number(/timeout=(\d+)/.exec(headers.get('keep-alive') ?? '')?.[1])).toBeGreaterThan(60);
});
it('a second delivery of the same reading changes nothing', async () => {
  const at = Math.floor(Date.now() / 1000) - 30;
  const pack = [{ bn: 'urn:dev:ow:10e2073a01080063:', bt: at, n: 'voltage', v: 119 }];
  for (let i = 0; i < 3; i++) expect((await post('', pack)).status).toBe(200);
  const id = points.find((p) => p.key === 'voltage')!.id;
  const [rows] = await loka.sql.query('SELECT COUNT(*) AS n FROM samples WHERE pointId = ? AND t = ?', [
    id,
    at * 1000,
  ]);
  expect(rows).toEqual([{ n: 1 }]);
});
it('shows what came, also what no point takes', async () => {
  await post('/unknown/place', { a: [1] });
  const { topics } = await loka.ask<TopicsSeen>(`/links/${link.id}/topics`);
  expect(topics.map((t) => t.topic)).toEqual(expect.arrayContaining(['boiler', 'unknown/place']));
});
it('when a device is added, the door stays open: what was seen, and how the others fare, is still known', async () => {
  await post('/boiler', { power: 1200 });
  const before = (await loka.ask<Device[]>('/devices')).find((d) => d.id === device) as Device;
  expect(before.health.state).toBe('answering');
  const input = { linkId: link.id, mapId: before.mapId, name: 'Second logger', topic: 'second' };
  const { id } = await loka.ask<Device>('/devices', 'POST', input);
  await until('its first', async () => {
    const { body } = await post('', [{ n: 'second:voltage', v: 231 }]);
    return (body as { taken: number }).taken === 1;
  });
  const after = (await loka.ask<Device[]>('/devices')).find((d) => d.id === device) as Device;
  expect(after.health).toMatchObject({ state: 'answering', since: before.health.since });
  const { topics } = await loka.ask<TopicsSeen>(`/links/${link.id}/topics`);
  expect(topics.map((t) => t.topic)).toContain('unknown/place');
  await loka.ask(`/devices/${id}`, 'DELETE');
});
it('without the token, with another one, or at another link nothing is taken, and nothing is learnt', async () => {
  const door = (id: number, token?: string) =>
    loka.raw(
      `/push/${id}/boiler`,
      'POST',
      { power: 1 },
      token === undefined ? {} : { authorization: `Bearer ${token}` },
    );
  const answers = [
    await door(link.id),
    await door(link.id, 'guessed'),
    await door(link.id + 1, link.token),
    await door(99_999, link.token),
  ];
  for (const { status, body } of answers) {
    expect(status).toBe(401);
    expect(body).toEqual(answers[0]!.body);
  }
});
it('from elsewhere the door answers, and nothing else does', async () => {
  const elsewhere = { host: 'loka.example' };
  const http = await import('node:http');
  const ask = (path: string, headers: Record<string, string>) =>
    new Promise<number>((resolve, reject) => {
      const request = http.request(
        `${loka.base}/api${path}`,
        { method: 'POST', headers: { 'content-type': 'application/json', ...elsewhere, ...headers } },
        (response) => {
          response.resume();
          resolve(response.statusCode ?? 0);
        },
      );
      request.on('error', reject);
      request.end(JSON.stringify({ power: 2 }));
    });
  const authorization = `Bearer ${link.token}`;
  expect(await ask(`/push/${link.id}/boiler`, { authorization })).toBe(200);
  expect(await ask(`/push/${link.id}/boiler`, { authorization, origin: 'http://loka.example' })).toBe(403);
  expect(await ask('/links', { authorization })).toBe(403);
});
it('bad bodies are refused in words, and the next one is taken', async () => {
  for (const body of [[], [{ n: 'a', v: 'x' }], [{ bn: '!', v: 1 }], [[]]])
    expect((await post('', body)).status).toBe(422);
  const broken = await fetch(`${loka.base}/api/push/${link.id}/boiler`, {
    method: 'POST',
    headers: { authorization: `Bearer ${link.token}`, 'content-type': 'application/json' },
    body: '{"power":',
  });
  expect(broken.status).toBe(400);
  const huge = await post('/boiler', { power: 1, filler: 'x'.repeat(300_000) });
  expect(huge.status).toBe(422);
  expect((await post('/boiler', { power: 5 })).status).toBe(200);
  const { faults } = (await loka.ask<Link[]>('/links')).find((l) => l.id === link.id)!.health;
  expect(faults.find((f) => f.kind === 'not understood')?.count).toBeGreaterThan(3);
});
it('another token makes the one before good for nothing', async () => {
  const { token } = await loka.ask<MadeLink>(`/links/${link.id}/token`, 'POST');
  expect((await post('/boiler', { power: 1 })).status).toBe(401);
  link = { ...link, token: token as string };
  await until('the new one', async () => (await post('/boiler', { power: 1 })).status === 200);
  expect(JSON.stringify(await loka.ask('/links'))).not.toContain(token);
});
