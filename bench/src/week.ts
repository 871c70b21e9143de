import { chromium, type Page } from '@playwright/test';
import { createServer, request, type IncomingMessage } from 'node:http';
import type { AddressInfo } from 'node:net';
import { metric, objects } from './pageHeap.js';
import { wanderingSite } from './wanderingSite.js';

// A wall that stands for a week, in less than an hour: two dashboards in turn, a minute each, so ten thousand turns. The
// browser's clock goes a minute with each step; between the browser and Loka every instant is moved by as much, so that its
// periods, midnights and Sundays come as they would, out of what the server reads at its own pace meanwhile.
const DAYS = Number(process.env.LOKA_BENCH_DAYS ?? 7);
const STEP = 60_000;
const LOOKS = 14;
const url = process.env.LOKA_URL as string;

/** By how much the browser's clock is ahead, ms. */
let ahead = 0;
const instants = (text: string, by: number): string =>
  text.replace(/(?<![\d.])1[6-9]\d{11}(?![\d.])/g, (digits) => String(Number(digits) + Math.round(by)));

/** What was asked and is not answered yet, but for the stream. */
let open = 0;

/** Hands everything on, with the instants of what is asked and answered moved. */
const between = createServer((asked, answer) => {
  const target = new URL(instants(asked.url ?? '/', -ahead), url);
  const headers = { ...asked.headers, host: target.host, 'accept-encoding': 'identity' };
  if (headers.origin) headers.origin = target.origin;
  const onward = request(target, { method: asked.method ?? 'GET', headers }, (got) => give(got, answer));
  onward.on('error', () => answer.destroy());
  const isStream = target.pathname.endsWith('/live');
  if (!isStream) open++;
  // Whoever goes away lets the stream of readings go.
  answer.on('close', () => {
    if (!isStream) open--;
    onward.destroy();
  });
  asked.pipe(onward);
});
function give(got: IncomingMessage, answer: import('node:http').ServerResponse): void {
  const { 'content-length': _, ...headers } = got.headers;
  answer.writeHead(got.statusCode ?? 502, headers);
  const type = String(got.headers['content-type']);
  if (type.includes('event-stream')) {
    let rest = '';
    got.setEncoding('utf8').on('data', (part: string) => {
      // Whole messages only: an instant must not be cut.
      const end = (rest += part).lastIndexOf('\n\n') + 2;
      if (end < 2) return;
      answer.write(instants(rest.slice(0, end), ahead));
      rest = rest.slice(end);
    });
    got.on('end', () => answer.end());
  } else if (type.includes('json')) {
    let all = '';
    got.setEncoding('utf8').on('data', (part: string) => (all += part));
    got.on('end', () => answer.end(instants(all, ahead)));
  } else got.pipe(answer);
}

const site = await wanderingSite(url, 24);
const kinds = [
  'number',
  'dial',
  'level',
  'trend',
  'number',
  'bars',
  'number',
  'ranking',
  'number',
  'dial',
  'flow',
  'number',
];
const made: number[] = [];
for (const [n, name] of ['First', 'Second'].entries()) {
  const elements = kinds.map((kind, i) => ({
    id: `e${i}`,
    kind,
    title: `${name} ${i + 1}`,
    spot: { x: 3 * (i % 4), y: 4 * Math.floor(i / 4), w: 3, h: 4 },
    shows: [
      ['bars', 'ranking', 'flow'].includes(kind)
        ? { of: 'place', id: site.board }
        : { of: 'power', id: site.ways[12 * n + i] },
    ],
    scale: [0, 3000],
    span: kind === 'trend' ? '24-hours' : 'today',
    text: '',
  }));
  const content = { elements, phone: { shown: [], away: [] } };
  made.push((await site.ask<{ id: number }>('/dashboards', 'POST', { name, content })).id);
}

await new Promise<void>((resolve) => between.listen(0, '127.0.0.1', resolve));
const wall = `http://localhost:${(between.address() as AddressInfo).port}`;
const browser = await chromium.launch({
  executablePath: process.env.LOKA_CHROMIUM ?? '/usr/bin/chromium-headless-shell',
  args: ['--no-sandbox', '--disable-gpu', '--enable-precise-memory-info'],
});
/** Until what the turn has asked for is there, and drawn. */
async function settled(page: Page): Promise<void> {
  for (let quiet = 0; quiet < 2; quiet = open === 0 ? quiet + 1 : 0) await page.clock.runFor(50);
}
try {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const broken: string[] = [];
  page.on('pageerror', (error) => broken.push(error.message));
  await page.clock.install();
  await page.goto(`${wall}/wall?show=${made.join(',')}&every=60&dim=22:00-06:00`);
  await page.getByText('First 12', { exact: true }).waitFor();
  const cdp = await page.context().newCDPSession(page);
  await cdp.send('Performance.enable');
  const steps = Math.round((DAYS * 86_400_000) / STEP);
  const looks: string[] = [];
  const [heaps, held]: [number[], number[]] = [[], []];
  let turns = 0;
  let seen = '';
  const began = performance.now();
  for (let i = 0; i <= steps; i++) {
    if (i % Math.round(steps / LOOKS) === 0) {
      await cdp.send('HeapProfiler.collectGarbage');
      heaps.push((await metric(cdp, 'JSHeapUsedSize')) / 1e6);
      held.push(await objects(cdp));
      looks.push(`${(heaps.at(-1) as number).toFixed(1)}, objects ${(held.at(-1) as number).toFixed(2)}`);
      console.log(
        `day ${((i * STEP) / 86_400_000).toFixed(1)}: ${looks.at(-1)} MB, ${await metric(cdp, 'Nodes')} nodes, ${turns} turns`,
      );
    }
    ahead += STEP;
    await page.clock.fastForward(STEP);
    await settled(page);
    // The dashboard whose turn it is stands there, with its title and its readings.
    const name = await page.evaluate(() => document.querySelector('h1')?.textContent ?? '');
    if (name !== seen) turns++;
    seen = name;
  }
  const minutes = (performance.now() - began) / 60_000;
  /** Between the least and the most after the first day. */
  const spread = (all: number[]) => {
    const later = all.slice(2);
    return `${(100 * (Math.max(...later) / Math.min(...later) - 1)).toFixed(1)} %`;
  };
  console.log(
    `a wall for ${DAYS} days in ${minutes.toFixed(0)} min, ${turns} turns: heap after collection ${looks.join(' → ')} MB; ` +
      `after the first day the heap lies within ${spread(heaps)}, its objects within ${spread(held)}; ` +
      `${broken.length === 0 ? 'no script broke' : `${broken.length} scripts broke: ${broken[0]}`}`,
  );
} finally {
  await browser.close();
  between.closeAllConnections();
  between.close();
  await site.stop();
}
process.exit(0);
