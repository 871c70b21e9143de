import { chromium, type Page } from '@playwright/test';
import { metric, objects } from './pageHeap.js';
import { wanderingSite } from './wanderingSite.js';

// Through a real browser: from a change in a device to the pixel, and what a board of two hundred ways at one second costs.
// `LOKA_BENCH_MINUTES` is for how long each page is watched; an hour tells whether it grows. `LOKA_BENCH_PAGE` is one of them alone.
const WAYS = 200;
const CHANGES = 60;
const MINUTES = Number(process.env.LOKA_BENCH_MINUTES ?? 5);
const ONLY = process.env.LOKA_BENCH_PAGE;
const url = process.env.LOKA_URL as string;

const site = await wanderingSite(url, WAYS);
const { ask, ways } = site;

const browser = await chromium.launch({
  executablePath: process.env.LOKA_CHROMIUM ?? '/usr/bin/chromium-headless-shell',
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
    site.set(watts);
    await seen;
    times.push(performance.now() - began);
  }
  site.set(null);
  return times.sort((a, b) => a - b);
}

/** How often the heap is looked at while a page is watched, so that a growth is told from what is still being warmed up. */
const LOOKS = 6;

/** What a page costs while it stands there: share of a core, and its heap in MB after a collection, look by look. */
async function cost(
  page: Page,
  path: string,
  ready: string,
): Promise<{ core: number; heap: number[]; held: number[]; nodes: number[] }> {
  await page.goto(`${url}${path}`);
  await page.getByText(ready, { exact: true }).first().waitFor();
  const cdp = await page.context().newCDPSession(page);
  await cdp.send('Performance.enable', { timeDomain: 'threadTicks' });
  await new Promise((resolve) => setTimeout(resolve, 20_000));
  const [heap, held, nodes]: [number[], number[], number[]] = [[], [], []];
  const look = async () => {
    await cdp.send('HeapProfiler.collectGarbage');
    heap.push((await metric(cdp, 'JSHeapUsedSize')) / 1e6);
    held.push(await objects(cdp));
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
  return { core: (1000 * busy) / spent, heap, held, nodes };
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
  for (const [name, what, path, ready] of [
    ['board', `a board of ${WAYS} ways`, '/board', `Way ${WAYS}`],
    ['dashboard', 'a dashboard of 60 elements', `/dashboards/${sixty}`, 'Element 60'],
    ['wall', 'the same on a wall', `/wall?show=${sixty},site&every=10`, 'Element 60'],
  ] as const) {
    if (ONLY !== undefined && ONLY !== name) continue;
    const { core, heap, held, nodes } = await cost(page, path, ready);
    console.log(
      `${what} at 1 Hz, ${MINUTES} min:  ${(100 * core).toFixed(1)} % of a core, heap ${heap.map((mb) => mb.toFixed(1)).join(' → ')} MB, of it objects ${held.map((mb) => mb.toFixed(2)).join(' → ')} MB, nodes ${nodes.join(' → ')}`,
    );
  }
} finally {
  await browser.close();
  await site.stop();
}
process.exit(0);
