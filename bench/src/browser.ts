import { chromium, type CDPSession, type Page } from '@playwright/test';
import { ServerTCP } from 'modbus-serial';
import { createServer } from 'node:net';

// Through a real browser: from a change in a device to the pixel, and what a board of two hundred ways at one second costs.
// `LOKA_BENCH_MINUTES` is for how long the board is watched; an hour tells whether it grows.
const WAYS = 200;
const CHANGES = 60;
const MINUTES = Number(process.env.LOKA_BENCH_MINUTES ?? 5);
const url = process.env.LOKA_URL as string;

/** A device with two words for each way, current in mA and power in W, which wander; one of them can be set. */
let set: number | null = null;
const value = (address: number): number => {
  if (address === 1 && set !== null) return set;
  const way = address >> 1;
  const watts = Math.round(200 + 10 * way + 150 * Math.sin(Date.now() / 700 + way));
  return address % 2 === 0 ? Math.round(watts * 4.3) : watts;
};
const port = await new Promise<number>((resolve) => {
  const probe = createServer().listen(0, '127.0.0.1', () => {
    const { port: free } = probe.address() as { port: number };
    probe.close(() => resolve(free));
  });
});
const answer = (address: number) => Promise.resolve(value(address) & 0xffff);
const device = new ServerTCP(
  { getInputRegister: answer, getHoldingRegister: answer },
  { host: '127.0.0.1', port, unitID: 255 },
);

const ask = async <T>(path: string, method = 'GET', body?: unknown): Promise<T> => {
  const response = await fetch(`${url}/api${path}`, {
    method,
    headers: body === undefined ? {} : { 'content-type': 'application/json' },
    body: body === undefined ? null : JSON.stringify(body),
  });
  if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${await response.text()}`);
  return (await response.json()) as T;
};

await ask('/site', 'PUT', {
  name: 'Bench',
  timeZone: 'Europe/Lisbon',
  nominalVoltage: 230,
  frequency: 50,
  conductorScheme: 'iec-60445',
});
const node = async (kind: string, parentId: number | null, name: string, way: string) =>
  (
    await ask<{ id: number }>('/installation', 'POST', {
      kind,
      parentId,
      name,
      way,
      phases: kind === 'circuit' ? 'L1' : 'L1 L2 L3',
      protectiveDevice: null,
      ratedCurrent: 16,
    })
  ).id;
const board = await node('board', await node('supply', null, 'Supply', ''), 'Board', 'MB');
const ways: number[] = [];
for (let i = 0; i < WAYS; i++) ways.push(await node('circuit', board, `Way ${i + 1}`, String(i + 1)));
const point = (key: string, address: number, quantity: string, unit: string, factor: number) => ({
  key,
  name: key,
  kind: 'input',
  address: String(address),
  counting: 'from-0',
  type: 'uint16',
  wordOrder: 'high-first',
  byteOrder: 'high-first',
  scaling: { kind: 'factor', factor, offset: 0 },
  unit,
  quantity,
  phase: null,
  access: 'read',
  intervalMs: 1000,
});
const map = await ask<{ id: number }>('/register-maps', 'POST', {
  name: 'Two hundred ways',
  description: '',
  points: Array.from({ length: WAYS }, (_, i) => [
    point(`current-${i}`, 2 * i, 'current', 'A', 0.001),
    point(`power-${i}`, 2 * i + 1, 'active-power', 'W', 1),
  ]).flat(),
});
const link = await ask<{ id: number }>('/links', 'POST', {
  name: 'Ways',
  host: '127.0.0.1',
  port,
  timeoutMs: 1000,
  enabled: true,
});
const { id } = await ask<{ id: number }>('/devices', 'POST', {
  linkId: link.id,
  mapId: map.id,
  name: 'Ways',
  unit: 1,
});
const points = (await ask<{ id: number; deviceId: number; key: string }[]>('/points')).filter(
  (p) => p.deviceId === id,
);
for (let i = 0; i < WAYS; i++)
  for (const kind of ['current', 'power'])
    await ask(`/points/${points.find((p) => p.key === `${kind}-${i}`)?.id}/assignment`, 'PUT', {
      nodeId: ways[i],
      phase: 'L1',
    });

const browser = await chromium.launch({
  executablePath: process.env.LOKA_CHROMIUM ?? '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--enable-precise-memory-info'],
});

/** From the change of a register to the digits on the screen, ms. */
async function latency(page: Page): Promise<number[]> {
  await page.goto(`${url}/board?at=${ways[0]}`);
  await page.getByRole('heading', { name: 'Power now' }).waitFor();
  const times: number[] = [];
  for (let i = 0; i < CHANGES; i++) {
    // At any time within the second in which it is polled.
    await new Promise((resolve) => setTimeout(resolve, 1200 + Math.random() * 1000));
    const watts = 301 + i;
    const seen = page.waitForFunction(
      (text) => document.querySelector('main')?.textContent?.includes(text),
      `${watts}W`,
      { polling: 'raf' },
    );
    const began = performance.now();
    set = watts;
    await seen;
    times.push(performance.now() - began);
  }
  set = null;
  return times.sort((a, b) => a - b);
}

const metric = async (cdp: CDPSession, name: string): Promise<number> => {
  const { metrics } = await cdp.send('Performance.getMetrics');
  return metrics.find((m) => m.name === name)?.value ?? NaN;
};

/** How often the heap is looked at while a page is watched, so that a growth is told from what is still being warmed up. */
const LOOKS = 6;

/** What a page costs while it stands there: share of a core, and its heap in MB after a collection, look by look. */
async function cost(
  page: Page,
  path: string,
  ready: string,
): Promise<{ core: number; heap: number[]; nodes: number[] }> {
  await page.goto(`${url}${path}`);
  await page.getByText(ready, { exact: true }).first().waitFor();
  const cdp = await page.context().newCDPSession(page);
  await cdp.send('Performance.enable', { timeDomain: 'threadTicks' });
  await new Promise((resolve) => setTimeout(resolve, 20_000));
  const [heap, nodes]: [number[], number[]] = [[], []];
  const look = async () => {
    await cdp.send('HeapProfiler.collectGarbage');
    heap.push((await metric(cdp, 'JSHeapUsedSize')) / 1e6);
    nodes.push(await metric(cdp, 'Nodes'));
  };
  await look();
  let [busy, spent] = [0, 0];
  for (let i = 0; i < LOOKS; i++) {
    const [before, began] = [await metric(cdp, 'TaskDuration'), performance.now()];
    await new Promise((resolve) => setTimeout(resolve, (MINUTES * 60_000) / LOOKS));
    busy += (await metric(cdp, 'TaskDuration')) - before;
    spent += performance.now() - began;
    await look();
  }
  await cdp.detach();
  return { core: (1000 * busy) / spent, heap, nodes };
}

/** A dashboard of sixty elements that live: numbers, dials, levels, trends, bars. */
async function dashboard(): Promise<number> {
  const kinds = ['number', 'number', 'dial', 'level', 'number', 'trend', 'dial', 'number', 'level', 'bars'];
  const elements = Array.from({ length: 60 }, (_, i) => {
    const kind = kinds[i % kinds.length] as string;
    return {
      id: `e${i}`,
      kind,
      title: `Element ${i + 1}`,
      spot: { x: 3 * (i % 4), y: 4 * Math.floor(i / 4), w: 3, h: 4 },
      shows: [{ of: kind === 'bars' ? 'place' : 'power', id: ways[i] }],
      scale: [0, 3000],
      text: '',
    };
  });
  const content = { elements, phone: { shown: [], away: [] } };
  return (await ask<{ id: number }>('/dashboards', 'POST', { name: 'Sixty', content })).id;
}

try {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const times = await latency(page);
  const at = (share: number) => (times[Math.floor(share * times.length)] as number).toFixed(0);
  console.log(`from a change to the pixel, ${CHANGES} changes:  median ${at(0.5)} ms, p95 ${at(0.95)} ms`);
  const sixty = await dashboard();
  for (const [what, path, ready] of [
    [`a board of ${WAYS} ways`, '/board', `Way ${WAYS}`],
    ['a dashboard of 60 elements', `/dashboards/${sixty}`, 'Element 60'],
    ['the same on a wall', `/wall?show=${sixty},site&every=10`, 'Element 60'],
  ] as const) {
    const { core, heap, nodes } = await cost(page, path, ready);
    console.log(
      `${what} at 1 Hz, ${MINUTES} min:  ${(100 * core).toFixed(1)} % of a core, heap ${heap.map((mb) => mb.toFixed(1)).join(' → ')} MB, nodes ${nodes.join(' → ')}`,
    );
  }
} finally {
  await browser.close();
  await new Promise<void>((resolve) => device.close(() => resolve()));
}
process.exit(0);
