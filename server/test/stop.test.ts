import type { Point } from '@loka/contract/points';
import { Crashing } from './support/crash.js';
import { until } from './support/loka.js';
import { makeMap, message } from './support/point.js';

// The server as a process of its own, told to stop while pages are open.
let loka: Crashing;
beforeAll(async () => (loka = await Crashing.start()), 120_000);
afterAll(() => loka.stop());

/** A device that posts its readings. */
async function pushLink(): Promise<{ pointId: number; push: (value: number) => Promise<void> }> {
  const { id: linkId } = await loka.ask<{ id: number }>('/links', 'POST', {
    name: 'Door',
    kind: 'http-push',
  });
  const { token } = await loka.ask<{ token: string }>(`/links/${linkId}/token`, 'POST');
  const mapId = await makeMap(loka, 'Pushed', {
    messages: [message('power', { topic: 'meter', pointer: '/power', quantity: 'active-power', unit: 'W' })],
  });
  await loka.ask('/devices', 'POST', { linkId, mapId, name: 'Meter', topic: 'meter' });
  const [point] = await loka.ask<Point[]>('/points');
  const push = (value: number) =>
    loka.ask<void>(`/push/${linkId}/meter`, 'POST', { power: value }, { authorization: `Bearer ${token}` });
  return { pointId: (point as Point).id, push };
}

/** An open page holds a stream of events; it is read until it ends. */
async function openPage(): Promise<{ closed: Promise<void> }> {
  const response = await fetch(`${loka.base}/api/live`);
  const reader = response.body?.getReader();
  await reader?.read();
  const toEnd = async () => {
    for (;;) {
      const part = await reader?.read().catch(() => undefined);
      if (!part || part.done) return;
    }
  };
  return { closed: toEnd() };
}

it('with pages open it has stopped within five seconds, in an orderly way', async () => {
  const pages = await Promise.all(Array.from({ length: 7 }, openPage));
  expect(await loka.stopServer()).toBeLessThan(5000);
  await Promise.all(pages.map(({ closed }) => closed));
  expect(loka.log()).not.toContain('not stopped within');
}, 30_000);

it('also while the database hangs, and what was read meanwhile is there afterwards', async () => {
  await loka.startServer();
  const { pointId, push } = await pushLink();
  await push(1);
  await openPage();
  await loka.database.freeze();
  // Nobody is told that this one is kept: it waits for the database.
  const waiting = push(2).catch(() => undefined);
  await new Promise((resolve) => setTimeout(resolve, 500));
  try {
    expect(await loka.stopServer()).toBeLessThan(5000);
  } finally {
    loka.database.thaw();
  }
  await waiting;
  await loka.startServer();
  const sql = await loka.sql();
  const values = async () => {
    const [rows] = await sql.query('SELECT v FROM samples WHERE pointId = ? ORDER BY v', [pointId]);
    return (rows as { v: number }[]).map((r) => r.v);
  };
  await until('both', async () => (await values()).length === 2, 20_000);
  expect(await values()).toEqual([1, 2]);
  await sql.end();
}, 60_000);

it('a start without its database ends, and says why', async () => {
  await expect(loka.startServer({ LOKA_DB_PORT: '1' })).rejects.toThrow(/ended \(exit 1\)[^]*ECONNREFUSED/);
}, 30_000);
