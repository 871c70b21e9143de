import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Link } from '@loka/contract/links';
import { Loka } from './support/loka.js';

// What a browser meets at the edge of the server, with screens that lie below a folder whose name begins with a dot.
let loka: Loka;
let folder: string;
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'loka edges ä-'));
  const web = join(folder, '.hidden', 'web');
  mkdirSync(join(web, 'assets'), { recursive: true });
  writeFileSync(join(web, 'index.html'), '<!doctype html><title>Loka</title>');
  writeFileSync(join(web, 'assets', 'a.js'), 'export {};');
  loka = await Loka.start(undefined, { acquire: false, webFolder: web });
});
afterAll(async () => {
  await loka.stop();
  rmSync(folder, { recursive: true, force: true });
});

it.each(['/', '/board', '/circuit/3', '/assets/a.js'])('%s is there, also for HEAD', async (path) => {
  for (const method of ['GET', 'HEAD']) {
    const response = await fetch(`${loka.base}${path}`, { method });
    expect(response.status).toBe(200);
    await response.text();
  }
});
it('HEAD of the interface answers like GET, without a body', async () => {
  const response = await fetch(`${loka.base}/api/points`, { method: 'HEAD' });
  expect([response.status, await response.text()]).toEqual([200, '']);
});
it('a password goes with its broker: another host or port does not get it', async () => {
  const broker = {
    name: 'Broker',
    kind: 'mqtt',
    host: '127.0.0.1',
    port: 1883,
    user: 'meter',
    enabled: false,
  };
  const { id } = await loka.ask<Link>('/links', 'POST', { ...broker, password: 'kept secret' });
  const change = async (more: object) => {
    await loka.ask(`/links/${id}`, 'PUT', { ...broker, ...more });
    const [row] = (await loka.sql.query('SELECT secret FROM links WHERE id = ?', [id]))[0] as {
      secret: string | null;
    }[];
    return row?.secret;
  };
  expect(await change({ name: 'Renamed' })).toBe('kept secret');
  expect(await change({ port: 1884 })).toBeNull();
  expect(await change({ port: 1884, password: 'another' })).toBe('another');
  expect(await change({ port: 1884, host: '127.0.0.2' })).toBeNull();
});
it('what is refused carries the same headers as what is given', async () => {
  const headersOf = (host: string) =>
    new Promise<[number, Record<string, unknown>]>((resolve, reject) =>
      request(`${loka.base}/api/points`, { headers: { host } }, (response) => {
        response.resume();
        resolve([response.statusCode ?? 0, response.headers]);
      })
        .on('error', reject)
        .end(),
    );
  const [given, taken] = await headersOf(new URL(loka.base).host);
  const [refused, headers] = await headersOf('evil.example');
  expect([given, refused]).toEqual([200, 403]);
  for (const name of [
    'content-security-policy',
    'x-content-type-options',
    'x-frame-options',
    'referrer-policy',
  ])
    expect(headers[name]).toBe(taken[name]);
  expect(headers['content-security-policy']).toContain("default-src 'self'");
});
