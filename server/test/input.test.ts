import { changeInWords } from '@loka/contract/changes';
import type { AuditEntry } from '@loka/contract/health';
import { parse } from 'csv-parse/sync';
import http from 'node:http';
import { AllowedNetworks } from '../src/security/allowedNetworks.js';
import { SampleStore } from '../src/series/sampleStore.js';
import { Loka } from './support/loka.js';
import { makeSite, TestBuilding, type MadeSite } from './support/site.js';

let loka: Loka;
let building: TestBuilding;
let site: MadeSite;

beforeAll(async () => {
  [loka, building] = await Promise.all([Loka.start(), TestBuilding.start()]);
  site = await makeSite(loka, building, ['main-meter']);
});
afterAll(async () => {
  await loka.stop();
  await building.stop();
});

const link = (over: object) => ({
  name: 'Try',
  host: '127.0.0.1',
  port: 502,
  timeoutMs: 400,
  enabled: true,
  ...over,
});
const definition = (over: object = {}) => ({
  key: 'a',
  name: 'a',
  kind: 'holding',
  address: '0',
  counting: 'from-0',
  type: 'float32',
  wordOrder: 'high-first',
  byteOrder: 'high-first',
  scaling: { kind: 'factor', factor: 1, offset: 0 },
  unit: 'V',
  quantity: 'voltage',
  phase: null,
  access: 'read',
  intervalMs: 1000,
  ...over,
});
const map = (...points: object[]) =>
  loka.raw('/register-maps', 'POST', { name: 'Try', description: '', points });
const fault = (field: string, message: string) => ({
  status: 422,
  body: { errors: [{ field, message: expect.stringContaining(message) }] },
});

describe('an address that cannot be reached says why, at the field', () => {
  it('unknown host', async () =>
    expect(await loka.raw('/links/test', 'POST', link({ host: 'no-such-meter.invalid' }))).toMatchObject(
      fault('host', 'No machine is called'),
    ));
  it('refused port', async () =>
    expect(await loka.raw('/links/test', 'POST', link({ port: 1 }))).toMatchObject(
      fault('port', 'refuses port 1'),
    ));
  it('a network that the owner has not allowed', async () =>
    expect(await loka.raw('/links/test', 'POST', link({ host: '203.0.113.7' }))).toMatchObject(
      fault('host', 'LOKA_ALLOWED_NETWORKS'),
    ));
  it('a port that is none', async () =>
    expect(await loka.raw('/links', 'POST', link({ port: 70000 }))).toMatchObject(
      fault('port', 'last port is 65535'),
    ));
  it('a host that is none', async () =>
    expect(await loka.raw('/links', 'POST', link({ host: 'http://x/' }))).toMatchObject(
      fault('host', 'A host is an address'),
    ));
  it('one that answers', async () =>
    expect(await loka.raw('/links/test', 'POST', link({ port: building.ports['main-meter'] }))).toMatchObject(
      { status: 200, body: { ms: expect.any(Number) } },
    ));
});

describe('a trial read says what is wrong with a register', () => {
  const read = async (over: object, unit = 1) => {
    const links = await loka.ask<{ id: number }[]>('/links');
    return (
      await loka.ask<object[]>('/devices/trial-read', 'POST', {
        linkId: links[0]?.id,
        unit,
        points: [definition({ kind: 'input', ...over })],
      })
    )[0];
  };
  it('reads words and the value that they give', async () => {
    const result = (await read({})) as { words: number[]; value: number };
    expect(result.words).toHaveLength(2);
    const view = new DataView(new ArrayBuffer(4));
    result.words.forEach((w, i) => view.setUint16(2 * i, w));
    expect(result.value).toBe(view.getFloat32(0));
  });
  it('illegal address', async () =>
    expect(await read({ address: '5000' })).toMatchObject({
      words: null,
      message: expect.stringContaining('exception 2, illegal data address'),
    }));
  it('wrong unit', async () =>
    expect(await read({}, 9)).toMatchObject({
      words: null,
      message: expect.stringContaining('Unit 9 gave no answer'),
    }));
  it('a wrong type reads what cannot be right, and says so', async () =>
    expect(await read({ type: 'uint32' })).toMatchObject({
      words: expect.any(Array),
      message: expect.stringContaining('Cannot be right'),
    }));
});

describe('a register map', () => {
  it('with an address that is none', async () =>
    expect(await map(definition({ address: 'x12' }))).toMatchObject(
      fault('points.0.address', 'is not an address'),
    ));
  it('with a float on an odd half of another', async () =>
    expect(await map(definition(), definition({ key: 'b', name: 'b', address: '1' }))).toMatchObject(
      fault('points.1.address', 'register 2 of 2 of “a”'),
    ));
  it('with a field of the wrong kind', async () =>
    expect(await map(definition({ intervalMs: 'often' }))).toMatchObject(
      fault('points.0.intervalMs', 'whole number of milliseconds'),
    ));
  it('with members that nobody knows', async () =>
    expect((await map(definition({ danger: true }))).status).toBe(422));
  it('that devices need cannot be removed', async () => {
    const used = (await loka.ask<{ id: number; deviceIds: number[] }[]>('/register-maps')).find(
      (m) => m.deviceIds.length > 0,
    );
    expect(await loka.raw(`/register-maps/${used?.id}`, 'DELETE')).toMatchObject({
      status: 409,
      body: { detail: expect.stringContaining('their readings need it') },
    });
  });
});

describe('a period', () => {
  it('that ends before it starts', async () => {
    const id = site.point('main-meter', 'voltage-l1');
    expect(await loka.raw(`/readings?points=${id}&from=2000&to=1000`)).toMatchObject(
      fault('to', 'ends before it starts'),
    );
    expect(await loka.raw(`/readings/export.csv?point=${id}&from=2000&to=2000`)).toMatchObject(
      fault('to', 'ends before it starts'),
    );
  });
  it('of a point that is not there', async () =>
    expect((await loka.raw('/readings?points=424242&from=1&to=2')).status).toBe(404));
});

it('exports CSV after RFC 4180 with times of the site, unit, quality and raw value', async () => {
  const id = site.point('main-meter', 'frequency');
  const t = Date.parse('2026-07-01T12:00:00.000Z');
  const store = loka.app.get(SampleStore);
  store.append([
    { pointId: id, t, v: 49.98, q: 0 },
    { pointId: id, t: t + 1000, v: null, q: 0x81 },
  ]);
  await store.flush();
  const { body, type } = await loka.raw(`/readings/export.csv?point=${id}&from=${t}&to=${t + 5000}`);
  expect(type).toContain('text/csv');
  expect(String(body).endsWith('\r\n')).toBe(true);
  expect(parse(String(body))).toEqual([
    ['time', 'value', 'unit', 'quality', 'raw'],
    ['2026-07-01T13:00:00.000+01:00', '49.98', 'Hz', 'good', '49.98'],
    ['2026-07-01T13:00:01.000+01:00', '', 'Hz', 'bad: time-out, no answer', ''],
  ]);
});

describe('who may speak to it', () => {
  /** Sends a request with headers that fetch would not let pass. */
  const status = (headers: Record<string, string>, method = 'GET') =>
    new Promise<number>((resolve, reject) => {
      const request = http.request(`${loka.base}/api/site`, { method, headers }, (response) => {
        response.resume();
        resolve(response.statusCode ?? 0);
      });
      request.on('error', reject);
      request.end(method === 'GET' ? undefined : '{}');
    });
  it('not a page of elsewhere', async () => {
    expect(await status({ host: 'evil.example' })).toBe(403);
    expect(await status({ origin: 'http://evil.example' })).toBe(403);
    expect(await status({})).toBe(200);
  });
  it('nothing but JSON changes anything', async () =>
    expect(await status({ 'content-type': 'text/plain', 'content-length': '2' }, 'PUT')).toBe(403));
  it('the owner’s list decides where links go', async () => {
    const networks = new AllowedNetworks({ ...loka.config, allowedNetworks: ['10.1.0.0/16'] });
    await expect(networks.resolve('10.1.2.3')).resolves.toBe('10.1.2.3');
    await expect(networks.resolve('127.0.0.1')).rejects.toThrow('not in the networks');
    expect(() => new AllowedNetworks({ ...loka.config, allowedNetworks: ['everything'] })).toThrow(
      'is not a network',
    );
  });
});

it('keeps every change in the audit log', async () => {
  const entries =
    await loka.ask<{ action: string; subject: string; who: string; detail: { name?: string } }[]>('/audit');
  expect(entries.find((e) => e.subject === '/api/links')).toMatchObject({
    action: 'POST',
    who: 'local person',
    detail: { name: 'main-meter' },
  });
});

it('keeps the name of what was removed', async () => {
  const { id } = await loka.ask<{ id: number }>('/links', 'POST', {
    name: 'In the cellar',
    host: '127.0.0.1',
    port: 1502,
    timeoutMs: 1000,
    enabled: false,
  });
  const used = (await loka.ask<{ id: number }[]>('/links')).find((link) => link.id !== id)?.id;
  expect((await loka.raw(`/links/${used}`, 'DELETE')).status).toBe(409);
  await loka.ask(`/links/${id}`, 'DELETE');
  expect((await loka.raw(`/links/${id}`, 'DELETE')).status).toBe(404);
  const entries = await loka.ask<AuditEntry[]>('/audit');
  // What was refused has changed nothing.
  expect(
    entries.filter((e) => e.action === 'DELETE').map(({ subject, name }) => ({ subject, name })),
  ).toEqual([{ subject: `/api/links/${id}`, name: 'In the cellar' }]);
});

it('says every change in words, and none of them twice', async () => {
  const { paths } = await loka.ask<{ paths: Record<string, Record<string, unknown>> }>('/docs.json');
  const requests = Object.entries(paths).flatMap(([address, methods]) =>
    Object.keys(methods)
      .filter((method) => method !== 'get')
      .map((method) => ({ action: method.toUpperCase(), subject: address.replace(/\{\w+\}/g, '12') })),
  );
  // What changes nothing of the site, and is not written down.
  const isRead =
    /(test|trial-read|read-words|which-moves|recognise|preview|impact|what-if)$|^\/api\/push\/|^\/api\/settings\/12\/read$/;
  const changes = requests.filter(({ subject }) => !isRead.test(subject));
  expect(changes.length).toBeGreaterThan(80);
  expect(changes.map(changeInWords).filter(({ words }) => /^(POST|PUT|DELETE)/.test(words))).toEqual([]);
  const words = changes.map((change) => changeInWords(change).words);
  expect(words.filter((w, i) => words.indexOf(w) !== i)).toEqual([]);
  expect(changeInWords({ action: 'DELETE', subject: '/api/points/7/exchanges/1700000000000' })).toEqual({
    words: 'Recorded exchange removed',
    kind: 'point',
    id: 7,
  });
  expect(changeInWords({ action: 'DELETE', subject: '/api/sensing/3,4' }).words).toBe(
    'Change of sensing undone',
  );
});

it('describes itself as OpenAPI and says how it fares', async () => {
  const document = await loka.ask<{
    paths: object;
    components: { schemas: Record<string, { properties: object }> };
  }>('/docs.json');
  expect(document.components.schemas.LinkInput?.properties).toMatchObject({
    port: { minimum: 1, maximum: 65535 },
  });
  expect(Object.keys(document.paths)).toEqual(
    expect.arrayContaining(['/api/switches/{id}/operate', '/api/readings', '/api/live']),
  );
  expect(await loka.ask('/health')).toMatchObject({
    database: { up: true },
    links: [{ name: 'main-meter' }],
    spool: { lost: 0 },
  });
});

describe('reading words to find out what they mean', () => {
  const words = async (address: number, unit = 1) => {
    const links = await loka.ask<{ id: number }[]>('/links');
    return loka.ask<{
      snapshots: { kind: string; start: number; reads: number[][] }[];
      failures: { message: string }[];
    }>('/devices/read-words', 'POST', { linkId: links[0]?.id, unit, address });
  };
  it('reads both kinds of register several times, around the address', async () => {
    const { snapshots, failures } = await words(4);
    expect(failures).toEqual([]);
    expect(snapshots.map((s) => s.kind)).toEqual(['holding', 'input']);
    expect(snapshots[0]).toMatchObject({ start: 3 });
    expect(snapshots[0]?.reads).toHaveLength(4);
    expect(snapshots[0]?.reads[0]).toHaveLength(6);
  });
  it('reads a range around what the device does not have', async () => {
    const links = await loka.ask<{ id: number }[]>('/links');
    const ask = (first: number, last: number) =>
      loka.ask<{ snapshots: { kind: string; start: number; reads: number[][] }[]; failures: unknown[] }>(
        '/devices/read-words',
        'POST',
        { linkId: links[0]?.id, unit: 1, address: first, last },
      );
    // The meter has registers 0 to 27, and then none before 1000.
    const { snapshots, failures } = await ask(10, 90);
    expect(failures).toEqual([]);
    expect(snapshots.map((s) => [s.kind, s.start, s.reads[0]?.length])).toEqual([
      ['holding', 10, 18],
      ['input', 10, 18],
    ]);
    expect((await ask(300, 390)).snapshots).toEqual([]);
  });
  it('takes what there is at the end of a device’s registers', async () => {
    const { snapshots } = await words(27); // the meter’s last register
    expect(snapshots[0]?.reads[0]).toHaveLength(2);
  });
  it('says why there is nothing', async () => {
    expect((await words(9000)).failures[0]?.message).toContain('exception 2');
    const silent = await words(4, 9);
    expect(silent.snapshots).toEqual([]);
    expect(silent.failures[0]?.message).toContain('Unit 9 gave no answer');
  });
});

describe('requests that are none', () => {
  const send = async (body: string) => {
    const response = await fetch(`${loka.base}/api/register-maps`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body,
    });
    return {
      status: response.status,
      type: response.headers.get('content-type'),
      body: (await response.json()) as { detail: string },
    };
  };
  it('broken JSON is told as such', async () => {
    const { status, type, body } = await send('{"name":');
    expect(status).toBe(400);
    expect(type).toContain('application/problem+json');
    expect(body.detail).toContain('could not be understood');
  });
  it('what is too large is told as such', async () => {
    const { status, body } = await send(JSON.stringify({ name: 'x'.repeat(2_000_000) }));
    expect(status).toBe(413);
    expect(body.detail).toContain('1 MB');
  });
  it('a map of 500 values is not too large', async () => {
    const points = Array.from({ length: 500 }, (_, i) =>
      definition({
        key: `v-${i}`,
        name: `Value ${i} with a name of the usual length`,
        address: String(i * 2),
      }),
    );
    const { status, body } = await map(...points);
    expect(status).toBe(201);
    await loka.ask(`/register-maps/${(body as { id: number }).id}`, 'DELETE');
  });
  it('a path that is not there', async () =>
    expect(await loka.raw('/toaster')).toMatchObject({
      status: 404,
      type: expect.stringContaining('problem+json'),
    }));
});
