import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
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
